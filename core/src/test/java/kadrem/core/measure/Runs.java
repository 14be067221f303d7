package kadrem.core.measure;

import java.time.Instant;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;

import kadrem.core.plan.LoadDigest;
import kadrem.core.plan.StreamDigest;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.SoundnessRule;
import org.HdrHistogram.Histogram;

/** Made-up runs for tests. */
public final class Runs {
    private Runs() {
    }

    /** A complete, sound run whose latencies all are {@code nanos}, with the same share failed as asked. */
    public static RunRecord complete(MeasuredStudy study, String candidate, int round, long nanos, double failedShare) {
        return complete(study, candidate, round, nanos, Math.round(10_000 * failedShare / (1 - failedShare)), 10_000);
    }

    /** The same with a number of failed calls, and of good ones. */
    public static RunRecord complete(MeasuredStudy study, String candidate, int round, long nanos, long failures,
            long good) {
        var times = Latency.forRun();
        times.recordValueWithCount(nanos, good);
        return complete(study, candidate, round, new LatencySummary(good, nanos, at(0.5, nanos, failures, good),
                at(0.9, nanos, failures, good), at(0.95, nanos, failures, good), at(0.99, nanos, failures, good),
                at(0.999, nanos, failures, good), nanos, failures), Distribution.of(times));
    }

    /** Exactly the value, which a histogram rounds. */
    private static long at(double share, long nanos, long failures, long good) {
        return Math.ceil(share * (good + failures) - 1e-9) > good ? LatencySummary.NEVER : nanos;
    }

    /** A run with these response times of good calls, and failed ones beside them. */
    public static RunRecord complete(MeasuredStudy study, String candidate, int round, Histogram times, long failures) {
        return complete(study, candidate, round, LatencySummary.of(times, failures, 5_000_000_000L),
                Distribution.of(times));
    }

    private static RunRecord complete(MeasuredStudy study, String candidate, int round, LatencySummary latency,
            Distribution distribution) {
        long good = latency.count();
        long failures = latency.lacking();
        var failed = new EnumMap<FailureKind, Long>(FailureKind.class);
        failed.put(FailureKind.TIMEOUT, failures);
        var figures = new RunFigures(good + failures, good, failed, 0, 10, good, 1, 1, latency, latency,
                LatencySummary.EMPTY, OptionalDouble.of(latency.mean() / 1000.0), OptionalDouble.of(1e8), List.of())
                .withDistribution(distribution);
        return record(study, candidate, round, RunOutcome.COMPLETE, Optional.of(figures));
    }

    /** The same run, disturbed: a rule that looks at the generator is broken. */
    public static RunRecord disturbed(RunRecord run) {
        return run.withResult(new StreamDigest(StreamDigest.Model.OPEN, List.of()), run.figures().orElseThrow(),
                List.of(Soundness.Finding.of(SoundnessRule.LATE, 0.4, 0.05, false)));
    }

    public static RunRecord record(MeasuredStudy study, String candidate, int round, RunOutcome outcome,
            Optional<RunFigures> figures) {
        Instant started = Instant.parse("2026-07-01T10:00:00Z").plusSeconds(round * 60L);
        var identity = new RunIdentity("id" + round + candidate, round, candidate, 1, 1, LoadDigest.of(study), started,
                Map.of(), Optional.empty());
        RunState state = outcome == RunOutcome.RUNNING
                ? new RunState.UnderWay()
                : new RunState.Ended(outcome, outcome == RunOutcome.COMPLETE ? "" : "it ended with exit code 1",
                        started.plusSeconds(30));
        return new RunRecord(identity, state, List.of(), Map.of(), RunRecord.Processes.NONE, Optional.empty(), figures,
                List.of(), Optional.empty(), List.of(), List.of());
    }

    /** The same run, made at another time on another machine. */
    public static RunRecord at(RunRecord run, Instant started, Map<String, String> machine) {
        RunIdentity was = run.identity();
        return new RunRecord(new RunIdentity(was.id(), was.round(), was.candidate(), was.position(), was.streamSeed(),
                was.studyDigest(), started, machine, was.seal()), run.state(), run.lastOutput(), run.fingerprint(),
                run.processes(), run.stream(), run.figures(), run.soundness(), run.generator(), run.levels(),
                run.watch());
    }
}
