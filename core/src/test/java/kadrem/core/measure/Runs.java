package kadrem.core.measure;

import java.time.Instant;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;

import kadrem.core.plan.LoadDigest;
import kadrem.core.study.Study;

/** Made-up runs for tests. */
public final class Runs {
    private Runs() {
    }

    /** A complete, sound run whose latencies all are {@code nanos}, with the same share failed as asked. */
    public static RunRecord complete(Study study, String candidate, int round, long nanos, double failedShare) {
        var latency = new LatencySummary(10_000, nanos, nanos, nanos, nanos, nanos, nanos, nanos);
        var failed = new EnumMap<FailureKind, Long>(FailureKind.class);
        failed.put(FailureKind.TIMEOUT, Math.round(10_000 * failedShare / (1 - failedShare)));
        var figures = new RunFigures(10_000, 10_000, failed, 0, 10, 10_000, 1, 1, latency, latency, latency,
                OptionalDouble.of(nanos / 1000.0), OptionalDouble.of(1e8), List.of());
        return record(study, candidate, round, RunOutcome.COMPLETE, Optional.of(figures));
    }

    public static RunRecord record(Study study, String candidate, int round, RunOutcome outcome,
            Optional<RunFigures> figures) {
        return new RunRecord("id" + round + candidate, round, candidate, 1, 1, LoadDigest.of(study),
                Instant.parse("2026-07-01T10:00:00Z").plusSeconds(round * 60L), Optional.empty(), outcome,
                outcome == RunOutcome.FAILED ? "it ended with exit code 1" : "", List.of(), Map.of(), Map.of(),
                RunRecord.Processes.NONE, Optional.empty(), figures, List.of(), Optional.empty(), List.of(), List.of());
    }
}
