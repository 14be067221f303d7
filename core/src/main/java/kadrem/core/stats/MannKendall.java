package kadrem.core.stats;

import java.util.Arrays;

import org.apache.commons.statistics.distribution.NormalDistribution;

/**
 * The Mann-Kendall test for a trend, with the Theil-Sen slope. S is the number of pairs that rise minus the number that fall;
 * z takes ties and continuity into account. For up to {@link #MAX} values, since all pairs are looked at.
 * Sources: Mann: Nonparametric tests against trend, Econometrica 13, 1945; Kendall: Rank Correlation Methods, 1975; Sen:
 * Estimates of the regression coefficient based on Kendall's tau, JASA 63, 1968.
 */
public final class MannKendall {
    /** Most values. */
    public static final int MAX = 2_000;

    private MannKendall() {
    }

    /**
     * What was found.
     *
     * @param p two-sided, from the normal approximation
     * @param slope median of all slopes, in units of the values per step
     */
    public record Result(long s, double z, double p, double slope) {
    }

    /**
     * Tests values at equal distances.
     *
     * @throws IllegalArgumentException for fewer than 3 or more than {@link #MAX} values
     */
    public static Result of(double... values) {
        int n = values.length;
        if (n < 3 || n > MAX) {
            throw new IllegalArgumentException("3 to " + MAX + " values are needed, not " + n);
        }
        long s = 0;
        var slopes = new double[n * (n - 1) / 2];
        int at = 0;
        for (int i = 0; i < n; i++) {
            for (int j = i + 1; j < n; j++) {
                double rise = values[j] - values[i];
                s += (long) Math.signum(rise);
                slopes[at++] = rise / (j - i);
            }
        }
        double variance = (n * (n - 1.0) * (2 * n + 5) - ties(values)) / 18;
        double z = variance <= 0 || s == 0 ? 0 : (s - Long.signum(s)) / Math.sqrt(variance);
        double p = Math.min(1, 2 * NormalDistribution.of(0, 1).survivalProbability(Math.abs(z)));
        return new Result(s, z, p, median(slopes));
    }

    private static double ties(double[] values) {
        double[] sorted = values.clone();
        Arrays.sort(sorted);
        double sum = 0;
        for (int from = 0; from < sorted.length;) {
            int to = from;
            while (to < sorted.length && sorted[to] == sorted[from]) {
                to++;
            }
            double tied = to - from;
            sum += tied * (tied - 1) * (2 * tied + 5);
            from = to;
        }
        return sum;
    }

    private static double median(double[] values) {
        Arrays.sort(values);
        int half = values.length / 2;
        return values.length % 2 == 1 ? values[half] : (values[half - 1] + values[half]) / 2;
    }
}
