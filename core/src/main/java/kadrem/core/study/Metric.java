package kadrem.core.study;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.OptionalDouble;

/**
 * A figure of a run by which candidates are compared: of all calls, or of one crowd or call.
 *
 * @param of name of the crowd or the call; empty for all
 */
public record Metric(Kind kind, String of) implements Comparable<Metric> {
    public static final Metric P50 = new Metric(Kind.P50, "");
    public static final Metric P95 = new Metric(Kind.P95, "");
    public static final Metric P99 = new Metric(Kind.P99, "");
    public static final Metric MEAN = new Metric(Kind.MEAN, "");
    public static final Metric THROUGHPUT = new Metric(Kind.THROUGHPUT, "");
    public static final Metric ERROR_SHARE = new Metric(Kind.ERROR_SHARE, "");
    public static final Metric CPU_PER_THOUSAND = new Metric(Kind.CPU_PER_THOUSAND, "");
    public static final Metric PEAK_MEMORY = new Metric(Kind.PEAK_MEMORY, "");

    private static final String OF = " of ";
    private static final List<Metric> ALL = Arrays.stream(Kind.values()).map(kind -> new Metric(kind, "")).toList();

    /** What is measured. */
    public enum Kind {
        P50("p50", "median response time", Unit.NANOSECONDS, false, Scale.RATIO), P95("p95", "p95 response time",
                Unit.NANOSECONDS, false, Scale.RATIO), P99("p99", "p99 response time", Unit.NANOSECONDS, false,
                        Scale.RATIO), MEAN("mean", "mean response time", Unit.NANOSECONDS, false,
                                Scale.RATIO), THROUGHPUT(
                                        "throughput", "throughput", Unit.PER_SECOND, true,
                                        Scale.RATIO), ERROR_SHARE("error-share",
                                                "error share", Unit.SHARE, false,
                                                Scale.DIFFERENCE), CPU_PER_THOUSAND("cpu-per-1000",
                                                        "CPU per 1,000 good calls",
                                                        Unit.CPU_MILLISECONDS, false,
                                                        Scale.RATIO), PEAK_MEMORY("peak-memory",
                                                                "peak memory", Unit.BYTES, false, Scale.RATIO);

        private final String id;
        private final String label;
        private final Unit unit;
        private final boolean higherIsBetter;
        private final Scale scale;

        Kind(String id, String label, Unit unit, boolean higherIsBetter, Scale scale) {
            this.id = id;
            this.label = label;
            this.unit = unit;
            this.higherIsBetter = higherIsBetter;
            this.scale = scale;
        }

        /** Whether it can be told of one crowd or call, and not only of the candidate as a whole. */
        public boolean hasParts() {
            return this != CPU_PER_THOUSAND && this != PEAK_MEMORY;
        }
    }

    /** How a value of a metric is to be read. */
    public enum Unit {
        NANOSECONDS, PER_SECOND, SHARE, CPU_MILLISECONDS, BYTES
    }

    /** Those of all calls. */
    public static List<Metric> all() {
        return ALL;
    }

    /** Those that can be told of one crowd or call. */
    public static List<Metric> parts(String part) {
        return ALL.stream().filter(metric -> metric.kind.hasParts()).map(metric -> metric.of(part)).toList();
    }

    /** The same of one crowd or call. */
    public Metric of(String part) {
        return new Metric(kind, part);
    }

    /** The word used in files and on the command line, such as {@code p99} or {@code p99 of readers}. */
    public String id() {
        return kind.id + (of.isEmpty() ? "" : OF + of);
    }

    /** The words used in sentences and headings. */
    public String label() {
        return kind.label + (of.isEmpty() ? "" : " (" + of + ")");
    }

    public Unit unit() {
        return kind.unit;
    }

    public boolean higherIsBetter() {
        return kind.higherIsBetter;
    }

    /** How two values of it are set against each other. */
    public Scale scale() {
        return kind.scale;
    }

    /** The margin of a study that gives none: 5 % of a ratio, 0.1 points of a share. */
    public Margin usualMargin() {
        return margin(kind.scale == Scale.RATIO ? 0.05 : 0.001);
    }

    /** A margin of that size. */
    public Margin margin(double size) {
        return new Margin(kind.scale, size);
    }

    /** Worse than any value that is measured, or as bad as one can be. */
    public double worst() {
        return kind == Kind.ERROR_SHARE ? 1 : kind.higherIsBetter ? 0 : Double.POSITIVE_INFINITY;
    }

    /** The share of calls that a percentile leaves above it; empty for other metrics. */
    public OptionalDouble above() {
        return switch (kind) {
            case P50 -> OptionalDouble.of(0.5);
            case P95 -> OptionalDouble.of(0.05);
            case P99 -> OptionalDouble.of(0.01);
            case MEAN, THROUGHPUT, ERROR_SHARE, CPU_PER_THOUSAND, PEAK_MEMORY -> OptionalDouble.empty();
        };
    }

    /** By its word in files; of a crowd or a call where that stands behind it. */
    public static Optional<Metric> byId(String id) {
        int at = id.indexOf(OF);
        String word = at < 0 ? id : id.substring(0, at);
        String part = at < 0 ? "" : id.substring(at + OF.length());
        return ALL.stream().filter(metric -> metric.id().equals(word)).findFirst().map(metric -> metric.of(part))
                .filter(metric -> part.isEmpty() || metric.kind.hasParts());
    }

    /** In the order of the kinds, those of all calls first. */
    @Override
    public int compareTo(Metric other) {
        int byPart = of.compareTo(other.of);
        return byPart != 0 ? byPart : kind.compareTo(other.kind);
    }
}
