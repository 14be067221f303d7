package kadrem.files.imports;

import java.time.Duration;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

import kadrem.core.study.Call;

/**
 * A call that was found somewhere.
 *
 * @param origin scheme, name and port of where it went; http where there is no scheme; empty where the source names none
 * @param target path with query
 * @param body text of the body; empty where there is none
 * @param parts of a multipart body; empty where it has none
 * @param pause until the next call of the same user
 * @param timeout after which it was given up, where the source says
 * @param answer what it was answered, as far as that is known
 * @param captures JSONPaths in the answer by the names under which later calls carry what is there
 * @param comesFirst whether it signs its user in, so that each user makes it once
 */
public record FoundCall(String method, String origin, String target, List<Call.Header> headers, String body,
        List<Part> parts, Optional<Duration> pause, Optional<Duration> timeout, Answer answer,
        Map<String, String> captures, boolean comesFirst) {
    public FoundCall {
        headers = List.copyOf(headers);
        parts = List.copyOf(parts);
        captures = java.util.Collections.unmodifiableMap(new LinkedHashMap<>(captures));
    }

    public FoundCall(String method, String origin, String target, List<Call.Header> headers, String body,
            Optional<Duration> pause) {
        this(method, origin, target, headers, body, List.of(), pause, Optional.empty(), Answer.of(""), Map.of(), false);
    }

    /**
     * A part of a multipart body.
     *
     * @param kind json, xml or text; empty where it is seen from the text
     */
    public record Part(String name, String text, String kind) {
    }

    /** Name and port it went to; empty where the source names none. */
    public String host() {
        return origin.replaceFirst("^[a-z]+://", "");
    }

    /** Whether the other sends the same. */
    boolean sends(FoundCall other) {
        return method.equals(other.method) && target.equals(other.target) && body.equals(other.body)
                && parts.equals(other.parts);
    }

    FoundCall withPause(Duration time) {
        return new FoundCall(method, origin, target, headers, body, parts, Optional.of(time), timeout, answer, captures,
                comesFirst);
    }

    /** The same call with what is sent written otherwise. */
    FoundCall with(String itsTarget, List<Call.Header> itsHeaders, String itsBody) {
        return new FoundCall(method, origin, itsTarget, itsHeaders, itsBody, parts, pause, timeout, answer, captures,
                comesFirst);
    }

    FoundCall withParts(List<Part> itsParts) {
        return new FoundCall(method, origin, target, headers, body, itsParts, pause, timeout, answer, captures,
                comesFirst);
    }

    FoundCall answered(Answer given) {
        return new FoundCall(method, origin, target, headers, body, parts, pause, timeout, given, captures, comesFirst);
    }

    /** The same call, made once by each user before its first visit. */
    FoundCall first() {
        return new FoundCall(method, origin, target, headers, body, parts, pause, timeout, answer, captures, true);
    }

    FoundCall capturing(String name, String path) {
        var more = new LinkedHashMap<>(captures);
        more.put(name, path);
        return new FoundCall(method, origin, target, headers, body, parts, pause, timeout, answer, more, true);
    }
}
