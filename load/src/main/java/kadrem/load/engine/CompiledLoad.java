package kadrem.load.engine;

import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.stream.LongStream;

import kadrem.core.measure.Phase;
import kadrem.core.plan.LoadStream;
import kadrem.core.plan.Recorded;
import kadrem.core.study.Call;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.ThinkTime;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;

/** The order of a crowd taken apart into what a lane asks of it for each call, so that nothing is looked up while load is made. Immutable. */
final class CompiledLoad {
    final LoadProfile.Single profile;
    final Workload workload;
    final LoadStream stream;
    final List<Call> calls;
    final int capturedNames;
    /** Calls of the first part; they are the first calls of the workload. */
    final int firstPart;
    final long warmUpNanos;
    final long measuredEndNanos;
    final long endNanos;
    final long longestTimeout;
    final long shortestTimeout;
    private final int[] numbers;
    private final int[] firstCallOfVisit;
    private final int[] callsOfVisit;
    private final int[] stepsOfVisit;
    private final long[] timeoutOf;
    private final long[] withinOf;
    private final ThinkTime[] thinkTimeOf;

    /** @param recorded the arrivals, where they follow a timeline */
    CompiledLoad(CrowdOrder order, Optional<Recorded> recorded) {
        profile = order.load();
        workload = order.workload();
        stream = LoadStream.of(workload, profile, order.before(), order.seed(), recorded);
        numbers = order.numbers().stream().mapToInt(Integer::intValue).toArray();
        List<Visit> visits = workload.visits();
        callsOfVisit = visits.stream().mapToInt(visit -> visit.calls().size()).toArray();
        stepsOfVisit = visits.stream().mapToInt(visit -> visit.calls().size() * visit.repeat()).toArray();
        firstPart = workload.first().size();
        firstCallOfVisit = new int[callsOfVisit.length];
        firstCallOfVisit[0] = firstPart;
        for (int i = 1; i < callsOfVisit.length; i++) {
            firstCallOfVisit[i] = firstCallOfVisit[i - 1] + callsOfVisit[i - 1];
        }
        warmUpNanos = profile.warmUp().toNanos();
        measuredEndNanos = warmUpNanos + profile.measured().toNanos();
        endNanos = profile.total().toNanos();
        calls = workload.calls();
        capturedNames = workload.capturedNames().size();
        timeoutOf = calls.stream().mapToLong(call -> call.timeout().orElse(profile.timeout()).toNanos()).toArray();
        longestTimeout = LongStream.of(timeoutOf).max().orElseThrow();
        shortestTimeout = LongStream.of(timeoutOf).min().orElseThrow();
        withinOf = calls.stream()
                .mapToLong(call -> call.expected().within().map(Duration::toNanos).orElse(Long.MAX_VALUE)).toArray();
        ThinkTime usual = profile instanceof LoadProfile.Closed closed ? closed.thinkTime() : ThinkTime.NONE;
        thinkTimeOf = calls.stream().map(call -> call.thinkTime().orElse(usual)).toArray(ThinkTime[]::new);
    }

    /** The part of the run that an instant belongs to, in nanoseconds after the start; what is made ahead is warm-up. */
    Phase phaseAt(long sinceStart) {
        return sinceStart < warmUpNanos
                ? Phase.WARM_UP
                : sinceStart < measuredEndNanos ? Phase.MEASURED : Phase.WIND_DOWN;
    }

    /** The call at a step of a visit; steps go on through its repetitions. */
    int callOf(int visit, int step) {
        return firstCallOfVisit[visit] + step % callsOfVisit[visit];
    }

    /** The number under which a call is recorded. */
    int numberOf(int call) {
        return numbers[call];
    }

    int stepsOf(int visit) {
        return stepsOfVisit[visit];
    }

    long timeoutOf(int call) {
        return timeoutOf[call];
    }

    /** Longest response time with which a call is good. */
    long withinOf(int call) {
        return withinOf[call];
    }

    /** The pause after the {@code callsBegun}-th call of a drawn visit, which was {@code call}. */
    long pauseAfter(int call, int callsBegun, LoadStream.Draw draw) {
        return stream.thinkNanos(thinkTimeOf[call], callsBegun, draw);
    }
}
