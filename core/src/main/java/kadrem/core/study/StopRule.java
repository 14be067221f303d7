package kadrem.core.study;

import java.time.Duration;
import java.util.Set;

/**
 * A limit that ends a run when it is broken for some time without a break.
 *
 * @param metric one of {@link #METRICS}, of single seconds
 * @param limit in the metric's own unit: nanoseconds, or a share
 * @param endsCampaign whether no further run is made after it
 */
public record StopRule(Metric metric, double limit, Duration longFor, boolean endsCampaign) {
    /** What a single second has a figure of. */
    public static final Set<Metric> METRICS = Set.of(Metric.P50, Metric.P95, Metric.P99, Metric.ERROR_SHARE);

    /** Such as "p95 response time over 2 s for 20 s". */
    public String words() {
        return metric.label() + " over " + Written.value(metric.unit(), limit) + " for " + longFor.toSeconds() + " s";
    }
}
