package kadrem.core.measure;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.OptionalLong;
import java.util.stream.Collectors;
import java.util.stream.Stream;

import kadrem.core.study.Metric;
import kadrem.core.study.Written;

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
 * @param crowds figures of each crowd; none where the study has no crowds
 */
public record RunFigures(long sent, long good, Map<FailureKind, Long> failed, long unsent, double seconds,
        long goodInTime, long bytesOut, long bytesIn, LatencySummary response, LatencySummary service,
        LatencySummary late, OptionalDouble cpuMillis, OptionalDouble peakMemory, List<PartFigures> calls,
        Connects connects, LatencySummary raw, Distribution distribution, Map<Metric, Double> elsewhere,
        List<PartFigures> crowds) {

    /** Figures of a run in which no answered call was late. */
    public RunFigures(long sent, long good, Map<FailureKind, Long> failed, long unsent, double seconds, long goodInTime,
            long bytesOut, long bytesIn, LatencySummary response, LatencySummary service, LatencySummary late,
            OptionalDouble cpuMillis, OptionalDouble peakMemory, List<PartFigures> calls, Connects connects) {
        this(sent, good, failed, unsent, seconds, goodInTime, bytesOut, bytesIn, response, service, late, cpuMillis,
                peakMemory, calls, connects, response, Distribution.UNKNOWN, Map.of(), List.of());
    }

    /** This run with its response times as they were. */
    public RunFigures withRaw(LatencySummary asTheyWere) {
        return new RunFigures(sent, good, failed, unsent, seconds, goodInTime, bytesOut, bytesIn, response, service,
                late, cpuMillis, peakMemory, calls, connects, asTheyWere, distribution, elsewhere, crowds);
    }

    /** This run with the distribution of its response times. */
    public RunFigures withDistribution(Distribution whole) {
        return new RunFigures(sent, good, failed, unsent, seconds, goodInTime, bytesOut, bytesIn, response, service,
                late, cpuMillis, peakMemory, calls, connects, raw, whole, elsewhere, crowds);
    }

    /** This run with the figures of its crowds. */
    public RunFigures withCrowds(List<PartFigures> all) {
        return new RunFigures(sent, good, failed, unsent, seconds, goodInTime, bytesOut, bytesIn, response, service,
                late, cpuMillis, peakMemory, calls, connects, raw, distribution, elsewhere, all);
    }

    /** The figures of a crowd or a call; those of all where the name is empty; none where the run has no such part. */
    public Optional<PartFigures> part(String name) {
        return name.isEmpty()
                ? Optional.of(new PartFigures("", sent, good, failed, OptionalLong.of(goodInTime), response, service,
                        raw, late, distribution))
                : Stream.concat(crowds.stream(), calls.stream()).filter(part -> part.name().equals(name)).findFirst();
    }

    /** "readers p50 1.2 ms, p99 8 ms, 40/s; import p50 …"; empty where there are no crowds. */
    public String crowdsInWords() {
        return crowds.stream()
                .map(crowd -> crowd.name() + " p50 " + Written.duration(crowd.response().p50()) + ", p99 "
                        + Written.duration(crowd.response().p99()) + ", "
                        + Written.significant(crowd.goodInTime().orElse(crowd.good()) / seconds) + "/s"
                        + (crowd.failedTotal() > 0
                                ? ", errors " + Written.significant(100.0 * crowd.failedTotal() / crowd.due()) + " %"
                                : ""))
                .collect(Collectors.joining("; "));
    }

    /**
     * Share of a percentile of the response times as they were that is the generator's own delay, 0 to 1; empty for other metrics
     * and where nothing was answered.
     */
    public OptionalDouble lateShare(Metric percentile) {
        return part(percentile.of()).map(part -> part.lateShare(percentile.kind())).orElse(OptionalDouble.empty());
    }

    /**
     * The same; of a percentile that was not reached as a share of a call's time limit.
     *
     * @param limitNanos time limit of a call
     */
    public OptionalDouble lateShare(Metric percentile, double limitNanos) {
        return part(percentile.of()).map(part -> part.lateShare(percentile.kind(), limitNanos))
                .orElse(OptionalDouble.empty());
    }

    /** What was measured elsewhere: nothing is known but these values. */
    public static RunFigures elsewhere(Map<Metric, Double> values) {
        return new RunFigures(0, 0, Map.of(), 0, 1, 0, 0, 0, LatencySummary.EMPTY, LatencySummary.EMPTY,
                LatencySummary.EMPTY, OptionalDouble.empty(), OptionalDouble.empty(), List.of(), Connects.NONE,
                LatencySummary.EMPTY, Distribution.UNKNOWN, Map.copyOf(values), List.of());
    }

    /** Figures of a run in which no connection was made under load. */
    public RunFigures(long sent, long good, Map<FailureKind, Long> failed, long unsent, double seconds, long goodInTime,
            long bytesOut, long bytesIn, LatencySummary response, LatencySummary service, LatencySummary late,
            OptionalDouble cpuMillis, OptionalDouble peakMemory, List<PartFigures> calls) {
        this(sent, good, failed, unsent, seconds, goodInTime, bytesOut, bytesIn, response, service, late, cpuMillis,
                peakMemory, calls, Connects.NONE);
    }

    /** Times of the connections that were made from the first due instant to the end, TCP and TLS apart. */
    public record Connects(LatencySummary connect, LatencySummary handshake) {
        /** No connection was made. */
        public static final Connects NONE = new Connects(LatencySummary.EMPTY, LatencySummary.EMPTY);
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

    /** Calls that were due, of those that a metric is of; 0 where the run has no such part. */
    public long due(Metric metric) {
        return metric.of().isEmpty() ? due() : part(metric.of()).map(PartFigures::due).orElse(0L);
    }

    /** The value by which candidates are compared; empty where this run cannot give it. */
    public OptionalDouble value(Metric metric) {
        if (!elsewhere.isEmpty()) {
            Double value = elsewhere.get(metric);
            return value == null ? OptionalDouble.empty() : OptionalDouble.of(value);
        }
        if (!metric.of().isEmpty()) {
            return part(metric.of()).map(part -> part.value(metric.kind(), seconds)).orElse(OptionalDouble.empty());
        }
        return switch (metric.kind()) {
            case P50, P95, P99, MEAN -> part("").orElseThrow().value(metric.kind(), seconds);
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
}
