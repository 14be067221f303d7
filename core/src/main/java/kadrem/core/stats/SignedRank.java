package kadrem.core.stats;

import java.util.Arrays;
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
public final class SignedRank {
    private final double[] walsh;
    private final int n;
    private final double statistic;
    private final SignedRankDistribution conditional;

    private SignedRank(double[] differences) {
        n = differences.length;
        walsh = walshAverages(differences);
        double[] ranks = ranksOfMagnitude(differences);
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
        conditional = SignedRankDistribution.ofRanks(Arrays.copyOf(kept, nonZero));
    }

    /**
     * The analysis of differences, candidate minus baseline, one a round.
     *
     * @throws IllegalArgumentException if there is no difference, or one that is not a finite number
     */
    public static SignedRank of(double... differences) {
        if (differences.length == 0) {
            throw new IllegalArgumentException("no differences to rank");
        }
        for (double difference : differences) {
            if (!Double.isFinite(difference)) {
                throw new IllegalArgumentException("a difference is " + difference);
            }
        }
        return new SignedRank(differences);
    }

    /** Number of differences, zeros included. */
    public int count() {
        return n;
    }

    /** V, the sum of the ranks of the positive differences. */
    public double statistic() {
        return statistic;
    }

    /** Two-sided p of "the differences lie about zero". */
    public double p() {
        return Math.min(1, 2 * Math.min(conditional.atMost(statistic), conditional.atLeast(statistic)));
    }

    /** The Hodges–Lehmann estimate of the difference. */
    public double estimate() {
        int m = walsh.length;
        return m % 2 == 1 ? walsh[m / 2] : (walsh[m / 2 - 1] + walsh[m / 2]) / 2;
    }

    /**
     * The shortest exact interval with at least the confidence asked for (0 to 1); empty where so few differences have
     * none.
     */
    public Optional<Interval> interval(double confidence) {
        SignedRankDistribution untied = SignedRankDistribution.untied(n);
        int k = 0;
        while (k < walsh.length && 2 * untied.atMost(k) <= 1 - confidence + 1e-12) {
            k++;
        }
        if (k == 0) {
            return Optional.empty();
        }
        return Optional.of(new Interval(walsh[k - 1], walsh[walsh.length - k], 1 - 2 * untied.atMost(k - 1)));
    }

    /** An interval with the confidence that it really has. */
    public record Interval(double low, double high, double achievedConfidence) {
        public boolean contains(double value) {
            return low <= value && value <= high;
        }
    }

    private static double[] walshAverages(double[] d) {
        var averages = new double[d.length * (d.length + 1) / 2];
        int k = 0;
        for (int i = 0; i < d.length; i++) {
            for (int j = i; j < d.length; j++) {
                averages[k++] = d[i] / 2 + d[j] / 2;
            }
        }
        Arrays.sort(averages);
        return averages;
    }

    private static double[] ranksOfMagnitude(double[] d) {
        Integer[] order = new Integer[d.length];
        Arrays.setAll(order, i -> i);
        Arrays.sort(order, (a, b) -> Double.compare(Math.abs(d[a]), Math.abs(d[b])));
        var ranks = new double[d.length];
        for (int from = 0; from < d.length;) {
            int to = from;
            while (to < d.length && Math.abs(d[order[to]]) == Math.abs(d[order[from]])) {
                to++;
            }
            for (int i = from; i < to; i++) {
                ranks[order[i]] = (from + 1 + to) / 2.0;
            }
            from = to;
        }
        return ranks;
    }
}
