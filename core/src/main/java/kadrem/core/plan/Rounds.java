package kadrem.core.plan;

import java.util.ArrayList;
import java.util.List;

/** The order of the candidates inside each round, and what a number of rounds can show. */
public final class Rounds {
    private static final long ORDER_PURPOSE = 0x726f756e64L;

    private Rounds() {
    }

    /** The candidates in the random order of round {@code round} (counted from 1): Fisher and Yates on the seed. */
    public static List<String> order(List<String> candidates, long seed, int round) {
        var order = new ArrayList<>(candidates);
        long state = SplitMix64.mix(SplitMix64.mix(seed ^ ORDER_PURPOSE) + round);
        for (int i = order.size() - 1; i > 0; i--) {
            state += SplitMix64.GAMMA;
            int j = (int) SplitMix64.below(SplitMix64.mix(state), i + 1);
            order.set(j, order.set(i, order.get(j)));
        }
        return List.copyOf(order);
    }

    /** The seed of everything sent in round {@code round}; the same for each candidate of the round. */
    public static long streamSeed(long seed, int round) {
        return SplitMix64.mix(SplitMix64.mix(seed) + round);
    }

    /**
     * Fewest rounds with which the exact signed-rank test can settle one of {@code comparisons} after Holm: the smallest n
     * whose smallest two-sided p, 2 / 2^n, times the number of comparisons is at most {@code significance}.
     */
    public static int neededToSettle(int comparisons, double significance) {
        int rounds = 1;
        while (Math.scalb(2.0, -rounds) * Math.max(1, comparisons) > significance) {
            rounds++;
        }
        return rounds;
    }
}
