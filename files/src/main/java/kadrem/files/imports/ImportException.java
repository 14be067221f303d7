package kadrem.files.imports;

/** What was to be imported cannot be used; the message says where, why, and what to do. */
public final class ImportException extends Exception {
    private static final long serialVersionUID = 1L;

    public ImportException(String message) {
        super(message);
    }
}
