package kadrem.core.stats;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.List;
import java.util.SplittableRandom;

/**
 * Where the level of a series changes: the division into pieces that minimises the sum over pieces of the squared distances from the
 * piece's mean, divided by the variance, plus a penalty for each piece. Found exactly by PELT, which leaves out beginnings that
 * can no longer be best, in time that grows with the length where changes are spread over it. Source: Killick, Fearnhead, Eckley:
 * Optimal detection of changepoints with a linear computational cost, JASA 107, 2012.
 */
public final class ChangePoints {
    /** Shorter series have no scatter by which a change could be told from chance. */
    public static final int MIN = 8;
    private static final int ORDERS = 999;
    private static final double SIGNIFICANCE = 0.05;
    private static final long SEED = 1941;
    /** Penalties for one change, in logarithms of the length: its place and its level. Source: Zhang, Siegmund, Biometrics 63, 2007. */
    private static final double PENALTY = 3;
    /** From the median of absolute differences of neighbours to a standard deviation: 1 / (0.6745 √2). */
    private static final double TO_SD = 1.0483580;

    private ChangePoints() {
    }

    /**
     * The places of the values with which a new level begins, ascending, from 1.
     *
     * @return empty for fewer than {@value #MIN} values
     */
    public static List<Integer> of(double... values) {
        if (values.length < MIN) {
            return List.of();
        }
        double sd = scatter(values);
        List<Integer> found = sd == 0
                ? exactSteps(values)
                : of(values, sd * sd, PENALTY * Math.log(values.length));
        return found.isEmpty() || !isBeyondChance(values) ? List.of() : found;
    }

    /**
     * Whether neighbours are nearer to each other than in nineteen of twenty random orders of the same values, as they are where levels
     * change: without that any division is one of noise. Source: von Neumann: Distribution of the ratio of the mean square successive
     * difference to the variance, Annals of Mathematical Statistics 12, 1941; by permutation.
     */
    private static boolean isBeyondChance(double[] values) {
        double own = successive(values);
        var random = new SplittableRandom(SEED);
        double[] order = values.clone();
        int asNear = 1;
        for (int i = 0; i < ORDERS; i++) {
            for (int j = order.length - 1; j > 0; j--) {
                int k = random.nextInt(j + 1);
                double kept = order[j];
                order[j] = order[k];
                order[k] = kept;
            }
            asNear += successive(order) <= own * (1 + 1e-12) ? 1 : 0;
        }
        return asNear <= SIGNIFICANCE * (ORDERS + 1);
    }

    /** Sum of the squared differences of neighbours; the variance is the same in every order. */
    private static double successive(double[] values) {
        double sum = 0;
        for (int i = 1; i < values.length; i++) {
            sum += (values[i] - values[i - 1]) * (values[i] - values[i - 1]);
        }
        return sum;
    }

    /**
     * The standard deviation of the values around their levels, from the differences of neighbours, of which few cross a change.
     * Source: common practice, no source; for normal values consistent.
     */
    static double scatter(double[] values) {
        var differences = new double[values.length - 1];
        for (int i = 0; i < differences.length; i++) {
            differences[i] = Math.abs(values[i + 1] - values[i]);
        }
        return TO_SD * Quantiles.of(differences, 0.5);
    }

    private static List<Integer> exactSteps(double[] values) {
        var steps = new ArrayList<Integer>();
        for (int i = 1; i < values.length; i++) {
            if (values[i] != values[i - 1]) {
                steps.add(i);
            }
        }
        return List.copyOf(steps);
    }

    static List<Integer> of(double[] values, double variance, double penalty) {
        int n = values.length;
        var sums = new double[n + 1];
        var squares = new double[n + 1];
        double centre = Arrays.stream(values).average().orElse(0);
        for (int i = 0; i < n; i++) {
            // around the centre, so that large values lose no digits
            double value = values[i] - centre;
            sums[i + 1] = sums[i] + value;
            squares[i + 1] = squares[i] + value * value;
        }
        var best = new double[n + 1];
        var last = new int[n + 1];
        best[0] = -penalty;
        List<Integer> beginnings = new ArrayList<>(List.of(0));
        for (int end = 1; end <= n; end++) {
            best[end] = Double.POSITIVE_INFINITY;
            var costs = new double[beginnings.size()];
            for (int i = 0; i < costs.length; i++) {
                int begin = beginnings.get(i);
                costs[i] = best[begin] + cost(sums, squares, begin, end) / variance;
                if (costs[i] + penalty < best[end]) {
                    best[end] = costs[i] + penalty;
                    last[end] = begin;
                }
            }
            var kept = new ArrayList<Integer>();
            for (int i = 0; i < costs.length; i++) {
                if (costs[i] < best[end]) {
                    kept.add(beginnings.get(i));
                }
            }
            kept.add(end);
            beginnings = kept;
        }
        var changes = new ArrayList<Integer>();
        for (int at = last[n]; at > 0; at = last[at]) {
            changes.add(at);
        }
        Collections.reverse(changes);
        return List.copyOf(changes);
    }

    private static double cost(double[] sums, double[] squares, int begin, int end) {
        double sum = sums[end] - sums[begin];
        return squares[end] - squares[begin] - sum * sum / (end - begin);
    }
}
