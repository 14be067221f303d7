package kadrem.core.stats;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.Arrays;
import java.util.SplittableRandom;

import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** What a surrogate keeps (Ebisuzaki 1997): the mean, and around the circle the scatter and every autocovariance. */
class RandomPhasesTest {
    private static double circular(double[] values, int lag) {
        double mean = Arrays.stream(values).average().orElseThrow();
        double sum = 0;
        for (int i = 0; i < values.length; i++) {
            sum += (values[i] - mean) * (values[(i + lag) % values.length] - mean);
        }
        return sum / values.length;
    }

    @ParameterizedTest
    @ValueSource(ints = {9, 16, 41})
    void meanAndAutocovariancesStay(int length) {
        var random = new SplittableRandom(length);
        double[] values = random.doubles(length, 0, 10).toArray();
        var phases = new RandomPhases(values, length);
        int lags = 4;
        var mean = new double[lags];
        int many = 4_000;
        for (int i = 0; i < many; i++) {
            double[] made = phases.next(random);
            assertThat(Arrays.stream(made).average().orElseThrow())
                    .isCloseTo(Arrays.stream(values).average().orElseThrow(), within(1e-9));
            for (int lag = 0; lag < lags; lag++) {
                mean[lag] += circular(made, lag) / many;
            }
        }
        for (int lag = 0; lag < lags; lag++) {
            assertThat(mean[lag]).as("lag " + lag).isCloseTo(circular(values, lag), within(0.2));
        }
    }

    @ParameterizedTest
    @ValueSource(ints = {4, 5})
    void aStretchKeepsItsMean(int stretch) {
        double[] values = {1, 2, 3, 2, 9, 8, 9, 7, 4, 5};
        double[] made = new RandomPhases(values, stretch).next(new SplittableRandom(1));
        assertThat(made).hasSize(values.length);
        assertThat(Arrays.stream(made, 0, stretch).sum()).isCloseTo(Arrays.stream(values, 0, stretch).sum(),
                within(1e-9));
    }
}
