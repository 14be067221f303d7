package kadrem.core.verdict;

import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Scale;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.OptionalInt;

import kadrem.core.measure.RunRecord;
import kadrem.core.stats.Interval;
import kadrem.core.stats.PairedT;
import kadrem.core.study.Candidate;
import kadrem.core.study.Judgement;
import kadrem.core.study.Metric;
import kadrem.core.study.Plan;
import kadrem.core.study.Question;
import kadrem.core.study.Study;

/**
 * The difference that appears between a candidate and itself: of each metric the largest absolute bound of the interval
 * (the maximum of |low| and |high|, of ratios on the logarithmic scale). A margin below it asks for more than the
 * arrangement can show.
 *
 * @param candidate id of the candidate that was measured against itself
 * @param rounds rounds in which both runs are complete and sound
 */
public record NoiseFloor(String candidate, int rounds, List<Floor> floors) {
    private static final String AGAIN = "-again";

    public NoiseFloor {
        floors = List.copyOf(floors);
    }

    /**
     * The floor of one metric.
     *
     * @param size a ratio less 1 for metrics compared as ratios (0.04 is 4 %), an absolute difference for the others
     * @param sd standard deviation of the differences, of logarithms for metrics compared as ratios
     */
    public record Floor(Metric metric, double size, Interval interval, double sd) {
    }

    /** The study of the runs by which the floor of {@code candidate} is found: the same candidate twice. */
    public static MeasuredStudy study(MeasuredStudy study, String candidate) {
        Candidate one = study.candidate(candidate)
                .orElseThrow(() -> new IllegalArgumentException(candidate + " is not a candidate of the study"));
        var again = new Candidate(one.id() + AGAIN, one.name() + " again", one.address(), one.launch(), one.ready(),
                one.reset(), one.version(), one.access(), java.util.List.of(), one.data(),
                one.elsewhere());
        Question asked = study.question();
        var question = new Question("How much does " + one.name() + " differ from itself?", one.id(),
                asked.significance(), asked.deciders());
        return new MeasuredStudy(study.name() + ", noise floor", question, List.of(one, again), study.workload(),
                study.load(),
                plan(study.plan(), study.plan().rounds()), study.agreement(), study.intended(),
                // the rounds left out by hand are those of the study, not these
                new Judgement(study.judgement().limits(), study.judgement().takenIn()));
    }

    private static Plan plan(Plan plan, int rounds) {
        return new Plan(rounds, plan.seed(), plan.pause(), Duration.ZERO, false, OptionalInt.empty(), plan.pacing());
    }

    /**
     * The floor from the runs of such studies.
     *
     * @return empty where no candidate has enough rounds for an interval; of several candidates the one with most rounds
     */
    public static Optional<NoiseFloor> of(Study study, List<RunRecord> runs) {
        return study.measured().stream()
                .flatMap(one -> one.candidates().stream().map(candidate -> of(one, candidate.id(), runs)))
                .filter(floor -> !floor.floors().isEmpty()).max(java.util.Comparator.comparingInt(NoiseFloor::rounds));
    }

    private static NoiseFloor of(MeasuredStudy study, String candidate, List<RunRecord> runs) {
        MeasuredStudy twice = study(study, candidate);
        // an estimate, no decision: all rounds count at once, whatever the study plans
        int all = (int) runs.stream().mapToInt(RunRecord::round).distinct().count();
        Comparison comparison = Comparison.of(twice.withPlan(plan(twice.plan(), Math.max(1, all))), runs);
        var floors = new ArrayList<Floor>();
        int rounds = 0;
        for (PairComparison pair : comparison.pairs()) {
            if (pair.rounds() < Planning.MIN_ROUNDS) {
                continue;
            }
            rounds = Math.max(rounds, pair.rounds());
            pair.interval().ifPresent(interval -> floors.add(new Floor(pair.metric(), size(pair.metric(), interval),
                    interval, PairedT.of(pair.differences()).map(PairedT::sd).orElse(0.0))));
        }
        return new NoiseFloor(candidate, rounds, floors);
    }

    private static double size(Metric metric, Interval interval) {
        return metric.scale() == Scale.RATIO
                ? Math.exp(Math.max(Math.abs(Math.log(interval.low())), Math.abs(Math.log(interval.high())))) - 1
                : Math.max(Math.abs(interval.low()), Math.abs(interval.high()));
    }

    public Optional<Floor> floor(Metric metric) {
        return floors.stream().filter(one -> one.metric().equals(metric)).findFirst();
    }

    /** The metrics that decide whose margin lies below the floor, in sentences. */
    public List<String> marginsBelow(Question question) {
        return question.deciders().stream()
                .flatMap(decider -> floor(decider.metric()).filter(floor -> decider.margin().size() < floor.size())
                        .stream()
                        .map(floor -> "The margin of " + decider.margin().words() + " for "
                                + decider.metric().label() + " lies below the noise floor of "
                                + decider.metric().scale().words(floor.size())
                                + ": so small a difference appears between a candidate and itself."))
                .toList();
    }
}
