package kadrem.files.timeline;

/** Why a timeline cannot be used, to follow on the name of its field, and what mends it. */
public final class TimelineException extends Exception {
    private static final long serialVersionUID = 1L;
    private final String mend;

    TimelineException(String why, String mend) {
        super(why);
        this.mend = mend;
    }

    public String mend() {
        return mend;
    }
}
