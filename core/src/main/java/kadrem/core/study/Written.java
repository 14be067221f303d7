package kadrem.core.study;

import java.time.Duration;
import java.util.Locale;

/** Figures as they are written everywhere: three significant digits and the unit. */
public final class Written {
    /** Of a percentile above all calls that got a good answer, and of any other value that a run without end would have. */
    public static final String NOT_REACHED = "not reached";

    private Written() {
    }

    /** "12.4 ms", "1.83 s", "41,200/s", "0.12 %", "312 MiB": three significant digits and the unit. */
    public static String value(Metric.Unit unit, double value) {
        if (Double.isInfinite(value)) {
            return NOT_REACHED;
        }
        return switch (unit) {
            case NANOSECONDS -> duration(value);
            case PER_SECOND -> significant(value) + "/s";
            case SHARE -> significant(value * 100) + " %";
            case CPU_MILLISECONDS -> significant(value) + " ms";
            case BYTES -> bytes(value);
        };
    }

    /** How long people wait: "12 s", "4 min 10 s", "2 h 46 min". */
    public static String time(Duration duration) {
        long seconds = Math.max(0, Math.round(duration.toMillis() / 1000.0));
        if (seconds < 60) {
            return seconds + " s";
        }
        return seconds < 3600
                ? seconds / 60 + " min " + seconds % 60 + " s"
                : seconds / 3600 + " h " + seconds % 3600 / 60 + " min";
    }

    /** A duration given in nanoseconds, in the unit that suits it. */
    public static String duration(double nanos) {
        if (nanos >= Long.MAX_VALUE) {
            return NOT_REACHED;
        }
        if (nanos < 999.5) {
            return significant(nanos) + " ns";
        }
        if (nanos < 999.5e3) {
            return significant(nanos / 1e3) + " µs";
        }
        return nanos < 999.5e6 ? significant(nanos / 1e6) + " ms" : significant(nanos / 1e9) + " s";
    }

    public static String bytes(double bytes) {
        if (bytes < 1024) {
            return significant(bytes) + " B";
        }
        if (bytes < 1024 * 1024) {
            return significant(bytes / 1024) + " KiB";
        }
        return bytes < 1024.0 * 1024 * 1024
                ? significant(bytes / 1024 / 1024) + " MiB"
                : significant(bytes / 1024 / 1024 / 1024) + " GiB";
    }

    /** A value in a unit as host series have it: "312 MiB", "1.2 MiB/s", "97.1 % of a core", "12 threads". */
    public static String quantity(double value, String unit) {
        return switch (unit) {
            case "bytes" -> bytes(value);
            case "bytes/s" -> bytes(value) + "/s";
            case "" -> significant(value);
            default -> significant(value) + (unit.startsWith("/") ? "" : " ") + unit;
        };
    }

    /** Three significant digits, thousands grouped, no exponent; small whole numbers as they are. */
    public static String significant(double value) {
        if (value == Math.rint(value) && Math.abs(value) < 1000) {
            return Long.toString((long) value);
        }
        int magnitude = (int) Math.floor(Math.log10(Math.abs(value)));
        double step = Math.pow(10, magnitude - 2);
        double rounded = Math.round(value / step) * step;
        int decimals = Math.clamp(2 - (int) Math.floor(Math.log10(Math.abs(rounded)) + 1e-12), 0, 9);
        return String.format(Locale.ROOT, "%,." + decimals + "f", rounded);
    }

    /** A confidence or a share: "95 %", "98.4 %"; what is not all is never written as 100 %. */
    public static String share(double share) {
        if (share >= 0.9995 && share < 1) {
            return "over 99.9 %";
        }
        return String.format(Locale.ROOT, share * 100 == Math.rint(share * 100) ? "%.0f %%" : "%.1f %%", share * 100);
    }
}
