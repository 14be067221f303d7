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
 * @param forms the same thing asked in other protocols; where every candidate speaks another, method and path mean nothing
 * @param answer which part of the answer is compared with those of other candidates
 */
public record Call(String name, String method, String path, List<Header> headers, Body body, Expectations expected,
        List<Capture> captures, Optional<Duration> timeout, Optional<ThinkTime> thinkTime, List<Form> forms,
        AnswerPart answer) {
    private static final Pattern PLACEHOLDER = Pattern.compile("\\{\\{([^{}]*)}}");

    public Call {
        headers = List.copyOf(headers);
        captures = List.copyOf(captures);
        forms = List.copyOf(forms);
    }

    /** A call that is asked in HTTP alone. */
    public Call(String name, String method, String path, List<Header> headers, Body body, Expectations expected,
            List<Capture> captures, Optional<Duration> timeout, Optional<ThinkTime> thinkTime) {
        this(name, method, path, headers, body, expected, captures, timeout, thinkTime, List.of(), AnswerPart.WHOLE);
    }

    /** A call that expects any 2xx and has nothing else. */
    public static Call of(String name, String method, String path) {
        return new Call(name, method, path, List.of(), Body.NONE, Expectations.ANY_SUCCESS, List.of(), Optional.empty(),
                Optional.empty());
    }

    public Call withHeaders(List<Header> others) {
        return new Call(name, method, path, others, body, expected, captures, timeout, thinkTime, forms, answer);
    }

    /** This call with a text body. */
    public Call withBody(String text) {
        return withBody(new Body.Text(Body.Kind.guess(text), text));
    }

    public Call withBody(Body other) {
        return new Call(name, method, path, headers, other, expected, captures, timeout, thinkTime, forms, answer);
    }

    public Call expecting(Expectations others) {
        return new Call(name, method, path, headers, body, others, captures, timeout, thinkTime, forms, answer);
    }

    public Call expecting(StatusSet statuses) {
        return expecting(Expectations.of(statuses));
    }

    public Call capturing(Capture... others) {
        return new Call(name, method, path, headers, body, expected, List.of(others), timeout, thinkTime, forms,
                answer);
    }

    public Call thinking(ThinkTime pause) {
        return new Call(name, method, path, headers, body, expected, captures, timeout, Optional.of(pause), forms,
                answer);
    }

    /** This call, which can also be asked as {@code form} says. */
    public Call with(Form form) {
        List<Form> all = Stream.concat(forms.stream().filter(one -> !one.protocol().equals(form.protocol())),
                Stream.of(form)).toList();
        return new Call(name, method, path, headers, body, expected, captures, timeout, thinkTime, all, answer);
    }

    /** This call, of whose answer {@code part} is compared. */
    public Call answering(AnswerPart part) {
        return new Call(name, method, path, headers, body, expected, captures, timeout, thinkTime, forms, part);
    }

    /** "GET /berths", or what its first form asks where it is not asked over HTTP. */
    public String words() {
        return isHttp() ? method + " " + path : forms.getFirst().words();
    }

    /** "GET", or the protocol of its first form where it is not asked over HTTP. */
    public String word() {
        return isHttp() ? method : forms.getFirst().protocol();
    }

    private boolean isHttp() {
        return !path.isEmpty() || forms.isEmpty();
    }

    /** How it is asked in a protocol; empty where it is not. */
    public Optional<Form> form(String protocol) {
        return forms.stream().filter(one -> one.protocol().equals(protocol)).findFirst();
    }

    /** This call as a candidate gets it that speaks {@code protocol}: with what is said for that protocol alone. */
    public Call in(String protocol) {
        return form(protocol).map(form -> new Call(name, method, path, headers, body, form.expected().orElse(expected),
                form.captures().orElse(captures), timeout, thinkTime, List.of(form), form.answer().orElse(answer)))
                .orElse(this);
    }

    /** A header line of the request. */
    public record Header(String name, String value) {
        /** Names of headers that say who sends, without the beginnings of those that proxies are sent. */
        public static final String PROOFS = "(?:proxy-)?authorization|cookie|set-cookie|x-api-key|api-key|x-auth-token"
                + "|x-csrf-token|x-xsrf-token";

        /** Whether it proves who sends it, so that its value is nobody else's. */
        public boolean isProof() {
            return name.toLowerCase(java.util.Locale.ROOT).matches(PROOFS);
        }
    }

    /** Names of all placeholders in path, headers, body and forms, in order, repeated where repeated. */
    public List<String> placeholders() {
        return Stream
                .of(Stream.of(path), headers.stream().map(Header::value), body.templates().stream(),
                        forms.stream().flatMap(Form::templates))
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
