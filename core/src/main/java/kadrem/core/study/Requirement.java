package kadrem.core.study;

/**
 * A limit that a candidate must meet: a figure must not be above it, or not below it where higher is better.
 *
 * @param limit in the metric's own unit: nanoseconds, calls a second, a share, CPU-milliseconds or bytes
 */
public record Requirement(Metric metric, double limit) {
    /** Whether a figure meets the limit. */
    public boolean isMetBy(double figure) {
        return metric.higherIsBetter() ? figure >= limit : figure <= limit;
    }
}
