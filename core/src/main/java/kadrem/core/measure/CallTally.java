package kadrem.core.measure;

import java.util.Map;
import java.util.TreeMap;

import org.HdrHistogram.IntCountsHistogram;
import org.jspecify.annotations.Nullable;

/**
 * Counts and latencies of one call, of one phase, in one second. Mutable and confined: a lane fills it, hands it over,
 * and does not touch it again until it comes back cleared.
 */
public final class CallTally {
    /** Response and service times of good calls; failures are counted, not timed. */
    public final IntCountsHistogram response = Latency.forOneSecond();
    public final IntCountsHistogram service = Latency.forOneSecond();
    public final long[] failed = new long[FailureKind.values().length];
    /** Failures by the word of the status with which they were answered, such as 503 or NOT_FOUND. */
    public final Map<String, Long> statuses = new TreeMap<>();
    /** Parts of answers that come in parts. */
    public long parts;
    private @Nullable IntCountsHistogram first;
    private @Nullable IntCountsHistogram gap;
    /** Sum of the response times of good calls, in nanoseconds. */
    public long responseSum;
    public long sent;
    public long good;
    public long bytesOut;
    public long bytesIn;

    /** From the instant a call was sent to the first part of its answer; made when it is first asked for. */
    public IntCountsHistogram first() {
        IntCountsHistogram known = first;
        if (known == null) {
            known = Latency.forOneSecond();
            first = known;
        }
        return known;
    }

    /** From one part of an answer to the next; made when it is first asked for. */
    public IntCountsHistogram gap() {
        IntCountsHistogram known = gap;
        if (known == null) {
            known = Latency.forOneSecond();
            gap = known;
        }
        return known;
    }

    /** Most words of statuses that are told apart in a second; the others are counted by kind alone. */
    private static final int MOST_STATUSES = 100;

    /** Counts a failure that was answered with a status. */
    public void failedWith(String word) {
        if (!word.isEmpty() && (statuses.containsKey(word) || statuses.size() < MOST_STATUSES)) {
            statuses.merge(word, 1L, Long::sum);
        }
    }

    public boolean isEmpty() {
        return sent == 0 && good == 0 && bytesIn == 0 && bytesOut == 0 && parts == 0 && failedTotal() == 0;
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
        other.statuses.forEach((word, count) -> statuses.merge(word, count, Long::sum));
        if (other.parts > 0) {
            parts += other.parts;
            first().add(other.first());
            gap().add(other.gap());
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
        statuses.clear();
        if (parts > 0) {
            parts = 0;
            first().reset();
            gap().reset();
        }
        responseSum = 0;
        sent = 0;
        good = 0;
        bytesOut = 0;
        bytesIn = 0;
    }
}
