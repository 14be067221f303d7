package kadrem.load.host;

/** A source of the host watch does not tell; the message is for the person who can mend it and holds no secret. */
public final class SourceFailure extends Exception {
    private static final long serialVersionUID = 1L;

    public SourceFailure(String message) {
        super(message);
    }

    public SourceFailure(String message, Throwable cause) {
        super(message, cause);
    }

    /** What is shown. */
    public String reason() {
        return String.valueOf(getMessage());
    }
}
