package kadrem.core.stats;

import java.util.Arrays;
import java.util.Optional;
import java.util.function.DoubleUnaryOperator;

/**
 * The Mann–Whitney test of two samples that are not paired, with the Hodges–Lehmann shift and Cliff's delta. U counts the pairs
 * in which the candidate's value is the larger, ties half. p is twice the smaller tail of the exact conditional distribution
 * given the mid-ranks. The shift is the median of all differences candidate − baseline; its interval runs from the k-th smallest
 * to the k-th largest of them, k the largest with 2 P(U ≤ k − 1) ≤ 1 − confidence for untied ranks. Cliff's delta is
 * P(candidate &gt; baseline) − P(candidate &lt; baseline).
 * <p>
 * Source: Hollander, Wolfe: Nonparametric Statistical Methods, 1973, chapter 4; Cliff: Dominance statistics, Psychological
 * Bulletin 114, 1993.
 */
public final class RankSum implements LocationTest {
    /** Beyond so many values in both samples the exact distribution takes more memory than it is worth. */
    private static final int MAX = 120;

    private final double[] shifts;
    private final int m;
    private final int n;
    private final double u;
    private final double[] cumulative;
    private final double[] untied;

    private RankSum(double[] baseline, double[] candidate) {
        m = baseline.length;
        n = candidate.length;
        shifts = new double[m * n];
        double wins = 0;
        int at = 0;
        for (double b : baseline) {
            for (double c : candidate) {
                shifts[at++] = c - b;
                wins += c > b ? 1 : c == b ? 0.5 : 0;
            }
        }
        Arrays.sort(shifts);
        u = wins;
        double[] all = Arrays.copyOf(baseline, m + n);
        System.arraycopy(candidate, 0, all, m, n);
        double[] ranks = MidRanks.of(all, DoubleUnaryOperator.identity());
        cumulative = distribution(ranks);
        var plain = new double[m + n];
        Arrays.setAll(plain, i -> i + 1.0);
        untied = distribution(plain);
    }

    /**
     * The analysis.
     *
     * @throws IllegalArgumentException if a sample is empty, holds a value that is not finite, or both are larger than can be
     *             analysed exactly
     */
    public static RankSum of(double[] baseline, double[] candidate) {
        if (baseline.length == 0 || candidate.length == 0) {
            throw new IllegalArgumentException("a sample without values");
        }
        if (baseline.length + candidate.length > MAX) {
            throw new IllegalArgumentException("more than " + MAX + " runs of two candidates");
        }
        for (double[] sample : new double[][]{baseline, candidate}) {
            for (double one : sample) {
                if (!Double.isFinite(one)) {
                    throw new IllegalArgumentException("a value is " + one);
                }
            }
        }
        return new RankSum(baseline, candidate);
    }

    /**
     * P(doubled rank sum of the candidate's n values ≤ s) by counting all choices of n of the ranks: a convolution over
     * (chosen, doubled sum). Probabilities are kept instead of counts, which would not fit into a number.
     */
    private double[] distribution(double[] ranks) {
        int most = 0;
        int[] doubled = new int[ranks.length];
        for (int i = 0; i < ranks.length; i++) {
            doubled[i] = (int) Math.round(2 * ranks[i]);
            most += doubled[i];
        }
        // mass[j][s]: probability that of the first i ranks j are chosen with sum s, when n of all are chosen at random
        var mass = new double[n + 1][most + 1];
        mass[0][0] = 1;
        int seen = 0;
        for (int rank : doubled) {
            int left = ranks.length - seen;
            for (int j = Math.min(seen, n); j >= 0; j--) {
                double take = (double) (n - j) / left;
                for (int s = most - rank; s >= 0; s--) {
                    double here = mass[j][s];
                    if (here > 0) {
                        if (j < n) {
                            mass[j + 1][s + rank] += here * take;
                        }
                        mass[j][s] = here * (1 - take);
                    }
                }
            }
            seen++;
        }
        double[] sums = mass[n];
        for (int s = 1; s < sums.length; s++) {
            sums[s] += sums[s - 1];
        }
        return sums;
    }

    private double atMost(double[] distribution, double wins) {
        // the rank sum is U + n (n + 1) / 2
        int index = (int) Math.floor(2 * wins + (double) n * (n + 1) + 1e-9);
        return index < 0 ? 0 : distribution[Math.min(index, distribution.length - 1)];
    }

    /** U of the candidate. */
    public double u() {
        return u;
    }

    /** From the closed interval, as of {@link SignedRank#p(double)}. */
    @Override
    public double p(double shift) {
        int below = 0;
        int above = 0;
        for (double one : shifts) {
            below += one <= shift ? 1 : 0;
            above += one >= shift ? 1 : 0;
        }
        return Math.min(1, 2 * atMost(untied, Math.min(below, above)));
    }

    @Override
    public double p() {
        return Math.min(1, 2 * Math.min(atMost(cumulative, u), 1 - atMost(cumulative, u - 0.5)));
    }

    @Override
    public String method() {
        return "rank sum";
    }

    @Override
    public double estimate() {
        int k = shifts.length;
        return k % 2 == 1 ? shifts[k / 2] : (shifts[k / 2 - 1] + shifts[k / 2]) / 2;
    }

    @Override
    public Optional<Interval> interval(double confidence) {
        int k = 0;
        while (k < shifts.length && 2 * atMost(untied, k) <= 1 - confidence + 1e-12) {
            k++;
        }
        return k == 0
                ? Optional.empty()
                : Optional.of(new Interval(shifts[k - 1], shifts[shifts.length - k], 1 - 2 * atMost(untied, k - 1)));
    }

    /** Cliff's delta, −1 to 1; positive where the candidate's values are larger. */
    public double delta() {
        return 2 * u / ((double) m * n) - 1;
    }
}
