package kadrem.core.measure;

import java.util.Optional;
import java.util.regex.Pattern;

import kadrem.core.study.Call;

/**
 * One request and its response, kept as an example.
 *
 * @param reason id of a {@link FailureKind}, or "slow"
 * @param dueSeconds instant the call was due, in seconds after the start of the warm-up
 * @param detail what was expected and not found; empty where the reason says all
 * @param status status of the response, 0 where there was none
 * @param request head and body as sent, cut to a bound
 * @param response head and body as received, cut to a bound
 * @param answered the word of the status where the protocol is not HTTP; empty where the number says it
 */
public record Exchange(String call, String reason, String detail, double dueSeconds, long responseNanos,
        long serviceNanos, int status,
        String request, String response, String answered) {
    public static final String SLOW = "slow";
    private static final Pattern SECRET = Pattern.compile(
            "(?im)^(" + Call.Header.PROOFS + ")(\\s*:\\s*)[^\\r\\n]*");

    private static final Pattern TRACE = Pattern.compile("(?im)^traceparent\\s*:\\s*[0-9a-f]{2}-([0-9a-f]{32})-");

    /** Of HTTP, whose status is its number. */
    public Exchange(String call, String reason, String detail, double dueSeconds, long responseNanos, long serviceNanos,
            int status, String request, String response) {
        this(call, reason, detail, dueSeconds, responseNanos, serviceNanos, status, request, response, "");
    }

    /** The status in a word; "none" where there was no answer. */
    public String statusWord() {
        return !answered.isEmpty() ? answered : status == 0 ? "none" : Integer.toString(status);
    }

    /** The trace id that it carried, by which it is found in a tracing system. */
    public Optional<String> traceId() {
        var found = TRACE.matcher(request);
        return found.find() ? Optional.of(found.group(1)) : Optional.empty();
    }

    /** Whether it was kept because it failed. */
    public boolean isFailure() {
        return !reason.equals(SLOW);
    }

    /** This exchange with the values of headers that carry secrets replaced. */
    public Exchange withoutSecrets() {
        return new Exchange(call, reason, detail, dueSeconds, responseNanos, serviceNanos, status, mask(request),
                mask(response), answered);
    }

    /** The text of a message with the values of headers that carry secrets replaced. */
    public static String mask(String message) {
        return SECRET.matcher(message).replaceAll("$1$2(removed)");
    }
}
