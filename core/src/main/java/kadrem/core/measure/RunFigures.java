package kadrem.core.measure;

import java.util.List;
import java.util.Map;
import java.util.OptionalDouble;
import java.util.OptionalLong;

import kadrem.core.study.Metric;

/**
 * The figures of a run's measured part.
 *
 * @param sent calls sent that were due in the measured part
 * @param good those of them that ended well
 * @param failed those that were due and did not, sent or not, by kind; every kind is present
 * @param unsent arrivals that were due and never found a free connection before the run ended
 * @param seconds length of the measured part
 * @param goodInTime good calls that were completed inside the measured part, whenever they were due
 * @param cpuMillis CPU time of the candidate in the measured part, where known
 * @param connects connections made while calls were due
 * @param peakMemory largest resident size of the candidate in bytes, where known
 * @param response response times with the late part taken away; calls without a good answer lie above all
 * @param late by how much calls were late by the generator's own fault, answered or not
 * @param raw response times as they were
 * @param distribution of the response times with the late part taken away; unknown in older runs
 * @param elsewhere values that were measured by other means; where there are some, nothing else is known of the run
 */
public record RunFigures(long sent, long good, Map<FailureKind, Long> failed, long unsent, double seconds,
        long goodInTime, long bytesOut, long bytesIn, LatencySummary response, LatencySummary service,
        LatencySummary late, OptionalDouble cpuMillis, OptionalDouble peakMemory, List<CallFigures> calls,
        Connects connects, LatencySummary raw, Distribution distribution, Map<Metric, Double> elsewhere) {

    /** Figures of a run in which no answered call was late. */
    public RunFigures(long sent, long good, Map<FailureKind, Long> failed, long unsent, double seconds, long goodInTime,
            long bytesOut, long bytesIn, LatencySummary response, LatencySummary service, LatencySummary late,
            OptionalDouble cpuMillis, OptionalDouble peakMemory, List<CallFigures> calls, Connects connects) {
        this(sent, good, failed, unsent, seconds, goodInTime, bytesOut, bytesIn, response, service, late, cpuMillis,
                peakMemory, calls, connects, response, Distribution.UNKNOWN, Map.of());
    }

    /** This run with its response times as they were. */
    public RunFigures withRaw(LatencySummary asTheyWere) {
        return new RunFigures(sent, good, failed, unsent, seconds, goodInTime, bytesOut, bytesIn, response, service,
                late, cpuMillis, peakMemory, calls, connects, asTheyWere, distribution, elsewhere);
    }

    /** This run with the distribution of its response times. */
    public RunFigures withDistribution(Distribution whole) {
        return new RunFigures(sent, good, failed, unsent, seconds, goodInTime, bytesOut, bytesIn, response, service,
                late, cpuMillis, peakMemory, calls, connects, raw, whole, elsewhere);
    }

    /**
     * Share of a percentile of the response times as they were that is the generator's own delay, 0 to 1; empty for other metrics
     * and where nothing was answered.
     */
    public OptionalDouble lateShare(Metric percentile) {
        return switch (percentile) {
            case P50 -> lateShare(raw.p50(), response.p50());
            case P95 -> lateShare(raw.p95(), response.p95());
            case P99 -> lateShare(raw.p99(), response.p99());
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
    public OptionalDouble lateShare(Metric percentile, double limitNanos) {
        return switch (percentile) {
            case P50 -> lateShare(percentile, raw.p50(), late.p50(), limitNanos);
            case P95 -> lateShare(percentile, raw.p95(), late.p95(), limitNanos);
            case P99 -> lateShare(percentile, raw.p99(), late.p99(), limitNanos);
            case MEAN, THROUGHPUT, ERROR_SHARE, CPU_PER_THOUSAND, PEAK_MEMORY -> lateShare(percentile);
        };
    }

    private OptionalDouble lateShare(Metric percentile, long asItWas, long lateNanos, double limitNanos) {
        return asItWas == LatencySummary.NEVER
                ? OptionalDouble.of(lateNanos / limitNanos)
                : lateShare(percentile);
    }

    private static OptionalDouble lateShare(double asItWas, double withoutLate) {
        return asItWas <= 0 || asItWas == LatencySummary.NEVER
                ? OptionalDouble.empty()
                : OptionalDouble.of(Math.max(0, asItWas - withoutLate) / asItWas);
    }

    /** What was measured elsewhere: nothing is known but these values. */
    public static RunFigures elsewhere(Map<Metric, Double> values) {
        return new RunFigures(0, 0, Map.of(), 0, 1, 0, 0, 0, LatencySummary.EMPTY, LatencySummary.EMPTY,
                LatencySummary.EMPTY, OptionalDouble.empty(), OptionalDouble.empty(), List.of(), Connects.NONE,
                LatencySummary.EMPTY, Distribution.UNKNOWN, Map.copyOf(values));
    }

    /** Figures of a run in which no connection was made under load. */
    public RunFigures(long sent, long good, Map<FailureKind, Long> failed, long unsent, double seconds, long goodInTime,
            long bytesOut, long bytesIn, LatencySummary response, LatencySummary service, LatencySummary late,
            OptionalDouble cpuMillis, OptionalDouble peakMemory, List<CallFigures> calls) {
        this(sent, good, failed, unsent, seconds, goodInTime, bytesOut, bytesIn, response, service, late, cpuMillis,
                peakMemory, calls, Connects.NONE);
    }

    /** Times of the connections that were made from the first due instant to the end, TCP and TLS apart. */
    public record Connects(LatencySummary connect, LatencySummary handshake) {
        /** No connection was made. */
        public static final Connects NONE = new Connects(LatencySummary.EMPTY, LatencySummary.EMPTY);
    }

    /** The figures of one call of the workload. */
    public record CallFigures(String name, long sent, long good, Map<FailureKind, Long> failed, LatencySummary response,
            LatencySummary service) {

        /** Its value of a metric of response times; empty for the others and where no call was good. */
        public OptionalDouble value(Metric metric) {
            if (response.count() + response.lacking() == 0) {
                return OptionalDouble.empty();
            }
            return switch (metric) {
                case P50 -> OptionalDouble.of(LatencySummary.comparable(response.p50()));
                case P95 -> OptionalDouble.of(LatencySummary.comparable(response.p95()));
                case P99 -> OptionalDouble.of(LatencySummary.comparable(response.p99()));
                case MEAN -> OptionalDouble.of(response.mean());
                case THROUGHPUT, ERROR_SHARE, CPU_PER_THOUSAND, PEAK_MEMORY -> OptionalDouble.empty();
            };
        }
    }

    public long failedTotal() {
        return failed.values().stream().mapToLong(Long::longValue).sum();
    }

    /** Good calls a second, completed in the measured part. */
    public double throughput() {
        return goodInTime / seconds;
    }

    /** Calls that were due in the measured part. Of older runs, which did not count the calls of arrivals that were never sent, a call each. */
    public long due() {
        return good + failedTotal() + (failed.getOrDefault(FailureKind.NOT_SENT, 0L) > 0 ? 0 : unsent);
    }

    /** Calls without a good answer in time as a share of those that were due. */
    public double errorShare() {
        long due = due();
        return due == 0 ? 0 : (double) (due - good) / due;
    }

    /** Calls that were due and got a good answer within a limit; empty where the run does not tell. */
    public OptionalLong goodWithin(double limitNanos) {
        return distribution.isKnown() || response.count() == 0
                ? OptionalLong.of(distribution.within(limitNanos))
                : OptionalLong.empty();
    }

    /** The value by which candidates are compared; empty where this run cannot give it. */
    public OptionalDouble value(Metric metric) {
        if (!elsewhere.isEmpty()) {
            Double value = elsewhere.get(metric);
            return value == null ? OptionalDouble.empty() : OptionalDouble.of(value);
        }
        return switch (metric) {
            case P50 -> latency(LatencySummary.comparable(response.p50()));
            case P95 -> latency(LatencySummary.comparable(response.p95()));
            case P99 -> latency(LatencySummary.comparable(response.p99()));
            case MEAN -> latency(response.mean());
            case THROUGHPUT -> due() == 0 ? OptionalDouble.empty() : OptionalDouble.of(throughput());
            case ERROR_SHARE -> OptionalDouble.of(errorShare());
            case CPU_PER_THOUSAND -> cpuMillis.isEmpty() || due() == 0
                    ? OptionalDouble.empty()
                    : OptionalDouble.of(good == 0
                            ? Double.POSITIVE_INFINITY
                            : cpuMillis.getAsDouble() * 1000 / good);
            case PEAK_MEMORY -> peakMemory;
        };
    }

    private OptionalDouble latency(double nanos) {
        return response.count() + response.lacking() == 0 ? OptionalDouble.empty() : OptionalDouble.of(nanos);
    }
}
