package kadrem.core.stats;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.SplittableRandom;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class NextRunsTest {
    /**
     * By hand: with six of six and y of ten more, all six stand in front with the chance C(10, y) / C(16, 6 + y): 0.026 at 4, 0.058 at 5;
     * of one more, 1 / 7 at 0. With none kept every sum allows none.
     */
    @ParameterizedTest
    @CsvSource({"6, 6, 10, 0.95, 5", "6, 6, 10, 0.98, 4", "0, 6, 10, 0.95, 0", "6, 6, 1, 0.8, 1", "6, 6, 1, 0.95, 0"})
    void boundsByHand(int kept, int runs, int next, double confidence, int expected) {
        assertThat(NextRuns.atLeast(kept, runs, next, confidence)).isEqualTo(expected);
    }

    /** By simulation, 4,000 predictions for each chance: the bound is passed downwards in no more than 5 %, three standard errors allowed. */
    @ParameterizedTest
    @CsvSource({"0.5, 7", "0.8, 10", "0.95, 7", "0.99, 20"})
    void theBoundHolds(double chance, int runs) {
        var random = new SplittableRandom(runs);
        int many = 4_000;
        int below = 0;
        for (int i = 0; i < many; i++) {
            int bound = NextRuns.atLeast(kept(random, chance, runs), runs, 10, 0.95);
            below += kept(random, chance, 10) < bound ? 1 : 0;
        }
        assertThat((double) below / many).isLessThan(0.05 + 3 * Math.sqrt(0.05 * 0.95 / many));
    }

    private static int kept(SplittableRandom random, double chance, int runs) {
        int kept = 0;
        for (int i = 0; i < runs; i++) {
            kept += random.nextDouble() < chance ? 1 : 0;
        }
        return kept;
    }

    @Test
    void moreKeptIsNoWorse() {
        int before = 0;
        for (int kept = 0; kept <= 10; kept++) {
            int bound = NextRuns.atLeast(kept, 10, 10, 0.95);
            assertThat(bound).isGreaterThanOrEqualTo(before);
            before = bound;
        }
    }
}
