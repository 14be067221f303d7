package kadrem.core.stats;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.SplittableRandom;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Shares of calls over runs, and whether counts fell evenly. */
class SharesTest {
    /** R 4.2.2: {@code binom.test(9, 10)$p.value}, {@code binom.test(6, 6)$p.value}, {@code binom.test(5, 10)$p.value}; from memory of R's documentation and by hand: 22/1024, 2/64, 1. */
    @ParameterizedTest
    @CsvSource({"9, 1, 0.021484375", "6, 0, 0.03125", "5, 5, 1", "1, 0, 1"})
    void twoPlacesAreTheBinomialTest(int one, int other, double p) {
        assertThat(EvenSpread.p(one, other)).isCloseTo(p, within(1e-9));
        assertThat(EvenSpread.p(other, one)).isCloseTo(p, within(1e-9));
    }

    /** By going through all 3^7 ways in which seven things fall on three places. */
    @Test
    void threePlacesAreAsByEnumeration() {
        int[] seen = {5, 1, 1};
        double ways = 7 * 6;
        double sum = 0;
        for (int code = 0; code < 2187; code++) {
            int[] counts = new int[3];
            for (int i = 0, rest = code; i < 7; i++, rest /= 3) {
                counts[rest % 3]++;
            }
            double own = factorial(7) / factorial(counts[0]) / factorial(counts[1]) / factorial(counts[2]);
            sum += own <= ways + 1e-9 ? 1.0 / 2187 : 0;
        }
        assertThat(EvenSpread.p(seen)).isCloseTo(sum, within(1e-9));
        assertThatThrownBy(EvenSpread::p).isInstanceOf(IllegalArgumentException.class);
        assertThat(EvenSpread.p(200, 100)).isLessThan(0.01);
    }

    private static double factorial(int n) {
        return n < 2 ? 1 : n * factorial(n - 1);
    }

    /** Clopper and Pearson's bounds of 0 of 1,000 at 95 %: R 4.2.2, {@code binom.test(0, 1000)}: [0, 0.0036821]. */
    @Test
    void nothingSeenLeavesAnUpperBound() {
        var share = ClusteredShare.of(new long[5], new long[]{200, 200, 200, 200, 200});
        assertThat(share.interval(0.95).low()).isZero();
        assertThat(share.interval(0.95).high()).isCloseTo(0.0036821, within(1e-6));
    }

    /**
     * Ratio estimate by hand (Cochran 1977, section 6.3): shares of runs of one size are their mean with its standard error, here 0.02
     * with t 0.975 on 3 degrees of freedom, 3.182446 (R: {@code qt(0.975, 3)}).
     */
    @Test
    void runsOfOneSizeAreAMeanOfShares() {
        var share = ClusteredShare.of(new long[]{0, 2_000, 4_000, 2_000},
                new long[]{100_000, 100_000, 100_000, 100_000});
        double error = Math.sqrt((0.02 * 0.02 * 2) / 3 / 4);
        assertThat(share.share()).isEqualTo(0.02);
        assertThat(share.interval(0.95).high()).isCloseTo(0.02 + 3.182446 * error, within(1e-7));
        assertThatThrownBy(() -> ClusteredShare.of(new long[]{2}, new long[]{1}))
                .isInstanceOf(IllegalArgumentException.class);
    }

    /** Student's sleep data, as differences of shares: t = −4.0621277, p = 0.00283289 (R: {@code t.test}, data set sleep). */
    @Test
    void meansOfPairedSharesAreStudents() {
        double[] d = {-1.2, -2.4, -1.3, -1.3, 0, -1.0, -1.8, -0.8, -4.6, -1.4};
        double[] shares = new double[d.length];
        java.util.Arrays.setAll(shares, i -> d[i] / 100);
        PairedMean mean = PairedMean.of(1_000_000, shares).orElseThrow();
        assertThat(mean.estimate()).isCloseTo(-0.0158, within(1e-12));
        assertThat(mean.p(0)).isCloseTo(0.00283289, within(1e-7));
        Interval interval = mean.interval(0.95).orElseThrow();
        assertThat(interval.low()).isCloseTo(-0.024598858, within(1e-7));
        assertThat(interval.high()).isCloseTo(-0.007001142, within(1e-7));
        PairedMean same = PairedMean.of(1_000, new double[6]).orElseThrow();
        assertThat(same.interval(0.95).orElseThrow().high()).as("1,000 calls without a difference still leave one")
                .isCloseTo(0.0036821, within(1e-6));
    }

    /**
     * How often the upper bound of 95 % holds the true share over runs, one run in ten bad: told, not tuned. With six runs more than
     * half of all studies see no bad run, and no method can know of it.
     */
    @ParameterizedTest
    @CsvSource({"6, 0.40", "10, 0.60", "20, 0.80"})
    void coverageOfTheUpperBoundWithOneRunInTenBad(int runs, double least) {
        var random = new SplittableRandom(3);
        int held = 0;
        for (int study = 0; study < 1_000; study++) {
            var hits = new long[runs];
            var of = new long[runs];
            for (int i = 0; i < runs; i++) {
                of[i] = 1_000;
                hits[i] = random.nextInt(10) == 0 ? 400 : Math.round(2 + random.nextGaussian());
                hits[i] = Math.max(0, hits[i]);
            }
            held += ClusteredShare.of(hits, of).interval(0.90).high() >= 0.9 * 0.002 + 0.1 * 0.4 ? 1 : 0;
        }
        System.out.printf("upper bound of 95 %% over %d runs, one in ten bad: holds in %.1f %%%n", runs, held / 10.0);
        assertThat(held / 1000.0).isGreaterThan(least);
    }
}
