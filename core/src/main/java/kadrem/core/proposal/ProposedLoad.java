package kadrem.core.proposal;

import java.time.Duration;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.OptionalInt;

import kadrem.core.scaling.Prediction;
import kadrem.core.study.Candidate;
import kadrem.core.study.Course;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Metric;
import kadrem.core.study.Plan;
import kadrem.core.study.Question;
import kadrem.core.study.Shape;
import kadrem.core.study.Written;
import kadrem.core.verdict.Comparison;
import kadrem.core.verdict.Planning;

/**
 * A load that the slowest candidate bears with ease, and a plan under which the percentiles that are asked for can be carried and a
 * difference of the margin be settled. The rules of thumb in it are common practice, no source, unless one is named.
 *
 * @param study the study under that load and plan
 * @param reasons in sentences: where the rate is from, what the plan can show, how long it takes
 */
public record ProposedLoad(MeasuredStudy study, List<String> reasons) {
    /**
     * Half of what a candidate can take: there the mean response time of the simplest queue is twice that of an idle one, so that
     * candidates are compared and not their queues (M/M/1: Jain, The Art of Computer Systems Performance Analysis, 1991, chapter 31).
     */
    private static final double WITH_EASE = 0.5;
    /** In ten seconds of it 50 calls lie above p99. More says little more, and takes more from a machine that the generator shares. */
    static final double MOST_VISITS = 500;
    /** Leading figures of a rate that is easy to read. */
    private static final double[] ROUND = {8, 6, 5, 4, 3, 2, 1.5, 1};
    /** A trend over the seconds of a run is looked for from ten on. */
    private static final int MIN_SECONDS = 10;
    private static final int MAX_SECONDS = 60;
    /** Calls above a percentile with which it is no weak figure. */
    private static final int SUPPORT = 50;
    private static final int SECONDS_A_MINUTE = 60;
    /** Opened ahead where the study has users. */
    private static final int CONNECTIONS = 64;
    private static final Duration WARM_UP = Duration.ofSeconds(2);
    /** Of a candidate that is launched for each run, and has to become warm each time. */
    private static final Duration WARM_UP_OF_LAUNCHED = Duration.ofSeconds(5);
    /** The shortest stretch at rest that is compared with. */
    private static final Duration IDLE = Duration.ofSeconds(3);

    public ProposedLoad {
        reasons = List.copyOf(reasons);
    }

    /** @return empty where a candidate bore nothing of what it was asked */
    public static Optional<ProposedLoad> of(MeasuredStudy study, List<Probe> probes) {
        Optional<Probe> slowest = probes.stream().min(Comparator.comparingDouble(ProposedLoad::calls));
        if (slowest.isEmpty() || calls(slowest.get()) <= 0) {
            return Optional.empty();
        }
        double callsPerVisit = study.workload().meanCallsPerVisit();
        double ease = WITH_EASE * calls(slowest.get()) / callsPerVisit;
        double visits = round(Math.min(ease, MOST_VISITS));
        Duration measured = measured(study.question(), visits * callsPerVisit);
        boolean launched = study.candidates().stream().anyMatch(one -> one.launch().isPresent());
        Course course = Course.of(launched ? WARM_UP_OF_LAUNCHED : WARM_UP, study.load().timeout());
        int connections = study.load() instanceof LoadProfile.Open open ? open.connections() : CONNECTIONS;
        var load = new LoadProfile.Open(Shape.flat(measured, visits), LoadProfile.Spacing.CONSTANT, connections,
                Math.max(connections, LoadProfile.Open.USUAL_LIMIT), course);
        MeasuredStudy loaded = study.withLoad(load);
        Plan before = study.plan();
        OptionalInt rounds = rounds(loaded);
        var plan = new Plan(rounds.orElse(before.rounds()), before.seed(), Duration.ZERO, IDLE, before.together(),
                OptionalInt.empty(), before.pacing());
        MeasuredStudy proposed = loaded.withPlan(plan);
        var reasons = new ArrayList<String>();
        reasons.add(rate(study, probes, slowest.get(), ease, visits));
        reasons.add(shows(proposed, rounds));
        reasons.addAll(Prediction.of(proposed, Optional.empty()).weakPercentiles(proposed));
        return Optional.of(new ProposedLoad(proposed, reasons));
    }

    private static double calls(Probe probe) {
        return probe.best().map(Probe.Step::callsPerSecond).orElse(0.0);
    }

    /** The next lower rate of one or two figures. */
    private static double round(double rate) {
        double power = Math.pow(10, Math.floor(Math.log10(rate)));
        for (double figure : ROUND) {
            if (figure * power <= rate * (1 + 1e-9)) {
                return figure * power;
            }
        }
        return power;
    }

    /** So long that the highest percentile that is asked for is carried, within bounds. */
    private static Duration measured(Question question, double callsPerSecond) {
        double above = question.metrics().stream().flatMapToDouble(metric -> metric.above().stream()).min().orElse(1);
        double seconds = Math.ceil(SUPPORT / above / callsPerSecond);
        return Duration.ofSeconds((long) Math.clamp(seconds, MIN_SECONDS, MAX_SECONDS));
    }

    /** Rounds that settle a difference of the margin on every deciding metric, and that there is none where there is none. */
    private static OptionalInt rounds(MeasuredStudy study) {
        int most = 0;
        for (Question.Decider decider : study.question().deciders()) {
            Planning planning = planning(study, decider.metric());
            OptionalInt margin = planning.roundsForMargin();
            OptionalInt none = planning.roundsForNone();
            if (margin.isEmpty() || none.isEmpty()) {
                return OptionalInt.empty();
            }
            most = Math.max(most, Math.max(margin.getAsInt(), none.getAsInt()));
        }
        return most == 0 ? OptionalInt.empty() : OptionalInt.of(most);
    }

    private static Planning planning(MeasuredStudy study, Metric metric) {
        MeasuredStudy fixed = study.plan().isAdaptive()
                ? study.withPlan(new Plan(study.plan().rounds(), study.plan().seed(), study.plan().pause()))
                : study;
        return Planning.of(fixed, metric, Comparison.of(fixed, List.of()), Optional.empty());
    }

    private static String rate(MeasuredStudy study, List<Probe> probes, Probe slowest, double ease, double visits) {
        var words = new StringBuilder();
        for (Probe probe : probes) {
            Probe.Step best = probe.best().orElseThrow();
            words.append(words.isEmpty() ? "" : ", ").append(name(study, probe)).append(" answered ")
                    .append(Written.significant(best.callsPerSecond())).append(" calls/s to ").append(best.users())
                    .append(best.users() == 1 ? " user" : " users");
        }
        words.append(". ");
        boolean single = study.workload().meanCallsPerVisit() == 1;
        String half = (probes.size() == 1 ? "Half of that" : "Half of what " + name(study, slowest) + " did")
                + (single ? " is " : ", in visits, is ") + Written.significant(ease) + "/s";
        return words.append(ease > MOST_VISITS
                ? half + "; more than " + Written.significant(MOST_VISITS) + "/s would show little more: "
                : half + ": ").append(Written.significant(visits)).append(" arrivals/s are proposed.").toString();
    }

    private static String name(MeasuredStudy study, Probe probe) {
        return study.candidate(probe.candidate()).map(Candidate::name).orElse(probe.candidate());
    }

    private static String shows(MeasuredStudy study, OptionalInt rounds) {
        var words = new StringBuilder();
        words.append(study.plan().rounds()).append(" rounds of ").append(study.load().measured().toSeconds())
                .append(" s a candidate ");
        if (rounds.isEmpty()) {
            words.append("are what the plan has; how many the margin takes is not known");
        } else {
            List<String> deciders = study.question().deciders().stream()
                    .map(one -> "a difference of " + one.metric().scale().wordsOf(one.margin().zone()) + " in "
                            + one.metric().label())
                    .toList();
            words.append("settle ").append(String.join(" or ", deciders))
                    .append(", or that there is none, four times in five; scatter of the differences: ")
                    .append(planning(study, study.question().deciders().getFirst().metric()).noise()
                            .words(study.question().deciders().getFirst().metric()));
        }
        return words.append(". They take about ")
                .append(minutes(wallTime(study))).append('.').toString();
    }

    /** "50 s", "4 min". */
    private static String minutes(long seconds) {
        return seconds < 2 * SECONDS_A_MINUTE
                ? seconds + " s"
                : Math.round((double) seconds / SECONDS_A_MINUTE) + " min";
    }

    /** The proposed load. */
    public LoadProfile.Open load() {
        return (LoadProfile.Open) study.load();
    }

    /** "7 rounds, about 4 min". */
    public String size() {
        return study.plan().rounds() + " rounds, about " + minutes(wallTime(study));
    }

    /** The same with other rounds, or another length of the measured part; what is said of them is said by who chose them. */
    public ProposedLoad with(OptionalInt rounds, Optional<Duration> measured) {
        Plan plan = study.plan();
        MeasuredStudy other = study.withPlan(new Plan(rounds.orElse(plan.rounds()), plan.seed(), plan.pause(),
                plan.idle(), plan.together(), OptionalInt.empty(), plan.pacing()));
        other = measured.isEmpty()
                ? other
                : other.withLoad(load().withShape(Shape.flat(measured.get(), load().arrivalsPerSecond())));
        return new ProposedLoad(other, List.of(reasons.getFirst()));
    }

    private static long wallTime(MeasuredStudy study) {
        return Prediction.of(study, Optional.empty()).wallTime().toSeconds();
    }
}
