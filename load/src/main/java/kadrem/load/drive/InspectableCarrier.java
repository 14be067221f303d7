package kadrem.load.drive;

/** A carrier whose last answer can be looked at as a whole, as a rehearsal does. */
public interface InspectableCarrier extends Carrier {
    /** Keeps the bodies of all answers from now on. */
    void keepAnswers();

    /** The last head that was whole, as HTTP/1.1 writes it: a first line, then lines of names and values. */
    String head();

    /** The body of the last answer. */
    byte[] answerBody();

    /** Version and cipher of TLS on the present connection, or the last one; empty without TLS, and where it does not tell. */
    default String tls() {
        return "";
    }

    /** The request as sent, as text without secrets, cut to {@code mostBytes}. */
    String requestText(int call, CallValues values, int mostBytes);
}
