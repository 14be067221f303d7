package kadrem.core.rehearsal;

import java.time.DateTimeException;
import java.time.Duration;
import java.time.OffsetDateTime;
import java.time.format.DateTimeFormatter;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

import kadrem.core.study.Call;
import kadrem.core.study.Capture;
import kadrem.core.study.Workload;

/**
 * Differences that two honest implementations of one thing have again and again, each with the reason for which it does not matter. They
 * are proposed, and the user accepts them: that a difference looks like one of these does not show that it is.
 */
public final class UsualDifferences {
    private static final String HEADER = "header ";
    private static final int MIN_TOKEN = 8;
    private static final Duration MAX_APART = Duration.ofHours(1);
    /** RFC 9562, section 4. */
    private static final Pattern UUID = Pattern
            .compile("[0-9a-fA-F]{8}-[0-9a-fA-F]{4}-[0-9a-fA-F]{4}-[0-9a-fA-F]{4}-[0-9a-fA-F]{12}");
    private static final Pattern WHOLE = Pattern.compile("-?\\d{1,19}");
    private static final Pattern ID = Pattern.compile("id|.*_id|.*Id|.*ID|number|no|key");
    private static final Pattern TOKEN = Pattern.compile("(?i).*(token|nonce|csrf|xsrf|session|signature|etag).*");
    private static final Pattern LAST = Pattern.compile(".*[.']([^.'\\[\\]]+)(?:'])?");
    /** Common practice, no source: they tell how long the server took, or which request it was. */
    private static final Pattern OF_THE_REQUEST = Pattern
            .compile("server-timing|x-response-time|x-runtime|x-correlation-id|x-trace-id|x-amzn-.*|cf-ray");

    private UsualDifferences() {
    }

    /** Those among {@code differences} that are usual, with the reasons. */
    public static Map<Difference, String> among(List<Difference> differences, Workload workload) {
        Map<Difference, String> usual = new LinkedHashMap<>();
        differences.forEach(one -> reason(one, workload).ifPresent(why -> usual.put(one, why)));
        return usual;
    }

    /** Why a difference is one that is usual; empty where it is not. */
    public static Optional<String> reason(Difference difference, Workload workload) {
        String where = difference.where();
        if (where.startsWith(HEADER)) {
            return header(where.substring(HEADER.length()).toLowerCase(Locale.ROOT), difference);
        }
        Optional<Call> call = workload.calls().stream().filter(one -> one.name().equals(difference.call()))
                .findFirst();
        return where.startsWith("$")
                ? captured(difference, call).or(() -> value(difference, call))
                : Optional.empty();
    }

    private static Optional<String> header(String name, Difference difference) {
        return switch (name) {
            case "content-type" -> mediaType(difference.baseline(), difference.value());
            case "etag" -> Optional.of("a validator that each server makes in its own way (RFC 9110, section 8.8.3)");
            case "last-modified" -> Optional.of("when the server thinks that it was changed (RFC 9110, section 8.8.2)");
            case "location", "content-location" -> made(difference);
            default -> OF_THE_REQUEST.matcher(name).matches()
                    ? Optional.of("tells of the single request, not of what was asked for")
                    : Optional.empty();
        };
    }

    private static Optional<String> mediaType(String one, String two) {
        String[] first = one.toLowerCase(Locale.ROOT).replaceAll("[\\s\"]", "").split(";", 2);
        String[] second = two.toLowerCase(Locale.ROOT).replaceAll("[\\s\"]", "").split(";", 2);
        if (!first[0].equals(second[0])) {
            return Optional.empty();
        }
        if (first.length == second.length && (first.length == 1 || first[1].equals(second[1]))) {
            return Optional.of("the same type, written otherwise (RFC 9110, section 8.3.1)");
        }
        boolean json = first[0].equals("application/json") || first[0].endsWith("+json");
        boolean onlyCharset = (first.length == 1 || first[1].startsWith("charset="))
                && (second.length == 1 || second[1].startsWith("charset="));
        return json && onlyCharset
                ? Optional.of("a charset has no effect on JSON (RFC 8259, section 11)")
                : Optional.empty();
    }

    /** Where the thing that was made is found: the same place but for its id. */
    private static Optional<String> made(Difference difference) {
        String one = difference.baseline().replaceFirst("^https?://[^/]+", "");
        String two = difference.value().replaceFirst("^https?://[^/]+", "");
        boolean same = !one.isEmpty() && !two.isEmpty()
                && one.substring(0, one.lastIndexOf('/') + 1).equals(two.substring(0, two.lastIndexOf('/') + 1));
        return same
                ? Optional.of("the same place, but for the candidate's own address or the id that it gave")
                : Optional.empty();
    }

    private static Optional<String> captured(Difference difference, Optional<Call> call) {
        return call.stream().flatMap(one -> one.captures().stream())
                .filter(capture -> capture.source() instanceof Capture.Source.Json(String path)
                        && path.equals(difference.where()))
                .findFirst().map(capture -> "it is captured as {{" + capture.name()
                        + "}}, so that each candidate is sent its own");
    }

    private static Optional<String> value(Difference difference, Optional<Call> call) {
        String one = unquoted(difference.baseline());
        String two = unquoted(difference.value());
        String name = lastName(difference.where());
        boolean texts = !one.equals(difference.baseline()) && !two.equals(difference.value());
        if (UUID.matcher(one).matches() && UUID.matcher(two).matches()) {
            return Optional.of("an id that each candidate draws for itself (RFC 9562)");
        }
        if (texts && areMoments(one, two)) {
            return Optional.of("the moment in which each candidate made it");
        }
        boolean makes = call.filter(asked -> asked.method().equals("POST") || asked.method().equals("PUT")).isPresent();
        if (makes && WHOLE.matcher(one).matches() && WHOLE.matcher(two).matches()
                && (ID.matcher(name).matches() || namesWhatIsMade(name, call))) {
            return Optional.of("a number that each candidate counts for itself");
        }
        return texts && Math.min(one.length(), two.length()) >= MIN_TOKEN && TOKEN.matcher(name).matches()
                ? Optional.of("a text that each candidate draws for itself")
                : Optional.empty();
    }

    private static String unquoted(String shown) {
        return shown.length() > 1 && shown.startsWith("\"") && shown.endsWith("\"")
                ? shown.substring(1, shown.length() - 1)
                : shown;
    }

    private static String lastName(String where) {
        Matcher last = LAST.matcher(where.replaceAll("\\[\\d+]$", ""));
        return last.matches() ? last.group(1) : "";
    }

    private static boolean namesWhatIsMade(String name, Optional<Call> call) {
        return call.map(one -> one.path().split("\\?", 2)[0].replaceFirst("/$", ""))
                .filter(path -> !name.isEmpty() && path.endsWith("/" + name + "s")).isPresent();
    }

    /** Two different moments of RFC 3339 that are not far from each other. */
    private static boolean areMoments(String one, String two) {
        try {
            return Duration.between(OffsetDateTime.parse(one, DateTimeFormatter.ISO_OFFSET_DATE_TIME),
                    OffsetDateTime.parse(two, DateTimeFormatter.ISO_OFFSET_DATE_TIME)).abs()
                    .compareTo(MAX_APART) <= 0;
        } catch (DateTimeException _) {
            return false;
        }
    }
}
