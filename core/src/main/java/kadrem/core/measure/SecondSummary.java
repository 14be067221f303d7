package kadrem.core.measure;

import java.util.EnumMap;
import java.util.Map;

import org.HdrHistogram.Histogram;

/** One second of a run in a few numbers, all calls and phases together, for a live display. */
public record SecondSummary(int second, long intended, long sent, long good, Map<FailureKind, Long> failed, long p50,
        long p95, long p99, long lagP99, long busy, long backlog) {

    public static SecondSummary of(SecondTally tally) {
        Histogram response = Latency.forRun();
        var failed = new EnumMap<FailureKind, Long>(FailureKind.class);
        long sent = 0;
        long good = 0;
        for (Phase phase : Phase.values()) {
            for (int i = 0; i < tally.callCount(); i++) {
                CallTally call = tally.call(i, phase);
                response.add(call.response);
                sent += call.sent;
                good += call.good;
                for (FailureKind kind : FailureKind.values()) {
                    failed.merge(kind, call.failed[kind.ordinal()], Long::sum);
                }
            }
        }
        boolean any = response.getTotalCount() > 0;
        return new SecondSummary(tally.second, tally.intended, sent, good, failed,
                any ? response.getValueAtPercentile(50) : 0, any ? response.getValueAtPercentile(95) : 0,
                any ? response.getValueAtPercentile(99) : 0,
                tally.lag.getTotalCount() == 0 ? 0 : tally.lag.getValueAtPercentile(99), tally.busy, tally.backlog);
    }

    public long failedTotal() {
        return failed.values().stream().mapToLong(Long::longValue).sum();
    }
}
