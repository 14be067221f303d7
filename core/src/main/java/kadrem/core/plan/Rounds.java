package kadrem.core.plan;

import java.util.ArrayList;
import java.util.List;

import kadrem.core.random.SplitMix64;

/** The order of the candidates inside each round, and what a number of rounds can show. */
public final class Rounds {
    private static final long ORDER_PURPOSE = 0x726f756e64L;

    private Rounds() {
    }

    /**
     * The order of the candidates in round {@code round} (counted from 1). Rounds come in squares in which each candidate stands in
     * each place, and comes directly after each other one, equally often; of an odd number two squares belong together, so that of three
     * candidates each order comes once in six rounds. Which candidate is which of a square, and the order of its rounds, are random
     * by the seed.
     * <p>
     * Source: Williams: Experimental designs balanced for the estimation of residual effects of treatments, Australian Journal of
     * Scientific Research A 2, 1949.
     */
    public static List<String> order(List<String> candidates, long seed, int round) {
        int n = candidates.size();
        int rows = n % 2 == 0 ? n : 2 * n;
        int square = (round - 1) / rows;
        long state = SplitMix64.mix(SplitMix64.mix(seed ^ ORDER_PURPOSE) + square);
        List<Integer> names = shuffled(n, state);
        int row = shuffled(rows, SplitMix64.mix(state)).get((round - 1) % rows);
        var order = new ArrayList<String>();
        for (int place = 0; place < n; place++) {
            int first = place % 2 == 1 ? (place + 1) / 2 : (n - place / 2) % n;
            int at = (first + row) % n;
            // of an odd number the second square is the mirror of the first
            order.add(candidates.get(names.get(at)));
        }
        return List.copyOf(row >= n ? order.reversed() : order);
    }

    /** The numbers below {@code n} in random order: Fisher and Yates. */
    private static List<Integer> shuffled(int n, long from) {
        var order = new ArrayList<Integer>();
        for (int i = 0; i < n; i++) {
            order.add(i);
        }
        long state = from;
        for (int i = n - 1; i > 0; i--) {
            state += SplitMix64.GAMMA;
            int j = (int) SplitMix64.below(SplitMix64.mix(state), i + 1);
            order.set(j, order.set(i, order.get(j)));
        }
        return order;
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
