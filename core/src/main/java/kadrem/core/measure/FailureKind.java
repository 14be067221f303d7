package kadrem.core.measure;

/** Why a call did not count as good. */
public enum FailureKind {
    /** Nothing listens at the address. */
    REFUSED("refused"),
    /** No connection for another reason: unreachable, no descriptor left, time limit of the connect. */
    NO_CONNECTION("no-connection"),
    /** The connection was reset while the answer was awaited. */
    RESET("reset"),
    /** The connection was closed in good order before the answer was whole. */
    CLOSED("closed"),
    /** No whole answer within the time limit. */
    TIMEOUT("timeout"),
    /** A whole answer with a status that the call does not expect. */
    UNEXPECTED_STATUS("unexpected-status"),
    /** Bytes that are not an answer of the protocol. */
    MALFORMED("malformed"),
    /** A whole answer that does not hold what the call expects, however good its status. */
    FAILED_EXPECTATION("failed-expectation"),
    /** The connection was made, and its TLS handshake failed: certificate, name or version. */
    TLS("tls"),
    /** A call of a visit that could not begin because a call of its user's first part failed. */
    FIRST_PART("first-part"),
    /** A call that was due and never made because an earlier call of its visit failed. */
    EARLIER_CALL("earlier-call"),
    /** A call that was due and never sent: its visit still waited for a connection when the run ended. */
    NOT_SENT("not-sent"),
    /** More redirects than are followed, or one that leads to another host. */
    REDIRECTS("redirects"),
    /** A whole answer as expected that came later than the call allows; its time is recorded. */
    TOO_LATE("too-late"),
    /** A fault of Kadrem's own: the call says nothing about the candidate. */
    GENERATOR("generator");

    private final String id;

    FailureKind(String id) {
        this.id = id;
    }

    /** Whether a call that failed so has no time of its own, and so took longer than any that has. */
    public boolean lacksTime() {
        return switch (this) {
            case REFUSED, NO_CONNECTION, RESET, CLOSED, TIMEOUT, UNEXPECTED_STATUS, MALFORMED, FAILED_EXPECTATION, TLS,
                    FIRST_PART, EARLIER_CALL, NOT_SENT, REDIRECTS ->
                true;
            case TOO_LATE, GENERATOR -> false;
        };
    }

    /** The word used in files and on screens. */
    public String id() {
        return id;
    }

    public static FailureKind byId(String id) {
        for (FailureKind kind : values()) {
            if (kind.id.equals(id)) {
                return kind;
            }
        }
        throw new IllegalArgumentException("no failure kind is called " + id);
    }
}
