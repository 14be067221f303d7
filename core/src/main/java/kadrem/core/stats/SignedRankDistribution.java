package kadrem.core.stats;

/**
 * The exact null distribution of the signed-rank statistic V, the sum of the ranks of the positive differences, when each
 * rank takes either sign with probability one half.
 * <p>
 * Ranks may be tied or missing (Pratt's zeros): the distribution is then the conditional one given these ranks. It is
 * built by convolution over whole multiples of them, which gives the same probabilities as an enumeration of all 2^n signs.
 */
final class SignedRankDistribution {
    private final double[] cumulative;
    /** What ranks are multiplied by to be whole. */
    private final int scale;

    private SignedRankDistribution(long[] scaledRanks, int scale) {
        this.scale = scale;
        int sum = Math.toIntExact(java.util.Arrays.stream(scaledRanks).sum());
        // two arrays in turn, so that the inner loop can be done several values at once
        var mass = new double[sum + 1];
        var next = new double[sum + 1];
        mass[0] = 1;
        int reached = 0;
        for (long rank : scaledRanks) {
            int step = (int) rank;
            reached += step;
            for (int value = 0; value < step; value++) {
                next[value] = mass[value] / 2;
            }
            for (int value = step; value <= reached; value++) {
                next[value] = (mass[value] + mass[value - step]) / 2;
            }
            double[] last = mass;
            mass = next;
            next = last;
        }
        cumulative = mass;
        for (int i = 1; i < cumulative.length; i++) {
            cumulative[i] += cumulative[i - 1];
        }
    }

    /** The distribution given ranks, each of which is a multiple of one half. */
    static SignedRankDistribution ofRanks(double[] ranks) {
        return new SignedRankDistribution(java.util.Arrays.stream(ranks).mapToLong(r -> Math.round(2 * r)).toArray(),
                2);
    }

    /** The distribution for n untied differences: ranks 1 to n. */
    static SignedRankDistribution untied(int n) {
        return new SignedRankDistribution(java.util.stream.LongStream.rangeClosed(1, n).toArray(), 1);
    }

    /** P(V ≤ v). */
    double atMost(double v) {
        int index = (int) Math.floor(scale * v + 1e-9);
        return index < 0 ? 0 : cumulative[Math.min(index, cumulative.length - 1)];
    }

    /** P(V ≥ v). */
    double atLeast(double v) {
        return 1 - atMost(v - 0.5);
    }
}
