package kadrem.core.examine;

import java.util.ArrayList;
import java.util.List;

import kadrem.core.measure.Recorded;
import org.HdrHistogram.AbstractHistogram;

/**
 * How many calls took how long, second by second: counts in bins of one second and of equal width on a logarithmic axis of
 * response time, from 1 µs to 1000 s.
 */
public final class Density {
    public static final int BINS_PER_DECADE = 12;
    private static final double MIN_NANOS = 1e3;
    private static final int BINS = 9 * BINS_PER_DECADE;

    private final List<long[]> seconds = new ArrayList<>();

    void add(int second, AbstractHistogram histogram) {
        while (seconds.size() <= second) {
            seconds.add(new long[BINS]);
        }
        long[] row = seconds.get(second);
        Recorded.of(histogram).forEach((value, count) -> row[bin(value)] += count);
    }

    private static int bin(double nanos) {
        int bin = (int) Math.floor(Math.log10(Math.max(nanos, MIN_NANOS) / MIN_NANOS) * BINS_PER_DECADE);
        return Math.min(bin, BINS - 1);
    }

    /** Number of seconds, empty ones among them. */
    public int seconds() {
        return seconds.size();
    }

    /** Number of bins of response time. */
    public static int bins() {
        return BINS;
    }

    /** Lower edge of a bin in nanoseconds. */
    public static double edge(int bin) {
        return MIN_NANOS * Math.pow(10, (double) bin / BINS_PER_DECADE);
    }

    /** First bin with a call in it, and the one behind the last; the same number where there is none. */
    public int[] filled() {
        int first = BINS;
        int behind = 0;
        for (long[] row : seconds) {
            for (int bin = 0; bin < BINS; bin++) {
                if (row[bin] > 0) {
                    first = Math.min(first, bin);
                    behind = Math.max(behind, bin + 1);
                }
            }
        }
        return new int[]{Math.min(first, behind), behind};
    }

    /** Calls of a second whose response time lies in a bin. */
    public long count(int second, int bin) {
        return seconds.get(second)[bin];
    }
}
