package kadrem.core.verdict;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.OptionalInt;

import kadrem.core.stats.PairedPower;
import kadrem.core.stats.SignedRank;
import kadrem.core.study.Metric;
import kadrem.core.study.Question;
import kadrem.core.study.Study;

/**
 * What a plan can show on a metric: by the power of the paired t test from the scatter of the differences, never with fewer
 * rounds than the exact test needs after Holm. Differences are of logarithms for metrics compared as ratios.
 *
 * @param noise σ, the standard deviation of the differences between two candidates
 * @param family number of comparisons that p is adjusted over; the planner reckons with the strictest step
 */
public record Planning(Metric metric, double margin, Noise noise, double significance, int family) {
    /** The power that a plan is made for. Common practice, no source. */
    public static final double POWER = 0.8;
    /** Fewer rounds have no exact interval of 95 %. */
    public static final int FEWEST_ROUNDS = 6;
    /** Beyond so many rounds "more than that" says it all. */
    public static final int MOST_ROUNDS = 200;
    /** Assumed until runs are there; runs of 15 s on a quiet host scatter by about so much. Common practice, no source. */
    private static final double ASSUMED = 0.05;

    /** σ and where it is from. */
    public record Noise(double sd, Origin origin, int rounds) {
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
        int family = Math.max(1, study.pairs().size() * Math.max(1, question.deciders().size()));
        Noise noise = seen(comparison.on(metric))
                .or(() -> floor.flatMap(one -> one.floors().stream().filter(f -> f.metric() == metric).findFirst()
                        .map(f -> new Noise(f.sd(), Noise.Origin.FLOOR, one.rounds()))))
                .orElse(new Noise(metric.scale() == Metric.Scale.RATIO ? ASSUMED : ASSUMED / 10, Noise.Origin.ASSUMED,
                        0));
        return new Planning(metric, margin, noise, question.significance(), family);
    }

    /** Pooled over pairs; empty for fewer than three rounds, or where nothing scatters. */
    private static Optional<Noise> seen(List<PairComparison> pairs) {
        double squares = 0;
        int degrees = 0;
        int rounds = 0;
        for (PairComparison pair : pairs) {
            double[] d = pair.differences();
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
        return significance / family;
    }

    /** The fewest rounds in which anything can be settled: an exact interval exists, and the smallest p survives Holm. */
    public int fewest() {
        int rounds = 2;
        while (SignedRank.smallestP(rounds) > Math.min(significance, strictest()) + 1e-12) {
            rounds++;
        }
        return rounds;
    }

    /** The smallest difference that so many rounds settle four times in five, on the scale of the differences. */
    public OptionalDouble settles(int rounds) {
        return rounds < fewest()
                ? OptionalDouble.empty()
                : PairedPower.difference(rounds, noise.sd(), strictest(), POWER);
    }

    /** Rounds that settle a difference of the margin four times in five; empty where it would be more than {@value #MOST_ROUNDS}. */
    public OptionalInt roundsForMargin() {
        return rounds(metric.scale() == Metric.Scale.RATIO ? Math.log1p(margin) : margin);
    }

    /** Rounds that settle a difference, on the scale of the differences. */
    public OptionalInt rounds(double difference) {
        OptionalDouble found = PairedPower.rounds(difference, noise.sd(), strictest(), POWER);
        return found.isEmpty() || found.getAsDouble() > MOST_ROUNDS
                ? OptionalInt.empty()
                : OptionalInt.of(Math.max((int) Math.ceil(found.getAsDouble()), Math.max(FEWEST_ROUNDS, fewest())));
    }

    /**
     * Rounds that would probably settle a pair: that the difference seen is there, or, where it lies inside the margin, that none
     * matters (two one-sided tests at 5 %, each by the distance from the difference to the margin).
     */
    public OptionalInt roundsFor(PairComparison pair) {
        double seen = Math.abs(PairComparison.test(pair.differences(), false).estimate());
        double zone = pair.zone();
        var options = new ArrayList<Integer>();
        rounds(seen).ifPresent(options::add);
        if (seen < zone) {
            OptionalDouble none = PairedPower.rounds(zone - seen, noise.sd(),
                    1 - PairTest.EQUIVALENCE_CONFIDENCE, POWER);
            if (none.isPresent() && none.getAsDouble() <= MOST_ROUNDS) {
                options.add(Math.max((int) Math.ceil(none.getAsDouble()), FEWEST_ROUNDS));
            }
        }
        return options.stream().mapToInt(one -> Math.max(one, pair.rounds() + 1)).min();
    }
}
