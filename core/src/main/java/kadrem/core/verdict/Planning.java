package kadrem.core.verdict;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.OptionalInt;

import org.apache.commons.statistics.distribution.ChiSquaredDistribution;
import kadrem.core.stats.AdaptivePower;
import kadrem.core.stats.PairedPower;
import kadrem.core.stats.SignedRank;
import kadrem.core.stats.SymmetryMartingale;
import kadrem.core.study.Metric;
import kadrem.core.study.Question;
import kadrem.core.study.Study;

/**
 * What a plan can show on a metric, from the scatter of the differences and never from the difference that was seen: for a fixed plan
 * by the power of the paired t test, with no fewer rounds than the exact test needs; for an adaptive one by that of the test that may be
 * looked at after each round. The level is that of the first step of the {@link Family}. Differences are of logarithms for metrics
 * compared as ratios.
 *
 * @param noise σ, the standard deviation of the differences between two candidates
 * @param family number of items that share the significance
 * @param adaptive whether the plan is looked at after each round
 */
public record Planning(Metric metric, double margin, Noise noise, double significance, int family, boolean adaptive) {
    /** The power that a plan is made for. Common practice, no source. */
    public static final double POWER = 0.8;
    /** Fewer rounds have no exact interval of 95 %, which is the least that is asked for. */
    public static final int FEWEST_ROUNDS = 6;
    /** Beyond so many rounds "more than that" says it all. */
    public static final int MOST_ROUNDS = 200;
    /** Assumed until runs are there; runs of 15 s on a quiet host scatter by about so much. Common practice, no source. */
    private static final double ASSUMED = 0.05;

    /** The chance that σ is no larger than what is reckoned with while it rests on few rounds (Browne 1995). */
    private static final double UPPER = 0.8;

    /** σ and where it is from. */
    public record Noise(double sd, Origin origin, int rounds) {
        /**
         * σ to reckon with: its upper limit of 80 % while it rests on few rounds. Source: Browne: On the use of a pilot sample for
         * sample size determination, Statistics in Medicine 14, 1995.
         */
        public double upper() {
            return origin == Origin.ASSUMED || rounds < 2
                    ? sd
                    : sd * Math.sqrt((rounds - 1) / ChiSquaredDistribution.of(rounds - 1.0)
                            .inverseCumulativeProbability(1 - UPPER));
        }

        public enum Origin {
            SEEN, FLOOR, ASSUMED
        }

        /** "5.2 % from 7 rounds". */
        public String words(Metric metric) {
            String size = NoiseFloor.words(metric, metric.scale() == Metric.Scale.RATIO ? Math.expm1(sd) : sd);
            return switch (origin) {
                case SEEN -> size + ", seen in " + rounds + " rounds";
                case FLOOR -> size + ", seen between a candidate and itself in " + rounds + " rounds";
                case ASSUMED -> size + ", assumed until rounds are measured";
            };
        }
    }

    /** The plan of a deciding metric, from the noise of the runs so far, else of a candidate against itself, else assumed. */
    public static Planning of(Study study, Metric metric, Comparison comparison, Optional<NoiseFloor> floor) {
        Question question = study.question();
        double margin = question.decider(metric).map(Question.Decider::margin).orElse(Comparison.DEFAULT_MARGIN);
        int family = Math.max(1, study.pairs().size() * Math.max(1, question.deciders().size())
                + study.candidates().size() * question.requirements().size());
        Noise noise = seen(comparison.on(metric))
                .or(() -> floor.flatMap(one -> one.floors().stream().filter(f -> f.metric() == metric).findFirst()
                        .map(f -> new Noise(f.sd(), Noise.Origin.FLOOR, one.rounds()))))
                .orElse(new Noise(metric.scale() == Metric.Scale.RATIO ? ASSUMED : ASSUMED / 10, Noise.Origin.ASSUMED,
                        0));
        return new Planning(metric, margin, noise, question.significance(), family, study.plan().isAdaptive());
    }

    /** Pooled over pairs; empty for fewer than three rounds, or where nothing scatters. */
    private static Optional<Noise> seen(List<PairComparison> pairs) {
        double squares = 0;
        int degrees = 0;
        int rounds = 0;
        for (PairComparison pair : pairs) {
            // a run that a candidate ended itself says nothing of the scatter of the others
            double[] d = Arrays.stream(pair.differences()).filter(one -> Math.abs(one) < PairTest.UNBOUNDED).toArray();
            if (d.length == 0) {
                continue;
            }
            double mean = Arrays.stream(d).average().orElse(0);
            squares += Arrays.stream(d).map(one -> (one - mean) * (one - mean)).sum();
            degrees += d.length - 1;
            rounds = Math.max(rounds, d.length);
        }
        return rounds < 3 || squares <= 0
                ? Optional.empty()
                : Optional.of(new Noise(Math.sqrt(squares / degrees), Noise.Origin.SEEN, rounds));
    }

    private double strictest() {
        return Family.first(significance, family);
    }

    /** The fewest rounds in which anything can be settled: an interval of the confidence asked for exists. */
    public int fewest() {
        int rounds = 2;
        while (rounds < MOST_ROUNDS && smallestP(rounds) > strictest() + 1e-12) {
            rounds++;
        }
        return rounds;
    }

    private double smallestP(int rounds) {
        if (!adaptive) {
            return SignedRank.smallestP(rounds);
        }
        var rising = new double[rounds];
        Arrays.setAll(rising, i -> i + 1.0);
        return SymmetryMartingale.of(rising).p();
    }

    /** The smallest difference that so many rounds settle four times in five, on the scale of the differences. */
    public OptionalDouble settles(int rounds) {
        if (rounds < fewest()) {
            return OptionalDouble.empty();
        }
        return adaptive
                ? OptionalDouble.of(AdaptivePower.effect(rounds, strictest(), POWER) * noise.upper())
                : PairedPower.difference(rounds, noise.upper(), strictest(), POWER);
    }

    /** Rounds that settle a difference of the margin four times in five; empty where it would be more than {@value #MOST_ROUNDS}. */
    public OptionalInt roundsForMargin() {
        return rounds(zone(), POWER);
    }

    private double zone() {
        return metric.scale() == Metric.Scale.RATIO ? Math.log1p(margin) : margin;
    }

    /**
     * Rounds that show four times in five that no difference matters where there is none: the interval must lie inside the margin at
     * both ends, each with half of what may go wrong. Source: Phillips: Power of the two one-sided tests procedure in bioequivalence,
     * J. Pharmacokinetics and Biopharmaceutics 18, 1990.
     */
    public OptionalInt roundsForNone() {
        return rounds(zone(), (1 + POWER) / 2);
    }

    /** Rounds that settle a difference with a power, on the scale of the differences. */
    OptionalInt rounds(double difference, double power) {
        if (adaptive) {
            OptionalInt found = AdaptivePower.rounds(difference / noise.upper(), strictest(), power, MOST_ROUNDS);
            return found.isEmpty() ? found : OptionalInt.of(Math.max(found.getAsInt(), fewest()));
        }
        OptionalDouble found = PairedPower.rounds(difference, noise.upper(), strictest(), power);
        return found.isEmpty() || found.getAsDouble() > MOST_ROUNDS
                ? OptionalInt.empty()
                : OptionalInt.of(Math.max((int) Math.ceil(found.getAsDouble()), fewest()));
    }

    /**
     * Rounds in all that settle a pair four times in five, whatever it is: that a difference of the margin is there, or that none
     * matters where there is none.
     */
    public OptionalInt roundsFor(PairComparison pair) {
        OptionalInt difference = roundsForMargin();
        OptionalInt none = roundsForNone();
        return difference.isEmpty() || none.isEmpty()
                ? OptionalInt.empty()
                : OptionalInt.of(Math.max(pair.rounds() + 1, Math.max(difference.getAsInt(), none.getAsInt())));
    }
}
