package kadrem.core.verdict;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.OptionalInt;

import org.apache.commons.statistics.distribution.ChiSquaredDistribution;
import kadrem.core.plan.Look;
import kadrem.core.stats.SignedRank;
import kadrem.core.stats.SymmetryMartingale;
import kadrem.core.study.Margin;
import kadrem.core.study.Metric;
import kadrem.core.study.Question;
import kadrem.core.study.Scale;
import kadrem.core.study.Study;

/**
 * What a plan can show on a metric, from the scatter of the differences and never from the difference that was seen, by the power of the
 * whole family with the test that will be used ({@link FamilyPower}). Differences are of logarithms for metrics compared as ratios.
 *
 * @param noise σ, the standard deviation of the differences between two candidates
 */
public record Planning(Metric metric, Margin margin, Noise noise, FamilyPower.Shape shape) {
    /** The power that a plan is made for. Common practice, no source. */
    public static final double POWER = 0.8;
    /** Fewer rounds have no exact interval of 95 %, which is the least that is asked for. */
    public static final int MIN_ROUNDS = 6;
    /** Beyond so many rounds "more than that" says it all. */
    public static final int MAX_ROUNDS = 200;
    /** Assumed until runs are there; runs of 15 s on a quiet host scatter by about so much. Common practice, no source. */
    private static final double ASSUMED = 0.05;

    /** The largest difference that is asked about, in standard deviations. */
    private static final double MAX = 8;
    private static final double STEP = 6.0 / 7;
    /** Fewer than for the rounds that are advised, since the error of a step is not seen in a curve. */
    private static final int TESTS_OF_A_STEP = FamilyPower.TESTS / 4;
    private static final double MIN_NOISE = 1e-9;

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
            String size = metric.scale().wordsOf(sd);
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
        Margin margin = question.decider(metric).map(Question.Decider::margin).orElse(metric.usualMargin());
        int candidates = study.candidates().size();
        var shape = new FamilyPower.Shape(candidates, Math.max(1, question.deciders().size()),
                candidates * question.requirements().size(),
                study.plan().isAdaptive() ? question.significance() : Look.ofEnd(question.significance()),
                study.plan().isAdaptive());
        Noise noise = seen(comparison.on(metric))
                .or(() -> floor.flatMap(one -> one.floors().stream().filter(f -> f.metric().equals(metric)).findFirst()
                        .map(f -> new Noise(f.sd(), Noise.Origin.FLOOR, one.rounds()))))
                .orElse(new Noise(metric.scale() == Scale.RATIO ? ASSUMED : ASSUMED / 10, Noise.Origin.ASSUMED,
                        0));
        return new Planning(metric, margin, noise, shape);
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

    /** Number of items that share the significance. */
    public int family() {
        return shape.items();
    }

    public double significance() {
        return shape.significance();
    }

    /** Whether the plan is looked at after each round. */
    public boolean adaptive() {
        return shape.adaptive();
    }

    private double strictest() {
        return Family.first(significance(), family());
    }

    /** The fewest rounds in which anything can be settled: an interval of the confidence asked for exists. */
    public int fewest() {
        int rounds = 2;
        while (rounds < MAX_ROUNDS && smallestP(rounds) > strictest() + 1e-12) {
            rounds++;
        }
        return rounds;
    }

    private double smallestP(int rounds) {
        if (!adaptive()) {
            return SignedRank.smallestP(rounds);
        }
        var rising = new double[rounds];
        Arrays.setAll(rising, i -> i + 1.0);
        return SymmetryMartingale.of(rising).p();
    }

    /**
     * The smallest difference that so many rounds settle four times in five, on the scale of the differences: between the steps of a
     * ladder of differences, each a seventh smaller than the one before, in equal parts of their logarithms. Beyond {@value #MAX_ROUNDS}
     * rounds it falls with their square root.
     */
    OptionalDouble settles(int rounds) {
        if (rounds < fewest()) {
            return OptionalDouble.empty();
        }
        if (rounds > MAX_ROUNDS) {
            OptionalDouble last = settles(MAX_ROUNDS);
            return last.isEmpty()
                    ? last
                    : OptionalDouble.of(last.getAsDouble() * Math.sqrt((double) MAX_ROUNDS / rounds));
        }
        double size = MAX * sd();
        int takes = rounds(size, TESTS_OF_A_STEP).orElse(MAX_ROUNDS + 1);
        if (takes > rounds) {
            return OptionalDouble.empty();
        }
        while (true) {
            int next = rounds(size * STEP, TESTS_OF_A_STEP).orElse(MAX_ROUNDS + 1);
            if (next > rounds) {
                return OptionalDouble.of(size * Math.pow(STEP, (double) (rounds - takes) / (next - takes)));
            }
            size *= STEP;
            takes = next;
        }
    }

    /** σ to reckon with; above 0, so that differences can be told in it. */
    private double sd() {
        return Math.max(noise.upper(), MIN_NOISE);
    }

    /** Rounds that settle a difference of the margin four times in five; empty where it would be more than {@value #MAX_ROUNDS}. */
    public OptionalInt roundsForMargin() {
        return rounds(margin.zone(), FamilyPower.TESTS);
    }

    /** Rounds that show four times in five that no difference matters where there is none. */
    public OptionalInt roundsForNone() {
        return rounds(0, FamilyPower.TESTS);
    }

    /** Rounds that settle a difference four times in five, on the scale of the differences. */
    private OptionalInt rounds(double difference, int tests) {
        return FamilyPower.rounds(new FamilyPower.Asked(shape, difference / sd(), margin.zone() / sd(), POWER, tests),
                fewest(), MAX_ROUNDS);
    }

    /** What is said of a pair that {@link #hangsOnRunsWithoutFigure}. */
    static final String WITHOUT_FIGURE = "it hangs on runs without a figure, which a candidate ended itself or in which too many calls"
            + " had no good answer; how many rounds it takes cannot be reckoned from the others";

    /** Whether a run of the pair has no figure, of which the scatter of the others says nothing. */
    static boolean hangsOnRunsWithoutFigure(PairComparison pair) {
        return Arrays.stream(pair.differences()).anyMatch(one -> Math.abs(one) >= PairTest.UNBOUNDED);
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
