package kadrem.core.stats;

import java.util.Arrays;
import java.util.Optional;

import org.apache.commons.statistics.distribution.TDistribution;

/**
 * Student's t of paired differences: t = mean / (s / √n) on n − 1 degrees of freedom, which takes the differences for normally
 * distributed. A second opinion beside the signed-rank test. Source: Student: The probable error of a mean, Biometrika 6, 1908.
 *
 * @param mean of the differences
 * @param sd their standard deviation, divisor n − 1
 * @param t the statistic; NaN where all differences are the same
 * @param p two-sided
 */
public record PairedT(int count, double mean, double sd, double t, double p) {
    /** @return empty for fewer than two differences */
    public static Optional<PairedT> of(double... differences) {
        int n = differences.length;
        if (n < 2) {
            return Optional.empty();
        }
        double mean = Arrays.stream(differences).sum() / n;
        double sd = Math.sqrt(Arrays.stream(differences).map(d -> (d - mean) * (d - mean)).sum() / (n - 1));
        if (sd == 0) {
            return Optional.of(new PairedT(n, mean, 0, Double.NaN, mean == 0 ? 1 : 0));
        }
        double t = mean / (sd / Math.sqrt(n));
        double p = 2 * TDistribution.of(n - 1.0).survivalProbability(Math.abs(t));
        return Optional.of(new PairedT(n, mean, sd, t, Math.min(1, p)));
    }

    /** mean ± t s / √n. */
    public Interval interval(double confidence) {
        double half = TDistribution.of(count - 1.0).inverseCumulativeProbability(0.5 + confidence / 2) * sd
                / Math.sqrt(count);
        return new Interval(mean - half, mean + half, confidence);
    }
}
