package kadrem.core.stats;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.Arrays;
import java.util.Random;

import org.junit.jupiter.api.Test;

/**
 * Trend and truncation. The values for Nile (Cobb, Biometrika 65, 1978) and LakeHuron (Brockwell & Davis 1991) were computed
 * with R 4.2.2 from its package datasets; script and output are steady-state.R and steady-state.txt beside the resources of
 * this package.
 */
class SteadyStateTest {
    private static final double[] NILE = {1120, 1160, 963, 1210, 1160, 1160, 813, 1230, 1370, 1140, 995, 935, 1110, 994,
            1020, 960, 1180, 799, 958, 1140, 1100, 1210, 1150, 1250, 1260, 1220, 1030, 1100, 774, 840, 874, 694, 940,
            833, 701, 916, 692, 1020, 1050, 969, 831, 726, 456, 824, 702, 1120, 1100, 832, 764, 821, 768, 845, 864, 862,
            698, 845, 744, 796, 1040, 759, 781, 865, 845, 944, 984, 897, 822, 1010, 771, 676, 649, 846, 812, 742, 801,
            1040, 860, 874, 848, 890, 744, 749, 838, 1050, 918, 986, 797, 923, 975, 815, 1020, 906, 901, 1170, 912, 746,
            919, 718, 714, 740};

    private static final double[] LAKE_HURON = {580.38, 581.86, 580.97, 580.80, 579.79, 580.39, 580.42, 580.82, 581.40,
            581.32, 581.44, 581.68, 581.17, 580.53, 580.01, 579.91, 579.14, 579.16, 579.55, 579.67, 578.44, 578.24,
            579.10, 579.09, 579.35, 578.82, 579.32, 579.01, 579.00, 579.80, 579.83, 579.72, 579.89, 580.01, 579.37,
            578.69, 578.19, 578.67, 579.55, 578.92, 578.09, 579.37, 580.13, 580.14, 579.51, 579.24, 578.66, 578.86,
            578.05, 577.79, 576.75, 576.75, 577.82, 578.64, 580.58, 579.48, 577.38, 576.90, 576.94, 576.24, 576.84,
            576.85, 576.90, 577.79, 578.18, 577.51, 577.23, 578.42, 579.61, 579.05, 579.26, 579.22, 579.38, 579.10,
            577.95, 578.12, 579.75, 580.85, 580.41, 579.96, 579.61, 578.76, 578.18, 577.21, 577.13, 579.10, 578.25,
            577.91, 576.89, 575.96, 576.80, 577.68, 578.38, 578.52, 579.74, 579.31, 579.89, 579.96};

    @Test
    void aTrendIsFoundAsRFindsIt() {
        MannKendall.Result nile = MannKendall.of(NILE);
        assertThat(nile.s()).isEqualTo(-1387);
        assertThat(nile.z()).isCloseTo(-4.12806652284, within(1e-9));
        assertThat(nile.p()).isCloseTo(3.65826292166e-05, within(1e-13));
        assertThat(nile.slope()).isEqualTo(-2.6);
        MannKendall.Result lake = MannKendall.of(LAKE_HURON);
        assertThat(lake.s()).isEqualTo(-1682);
        assertThat(lake.z()).isCloseTo(-5.15982522603, within(1e-9));
        assertThat(lake.slope()).isCloseTo(-0.025125, within(1e-9));
    }

    /** Gilbert: Statistical Methods for Environmental Pollution Monitoring, 1987, section 16.4.2 (value from memory). */
    @Test
    void risingAndFallingPairsAreCounted() {
        assertThat(MannKendall.of(10, 15, 14, 20).s()).isEqualTo(4);
    }

    @Test
    void theSteadyStateBeginsWhereRPutsIt() {
        assertThat(Mser5.truncation(NILE)).isEqualTo(45);
        assertThat(Mser5.truncation(LAKE_HURON)).isEqualTo(15);
        assertThat(Mser5.truncation(1, 2, 3, 4)).isZero();
    }

    @Test
    void noiseWithoutTrendIsRarelyCalledOne() {
        var random = new Random(5);
        int called = 0;
        for (int i = 0; i < 2000; i++) {
            double[] noise = random.doubles(30).toArray();
            called += MannKendall.of(noise).p() <= 0.01 ? 1 : 0;
        }
        // a rate of 1 % has a standard error of 0.22 % over 2,000 series
        assertThat(called / 2000.0).isLessThan(0.01 + 3 * 0.0022);
    }

    @Test
    void valuesOfUnusableNumberAreRefused() {
        assertThatThrownBy(() -> MannKendall.of(1, 2)).hasMessageContaining("3 to");
        assertThat(MannKendall.of(new double[5]).p()).as("all alike").isEqualTo(1);
        assertThat(Arrays.stream(NILE).count()).isEqualTo(100);
    }
}
