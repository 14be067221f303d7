package kadrem.core.measure;

import java.util.Arrays;

import org.HdrHistogram.AbstractHistogram;
import org.HdrHistogram.HistogramIterationValue;

/**
 * How many times were no longer than which, by borders of three significant digits: enough to say of any limit that is written so how
 * many calls kept to it. Immutable.
 */
public final class Distribution {
    /** Nothing was measured, or only percentiles of it are known. */
    public static final Distribution UNKNOWN = new Distribution(new long[0], new long[0]);
    private static final int BORDERS_OF_A_DECADE = 1000;

    private final long[] borders;
    private final long[] counts;

    private Distribution(long[] borders, long[] counts) {
        this.borders = borders;
        this.counts = counts;
    }

    /**
     * From what was kept.
     *
     * @param borders in nanoseconds, rising
     * @param counts times between each border and the one before it
     * @throws IllegalArgumentException if they are not of one length or do not rise
     */
    public static Distribution of(long[] borders, long[] counts) {
        boolean rises = borders.length == counts.length;
        for (int i = 1; rises && i < borders.length; i++) {
            rises = borders[i] > borders[i - 1];
        }
        if (!rises) {
            throw new IllegalArgumentException("borders of a distribution must rise, with a count for each");
        }
        return new Distribution(borders.clone(), counts.clone());
    }

    public static Distribution of(AbstractHistogram histogram) {
        var borders = new long[64];
        var counts = new long[64];
        int used = 0;
        for (HistogramIterationValue value : histogram.recordedValues()) {
            // the middle of what the histogram cannot tell apart
            long border = border(histogram.medianEquivalentValue(value.getValueIteratedTo()));
            if (used > 0 && borders[used - 1] == border) {
                counts[used - 1] += value.getCountAddedInThisIterationStep();
                continue;
            }
            if (used == borders.length) {
                borders = Arrays.copyOf(borders, 2 * used);
                counts = Arrays.copyOf(counts, 2 * used);
            }
            borders[used] = border;
            counts[used++] = value.getCountAddedInThisIterationStep();
        }
        return new Distribution(Arrays.copyOf(borders, used), Arrays.copyOf(counts, used));
    }

    /** The smallest number of three digits that is no less. */
    private static long border(long nanos) {
        long step = 1;
        while (nanos / step >= BORDERS_OF_A_DECADE) {
            step *= 10;
        }
        return (nanos + step - 1) / step * step;
    }

    public boolean isKnown() {
        return borders.length > 0;
    }

    /** Times that were no longer than a limit; those of the border that the limit lies before are taken for longer. */
    public long within(double limitNanos) {
        long sum = 0;
        for (int i = 0; i < borders.length && borders[i] <= limitNanos * (1 + 1e-12); i++) {
            sum += counts[i];
        }
        return sum;
    }

    public long[] borders() {
        return borders.clone();
    }

    public long[] counts() {
        return counts.clone();
    }

    @Override
    public boolean equals(Object other) {
        return other instanceof Distribution one && Arrays.equals(borders, one.borders)
                && Arrays.equals(counts, one.counts);
    }

    @Override
    public int hashCode() {
        return 31 * Arrays.hashCode(borders) + Arrays.hashCode(counts);
    }

    @Override
    public String toString() {
        return borders.length + " borders";
    }
}
