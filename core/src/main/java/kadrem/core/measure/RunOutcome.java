package kadrem.core.measure;

/** How a run ended. */
public enum RunOutcome {
    RUNNING("running"),
    /** Measured to its end. */
    COMPLETE("complete"),
    /** Ended by a stop rule before its time. */
    ENDED_BY_RULE("ended-by-rule"),
    /** The candidate's process ended under load. */
    DIED("died"),
    /** The candidate was launched, and ended or did not answer in time before the load began. */
    DID_NOT_START("did-not-start"),
    /** The candidate could take not even the lowest level of load. */
    NO_LEVEL("no-level"),
    /** The run could not be prepared or kept, which says nothing about the candidate. */
    FAILED("failed"),
    /** Stopped by the user. */
    STOPPED("stopped"),
    /** Kadrem itself ended in the middle. */
    CUT_OFF("cut-off");

    private final String id;

    RunOutcome(String id) {
        this.id = id;
    }

    public String id() {
        return id;
    }

    public static RunOutcome byId(String id) {
        for (RunOutcome outcome : values()) {
            if (outcome.id.equals(id)) {
                return outcome;
            }
        }
        throw new IllegalArgumentException("no outcome is called " + id);
    }
}
