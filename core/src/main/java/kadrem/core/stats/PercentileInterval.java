package kadrem.core.stats;

import java.util.Optional;

import org.apache.commons.statistics.distribution.BinomialDistribution;

/**
 * Which order statistics of a sample enclose a percentile: the number of values below the percentile p is binomial (n, p), so the
 * l-th and u-th smallest enclose it with probability P(l ≤ B ≤ u − 1). Of one run only; between runs the scatter is usually larger.
 * Source: Hahn, Meeker: Statistical Intervals, 1991, section 5.2.
 *
 * @param low rank of the lower end, from 1
 * @param high rank of the upper end
 */
public record PercentileInterval(long low, long high, double achievedConfidence) {
    /**
     * The ranks, both tails at most half of what is left.
     *
     * @param percentile 0 to 1
     * @return empty where so few values have none
     */
    public static Optional<PercentileInterval> of(long count, double percentile, double confidence) {
        int n = Math.toIntExact(count);
        if (n < 1) {
            return Optional.empty();
        }
        BinomialDistribution below = BinomialDistribution.of(n, percentile);
        double tail = (1 - confidence) / 2;
        int low = below.inverseCumulativeProbability(tail);
        // P(B ≤ low − 1) must not exceed the tail
        while (low > 0 && below.cumulativeProbability(low - 1) > tail) {
            low--;
        }
        int high = below.inverseSurvivalProbability(tail) + 1;
        if (low < 1 || high > n) {
            return Optional.empty();
        }
        return Optional.of(new PercentileInterval(low, high,
                below.cumulativeProbability(high - 1) - below.cumulativeProbability(low - 1)));
    }
}
