package kadrem.core.scaling;

import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.function.Function;

import kadrem.core.rehearsal.RehearsedCall;
import kadrem.core.rehearsal.Rehearsal;
import kadrem.core.plan.Curve;
import kadrem.core.study.LevelSearch;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Metric;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.ThinkTime;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;

/**
 * What a study is going to send, before anything is sent. Figures of a run are those of its measured part.
 *
 * @param userSeconds area of the profile of users; empty for arrivals
 * @param arrivals visits that begin by themselves or at their pace; empty where users begin one after the other
 * @param callsPerRun calls in the measured part; for users the most that they can make (of those without think time unknown)
 * @param mostCallsPerSecond the same at the peak of the profile; for users N / Z, which no candidate can exceed
 * @param candidates what the rehearsal's times say of each candidate; empty without a rehearsal
 * @param crowds what each crowd will send; none where there are no crowds
 * @param runs runs of the plan
 * @param wallTime time of the whole plan without launch and ready times; of a search with all its levels
 */
public record Prediction(OptionalDouble userSeconds, OptionalDouble arrivals, OptionalDouble callsPerRun,
        OptionalDouble mostCallsPerSecond, List<OfCandidate> candidates, List<OfCrowd> crowds, int runs,
        Duration wallTime) {
    /** Calls above a percentile with fewer than which it is no number, and with fewer than which it is a weak one. */
    private static final int MIN = 10;
    private static final int STRONG = 50;

    public Prediction {
        candidates = List.copyOf(candidates);
        crowds = List.copyOf(crowds);
    }

    /**
     * What one crowd will send.
     *
     * @param calls in the measured part, to the candidate that answers slowest in the rehearsal; empty where that is not known
     */
    public record OfCrowd(String name, OptionalDouble calls) {
    }

    /**
     * What one candidate will be sent if each call takes the time that it took in the rehearsal.
     *
     * @param calls calls in the measured part
     * @param bytes sent and received in the measured part
     * @param mostUnderWay visits under way at the peak of the profile, each of which holds a connection
     */
    public record OfCandidate(String candidate, double meanCallSeconds, double calls, double bytes,
            double mostUnderWay) {
    }

    /** Calls of a run that lie above a percentile, its support, by what is known before anything is sent; empty where that is not known. */
    public OptionalDouble support(Metric percentile) {
        if (!percentile.of().isEmpty()) {
            OptionalDouble above = percentile.above();
            OptionalDouble ofCrowd = crowds.stream().filter(crowd -> crowd.name().equals(percentile.of())).findFirst()
                    .map(OfCrowd::calls).orElse(OptionalDouble.empty());
            return above.isEmpty() || ofCrowd.isEmpty()
                    ? OptionalDouble.empty()
                    : OptionalDouble.of(above.getAsDouble() * ofCrowd.getAsDouble());
        }
        OptionalDouble calls = candidates.isEmpty()
                ? callsPerRun
                : candidates.stream().mapToDouble(OfCandidate::calls).min();
        return percentile.above().isEmpty() || calls.isEmpty()
                ? OptionalDouble.empty()
                : OptionalDouble.of(Math.min(calls.getAsDouble(), callsPerRun.orElse(Double.MAX_VALUE))
                        * percentile.above().getAsDouble());
    }

    /** Warnings of percentiles that decide, or are required, and that a run of this load cannot carry; each with the mend. */
    public List<String> weakPercentiles(MeasuredStudy study) {
        if (study.load().course().search().isPresent()) {
            return List.of();
        }
        var warnings = new ArrayList<String>();
        study.question().metrics().stream().sorted().forEach(metric -> support(metric).ifPresent(support -> {
            if (support < STRONG) {
                double seconds = study.load().measured().toSeconds() * STRONG / Math.max(0.01, support);
                warnings.add(String.format(Locale.ROOT, "Of some %,.0f calls in a run about %,.0f lie above %s: %s."
                        + " Measure for about %,.0f s, raise the load, or decide by a lower percentile.",
                        support / metric.above().getAsDouble(), Math.floor(support), metric.id(),
                        support < MIN
                                ? "with fewer than " + MIN + " it is hardly a number"
                                : "with fewer than " + STRONG + " it is a weak one",
                        Math.ceil(seconds)));
            }
        }));
        return List.copyOf(warnings);
    }

    /** Means of one candidate's rehearsed visits, weighted as the workload chooses them. */
    private record Rehearsed(String candidate, double visitSeconds, double visitBytes) {
    }

    /** @param rehearsal the last rehearsal of this workload */
    public static Prediction of(MeasuredStudy study, Optional<Rehearsal> rehearsal) {
        List<Sent> crowds = study.load().crowds().stream()
                .map(crowd -> Sent.of(crowd.name(), study.workload().of(crowd), crowd.load())).toList();
        int runs = study.plan().rounds() * study.candidates().size();
        return new Prediction(sumOfSome(crowds, Sent::userSeconds), sumOfSome(crowds, Sent::arrivals),
                sumOfAll(crowds, Sent::calls), sumOfAll(crowds, Sent::mostCallsPerSecond),
                rehearsal.stream().flatMap(one -> one.candidates().stream())
                        .flatMap(one -> ofCandidate(crowds, one).stream()).toList(),
                crowds.stream().filter(one -> !one.name().isEmpty())
                        .map(one -> new OfCrowd(one.name(), callsTo(one, rehearsal))).toList(),
                runs, wallTime(study, runs));
    }

    private static OptionalDouble callsTo(Sent crowd, Optional<Rehearsal> rehearsal) {
        OptionalDouble least = rehearsal.stream().flatMap(one -> one.candidates().stream())
                .flatMap(one -> rehearsed(crowd.workload(), one).map(crowd::to).stream())
                .mapToDouble(OfCandidate::calls).min();
        return least.isPresent() ? least : crowd.calls();
    }

    /** The sum of what is known; empty where nothing is. */
    private static OptionalDouble sumOfSome(List<Sent> crowds, Function<Sent, OptionalDouble> part) {
        return crowds.stream().map(part).filter(OptionalDouble::isPresent).mapToDouble(OptionalDouble::getAsDouble)
                .reduce(Double::sum);
    }

    /** The sum, where it is known of all. */
    private static OptionalDouble sumOfAll(List<Sent> crowds, Function<Sent, OptionalDouble> part) {
        return crowds.stream().allMatch(one -> part.apply(one).isPresent())
                ? sumOfSome(crowds, part)
                : OptionalDouble.empty();
    }

    /** What one crowd will send, as far as its load alone tells; the figures are those of {@link Prediction}. */
    private record Sent(String name, Workload workload, LoadProfile.Single load, OptionalDouble userSeconds,
            OptionalDouble arrivals, OptionalDouble calls, OptionalDouble mostCallsPerSecond) {

        static Sent of(String name, Workload workload, LoadProfile.Single load) {
            double callsPerVisit = workload.meanCallsPerVisit();
            double area = Curve.of(load.shape()).area();
            OptionalDouble perSecond;
            OptionalDouble visits;
            switch (load) {
                case LoadProfile.Open open -> {
                    visits = OptionalDouble.of(most(area, load));
                    perSecond = OptionalDouble.of(open.arrivalsPerSecond() * callsPerVisit);
                }
                case LoadProfile.Closed closed -> {
                    double pause = pausePerVisit(workload, closed.thinkTime());
                    double between = Math.max(pause, closed.pace().map(Prediction::seconds).orElse(0.0));
                    visits = between > 0
                            ? OptionalDouble.of(most(Laws.completions(area, 0, between), load))
                            : load.course().visits().isPresent()
                                    ? OptionalDouble.of(most(Double.POSITIVE_INFINITY, load))
                                    : OptionalDouble.empty();
                    perSecond = between > 0
                            ? OptionalDouble.of(Laws.mostThroughput(load.shape().peak(), between) * callsPerVisit)
                            : OptionalDouble.empty();
                }
            }
            OptionalDouble calls = visits.isPresent()
                    ? OptionalDouble.of(visits.getAsDouble() * callsPerVisit)
                    : OptionalDouble.empty();
            boolean closed = load instanceof LoadProfile.Closed;
            boolean byThemselves = !closed || load instanceof LoadProfile.Closed users && users.pace().isPresent();
            return new Sent(name, workload, load, closed ? OptionalDouble.of(area) : OptionalDouble.empty(),
                    byThemselves ? visits : OptionalDouble.empty(), calls, perSecond);
        }

        OfCandidate to(Rehearsed rehearsed) {
            double area = Curve.of(load.shape()).area();
            double visits = switch (load) {
                case LoadProfile.Open _ -> area;
                case LoadProfile.Closed closed -> {
                    double pause = pausePerVisit(workload, closed.thinkTime());
                    // a visit that takes longer than the pace delays the user's next one
                    double idle = Math.max(pause, closed.pace().map(Prediction::seconds).orElse(0.0)
                            - rehearsed.visitSeconds());
                    yield Laws.completions(area, rehearsed.visitSeconds(), idle);
                }
            };
            double begun = most(visits, load);
            double callsPerVisit = workload.meanCallsPerVisit();
            double underWay = switch (load) {
                case LoadProfile.Open open -> Laws.underWay(open.arrivalsPerSecond(),
                        rehearsed.visitSeconds() + pausePerVisit(workload, ThinkTime.NONE));
                case LoadProfile.Closed closed -> closed.users();
            };
            return new OfCandidate(rehearsed.candidate(), rehearsed.visitSeconds() / callsPerVisit,
                    begun * callsPerVisit, begun * rehearsed.visitBytes(), underWay);
        }
    }

    /** All that one candidate is sent; empty where the rehearsal does not tell of each crowd. */
    private static Optional<OfCandidate> ofCandidate(List<Sent> crowds, Rehearsal.OfCandidate candidate) {
        List<OfCandidate> parts = crowds.stream()
                .flatMap(crowd -> rehearsed(crowd.workload(), candidate).map(crowd::to).stream()).toList();
        if (parts.size() < crowds.size()) {
            return Optional.empty();
        }
        return parts.stream().reduce((a, b) -> {
            double calls = a.calls() + b.calls();
            double seconds = calls > 0
                    ? (a.meanCallSeconds() * a.calls() + b.meanCallSeconds() * b.calls()) / calls
                    : (a.meanCallSeconds() + b.meanCallSeconds()) / 2;
            return new OfCandidate(a.candidate(), seconds, calls, a.bytes() + b.bytes(),
                    a.mostUnderWay() + b.mostUnderWay());
        });
    }

    private static Duration wallTime(MeasuredStudy study, int runs) {
        Duration one = study.load().total();
        int levels = study.load().course().search().map(LevelSearch::most).orElse(1);
        int rounds = study.plan().together() ? study.plan().rounds() : runs;
        return one.multipliedBy(levels).plus(study.plan().idle()).plus(study.plan().pause()).multipliedBy(rounds);
    }

    /** Visits, of which a profile may name the most. */
    private static double most(double visits, LoadProfile load) {
        if (load.course().visits().isEmpty()) {
            return visits;
        }
        long number = load.course().visits().getAsLong();
        return Math.min(visits, load instanceof LoadProfile.Closed closed ? number * (double) closed.users() : number);
    }

    /** Empty where a call of some visit had no answer, whose time says nothing. */
    private static Optional<Rehearsed> rehearsed(Workload workload, Rehearsal.OfCandidate candidate) {
        var byVisit = new ArrayList<double[]>();
        for (Visit visit : workload.visits()) {
            List<RehearsedCall> calls = candidate.calls().stream().filter(call -> call.visit().equals(visit.name()))
                    .toList();
            if (calls.size() < visit.calls().size() || calls.stream().anyMatch(call -> call.status() == 0)) {
                return Optional.empty();
            }
            double repeats = visit.repeat() * (double) visit.calls().size() / calls.size();
            byVisit.add(new double[]{
                    repeats * calls.stream().mapToDouble(Prediction::serviceSeconds).sum(),
                    repeats * calls.stream()
                            .mapToDouble(call -> call.bytesIn() + call.request().length()).sum()});
        }
        return Optional.of(new Rehearsed(candidate.candidate(),
                workload.weighted(visit -> byVisit.get(workload.visits().indexOf(visit))[0]),
                workload.weighted(visit -> byVisit.get(workload.visits().indexOf(visit))[1])));
    }

    /** Connecting is left out: under load a connection is there already. */
    private static double serviceSeconds(RehearsedCall call) {
        return (call.timeline().sending() + call.timeline().waiting() + call.timeline().receiving()) / 1e9;
    }

    /** Mean of all pauses of a visit, in seconds. */
    private static double pausePerVisit(Workload workload, ThinkTime usual) {
        return workload.weighted(visit -> visit.repeat() * visit.calls().stream()
                .mapToDouble(call -> seconds(call.thinkTime().orElse(usual).mean())).sum());
    }

    private static double seconds(Duration duration) {
        return duration.toNanos() / 1e9;
    }
}
