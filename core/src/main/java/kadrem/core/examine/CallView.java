package kadrem.core.examine;

import java.util.EnumMap;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;

import kadrem.core.measure.FailureKind;
import kadrem.core.measure.Latency;
import kadrem.core.measure.LatencySummary;
import kadrem.core.measure.LookedInto;
import kadrem.core.measure.SecondSummary;
import kadrem.core.stats.BinomialIntervals;
import kadrem.core.stats.Interval;
import kadrem.core.stats.PercentileInterval;
import org.HdrHistogram.Histogram;

/** One call of a run, or all of them, over the time that is looked at; only what was due in the measured part. */
public final class CallView {
    /** Samples above a percentile below which it is marked as weak. Common practice, no source. */
    public static final long WEAK_TAIL = 50;
    /** Samples above a percentile below which it is not shown as a number. Common practice, no source. */
    public static final long MIN_TAIL = 10;

    /** Of the intervals within a run. */
    public static final double CONFIDENCE = 0.95;

    private final String name;
    private final Map<FailureKind, Long> failed = new EnumMap<>(FailureKind.class);
    private final Histogram response = Latency.growing();
    private final Histogram raw = Latency.growing();
    private final Histogram service = Latency.growing();
    private final Histogram late = Latency.growing();
    private final Histogram first = Latency.growing();
    private final Histogram gap = Latency.growing();
    private final Map<String, Long> statuses = new TreeMap<>();
    private long parts;
    private long sent;
    private long good;
    private long bytesOut;
    private long bytesIn;
    private long answeredBytes;
    private long inPieces;
    private final LookedInto lookedInto = new LookedInto();

    CallView(String name) {
        this.name = name;
    }

    void add(Counts counts) {
        sent += counts.sent();
        good += counts.good();
        bytesOut += counts.bytesOut();
        bytesIn += counts.bytesIn();
        parts += counts.parts();
        answeredBytes += counts.traits().answeredBytes();
        inPieces += counts.traits().inPieces();
        lookedInto.add(counts.traits().lookedInto());
        counts.failed().forEach((kind, count) -> failed.merge(kind, count, Long::sum));
        counts.statuses().forEach((word, count) -> statuses.merge(word, count, Long::sum));
    }

    void add(CallView other) {
        add(new Counts(other.sent, other.good, other.failed, other.bytesOut, other.bytesIn, other.parts,
                other.statuses, new Traits(other.answeredBytes, other.inPieces, other.lookedInto)));
        response.add(other.response);
        raw.add(other.raw);
        service.add(other.service);
        late.add(other.late);
        first.add(other.first);
        gap.add(other.gap);
    }

    /**
     * What a second of a call came to.
     *
     * @param parts parts of answers that come in parts
     * @param statuses failures by the word of the status with which they were answered
     * @param traits what answers were like
     */
    public record Counts(long sent, long good, Map<FailureKind, Long> failed, long bytesOut, long bytesIn, long parts,
            Map<String, Long> statuses, Traits traits) {
        /** Of answers that come whole. */
        public Counts(long sent, long good, Map<FailureKind, Long> failed, long bytesOut, long bytesIn) {
            this(sent, good, failed, bytesOut, bytesIn, 0, Map.of(), Traits.NONE);
        }

        /** The same as if the calls that failed in some ways had not been made; their bytes are not told apart. */
        Counts without(Set<FailureKind> kinds) {
            if (kinds.isEmpty()) {
                return this;
            }
            var rest = new EnumMap<FailureKind, Long>(FailureKind.class);
            rest.putAll(failed);
            rest.keySet().removeAll(kinds);
            long left = kinds.stream().mapToLong(kind -> failed.getOrDefault(kind, 0L)).sum();
            return new Counts(sent - left, good, rest, bytesOut, bytesIn, parts,
                    kinds.contains(FailureKind.UNEXPECTED_STATUS) ? Map.of() : statuses, traits);
        }

        /** Whole answers, good or later than they should be. */
        long answered() {
            return good + failed.getOrDefault(FailureKind.TOO_LATE, 0L);
        }
    }

    /**
     * What answers were like, where the run tells.
     *
     * @param answeredBytes bytes of whole answers
     * @param inPieces small answers that came in pieces with about 40 ms between two of them
     * @param lookedInto not to be changed
     */
    public record Traits(long answeredBytes, long inPieces, LookedInto lookedInto) {
        public static final Traits NONE = new Traits(0, 0, new LookedInto());
    }

    public Traits traits() {
        return new Traits(answeredBytes, inPieces, lookedInto);
    }

    /** Whole answers, good or later than they should be. */
    public long answered() {
        return good + failed.getOrDefault(FailureKind.TOO_LATE, 0L);
    }

    public String name() {
        return name;
    }

    public long sent() {
        return sent;
    }

    public long good() {
        return good;
    }

    /** Failures by kind; kinds that did not occur may be missing. */
    public Map<FailureKind, Long> failed() {
        return failed;
    }

    public long failedTotal() {
        return failed.values().stream().mapToLong(Long::longValue).sum();
    }

    public long bytesOut() {
        return bytesOut;
    }

    public long bytesIn() {
        return bytesIn;
    }

    /** Response times as they were, the generator's part in them, in nanoseconds; not to be changed. Empty for runs from before. */
    public Histogram raw() {
        return raw;
    }

    /** The generator's part of the response times, in nanoseconds; not to be changed. Empty for runs from before. */
    public Histogram late() {
        return late;
    }

    /** Response times in nanoseconds, without the generator's part; not to be changed. */
    public Histogram response() {
        return response;
    }

    /** Parts of answers that come in parts: rows are counted as one, messages of streams and events each. */
    public long parts() {
        return parts;
    }

    /** From sending a call to the first part of its answer, in nanoseconds; not to be changed. */
    public Histogram first() {
        return first;
    }

    /** From one part of an answer to the next, in nanoseconds; not to be changed. */
    public Histogram gap() {
        return gap;
    }

    /** Failures by the word of the status with which they were answered, such as 503 or NOT_FOUND. */
    public Map<String, Long> statuses() {
        return statuses;
    }

    /** Service times in nanoseconds; not to be changed. */
    public Histogram service() {
        return service;
    }

    /**
     * Whether fewer than {@value #WEAK_TAIL} samples lie above a percentile.
     *
     * @param percentile 0 to 100
     */
    public boolean isWeak(double percentile) {
        return tail(percentile) < WEAK_TAIL - 1e-6;
    }

    /**
     * Whether at least {@value #MIN_TAIL} samples lie above a percentile.
     *
     * @param percentile 0 to 100
     */
    public boolean isShown(double percentile) {
        return tail(percentile) >= MIN_TAIL - 1e-6;
    }

    /**
     * The interval of a percentile of the response times, in nanoseconds: of this run alone, as if its calls were independent.
     * Between runs the scatter is larger, which only rounds show.
     *
     * @param percentile 0 to 100
     * @return empty where there are too few samples for one
     */
    public Optional<Interval> percentileInterval(double percentile) {
        return PercentileInterval.of(ranked(), percentile / 100, CONFIDENCE)
                .filter(ranks -> ranks.high() <= response.getTotalCount())
                .map(ranks -> new Interval(atRank(ranks.low()), atRank(ranks.high()), ranks.achievedConfidence()));
    }

    private double atRank(long rank) {
        return response.getValueAtPercentile(100.0 * rank / response.getTotalCount());
    }

    /** Calls that were due: those that were never sent, or not made since an earlier call failed, are among them. */
    public long due() {
        return good + failedTotal();
    }

    /** Wilson's interval of the share that failed, 0 to 1; empty where nothing was due. */
    public Optional<Interval> failedShare() {
        return due() == 0
                ? Optional.empty()
                : Optional.of(BinomialIntervals.wilson(failedTotal(), due(), CONFIDENCE));
    }

    /** Calls without a time, which took longer than all that have one. */
    private long lacking() {
        return SecondSummary.lacking(failed);
    }

    /**
     * A percentile of the response times, in nanoseconds; {@link LatencySummary#NEVER} where it is one of a call without a good answer.
     *
     * @param percentile 0 to 100
     */
    public long percentile(double percentile) {
        return LatencySummary.at(response, lacking(), percentile / 100);
    }

    /** Calls that percentiles are of: those that have a time, and those that lie above all times. */
    public long ranked() {
        return response.getTotalCount() + lacking();
    }

    private double tail(double percentile) {
        return ranked() * (1 - percentile / 100);
    }
}
