package kadrem.core.study;

import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;

/**
 * One request as a template: {@code {{name}}} in path, header values and body is replaced by a value of that list, or by a
 * value captured earlier.
 *
 * @param name groups the figures of this call; unique in the workload
 * @param timeout after which it is given up; the load profile's where it has none of its own
 * @param thinkTime pause after its answer; the load profile's where it has none of its own
 */
public record Call(String name, String method, String path, List<Header> headers, Body body, Expectations expected,
        List<Capture> captures, Optional<Duration> timeout, Optional<ThinkTime> thinkTime) {
    private static final Pattern PLACEHOLDER = Pattern.compile("\\{\\{([^{}]*)}}");

    public Call {
        headers = List.copyOf(headers);
        captures = List.copyOf(captures);
    }

    /** A call that expects any 2xx and has nothing else. */
    public static Call of(String name, String method, String path) {
        return new Call(name, method, path, List.of(), Body.NONE, Expectations.ANY_SUCCESS, List.of(), Optional.empty(),
                Optional.empty());
    }

    public Call withHeaders(List<Header> others) {
        return new Call(name, method, path, others, body, expected, captures, timeout, thinkTime);
    }

    /** This call with a text body. */
    public Call withBody(String text) {
        return withBody(new Body.Text(Body.Kind.guess(text), text));
    }

    public Call withBody(Body other) {
        return new Call(name, method, path, headers, other, expected, captures, timeout, thinkTime);
    }

    public Call expecting(Expectations others) {
        return new Call(name, method, path, headers, body, others, captures, timeout, thinkTime);
    }

    public Call expecting(StatusSet statuses) {
        return expecting(Expectations.of(statuses));
    }

    public Call capturing(Capture... others) {
        return new Call(name, method, path, headers, body, expected, List.of(others), timeout, thinkTime);
    }

    public Call thinking(ThinkTime pause) {
        return new Call(name, method, path, headers, body, expected, captures, timeout, Optional.of(pause));
    }

    /** A header line of the request. */
    public record Header(String name, String value) {
    }

    /** Names of all placeholders in path, headers and body, in order, repeated where repeated. */
    public List<String> placeholders() {
        return Stream
                .of(Stream.of(path), headers.stream().map(Header::value), body.templates().stream())
                .flatMap(templates -> templates).flatMap(template -> placeholders(template).stream()).toList();
    }

    /** Names between double braces in {@code template}, in order, repeated where repeated. */
    public static List<String> placeholders(String template) {
        return PLACEHOLDER.matcher(template).results().map(match -> match.group(1).strip()).toList();
    }

    /** {@code template} cut at its placeholders: text, name, text, name, …, text (an odd number of parts). */
    public static List<String> split(String template) {
        var parts = new ArrayList<String>();
        Matcher matcher = PLACEHOLDER.matcher(template);
        int from = 0;
        while (matcher.find()) {
            parts.add(template.substring(from, matcher.start()));
            parts.add(matcher.group(1).strip());
            from = matcher.end();
        }
        parts.add(template.substring(from));
        return List.copyOf(parts);
    }
}
