package kadrem.core.measure;

import java.util.EnumMap;
import java.util.Map;
import java.util.OptionalLong;

import org.HdrHistogram.Histogram;

/** The sums of one call over a run, or of several. Confined to their totals. */
final class CallTotal {
    final Histogram response = Latency.forRun();
    final Histogram raw = Latency.forRun();
    final Histogram service = Latency.forRun();
    final Histogram late = Latency.forRun();
    private final long[] failed = new long[FailureKind.values().length];
    long sent;
    long good;
    long goodInTime;
    long bytesOut;
    long bytesIn;

    void add(CallTally tally) {
        if (tally.isEmpty()) {
            return;
        }
        if (tally.hasTimes()) {
            response.add(tally.response());
            raw.add(tally.raw());
            service.add(tally.service());
            late.add(tally.late());
        }
        add(tally.failed, tally.sent, tally.good, tally.bytesOut, tally.bytesIn);
    }

    void add(CallTotal other) {
        response.add(other.response);
        raw.add(other.raw);
        service.add(other.service);
        late.add(other.late);
        goodInTime += other.goodInTime;
        add(other.failed, other.sent, other.good, other.bytesOut, other.bytesIn);
    }

    private void add(long[] moreFailed, long moreSent, long moreGood, long moreOut, long moreIn) {
        for (int i = 0; i < failed.length; i++) {
            failed[i] += moreFailed[i];
        }
        sent += moreSent;
        good += moreGood;
        bytesOut += moreOut;
        bytesIn += moreIn;
    }

    /** Calls without a time, which took longer than any that has one. */
    long lacking() {
        long sum = 0;
        for (FailureKind kind : FailureKind.values()) {
            sum += kind.lacksTime() ? failed[kind.ordinal()] : 0;
        }
        return sum;
    }

    Map<FailureKind, Long> failedByKind() {
        var map = new EnumMap<FailureKind, Long>(FailureKind.class);
        for (FailureKind kind : FailureKind.values()) {
            map.put(kind, failed[kind.ordinal()]);
        }
        return map;
    }

    /**
     * Its figures.
     *
     * @param boundNanos what a call without a good answer counts for in means, at the least
     * @param withDistribution whether more than percentiles are kept
     */
    PartFigures figures(String name, long boundNanos, boolean withDistribution) {
        return new PartFigures(name, sent, good, failedByKind(), OptionalLong.of(goodInTime),
                LatencySummary.of(response, lacking(), boundNanos), LatencySummary.of(service),
                LatencySummary.of(raw, lacking(), boundNanos), LatencySummary.of(late),
                withDistribution ? Distribution.of(response) : Distribution.UNKNOWN);
    }
}
