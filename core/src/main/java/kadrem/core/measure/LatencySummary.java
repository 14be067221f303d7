package kadrem.core.measure;

import org.HdrHistogram.AbstractHistogram;

/**
 * Mean, percentiles and maximum of times in nanoseconds; all zero where there are none.
 * <p>
 * Calls that were due and got no good answer took longer than any time that was measured: a percentile that would be one of theirs
 * is {@link #NEVER}, which is worse than any number (censored times: Kaplan, Meier: Nonparametric estimation from incomplete
 * observations, JASA 53, 1958).
 *
 * @param count times that were measured
 * @param lacking calls that have none, and lie above all times
 * @param mean with the lacking calls at the bound that they were given, so that it is the mean of times restricted to it
 * @param max of the times that were measured
 */
public record LatencySummary(long count, double mean, long p50, long p90, long p95, long p99, long p999, long max,
        long lacking) {
    /** The percentile that was not reached. */
    public static final long NEVER = Long.MAX_VALUE;
    public static final LatencySummary EMPTY = new LatencySummary(0, 0, 0, 0, 0, 0, 0, 0);

    /** Times of which none is lacking. */
    public LatencySummary(long count, double mean, long p50, long p90, long p95, long p99, long p999, long max) {
        this(count, mean, p50, p90, p95, p99, p999, max, 0);
    }

    /** Of times of which none is lacking. */
    public static LatencySummary of(AbstractHistogram histogram) {
        return of(histogram, 0, 0);
    }

    /**
     * Of times, and of calls that have none.
     *
     * @param boundNanos what a lacking call counts for in the mean, at the least
     */
    public static LatencySummary of(AbstractHistogram histogram, long lacking, long boundNanos) {
        long count = histogram.getTotalCount();
        if (count + lacking == 0) {
            return EMPTY;
        }
        long max = count == 0 ? 0 : histogram.getMaxValue();
        double sum = count == 0 ? 0 : histogram.getMean() * count;
        double mean = (sum + (double) lacking * Math.max(boundNanos, max)) / (count + lacking);
        return new LatencySummary(count, mean, at(histogram, lacking, 0.5), at(histogram, lacking, 0.9),
                at(histogram, lacking, 0.95), at(histogram, lacking, 0.99), at(histogram, lacking, 0.999), max,
                lacking);
    }

    /** The value below which a share of all calls lies; {@link #NEVER} where that is one of a call without a time. */
    public static long at(AbstractHistogram histogram, long lacking, double share) {
        long count = histogram.getTotalCount();
        if (lacking == 0) {
            return histogram.getValueAtPercentile(share * 100);
        }
        double rank = Math.max(1, Math.ceil(share * (count + lacking) - 1e-9));
        // half a rank less, so that rounding does not lead to the next value
        return rank > count ? NEVER : histogram.getValueAtPercentile((rank - 0.5) / count * 100);
    }

    /** Number of calls above the percentile {@code p} (0 to 1), its tail support. */
    public long tailSupport(double p) {
        return (long) Math.floor((count + lacking) * (1 - p) + 1e-9);
    }

    /** A percentile in milliseconds, for a figure: without end where it was not reached. */
    public static double millis(long nanos) {
        return comparable(nanos) / 1e6;
    }

    /** A percentile as a value by which runs are compared: without end where it was not reached. */
    public static double comparable(long nanos) {
        return nanos == NEVER ? Double.POSITIVE_INFINITY : nanos;
    }
}
