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
    private @Nullable Times times;
    public final long[] failed = new long[FailureKind.values().length];
    /** Failures by the word of the status with which they were answered, such as 503 or NOT_FOUND. */
    public final Map<String, Long> statuses = new TreeMap<>();
    /** Parts of answers that come in parts. */
    public long parts;
    private @Nullable IntCountsHistogram first;
    private @Nullable IntCountsHistogram gap;
    /** Sum of the response times of answered calls with their late parts taken away, in nanoseconds. */
    public long responseSum;
    public long sent;
    public long good;
    public long bytesOut;
    public long bytesIn;
    /** Bytes of whole answers, good or later than they should be. */
    public long answeredBytes;
    /** Small answers that came in pieces with about 40 ms between two of them. */
    public long inPieces;
    /** What was seen of answers that were looked into. */
    public final LookedInto lookedInto = new LookedInto();

    /** Times of answered calls, good or later than they should be; made when the first is recorded. */
    private static final class Times {
        private final IntCountsHistogram response = Latency.forOneSecond();
        private final IntCountsHistogram raw = Latency.forOneSecond();
        private final IntCountsHistogram service = Latency.forOneSecond();
        private final IntCountsHistogram late = Latency.forOneSecond();
    }

    private Times times() {
        Times known = times;
        if (known == null) {
            known = new Times();
            times = known;
        }
        return known;
    }

    /**
     * Records an answer. Allocates nothing after the first.
     *
     * @param rawNanos from the instant it was due to its last byte, as it was
     * @param lateNanos how much of that is the generator's own
     * @param serviceNanos from the instant it was sent, without what the generator was late to read
     */
    public void answered(long rawNanos, long lateNanos, long serviceNanos) {
        Times all = times();
        Latency.record(all.response, rawNanos - lateNanos);
        Latency.record(all.raw, rawNanos);
        Latency.record(all.service, serviceNanos);
        Latency.record(all.late, lateNanos);
        responseSum += rawNanos - lateNanos;
    }

    /** Response times with their late parts taken away. */
    public IntCountsHistogram response() {
        return times().response;
    }

    /** Response times as they were. */
    public IntCountsHistogram raw() {
        return times().raw;
    }

    /** From the instant a call was sent to the last byte of its answer. */
    public IntCountsHistogram service() {
        return times().service;
    }

    /** The late parts: the generator's own, of answered calls. */
    public IntCountsHistogram late() {
        return times().late;
    }

    /** Whether an answer was recorded. */
    public boolean hasTimes() {
        Times known = times;
        return known != null && known.response.getTotalCount() > 0;
    }

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
    private static final int MAX_STATUSES = 100;

    /** Counts a failure that was answered with a status. */
    public void failedWith(String word) {
        if (!word.isEmpty() && (statuses.containsKey(word) || statuses.size() < MAX_STATUSES)) {
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
        if (other.hasTimes()) {
            response().add(other.response());
            raw().add(other.raw());
            service().add(other.service());
            late().add(other.late());
        }
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
        answeredBytes += other.answeredBytes;
        inPieces += other.inPieces;
        lookedInto.add(other.lookedInto);
        sent += other.sent;
        good += other.good;
        bytesOut += other.bytesOut;
        bytesIn += other.bytesIn;
    }

    void clear() {
        if (isEmpty()) {
            return;
        }
        if (hasTimes()) {
            response().reset();
            raw().reset();
            service().reset();
            late().reset();
        }
        java.util.Arrays.fill(failed, 0);
        statuses.clear();
        if (parts > 0) {
            parts = 0;
            first().reset();
            gap().reset();
        }
        responseSum = 0;
        answeredBytes = 0;
        inPieces = 0;
        lookedInto.clear();
        sent = 0;
        good = 0;
        bytesOut = 0;
        bytesIn = 0;
    }
}
