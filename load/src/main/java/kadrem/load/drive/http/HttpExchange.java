package kadrem.load.drive.http;

import java.net.URI;
import java.util.Optional;

import io.netty.buffer.ByteBuf;
import io.netty.buffer.ByteBufAllocator;
import io.netty.buffer.Unpooled;
import io.netty.handler.codec.http2.Http2Headers;
import kadrem.core.measure.FailureKind;
import kadrem.core.study.Call;
import kadrem.load.content.ResponseCheck;
import kadrem.load.content.ResponseView;
import kadrem.load.drive.CallValues;
import org.jspecify.annotations.Nullable;

/**
 * The call under way on one carrier: its request, the redirects and challenges on its way, and what its answer is worth.
 * The same for every version of HTTP. Confined to its lane.
 */
final class HttpExchange {
    private final HttpParts parts;
    private final ResponseCheck[] checks;
    /** Requests that are always the same, by call. */
    private final @Nullable ByteBuf[] views;
    private int number;
    private @Nullable CallValues values;
    private boolean challenged;
    private int redirects;
    private @Nullable Redirect redirect;
    private Optional<FailureKind> failure = Optional.empty();
    private String detail = "";

    /** Where a redirect leads, and how. */
    record Redirect(String method, String target, boolean withBody) {
    }

    HttpExchange(HttpParts parts, ResponseCheck[] checks) {
        this.parts = parts;
        this.checks = checks;
        views = new @Nullable ByteBuf[parts.templates().length];
        for (int i = 0; i < views.length; i++) {
            views[i] = parts.templates()[i].view().orElse(null);
        }
    }

    void begin(int callNumber, CallValues callValues) {
        number = callNumber;
        values = callValues;
        challenged = false;
        redirects = 0;
        redirect = null;
    }

    private Call call() {
        return parts.calls()[number];
    }

    private CallValues values() {
        CallValues known = values;
        if (known == null) {
            throw new IllegalStateException("no call is under way");
        }
        return known;
    }

    private String method() {
        Redirect now = redirect;
        return now == null ? call().method() : now.method();
    }

    boolean isHead() {
        return method().equals("HEAD");
    }

    /** Whether the call only reads, and asks for something else each time. */
    boolean readsWhatVaries() {
        return views[number] == null && call().method().equals("GET");
    }

    /** Path and query of what is asked for. */
    String target() {
        return parts.templates()[number].target(values());
    }

    boolean needsBody() {
        return checks[number].needsBody();
    }

    /** The request as it is to be sent now, to be released by the one who sends it. */
    ByteBuf request(ByteBufAllocator allocator) {
        Redirect now = redirect;
        RequestTemplate template = parts.templates()[number];
        if (now != null) {
            return template.render(allocator, values(), now);
        }
        ByteBuf always = views[number];
        if (always == null) {
            return template.render(allocator, values());
        }
        // a carrier has one request on its way at a time
        return always.setIndex(0, always.capacity());
    }

    /** The head of the request as it is to be sent now over HTTP/2. */
    Http2Headers headers(ByteBuf scratch, int bodyBytes) {
        return parts.templates()[number].headers(scratch, values(), redirect, bodyBytes);
    }

    /** The body of the request as it is to be sent now, to be released by the one who sends it; empty where there is none. */
    ByteBuf body(ByteBufAllocator allocator) {
        Redirect now = redirect;
        return now != null && !now.withBody()
                ? Unpooled.EMPTY_BUFFER
                : parts.templates()[number].body(allocator, values());
    }

    /** The request as text without secrets. */
    String shown(int callNumber, CallValues callValues, int mostBytes) {
        return parts.templates()[callNumber].shown(callValues, mostBytes);
    }

    /**
     * Looks at a whole answer.
     *
     * @return whether the call goes on with another request; if not, {@link #failure} tells what it was worth
     */
    boolean goesOn(ResponseView answer, int status) {
        failure = Optional.empty();
        detail = "";
        if (parts.wire().cookies()) {
            UserState.of(values()).take(answer.headers("Set-Cookie"));
        }
        if (status == 401 && meetsChallenge(answer)) {
            return true;
        }
        boolean expected = call().expected().status().contains(status);
        if (!expected && parts.wire().redirects() > 0 && isRedirect(status)) {
            return follows(answer, status);
        }
        if (!expected) {
            fail(FailureKind.UNEXPECTED_STATUS, "status " + status + ", and not " + call().expected().status());
        } else {
            String wrong = checks[number].check(answer, values().captured());
            if (!wrong.isEmpty()) {
                fail(FailureKind.FAILED_EXPECTATION, wrong);
            }
        }
        return false;
    }

    private void fail(FailureKind kind, String why) {
        failure = Optional.of(kind);
        detail = why;
    }

    /** Why the call is not good; empty for a good one. */
    Optional<FailureKind> failure() {
        return failure;
    }

    String detail() {
        return detail;
    }

    /** Sends the call once more where the answer is a challenge that can be met; its time goes on. */
    private boolean meetsChallenge(ResponseView answer) {
        parts.credentials().refused();
        if (challenged || parts.credentials().digest().isEmpty()) {
            return false;
        }
        Optional<DigestAnswer> met = parts.credentials().digest().get().answer(answer.headers("WWW-Authenticate"),
                Integer.toHexString(System.identityHashCode(UserState.of(values()))) + Integer.toHexString(number));
        met.ifPresent(UserState.of(values())::keep);
        challenged = met.isPresent();
        return challenged;
    }

    private static boolean isRedirect(int status) {
        return status == 301 || status == 302 || status == 303 || status == 307 || status == 308;
    }

    /** RFC 9110, section 15.4. A redirect to another host is not followed: nobody has said that it may be loaded. */
    private boolean follows(ResponseView answer, int status) {
        String location = answer.header("Location");
        if (redirects >= parts.wire().redirects()) {
            fail(FailureKind.REDIRECTS,
                    "more than " + parts.wire().redirects() + " redirects, the last to " + location);
            return false;
        }
        Redirect before = redirect;
        Optional<String> target = target(location,
                before == null ? parts.templates()[number].target(values()) : before.target());
        if (target.isEmpty()) {
            fail(FailureKind.REDIRECTS, "a redirect to " + location + ", which is not on this candidate");
            return false;
        }
        boolean toGet = status == 303 || (status == 301 || status == 302) && method().equals("POST");
        redirects++;
        redirect = new Redirect(toGet && !isHead() ? "GET" : method(), target.get(),
                !toGet && (before == null || before.withBody()));
        return true;
    }

    private Optional<String> target(String location, String from) {
        try {
            URI base = URI.create((parts.address().secure() ? "https://" : "http://") + parts.address().authority()
                    + from);
            URI to = base.resolve(location);
            boolean same = String.valueOf(base.getScheme()).equalsIgnoreCase(to.getScheme())
                    && String.valueOf(base.getRawAuthority()).equalsIgnoreCase(to.getRawAuthority());
            String path = to.getRawPath() == null || to.getRawPath().isEmpty() ? "/" : to.getRawPath();
            return same && !location.isEmpty()
                    ? Optional.of(path + (to.getRawQuery() == null ? "" : "?" + to.getRawQuery()))
                    : Optional.empty();
        } catch (IllegalArgumentException _) {
            return Optional.empty();
        }
    }
}
