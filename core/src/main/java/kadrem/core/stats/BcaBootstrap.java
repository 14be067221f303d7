package kadrem.core.stats;

import java.util.Arrays;
import java.util.Optional;
import java.util.SplittableRandom;

import org.apache.commons.statistics.distribution.NormalDistribution;

/**
 * The bias-corrected and accelerated bootstrap interval of the mean of differences, over rounds drawn with replacement. With
 * z0 = Φ⁻¹(share of resampled means below the mean) and the acceleration a from the jackknife, the ends are the quantiles
 * Φ(z0 + (z0 ± z) / (1 − a (z0 ± z))) of the resampled means. A second opinion beside the signed-rank interval. Source: Efron:
 * Better bootstrap confidence intervals, JASA 82, 1987.
 */
public final class BcaBootstrap {
    /** Resamples; with so many the ends have a simulation error of about a hundredth of the width. */
    public static final int DRAWS = 10_000;
    /** Of fewer rounds too few different resamples exist: 5 rounds have 126. Common practice, no source. */
    private static final int FEWEST = 5;
    private static final NormalDistribution NORMAL = NormalDistribution.of(0, 1);

    /** Places of rounds; short, so that they stay in the cache. */
    private final short[] drawn;
    private final int rounds;

    private BcaBootstrap(int rounds, short[] drawn) {
        this.rounds = rounds;
        this.drawn = drawn;
    }

    /**
     * The resamples of so many rounds, the same for every metric and pair that has them.
     *
     * @param seed kept with the result, which it fixes
     */
    public static BcaBootstrap of(int rounds, long seed) {
        var random = new SplittableRandom(seed);
        var drawn = new short[DRAWS * rounds];
        for (int i = 0; i < drawn.length; i++) {
            drawn[i] = (short) random.nextInt(rounds);
        }
        return new BcaBootstrap(rounds, drawn);
    }

    /**
     * The interval of the mean.
     *
     * @param differences one a round, as many as there are rounds
     * @return empty for fewer than {@value #FEWEST} rounds; a point where all differences are the same
     */
    public Optional<Interval> interval(double[] differences, double confidence) {
        if (differences.length != rounds) {
            throw new IllegalArgumentException(differences.length + " differences for resamples of " + rounds);
        }
        if (rounds < FEWEST) {
            return Optional.empty();
        }
        double sum = Arrays.stream(differences).sum();
        double mean = sum / rounds;
        double[] means = means(differences);
        int below = 0;
        int same = 0;
        for (double one : means) {
            below += one < mean ? 1 : 0;
            same += one == mean ? 1 : 0;
        }
        if (same == DRAWS) {
            return Optional.of(new Interval(mean, mean, confidence));
        }
        double z0 = NORMAL.inverseCumulativeProbability(
                Math.clamp((below + same / 2.0) / DRAWS, 1.0 / DRAWS, 1 - 1.0 / DRAWS));
        double acceleration = acceleration(differences, sum);
        double z = NORMAL.inverseCumulativeProbability(0.5 + confidence / 2);
        double[] ends = Quantiles.of(means, share(z0, -z, acceleration), share(z0, z, acceleration));
        return Optional.of(new Interval(ends[0], ends[1], confidence));
    }

    /** The means of the resamples. */
    double[] means(double[] differences) {
        var means = new double[DRAWS];
        int at = 0;
        for (int i = 0; i < DRAWS; i++) {
            double sum = 0;
            for (int j = 0; j < rounds; j++) {
                sum += differences[drawn[at++]];
            }
            means[i] = sum / rounds;
        }
        return means;
    }

    /** a = Σ u³ / (6 (Σ u²)^1.5), where u is the mean of the jackknifed means less each of them. */
    private static double acceleration(double[] differences, double sum) {
        int n = differences.length;
        double cubes = 0;
        double squares = 0;
        for (double one : differences) {
            double u = sum / n - (sum - one) / (n - 1);
            cubes += u * u * u;
            squares += u * u;
        }
        return squares == 0 ? 0 : cubes / (6 * Math.pow(squares, 1.5));
    }

    private static double share(double z0, double z, double acceleration) {
        return NORMAL.cumulativeProbability(z0 + (z0 + z) / (1 - acceleration * (z0 + z)));
    }
}
