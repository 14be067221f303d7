package kadrem.core.stats;

import java.util.Arrays;
import java.util.Optional;
import java.util.SplittableRandom;

/**
 * The studentised bootstrap interval of the mean of differences, over rounds drawn with replacement: the mean less the quantiles of
 * t* = (resampled mean − mean) / standard error of the resample, times the standard error. A second opinion beside the signed-rank
 * interval. Source: Efron 1979; Hall: Theoretical comparison of bootstrap confidence intervals, Annals of Statistics 16, 1988; Davison,
 * Hinkley: Bootstrap Methods and their Application, 1997, section 5.2.1.
 */
public final class StudentisedBootstrap {
    /** Resamples; with so many the ends have a simulation error of about a hundredth of the width. */
    public static final int DRAWS = 10_000;
    /** Of fewer rounds too few different resamples exist: 5 rounds have 126. Common practice, no source. */
    private static final int MIN = 5;
    /** Sums that are made together: 16 KiB. */
    private static final int BLOCK = 1024;

    /** How often each round is in each resample: those of the first round one after the other, then those of the second. */
    private final short[] times;
    private final int rounds;

    private StudentisedBootstrap(int rounds, short[] times) {
        this.rounds = rounds;
        this.times = times;
    }

    /**
     * The resamples of so many rounds, the same for every metric and pair that has them.
     *
     * @param seed kept with the result, which it fixes
     */
    public static StudentisedBootstrap of(int rounds, long seed) {
        var random = new SplittableRandom(seed);
        var times = new short[DRAWS * rounds];
        for (int draw = 0; draw < DRAWS; draw++) {
            for (int i = 0; i < rounds; i++) {
                times[random.nextInt(rounds) * DRAWS + draw]++;
            }
        }
        return new StudentisedBootstrap(rounds, times);
    }

    /**
     * The interval of the mean.
     *
     * @param differences one a round, as many as there are rounds
     * @return empty for fewer than {@value #MIN} rounds; a point where all differences are the same
     */
    public Optional<Interval> interval(double[] differences, double confidence) {
        if (differences.length != rounds) {
            throw new IllegalArgumentException(differences.length + " differences for resamples of " + rounds);
        }
        if (rounds < MIN) {
            return Optional.empty();
        }
        double mean = Arrays.stream(differences).average().orElseThrow();
        double[] residuals = Arrays.stream(differences).map(one -> one - mean).toArray();
        double error = Math.sqrt(Arrays.stream(residuals).map(e -> e * e).sum() / rounds / (rounds - 1));
        if (error == 0) {
            return Optional.of(new Interval(mean, mean, confidence));
        }
        double[] t = studentised(residuals);
        Arrays.sort(t);
        double[] ends = Quantiles.of(t, 0.5 + confidence / 2, 0.5 - confidence / 2);
        return Optional.of(new Interval(mean - ends[0] * error, mean - ends[1] * error, confidence));
    }

    /** t* of each resample; one that is a single round many times lies beyond all others. */
    private double[] studentised(double[] residuals) {
        // the inner loop runs over neighbours, and its sums stay in the nearest cache
        var sums = new double[DRAWS];
        var squares = new double[DRAWS];
        for (int block = 0; block < DRAWS; block += BLOCK) {
            int end = Math.min(block + BLOCK, DRAWS);
            for (int round = 0; round < rounds; round++) {
                double residual = residuals[round];
                double square = residual * residual;
                int from = round * DRAWS;
                for (int draw = block; draw < end; draw++) {
                    sums[draw] += residual * times[from + draw];
                    squares[draw] += square * times[from + draw];
                }
            }
        }
        for (int draw = 0; draw < DRAWS; draw++) {
            double scatter = Math.max(0, squares[draw] - sums[draw] * sums[draw] / rounds);
            double error = Math.sqrt(scatter * rounds / (rounds - 1));
            sums[draw] = error > 0 ? sums[draw] / error : Math.copySign(Double.MAX_VALUE, sums[draw]);
        }
        return sums;
    }
}
