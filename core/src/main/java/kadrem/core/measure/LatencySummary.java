package kadrem.core.measure;

import org.HdrHistogram.AbstractHistogram;

/** Mean, percentiles and maximum of a histogram in nanoseconds; all zero for an empty one. */
public record LatencySummary(long count, double mean, long p50, long p90, long p95, long p99, long p999, long max) {
    public static final LatencySummary EMPTY = new LatencySummary(0, 0, 0, 0, 0, 0, 0, 0);

    public static LatencySummary of(AbstractHistogram histogram) {
        if (histogram.getTotalCount() == 0) {
            return EMPTY;
        }
        return new LatencySummary(histogram.getTotalCount(), histogram.getMean(), histogram.getValueAtPercentile(50),
                histogram.getValueAtPercentile(90), histogram.getValueAtPercentile(95),
                histogram.getValueAtPercentile(99), histogram.getValueAtPercentile(99.9), histogram.getMaxValue());
    }

    /** Number of samples above the percentile {@code p} (0 to 1), its tail support. */
    public long tailSupport(double p) {
        return (long) Math.floor(count * (1 - p) + 1e-9);
    }
}
