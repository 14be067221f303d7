package kadrem.files.imports.log;

import java.math.BigDecimal;
import java.math.RoundingMode;
import java.time.DateTimeException;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.OffsetDateTime;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Pattern;

/**
 * An instant as logs write it, in nanoseconds since 1970 or, where the log counts from its own beginning, since then.
 *
 * @param wholeSecond whether it is told to the second only
 */
record LogTime(long nanos, boolean wholeSecond) {
    /** As in the Common Log Format: 10/Oct/2025:13:55:36 +0200. */
    private static final DateTimeFormatter COMMON = DateTimeFormatter.ofPattern("dd/MMM/yyyy:HH:mm:ss Z",
            Locale.ENGLISH);
    private static final int COMMON_LENGTH = "10/Oct/2025:13:55:36 +0200".length();
    private static final Pattern NUMBER = Pattern.compile("\\d{1,19}(\\.\\d{1,9})?");
    private static final Pattern DATE = Pattern.compile("\\d{4}-\\d\\d-\\d\\d[T ]\\d\\d:\\d\\d:\\d\\d.*");
    private static final long SECOND = 1_000_000_000L;
    /** Numbers from here on are counted since 1970: in seconds, milliseconds, microseconds or nanoseconds, by their size. */
    private static final double EPOCH = 1e8;
    private static final int DIGITS_OF_SECONDS = 11;
    private static final int THREE = 3;

    /** Reads an instant: RFC 3339, the same without an offset (taken as UTC), the Common Log Format's, or a number. */
    static Optional<LogTime> parse(String text) {
        try {
            if (text.length() == COMMON_LENGTH && text.charAt(2) == '/') {
                return Optional.of(of(OffsetDateTime.parse(text, COMMON).toInstant()));
            }
            if (NUMBER.matcher(text).matches()) {
                return Optional.of(number(text));
            }
            if (DATE.matcher(text).matches()) {
                return Optional.of(of(date(text.replace(' ', 'T').replace(',', '.'))));
            }
            return Optional.empty();
        } catch (DateTimeException | ArithmeticException _) {
            return Optional.empty();
        }
    }

    /** Whether a number is so large that it can only be counted since 1970. */
    static boolean isSince1970(String text) {
        return !NUMBER.matcher(text).matches() || new BigDecimal(text).doubleValue() >= EPOCH;
    }

    private static Instant date(String text) {
        boolean local = text.length() <= "2026-11-29T00:00:00.123456789".length()
                && text.indexOf('Z') < 0 && text.indexOf('+') < 0 && text.lastIndexOf('-') < "2026-11-2".length();
        return local
                ? LocalDateTime.parse(text).toInstant(ZoneOffset.UTC)
                : OffsetDateTime.parse(text.replaceFirst("([+-]\\d\\d)(\\d\\d)$", "$1:$2")).toInstant();
    }

    private static LogTime of(Instant instant) {
        return new LogTime(Math.addExact(Math.multiplyExact(instant.getEpochSecond(), SECOND), instant.getNano()),
                instant.getNano() == 0);
    }

    private static LogTime number(String text) {
        int whole = text.indexOf('.') < 0 ? text.length() : text.indexOf('.');
        int finer = 0;
        for (int digits = DIGITS_OF_SECONDS; whole > digits; digits += THREE) {
            finer += THREE;
        }
        long nanos = new BigDecimal(text).movePointRight(9 - finer).setScale(0, RoundingMode.DOWN).longValueExact();
        return new LogTime(nanos, nanos % SECOND == 0);
    }
}
