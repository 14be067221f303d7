package kadrem.core.measure;

import org.HdrHistogram.IntCountsHistogram;

/**
 * Counts and latencies of one call, of one phase, in one second. Mutable and confined: a lane fills it, hands it over,
 * and does not touch it again until it comes back cleared.
 */
public final class CallTally {
    /** Response and service times of good calls; failures are counted, not timed. */
    public final IntCountsHistogram response = Latency.forOneSecond();
    public final IntCountsHistogram service = Latency.forOneSecond();
    public final long[] failed = new long[FailureKind.values().length];
    /** Sum of the response times of good calls, in nanoseconds. */
    public long responseSum;
    public long sent;
    public long good;
    public long bytesOut;
    public long bytesIn;

    public boolean isEmpty() {
        return sent == 0 && good == 0 && bytesIn == 0 && bytesOut == 0 && failedTotal() == 0;
    }

    public long failedTotal() {
        long total = 0;
        for (long count : failed) {
            total += count;
        }
        return total;
    }

    void add(CallTally other) {
        if (other.isEmpty()) {
            return;
        }
        response.add(other.response);
        service.add(other.service);
        for (int i = 0; i < failed.length; i++) {
            failed[i] += other.failed[i];
        }
        responseSum += other.responseSum;
        sent += other.sent;
        good += other.good;
        bytesOut += other.bytesOut;
        bytesIn += other.bytesIn;
    }

    void clear() {
        if (isEmpty()) {
            return;
        }
        response.reset();
        service.reset();
        java.util.Arrays.fill(failed, 0);
        responseSum = 0;
        sent = 0;
        good = 0;
        bytesOut = 0;
        bytesIn = 0;
    }
}
