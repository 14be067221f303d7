package kadrem.core.stats;

import java.util.Arrays;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;

/**
 * Wilcoxon's signed-rank test of paired differences, with the Hodges–Lehmann estimate and the exact interval.
 * <p>
 * V is the sum of the ranks of |d| over positive d; ties share the mean rank; zeros are ranked and then left out (Pratt
 * 1959). p is twice the smaller tail of the exact conditional distribution. The estimate is the median of the n(n+1)/2
 * Walsh averages (d_i + d_j) / 2, i ≤ j. The interval runs from the k-th smallest to the k-th largest of them, where k is
 * the largest with 2 P(V ≤ k − 1) ≤ 1 − confidence for untied ranks; its achieved confidence is 1 − 2 P(V ≤ k − 1).
 * <p>
 * Source: Hollander, Wolfe: Nonparametric Statistical Methods, 1973, section 3; Pratt: Remarks on zeros and ties in the
 * Wilcoxon signed rank procedures, JASA 54, 1959.
 */
public final class SignedRank implements LocationTest {
    private final WalshAverages walsh;
    private final int n;
    private final double statistic;
    private final SignedRankDistribution untied;
    /** Given the ranks that there are; the same as the untied one where there are neither ties nor zeros. */
    private final SignedRankDistribution conditional;

    private SignedRank(double[] differences, SignedRankDistribution untied) {
        this.untied = untied;
        n = differences.length;
        walsh = new WalshAverages(differences);
        double[] ranks = MidRanks.of(differences, Math::abs);
        double v = 0;
        int nonZero = 0;
        var kept = new double[n];
        for (int i = 0; i < n; i++) {
            if (differences[i] > 0) {
                v += ranks[i];
            }
            if (differences[i] != 0) {
                kept[nonZero++] = ranks[i];
            }
        }
        statistic = v;
        boolean plain = nonZero == n && Arrays.stream(kept).distinct().count() == n;
        conditional = plain ? untied : SignedRankDistribution.ofRanks(Arrays.copyOf(kept, nonZero));
    }

    /**
     * Many analyses, which share the distributions of untied ranks: to make one for a hundred differences takes longer than all
     * the rest. For one thread.
     */
    public static final class Many {
        private final Map<Integer, SignedRankDistribution> untied = new HashMap<>();

        /** As {@link SignedRank#of}. */
        public SignedRank of(double... differences) {
            if (differences.length == 0) {
                throw new IllegalArgumentException("no differences to rank");
            }
            for (double difference : differences) {
                if (!Double.isFinite(difference)) {
                    throw new IllegalArgumentException("a difference is " + difference);
                }
            }
            return new SignedRank(differences,
                    untied.computeIfAbsent(differences.length, SignedRankDistribution::untied));
        }
    }

    /**
     * The analysis of differences, candidate minus baseline, one a round.
     *
     * @throws IllegalArgumentException if there is no difference, or one that is not a finite number
     */
    public static SignedRank of(double... differences) {
        return new Many().of(differences);
    }

    /** The smallest two-sided p that so many differences can give, 2^(1 − n). */
    public static double smallestP(int rounds) {
        return Math.min(1, Math.pow(2, 1.0 - rounds));
    }

    /** Number of differences, zeros included. */
    public int count() {
        return n;
    }

    /** V, the sum of the ranks of the positive differences. */
    public double statistic() {
        return statistic;
    }

    @Override
    public double p() {
        return Math.min(1, 2 * Math.min(conditional.atMost(statistic), conditional.atLeast(statistic)));
    }

    /**
     * From the closed interval: twice P(V ≤ number of Walsh averages on the one side of the shift or at it). Where no difference is zero
     * or tied it is the exact p; otherwise it is no smaller (Noether: Wilcoxon confidence intervals for location parameters in the
     * discrete case, JASA 62, 1967).
     */
    @Override
    public double p(double shift) {
        int below = walsh.atMost(shift);
        int above = walsh.count() - walsh.below(shift);
        return Math.min(1, 2 * untied.atMost(Math.min(below, above)));
    }

    @Override
    public String method() {
        return "signed rank";
    }

    @Override
    public double estimate() {
        return walsh.median();
    }

    /** The shortest exact interval with at least the confidence asked for. */
    @Override
    public Optional<Interval> interval(double confidence) {
        int k = outside(untied, walsh.count(), 1 - confidence);
        return k == 0
                ? Optional.empty()
                : Optional.of(new Interval(walsh.at(k - 1), walsh.at(walsh.count() - k), 1 - 2 * untied.atMost(k - 1)));
    }

    /** How many Walsh averages an interval leaves out at each end, so that what it may miss is at most {@code level}. */
    private static int outside(SignedRankDistribution untied, int averages, double level) {
        int k = 0;
        while (k < averages && 2 * untied.atMost(k) <= level + 1e-12) {
            k++;
        }
        return k;
    }

    /**
     * How many of the n(n+1)/2 Walsh averages of n untied differences lie outside the interval at each end.
     *
     * @param levels one less the confidence
     */
    public static int[] averagesOutside(int n, double... levels) {
        SignedRankDistribution untied = SignedRankDistribution.untied(n);
        return Arrays.stream(levels).mapToInt(level -> outside(untied, n * (n + 1) / 2, level)).toArray();
    }
}
