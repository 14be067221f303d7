package kadrem.core.plan;

import java.time.Duration;
import java.util.OptionalDouble;

import kadrem.core.study.LoadProfile;
import kadrem.core.study.Study;
import kadrem.core.study.ThinkTime;
import kadrem.core.study.Workload;

/**
 * What a study is going to send, before anything is sent.
 *
 * @param callsPerRun calls of the measured part of one run; for users without think time unknown before a rehearsal
 * @param callsPerSecond the rate behind it; for the closed model the bound N / Z of the response-time law (Jain 1991),
 *            which no candidate can exceed
 * @param runs runs of the plan
 * @param wallTime time of the whole plan without launch and ready times
 */
public record Prediction(OptionalDouble callsPerSecond, OptionalDouble callsPerRun, int runs, Duration wallTime) {

    public static Prediction of(Study study) {
        LoadProfile load = study.load();
        OptionalDouble rate = switch (load) {
            case LoadProfile.Open open ->
                OptionalDouble.of(open.arrivalsPerSecond() * study.workload().meanCallsPerVisit());
            case LoadProfile.Closed closed -> {
                double pause = meanThinkSeconds(study.workload(), closed.thinkTime());
                yield pause > 0 ? OptionalDouble.of(closed.users() / pause) : OptionalDouble.empty();
            }
        };
        OptionalDouble calls = rate.isPresent()
                ? OptionalDouble.of(rate.getAsDouble() * load.measured().toSeconds())
                : OptionalDouble.empty();
        int runs = study.plan().rounds() * study.candidates().size();
        Duration wall = load.warmUp().plus(load.measured()).plus(study.plan().pause()).multipliedBy(runs);
        return new Prediction(rate, calls, runs, wall);
    }

    /** Mean pause after a call: that of all pauses of a visit, by their number. */
    private static double meanThinkSeconds(Workload workload, ThinkTime usual) {
        double pauses = workload.weighted(visit -> visit.repeat() * visit.calls().stream()
                .mapToDouble(call -> call.thinkTime().orElse(usual).mean().toNanos() / 1e9).sum());
        return pauses / workload.meanCallsPerVisit();
    }
}
