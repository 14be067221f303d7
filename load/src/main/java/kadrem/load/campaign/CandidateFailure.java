package kadrem.load.campaign;

/** A candidate could not be brought to the point where load can begin, or was lost; the message is the reason. */
public final class CandidateFailure extends Exception {
    private static final long serialVersionUID = 1L;

    public CandidateFailure(String message) {
        super(message);
    }
}
