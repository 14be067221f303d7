package kadrem.core.stats;

import java.util.Arrays;
import java.util.Optional;
import java.util.SplittableRandom;

/**
 * A band about the means of many figures of the same rounds, such as the differences at each percentile, that holds all of their true
 * values at once with the confidence stated. Each half width is the same number of standard errors: the quantile of the largest |t|
 * over the figures of as many normal rounds, correlated as the residuals are. Each t has a standard error of its own draw, without which
 * few rounds hold too seldom (90 % at six). For one figure it is Student's interval.
 * <p>
 * Source: Montiel Olea, Plagborg-Møller: Simultaneous confidence bands: theory, implementation, and an application to SVARs, Journal of
 * Applied Econometrics 34, 2019 (plug-in sup-t band); t for few clusters: Cameron, Miller: A practitioner's guide to cluster-robust
 * inference, Journal of Human Resources 50, 2015.
 */
public final class SupTBand {
    /** Of fewer rounds the correlations say too little. Common practice, no source. */
    private static final int MIN = 5;
    /** Draws: an error of the confidence of a third of a point. */
    private static final int DRAWS = 4_000;
    /** Rounds of a draw at most; more would make a band narrower by no more than a twentieth, and a draw ever dearer. */
    private static final int MAX_DRAWN = 30;
    private static final long SEED = 0x73757074L;

    private final double[] means;
    private final double[] errors;
    /** Largest |t| of each draw, rising. */
    private final double[] largest;

    private SupTBand(double[] means, double[] errors, double[] largest) {
        this.means = means;
        this.errors = errors;
        this.largest = largest;
    }

    /**
     * The band of figures.
     *
     * @param rounds the figures of each round, as many in each
     * @return empty for fewer than {@value #MIN} rounds, or without figures
     */
    public static Optional<SupTBand> of(double[][] rounds) {
        int n = rounds.length;
        if (n < MIN || rounds[0].length == 0) {
            return Optional.empty();
        }
        int figures = rounds[0].length;
        var means = new double[figures];
        var errors = new double[figures];
        // residuals of unit length, round by round
        var residuals = new double[n][figures];
        for (int k = 0; k < figures; k++) {
            int figure = k;
            double mean = Arrays.stream(rounds).mapToDouble(round -> round[figure]).average().orElseThrow();
            double squares = Arrays.stream(rounds).mapToDouble(round -> round[figure] - mean).map(e -> e * e).sum();
            means[k] = mean;
            errors[k] = Math.sqrt(squares / (n - 1) / n);
            for (int r = 0; r < n && squares > 0; r++) {
                residuals[r][k] = (rounds[r][k] - mean) / Math.sqrt(squares);
            }
        }
        return Optional.of(new SupTBand(means, errors, largest(residuals)));
    }

    private static double[] largest(double[][] residuals) {
        var random = new SplittableRandom(SEED);
        int rounds = Math.min(residuals.length, MAX_DRAWN);
        int figures = residuals[0].length;
        var largest = new double[DRAWS];
        for (int draw = 0; draw < DRAWS; draw++) {
            var sums = new double[figures];
            var squares = new double[figures];
            for (int i = 0; i < rounds; i++) {
                double[] drawn = drawn(residuals, random);
                for (int k = 0; k < figures; k++) {
                    sums[k] += drawn[k];
                    squares[k] += drawn[k] * drawn[k];
                }
            }
            for (int k = 0; k < figures; k++) {
                double scatter = squares[k] - sums[k] * sums[k] / rounds;
                double t = scatter > 0 ? sums[k] / Math.sqrt(scatter * rounds / (rounds - 1)) : 0;
                largest[draw] = Math.max(largest[draw], Math.abs(t));
            }
        }
        Arrays.sort(largest);
        return largest;
    }

    /** The figures of a normal round: of variance 1, or 0 where a figure does not scatter. */
    private static double[] drawn(double[][] residuals, SplittableRandom random) {
        var drawn = new double[residuals[0].length];
        for (double[] round : residuals) {
            double weight = random.nextGaussian();
            for (int k = 0; k < drawn.length; k++) {
                drawn[k] += weight * round[k];
            }
        }
        return drawn;
    }

    /** How many standard errors the band is wide to each side. */
    public double halfWidth(double confidence) {
        return Quantiles.of(largest, confidence);
    }

    public double mean(int figure) {
        return means[figure];
    }

    /** The band at a figure. */
    public Interval at(int figure, double confidence) {
        double width = halfWidth(confidence) * errors[figure];
        return new Interval(means[figure] - width, means[figure] + width, confidence);
    }
}
