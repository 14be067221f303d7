package kadrem.load.content;

/** A body or an expression that cannot be read as what it should be; the message says why. */
public final class UnreadableContent extends Exception {
    private static final long serialVersionUID = 1L;

    public UnreadableContent(String message) {
        super(message);
    }
}
