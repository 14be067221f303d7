package kadrem.load.drive;

import kadrem.core.plan.LoadStream;

/** What the placeholders of a user's next call stand for: the rows of its visit, and what it has captured. Confined. */
public final class CallValues {
    private final LoadStream.Draw draw;
    private final byte[][] captured;
    private Object session = NO_SESSION;

    /** What a driver keeps of a user before it has kept anything. */
    public static final Object NO_SESSION = new Object();

    /** @param capturedNames number of captured values of the workload; each is empty until it is captured */
    public CallValues(LoadStream.Draw draw, int capturedNames) {
        this.draw = draw;
        captured = new byte[capturedNames][0];
    }

    public LoadStream.Draw draw() {
        return draw;
    }

    /** What the driver keeps of this user from one call to the next, such as the answer to a challenge. */
    public Object session() {
        return session;
    }

    public void keepSession(Object kept) {
        session = kept;
    }

    /** Captured values by the number of their name; not a copy. */
    public byte[][] captured() {
        return captured;
    }
}
