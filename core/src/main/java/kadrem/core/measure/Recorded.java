package kadrem.core.measure;

import java.util.Arrays;

import org.HdrHistogram.AbstractHistogram;
import org.HdrHistogram.Histogram;

/**
 * The values of a histogram of {@link Latency} and how often each was recorded. It is walked over once; adding what was found to others
 * takes as long as there are values, and not as long as there are places for some.
 */
public final class Recorded {
    private long[] values = new long[64];
    private long[] counts = new long[64];
    private int size;
    private double sum;
    private long total;

    private Recorded() {
    }

    public static Recorded of(AbstractHistogram histogram) {
        var found = new Recorded();
        if (histogram.getTotalCount() == 0) {
            return found;
        }
        found.takeAt(histogram, 0);
        // behind the first place and from the smallest value on: most places of a histogram in nanoseconds lie below it
        long first = histogram.nextNonEquivalentValue(0);
        long most = histogram.getMaxValue();
        for (long value = Math.max(first, histogram.getMinNonZeroValue()); value <= most; value = histogram
                .nextNonEquivalentValue(value)) {
            found.takeAt(histogram, value);
        }
        return found;
    }

    private void takeAt(AbstractHistogram histogram, long value) {
        long count = histogram.getCountAtValue(value);
        if (count > 0) {
            take(histogram.medianEquivalentValue(value), count);
        }
    }

    /** What is done with a value and how often it was recorded. */
    public interface Each {
        void value(long value, long count);
    }

    /** All values, rising, each taken for the middle of its place. */
    public void forEach(Each each) {
        for (int i = 0; i < size; i++) {
            each.value(values[i], counts[i]);
        }
    }

    private void take(long value, long count) {
        if (size == values.length) {
            values = Arrays.copyOf(values, 2 * size);
            counts = Arrays.copyOf(counts, 2 * size);
        }
        values[size] = value;
        counts[size++] = count;
        sum += (double) value * count;
        total += count;
    }

    /** Adds them to a histogram, each where the middle of its place lies. */
    public void addTo(Histogram histogram) {
        for (int i = 0; i < size; i++) {
            histogram.recordValueWithCount(values[i], counts[i]);
        }
    }

    /** Sum of all values, each taken for the middle of its place. */
    public double sum() {
        return sum;
    }

    /** How many values there are. */
    public long total() {
        return total;
    }
}
