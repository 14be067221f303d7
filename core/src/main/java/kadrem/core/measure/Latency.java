package kadrem.core.measure;

import org.HdrHistogram.AbstractHistogram;
import org.HdrHistogram.Histogram;
import org.HdrHistogram.IntCountsHistogram;

/** The histograms of this project: nanoseconds, three significant digits down to 1 µs, 1 ns to 1 h. */
public final class Latency {
    public static final long MIN_NANOS = 1;
    public static final long MAX_NANOS = 3_600_000_000_000L;
    private static final int DIGITS = 3;

    private Latency() {
    }

    /** A histogram for one second. */
    public static IntCountsHistogram forOneSecond() {
        return new IntCountsHistogram(MIN_NANOS, MAX_NANOS, DIGITS);
    }

    /** A histogram for a whole run. */
    public static Histogram forRun() {
        return new Histogram(MIN_NANOS, MAX_NANOS, DIGITS);
    }

    /** A histogram for a whole run that is looked at: it takes as much room as its largest value asks for. */
    public static Histogram growing() {
        var histogram = new Histogram(MIN_NANOS, 2 * MIN_NANOS, DIGITS);
        histogram.setAutoResize(true);
        return histogram;
    }

    /** Records {@code nanos}, brought into the range. Allocates nothing. */
    public static void record(AbstractHistogram histogram, long nanos) {
        histogram.recordValue(Math.clamp(nanos, 0, MAX_NANOS));
    }
}
