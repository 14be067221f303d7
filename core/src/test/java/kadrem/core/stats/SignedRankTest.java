package kadrem.core.stats;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.SplittableRandom;
import java.util.stream.IntStream;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class SignedRankTest {
    /** Hollander, Wolfe: Nonparametric Statistical Methods, 1973, page 29: depression scores before and after. */
    private static final double[] BEFORE = {1.83, 0.50, 1.62, 2.48, 1.68, 1.88, 1.55, 3.06, 1.30};
    private static final double[] AFTER = {0.878, 0.647, 0.598, 2.05, 1.06, 1.29, 1.06, 3.14, 1.29};

    private static double[] differences() {
        return IntStream.range(0, BEFORE.length).mapToDouble(i -> BEFORE[i] - AFTER[i]).toArray();
    }

    /** Values computed with R 4.2.2: wilcox.test(x, y, paired = TRUE, exact = TRUE, conf.int = TRUE). */
    @Test
    void givesThePublishedValuesOfTheDepressionScores() {
        SignedRank test = SignedRank.of(differences());
        assertThat(test.statistic()).isEqualTo(40);
        assertThat(test.p()).isCloseTo(0.0390625, within(1e-12));
        assertThat(test.estimate()).isCloseTo(0.460, within(5e-4));
        Interval interval = test.interval(0.95).orElseThrow();
        assertThat(interval.low()).isCloseTo(0.010, within(5e-4));
        assertThat(interval.high()).isCloseTo(0.786, within(5e-4));
        assertThat(interval.achievedConfidence()).isCloseTo(0.9609375, within(1e-12));
    }

    /** Smallest two-sided p is 2 / 2^n; achieved confidences from R's psignrank (methods, section 2, point 3). */
    @ParameterizedTest
    @CsvSource({"6, 0.03125, 0.9688", "7, 0.015625, 0.9531", "8, 0.0078125, 0.9609", "10, 0.001953125, 0.9512"})
    void showsWhatANumberOfRoundsCanShow(int rounds, double smallestP, double achieved) {
        SignedRank test = SignedRank.of(IntStream.rangeClosed(1, rounds).asDoubleStream().toArray());
        assertThat(test.p()).isCloseTo(smallestP, within(1e-12));
        assertThat(test.interval(0.95).orElseThrow().achievedConfidence()).isCloseTo(achieved, within(5e-5));
    }

    @ParameterizedTest
    @ValueSource(ints = {1, 2, 3, 4, 5})
    void hasNoIntervalAtNinetyFivePercentBelowSixRounds(int rounds) {
        SignedRank test = SignedRank.of(IntStream.rangeClosed(1, rounds).asDoubleStream().toArray());
        assertThat(test.interval(0.95)).isEmpty();
    }

    /** Pratt 1959: zeros take part in the ranking and are then left out, so the smallest non-zero has rank 3 here. */
    @Test
    void ranksZerosAndThenLeavesThemOut() {
        assertThat(SignedRank.of(0, 0, 1, 2, -3).statistic()).isEqualTo(3 + 4);
        assertThat(SignedRank.of(0, 0, 0).p()).isEqualTo(1);
    }

    /** The conditional distribution must be that of an enumeration of all signs, which is done here one by one. */
    @Test
    void agreesWithTheEnumerationOfAllSignsForTiesAndZeros() {
        var random = new SplittableRandom(11);
        for (int trial = 0; trial < 200; trial++) {
            int n = random.nextInt(1, 11);
            double[] d = random.doubles(n).map(u -> Math.rint(u * 8 - 3)).toArray();
            assertThat(SignedRank.of(d).p()).as("trial %d", trial).isCloseTo(enumeratedP(d), within(1e-12));
        }
    }

    private static double enumeratedP(double[] d) {
        int n = d.length;
        var ranks = new double[n];
        for (int i = 0; i < n; i++) {
            int below = 0;
            int same = 0;
            for (double other : d) {
                below += Math.abs(other) < Math.abs(d[i]) ? 1 : 0;
                same += Math.abs(other) == Math.abs(d[i]) ? 1 : 0;
            }
            ranks[i] = d[i] == 0 ? 0 : below + (same + 1) / 2.0;
        }
        double seen = IntStream.range(0, n).filter(i -> d[i] > 0).mapToDouble(i -> ranks[i]).sum();
        int low = 0;
        int high = 0;
        for (int signs = 0; signs < 1 << n; signs++) {
            double v = 0;
            for (int i = 0; i < n; i++) {
                v += (signs >> i & 1) == 1 ? ranks[i] : 0;
            }
            low += v <= seen ? 1 : 0;
            high += v >= seen ? 1 : 0;
        }
        return Math.min(1, 2.0 * Math.min(low, high) / (1 << n));
    }

    @Test
    void mirrorsEverythingWhenTheTwoAreSwapped() {
        double[] d = differences();
        SignedRank there = SignedRank.of(d);
        SignedRank back = SignedRank.of(IntStream.range(0, d.length).mapToDouble(i -> -d[i]).toArray());
        assertThat(back.p()).isCloseTo(there.p(), within(1e-12));
        assertThat(back.estimate()).isCloseTo(-there.estimate(), within(1e-12));
        Interval a = there.interval(0.95).orElseThrow();
        Interval b = back.interval(0.95).orElseThrow();
        assertThat(b.low()).isCloseTo(-a.high(), within(1e-12));
        assertThat(b.high()).isCloseTo(-a.low(), within(1e-12));
    }

    /** 2,000 simulated studies; the standard error of the coverage is about 0.5 %, four of them are allowed. */
    @Test
    void coversTheTruthAtItsStatedRate() {
        var random = new SplittableRandom(3);
        int studies = 2000;
        int covered = 0;
        for (int s = 0; s < studies; s++) {
            double[] d = IntStream.range(0, 7).mapToDouble(i -> 0.3 + random.nextGaussian() * 0.1).toArray();
            covered += SignedRank.of(d).interval(0.95).orElseThrow().contains(0.3) ? 1 : 0;
        }
        double stated = 0.953125;
        double error = Math.sqrt(stated * (1 - stated) / studies);
        assertThat((double) covered / studies).isCloseTo(stated, within(4 * error));
    }

    @Test
    void refusesWhatIsNotANumber() {
        assertThatThrownBy(() -> SignedRank.of()).isInstanceOf(IllegalArgumentException.class);
        assertThatThrownBy(() -> SignedRank.of(1, Double.NaN)).isInstanceOf(IllegalArgumentException.class);
    }
}
