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
    /** Sums that are made together: 8 KiB. */
    private static final int BLOCK = 1024;
    private static final NormalDistribution NORMAL = NormalDistribution.of(0, 1);

    /** How often each round is in each resample: those of the first round one after the other, then those of the second. */
    private final short[] times;
    private final int rounds;

    private BcaBootstrap(int rounds, short[] times) {
        this.rounds = rounds;
        this.times = times;
    }

    /**
     * The resamples of so many rounds, the same for every metric and pair that has them.
     *
     * @param seed kept with the result, which it fixes
     */
    public static BcaBootstrap of(int rounds, long seed) {
        var random = new SplittableRandom(seed);
        var times = new short[DRAWS * rounds];
        for (int draw = 0; draw < DRAWS; draw++) {
            for (int i = 0; i < rounds; i++) {
                times[random.nextInt(rounds) * DRAWS + draw]++;
            }
        }
        return new BcaBootstrap(rounds, times);
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
        double sum = 0;
        for (double one : differences) {
            sum += one;
        }
        double mean = sum / rounds;
        if (Arrays.stream(differences).allMatch(one -> one == differences[0])) {
            return Optional.of(new Interval(differences[0], differences[0], confidence));
        }
        double[] means = means(differences);
        int below = 0;
        int same = 0;
        for (double one : means) {
            below += one < mean ? 1 : 0;
            same += one == mean ? 1 : 0;
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
        // the inner loop runs over neighbours, and its sums stay in the nearest cache
        var means = new double[DRAWS];
        for (int block = 0; block < DRAWS; block += BLOCK) {
            int end = Math.min(block + BLOCK, DRAWS);
            for (int round = 0; round < rounds; round++) {
                double difference = differences[round];
                int from = round * DRAWS;
                for (int draw = block; draw < end; draw++) {
                    means[draw] += difference * times[from + draw];
                }
            }
        }
        for (int draw = 0; draw < DRAWS; draw++) {
            means[draw] /= rounds;
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
