package kadrem.core.stats;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.SplittableRandom;
import java.util.stream.IntStream;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Changes of level, against published data and against all divisions that there are. */
class ChangePointsTest {
    /** Annual flow of the Nile at Aswan, 1871 to 1970, 10^8 m³: R's data set Nile (Durbin, Koopman 2001, after Cobb 1978). */
    private static final double[] NILE = {1120, 1160, 963, 1210, 1160, 1160, 813, 1230, 1370, 1140, 995, 935, 1110, 994,
            1020, 960, 1180, 799, 958, 1140, 1100, 1210, 1150, 1250, 1260, 1220, 1030, 1100, 774, 840, 874, 694, 940,
            833,
            701, 916, 692, 1020, 1050, 969, 831, 726, 456, 824, 702, 1120, 1100, 832, 764, 821, 768, 845, 864, 862, 698,
            845, 744, 796, 1040, 759, 781, 865, 845, 944, 984, 897, 822, 1010, 771, 676, 649, 846, 812, 742, 801, 1040,
            860,
            874, 848, 890, 744, 749, 838, 1050, 918, 986, 797, 923, 975, 815, 1020, 906, 901, 1170, 912, 746, 919, 718,
            714,
            740};

    /** Cobb: The problem of the Nile, Biometrika 65, 1978: one change, in 1898, the last year of the higher level. */
    @Test
    void theNileChangedOnceAfter1898() {
        assertThat(NILE).hasSize(100);
        assertThat(ChangePoints.of(NILE)).containsExactly(1898 - 1871 + 1);
    }

    /** The same minimum as the best of all divisions (2^(n−1) of them), so that leaving beginnings out loses nothing. */
    @Test
    void theDivisionIsTheBestOfAll() {
        var random = new SplittableRandom(20260701);
        for (int series = 0; series < 200; series++) {
            int n = 6 + random.nextInt(7);
            double[] values = IntStream.range(0, n)
                    .mapToDouble(i -> random.nextDouble() + (random.nextInt(5) == 0 ? 2 : 0))
                    .toArray();
            double penalty = 0.5 + random.nextDouble() * 4;
            double found = cost(values, ChangePoints.of(values, 0.1, penalty), penalty);
            double best = Double.POSITIVE_INFINITY;
            for (int bits = 0; bits < 1 << n - 1; bits++) {
                int chosen = bits;
                best = Math.min(best, cost(values, IntStream.range(1, n).filter(i -> (chosen >> i - 1 & 1) == 1).boxed()
                        .toList(), penalty));
            }
            assertThat(found).isCloseTo(best, org.assertj.core.api.Assertions.within(1e-9));
        }
    }

    private static double cost(double[] values, List<Integer> changes, double penalty) {
        var bounds = new ArrayList<Integer>(List.of(0));
        bounds.addAll(changes);
        bounds.add(values.length);
        double cost = penalty * changes.size();
        for (int i = 0; i + 1 < bounds.size(); i++) {
            double[] piece = Arrays.copyOfRange(values, bounds.get(i), bounds.get(i + 1));
            double mean = Arrays.stream(piece).average().orElseThrow();
            cost += Arrays.stream(piece).map(value -> (value - mean) * (value - mean)).sum() / 0.1;
        }
        return cost;
    }

    /** Of series without a change at most one in twenty is said to have one, short or quantised. Three errors of the simulation. */
    @ParameterizedTest
    @CsvSource({"8, 0", "12, 0", "30, 0", "8, 1", "20, 1"})
    void noiseAloneIsSeldomTakenForAChange(int versions, double step) {
        var random = new java.util.Random(7);
        long wrong = IntStream.range(0, 1_000).filter(_ -> !ChangePoints.of(random.doubles(versions).map(_ -> step == 0
                ? random.nextGaussian()
                : Math.rint(random.nextGaussian() / step) * step).toArray()).isEmpty()).count();
        assertThat(wrong / 1_000.0).isLessThan(0.05 + 3 * Math.sqrt(0.05 * 0.95 / 1_000));
    }

    @Test
    void aStepOfThreeDeviationsIsFoundAtItsPlaceOrBesideIt() {
        var random = new java.util.Random(11);
        long found = IntStream.range(0, 500).filter(_ -> {
            double[] values = IntStream.range(0, 24).mapToDouble(i -> random.nextGaussian() + (i < 12 ? 0 : 3))
                    .toArray();
            return ChangePoints.of(values).stream().anyMatch(at -> Math.abs(at - 12) <= 1);
        }).count();
        assertThat(found / 500.0).isGreaterThan(0.9);
    }

    @Test
    void fewValuesAndExactOnes() {
        assertThat(ChangePoints.of(1, 9, 1, 9)).as("too few").isEmpty();
        assertThat(ChangePoints.of(5, 5, 5, 5, 7, 7, 7)).as("seven versions").isEmpty();
        assertThat(ChangePoints.of(5, 5, 5, 5, 5, 5, 5, 5)).isEmpty();
        assertThat(ChangePoints.of(5, 5, 5, 5, 5, 7, 7, 7, 7, 7)).as("no scatter at all").containsExactly(5);
    }
}
