package kadrem.core.measure;

import java.util.EnumMap;
import java.util.Map;

import org.HdrHistogram.AbstractHistogram;
import org.HdrHistogram.Histogram;

/**
 * One second of a run in a few numbers, all calls and phases together, for a live display. Percentiles are of all calls that ended in it:
 * {@link LatencySummary#NEVER} where that is one that got no good answer.
 *
 * @param lateP99 99th percentile of the generator's own delay, ns
 * @param parts mean of each part of the response times of this second's answers
 */
public record SecondSummary(int second, long intended, long sent, long good, Map<FailureKind, Long> failed, long p50,
        long p95, long p99, long lateP99, long busy, long backlog, Parts parts) {

    private static final AbstractHistogram NOTHING = Latency.forOneSecond();

    /** A second of which the parts are not known. */
    public SecondSummary(int second, long intended, long sent, long good, Map<FailureKind, Long> failed, long p50,
            long p95, long p99, long lateP99, long busy, long backlog) {
        this(second, intended, sent, good, failed, p50, p95, p99, lateP99, busy, backlog, Parts.NONE);
    }

    /** Mean parts of a response time as it was, in nanoseconds: the generator's own, waiting for the candidate, service. */
    public record Parts(double late, double waiting, double service) {
        public static final Parts NONE = new Parts(0, 0, 0);

        /** From sums over {@code count} answers. */
        public static Parts of(long count, double responseSum, double serviceSum, double lateSum) {
            return count == 0
                    ? NONE
                    : new Parts(lateSum / count, Math.max(0, responseSum - serviceSum) / count, serviceSum / count);
        }
    }

    public static SecondSummary of(SecondTally tally) {
        AbstractHistogram response = NOTHING;
        double serviceSum = 0;
        double lateSum = 0;
        var failed = new EnumMap<FailureKind, Long>(FailureKind.class);
        long sent = 0;
        long good = 0;
        for (Phase phase : Phase.values()) {
            for (int i = 0; i < tally.callCount(); i++) {
                CallTally call = tally.call(i, phase);
                if (call.hasTimes()) {
                    response = together(response, call.response());
                    serviceSum += sum(call.service());
                    lateSum += sum(call.late());
                }
                sent += call.sent;
                good += call.good;
                for (FailureKind kind : FailureKind.values()) {
                    failed.merge(kind, call.failed[kind.ordinal()], Long::sum);
                }
            }
        }
        long lacking = lacking(failed);
        return new SecondSummary(tally.second, tally.intended, sent, good, failed, at(response, lacking, 0.5),
                at(response, lacking, 0.95), at(response, lacking, 0.99),
                tally.late.getTotalCount() == 0 ? 0 : tally.late.getValueAtPercentile(99), tally.busy, tally.backlog,
                Parts.of(response.getTotalCount(), sum(response), serviceSum, lateSum));
    }

    /** Of failed calls, those without a time, which took longer than any that has one. */
    public static long lacking(Map<FailureKind, Long> failed) {
        return failed.entrySet().stream().filter(one -> one.getKey().lacksTime()).mapToLong(Map.Entry::getValue).sum();
    }

    private static long at(AbstractHistogram response, long lacking, double share) {
        return response.getTotalCount() + lacking == 0 ? 0 : LatencySummary.at(response, lacking, share);
    }

    /** Both together; where there is only one it is not copied, which is most of the cost of a second. */
    private static AbstractHistogram together(AbstractHistogram before, AbstractHistogram more) {
        if (before == NOTHING) {
            return more;
        }
        if (before instanceof Histogram sum) {
            sum.add(more);
            return sum;
        }
        Histogram sum = Latency.forRun();
        sum.add(before);
        sum.add(more);
        return sum;
    }

    /** The same of a second that is counted from another instant. */
    public SecondSummary at(int other) {
        return new SecondSummary(other, intended, sent, good, failed, p50, p95, p99, lateP99, busy, backlog, parts);
    }

    private static double sum(AbstractHistogram times) {
        return times.getMean() * times.getTotalCount();
    }

    public long failedTotal() {
        return failed.values().stream().mapToLong(Long::longValue).sum();
    }
}
