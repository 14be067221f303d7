package kadrem.load.content;

/** A call cannot be made ready to be sent: a secret is missing, or an expression cannot be read. The message says which. */
public final class UnusableCall extends Exception {
    private static final long serialVersionUID = 1L;

    public UnusableCall(String message) {
        super(message);
    }
}
