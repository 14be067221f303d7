package kadrem.load.campaign;

import kadrem.core.measure.RunOutcome;

/** A candidate could not be brought to the point where load can begin, or was lost; the message is the reason. */
public final class CandidateFailure extends Exception {
    private static final long serialVersionUID = 1L;

    private final RunOutcome outcome;

    /** A run that could not be prepared, which says nothing about the candidate. */
    public CandidateFailure(String message) {
        this(RunOutcome.FAILED, message);
    }

    /** @param outcome what the run is then */
    public CandidateFailure(RunOutcome outcome, String message) {
        super(message);
        this.outcome = outcome;
    }

    public RunOutcome outcome() {
        return outcome;
    }
}
