package kadrem.core.stats;

import java.util.Arrays;
import java.util.List;
import java.util.function.DoubleUnaryOperator;

import org.apache.commons.statistics.distribution.ChiSquaredDistribution;

/**
 * Friedman's test of "all treatments are alike" in blocks: with ranks inside each of n blocks, R_j their sum for treatment j of
 * k, and ties of t equal values, χ² = 12 Σ (R_j − n(k+1)/2)² / (n k (k+1) − Σ (t³ − t) / (k − 1)) on k − 1 degrees of freedom.
 * Source: Hollander, Wolfe: Nonparametric Statistical Methods, 1973, section 7.1.
 *
 * @param chiSquared the statistic; 0 where all values of each block are the same
 */
public record Friedman(double chiSquared, int degrees, double p) {
    /**
     * The test.
     *
     * @param blocks of at least one block the values of all treatments, at least two
     * @throws IllegalArgumentException if there is no block, or one of another length than the first
     */
    public static Friedman of(List<double[]> blocks) {
        if (blocks.isEmpty() || blocks.getFirst().length < 2
                || blocks.stream().anyMatch(block -> block.length != blocks.getFirst().length)) {
            throw new IllegalArgumentException("Friedman's test needs blocks with a value of each treatment");
        }
        int n = blocks.size();
        int k = blocks.getFirst().length;
        var sums = new double[k];
        double ties = 0;
        for (double[] block : blocks) {
            double[] ranks = MidRanks.of(block, DoubleUnaryOperator.identity());
            for (int j = 0; j < k; j++) {
                sums[j] += ranks[j];
            }
            for (double value : Arrays.stream(block).distinct().toArray()) {
                double t = Arrays.stream(block).filter(other -> other == value).count();
                ties += t * t * t - t;
            }
        }
        double squares = Arrays.stream(sums).map(sum -> sum - n * (k + 1) / 2.0).map(d -> d * d).sum();
        double below = (double) n * k * (k + 1) - ties / (k - 1);
        double chiSquared = below <= 0 ? 0 : 12 * squares / below;
        return new Friedman(chiSquared, k - 1,
                ChiSquaredDistribution.of(k - 1.0).survivalProbability(chiSquared));
    }
}
