package kadrem.core.measure;

import java.util.Map;
import java.util.OptionalDouble;
import java.util.OptionalLong;

import kadrem.core.study.Metric;

/**
 * Figures of the calls of a crowd, of one call of the workload, or of all, in the measured part of a run.
 *
 * @param name of the crowd or the call; empty for all
 * @param sent calls sent that were due in the measured part
 * @param good those of them that ended well
 * @param failed those that were due and did not, by kind
 * @param goodInTime good calls that were completed inside the measured part; unknown in older runs
 * @param response response times with the late part taken away; calls without a good answer lie above all
 * @param raw response times as they were
 * @param late by how much answered calls were late by the generator's own fault
 * @param distribution of the response times; of a call it is kept where a requirement is on it
 */
public record PartFigures(String name, long sent, long good, Map<FailureKind, Long> failed, OptionalLong goodInTime,
        LatencySummary response, LatencySummary service, LatencySummary raw, LatencySummary late,
        Distribution distribution) {

    /** Of a part of an older run. */
    public PartFigures(String name, long sent, long good, Map<FailureKind, Long> failed, LatencySummary response,
            LatencySummary service) {
        this(name, sent, good, failed, OptionalLong.empty(), response, service, response, LatencySummary.EMPTY,
                Distribution.UNKNOWN);
    }

    public long failedTotal() {
        return failed.values().stream().mapToLong(Long::longValue).sum();
    }

    /** Calls that were due in the measured part. */
    public long due() {
        return good + failedTotal();
    }

    /** Calls that were due and got a good answer within a limit; empty where the run does not tell. */
    public OptionalLong goodWithin(double limitNanos) {
        return distribution.isKnown() || response.count() == 0
                ? OptionalLong.of(distribution.within(limitNanos))
                : OptionalLong.empty();
    }

    /**
     * Its value of a metric; empty where it has none.
     *
     * @param seconds length of the measured part
     */
    public OptionalDouble value(Metric.Kind kind, double seconds) {
        return switch (kind) {
            case P50, P95, P99 -> response.count() + response.lacking() == 0
                    ? OptionalDouble.empty()
                    : OptionalDouble.of(LatencySummary.comparable(percentile(response, kind)));
            case MEAN -> response.count() + response.lacking() == 0
                    ? OptionalDouble.empty()
                    : OptionalDouble.of(response.mean());
            case THROUGHPUT -> due() == 0 || goodInTime.isEmpty()
                    ? OptionalDouble.empty()
                    : OptionalDouble.of(goodInTime.getAsLong() / seconds);
            case ERROR_SHARE -> due() == 0
                    ? OptionalDouble.empty()
                    : OptionalDouble.of((double) failedTotal() / due());
            case CPU_PER_THOUSAND, PEAK_MEMORY -> OptionalDouble.empty();
        };
    }

    private static long percentile(LatencySummary times, Metric.Kind kind) {
        return switch (kind) {
            case P50 -> times.p50();
            case P95 -> times.p95();
            case P99 -> times.p99();
            case MEAN, THROUGHPUT, ERROR_SHARE, CPU_PER_THOUSAND, PEAK_MEMORY ->
                throw new IllegalArgumentException(kind + " is no percentile");
        };
    }

    /**
     * Share of a percentile of the response times as they were that is the generator's own delay, 0 to 1; empty for other metrics
     * and where nothing was answered.
     */
    public OptionalDouble lateShare(Metric.Kind kind) {
        return switch (kind) {
            case P50, P95, P99 -> lateShare(percentile(raw, kind), percentile(response, kind));
            case MEAN -> lateShare(raw.mean(), response.mean());
            case THROUGHPUT, ERROR_SHARE, CPU_PER_THOUSAND, PEAK_MEMORY -> OptionalDouble.empty();
        };
    }

    /**
     * The same; of a percentile that was not reached as a share of a call's time limit, which it took at the least. Else nothing would be said
     * of calls that got no answer since they were late.
     *
     * @param limitNanos time limit of a call
     */
    public OptionalDouble lateShare(Metric.Kind kind, double limitNanos) {
        return switch (kind) {
            case P50, P95, P99 -> percentile(raw, kind) == LatencySummary.NEVER
                    ? OptionalDouble.of(percentile(late, kind) / limitNanos)
                    : lateShare(kind);
            case MEAN, THROUGHPUT, ERROR_SHARE, CPU_PER_THOUSAND, PEAK_MEMORY -> lateShare(kind);
        };
    }

    private static OptionalDouble lateShare(double asItWas, double withoutLate) {
        return asItWas <= 0 || asItWas == LatencySummary.NEVER
                ? OptionalDouble.empty()
                : OptionalDouble.of(Math.max(0, asItWas - withoutLate) / asItWas);
    }
}
