package kadrem.core.rehearsal;

import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Optional;

import kadrem.core.measure.FailureKind;
import kadrem.core.study.Bytes;
import kadrem.core.study.Call;

/**
 * One exchange of a rehearsal.
 *
 * @param visit name of the visit; empty for a call of the first part
 * @param request head and body as sent, without secrets
 * @param status 0 where there was no answer
 * @param headers of the answer, in order
 * @param bytesIn size of the whole answer as received
 * @param body the body as received, unframed, before decoding
 * @param decoded the body after content codings were undone; as received where that failed
 * @param sha256 of the decoded body
 * @param failure why the call is not good; empty where it is
 * @param detail what was expected and not found
 * @param answered the answer in a word or two where the protocol is not HTTP, such as NOT_FOUND or "3 rows"
 */
public record RehearsedCall(String visit, String call, String request, int status, List<Call.Header> headers,
        long bytesIn, Bytes body, Bytes decoded, String sha256, Timeline timeline, Optional<FailureKind> failure,
        String detail, String answered) {
    private static final String HIDDEN = "(captured)";
    /** Shorter ones would take harmless pieces out of a text. */
    private static final int MIN_HIDDEN = 4;

    public RehearsedCall {
        headers = List.copyOf(headers);
    }

    /** An exchange of HTTP, whose status says all. */
    public RehearsedCall(String visit, String call, String request, int status, List<Call.Header> headers,
            long bytesIn, Bytes body, Bytes decoded, String sha256, Timeline timeline, Optional<FailureKind> failure,
            String detail) {
        this(visit, call, request, status, headers, bytesIn, body, decoded, sha256, timeline, failure, detail, "");
    }

    /** The status, or what was answered; "none" where there was no answer. */
    public String statusWord() {
        return !answered.isEmpty() ? answered : status == 0 ? "none" : Integer.toString(status);
    }

    /** The same with values that are nobody else's replaced wherever they stand. */
    public RehearsedCall hiding(List<String> values) {
        if (values.isEmpty()) {
            return this;
        }
        return new RehearsedCall(visit, call, hidden(request, values), status,
                headers.stream().map(one -> new Call.Header(one.name(), hidden(one.value(), values))).toList(), bytesIn,
                hidden(body, values), hidden(decoded, values), sha256, timeline, failure, hidden(detail, values),
                answered);
    }

    /** A text with such values replaced. */
    public static String hidden(String text, List<String> values) {
        String shown = text;
        for (String value : values) {
            shown = value.length() < MIN_HIDDEN ? shown : shown.replace(value, HIDDEN);
        }
        return shown;
    }

    private static Bytes hidden(Bytes bytes, List<String> values) {
        // a character for each byte, so that nothing else becomes another
        String text = new String(bytes.toArray(), StandardCharsets.ISO_8859_1);
        String shown = hidden(text, values.stream()
                .map(one -> new String(one.getBytes(StandardCharsets.UTF_8), StandardCharsets.ISO_8859_1)).toList());
        return shown.equals(text) ? bytes : Bytes.of(shown.getBytes(StandardCharsets.ISO_8859_1));
    }

    public boolean isGood() {
        return failure.isEmpty();
    }

    /** The first header of that name, in any case of letters; empty where there is none. */
    public String header(String name) {
        return headers.stream().filter(header -> header.name().equalsIgnoreCase(name)).map(Call.Header::value)
                .findFirst().orElse("");
    }
}
