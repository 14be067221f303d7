package kadrem.core.stats;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import org.junit.jupiter.api.Test;

class RobustZTest {
    /** R 4.2.2: x <- airquality$Wind[1:30]; 0.6745 * (20.1 - median(x)) / mad(x, constant = 1). */
    @Test
    void itAgreesWithR() {
        RobustZ wind = RobustZ.of(7.4, 8.0, 12.6, 11.5, 14.3, 14.9, 8.6, 13.8, 20.1, 8.6, 6.9, 9.7, 9.2, 10.9, 13.2,
                11.5, 12.0, 18.4, 11.5, 9.7, 9.7, 16.6, 9.7, 12.0, 16.6, 14.9, 8.0, 12.0, 14.9, 5.7);
        assertThat(wind.median()).isEqualTo(11.5);
        assertThat(wind.score(20.1)).isCloseTo(2.274784, within(1e-6));
    }

    /**
     * The example by which modified z-scores are commonly shown (data from memory, after Iglewicz and Hoaglin 1993), scores
     * by R 4.2.2: 0.6745 * (d - median(d)) / mad(d, constant = 1). Only the last two are outliers.
     */
    @Test
    void onlyWhatStandsApartIsAnOutlier() {
        double[] data = {2.1, 2.6, 2.4, 2.5, 2.3, 2.1, 2.3, 2.6, 8.2, 8.3};
        double[] expected = {-1.5738333, 0.6745, -0.2248333, 0.2248333, -0.6745, -1.5738333, -0.6745, 0.6745,
                25.8558333, 26.3055};
        RobustZ z = RobustZ.of(data);
        for (int i = 0; i < data.length; i++) {
            assertThat(z.score(data[i])).isCloseTo(expected[i], within(1e-6));
            assertThat(Math.abs(z.score(data[i])) > RobustZ.OUTLIER).isEqualTo(i >= 8);
        }
    }

    /** By hand: MAD is 0, the mean deviation 2/5. */
    @Test
    void whereMostIsOneValueTheMeanDeviationCounts() {
        assertThat(RobustZ.of(5, 5, 5, 5, 7).score(9)).isCloseTo(4 / (1.253314 * 0.4), within(1e-9));
    }

    @Test
    void whereAllIsOneValueOnePerCentCounts() {
        assertThat(RobustZ.of(40, 40, 40).score(44)).isCloseTo(4 / 0.44, within(1e-9));
        assertThat(RobustZ.of(0, 0, 0).score(3)).isCloseTo(100, within(1e-9));
        assertThat(RobustZ.of(0, 0, 0).score(0)).isZero();
        assertThatThrownBy(RobustZ::of).isInstanceOf(IllegalArgumentException.class);
    }
}
