package kadrem.core.study;

import java.util.Arrays;
import java.util.Optional;
import java.util.OptionalDouble;

/** A figure of a run by which candidates are compared. */
public enum Metric {
    P50("p50", "median response time", Unit.NANOSECONDS, false, Scale.RATIO), P95("p95", "p95 response time",
            Unit.NANOSECONDS, false, Scale.RATIO), P99("p99", "p99 response time", Unit.NANOSECONDS, false,
                    Scale.RATIO), MEAN("mean", "mean response time", Unit.NANOSECONDS, false, Scale.RATIO), THROUGHPUT(
                            "throughput", "throughput", Unit.PER_SECOND, true, Scale.RATIO), ERROR_SHARE("error-share",
                                    "error share", Unit.SHARE, false,
                                    Scale.DIFFERENCE), CPU_PER_THOUSAND("cpu-per-1000", "CPU per 1,000 good calls",
                                            Unit.CPU_MILLISECONDS, false, Scale.RATIO), PEAK_MEMORY("peak-memory",
                                                    "peak memory", Unit.BYTES, false, Scale.RATIO);

    /** How a value of a metric is to be read. */
    public enum Unit {
        NANOSECONDS, PER_SECOND, SHARE, CPU_MILLISECONDS, BYTES
    }

    private final String id;
    private final String label;
    private final Unit unit;
    private final boolean higherIsBetter;
    private final Scale scale;

    Metric(String id, String label, Unit unit, boolean higherIsBetter, Scale scale) {
        this.id = id;
        this.label = label;
        this.unit = unit;
        this.higherIsBetter = higherIsBetter;
        this.scale = scale;
    }

    /** The word used in files and on the command line. */
    public String id() {
        return id;
    }

    /** The words used in sentences and headings. */
    public String label() {
        return label;
    }

    public Unit unit() {
        return unit;
    }

    public boolean higherIsBetter() {
        return higherIsBetter;
    }

    /** How two values of it are set against each other. */
    public Scale scale() {
        return scale;
    }

    /** The margin of a study that gives none: 5 % of a ratio, 0.1 points of a share. */
    public Margin usualMargin() {
        return margin(scale == Scale.RATIO ? 0.05 : 0.001);
    }

    /** A margin of that size. */
    public Margin margin(double size) {
        return new Margin(scale, size);
    }

    /** Worse than any value that is measured, or as bad as one can be. */
    public double worst() {
        return this == ERROR_SHARE ? 1 : higherIsBetter ? 0 : Double.POSITIVE_INFINITY;
    }

    /** The share of calls that a percentile leaves above it; empty for other metrics. */
    public OptionalDouble above() {
        return switch (this) {
            case P50 -> OptionalDouble.of(0.5);
            case P95 -> OptionalDouble.of(0.05);
            case P99 -> OptionalDouble.of(0.01);
            case MEAN, THROUGHPUT, ERROR_SHARE, CPU_PER_THOUSAND, PEAK_MEMORY -> OptionalDouble.empty();
        };
    }

    public static Optional<Metric> byId(String id) {
        return Arrays.stream(values()).filter(metric -> metric.id.equals(id)).findFirst();
    }
}
