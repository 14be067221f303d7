package kadrem.core.study.grammar;

import java.math.BigDecimal;
import java.time.Duration;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Durations as people write them: 250ms, 5s, 1.5s, 2min, 1h. */
public final class Durations {
    private static final Pattern WRITTEN = Pattern.compile("(\\d{1,12}(?:\\.\\d{1,9})?)\\s*(ns|us|ms|s|min|h)");
    private static final Map<String, Long> NANOS = Map.of("ns", 1L, "us", 1_000L, "ms", 1_000_000L, "s",
            1_000_000_000L, "min", 60_000_000_000L, "h", 3_600_000_000_000L);

    private Durations() {
    }

    /** The duration that {@code text} means; empty where it is none. */
    public static Optional<Duration> parse(String text) {
        Matcher matcher = WRITTEN.matcher(text.strip());
        if (!matcher.matches()) {
            return Optional.empty();
        }
        BigDecimal nanos = new BigDecimal(matcher.group(1)).multiply(BigDecimal.valueOf(nanos(matcher.group(2))));
        return nanos.compareTo(BigDecimal.valueOf(Long.MAX_VALUE)) > 0
                ? Optional.empty()
                : Optional.of(Duration.ofNanos(nanos.longValue()));
    }

    /** The shortest way to write {@code duration} that {@link #parse} reads back to the same. */
    public static String write(Duration duration) {
        long nanos = duration.toNanos();
        for (String unit : new String[]{"h", "min", "s", "ms", "us"}) {
            if (nanos != 0 && nanos % nanos(unit) == 0) {
                return nanos / nanos(unit) + unit;
            }
        }
        return nanos == 0 ? "0s" : nanos + "ns";
    }

    private static long nanos(String unit) {
        return NANOS.getOrDefault(unit, 1L);
    }
}
