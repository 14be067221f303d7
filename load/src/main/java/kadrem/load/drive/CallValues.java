package kadrem.load.drive;

import kadrem.core.plan.LoadStream;

/** What the placeholders of a user's next call stand for: the rows of its visit, and what it has captured. Confined. */
public final class CallValues {
    private final LoadStream.Draw draw;
    private final byte[][] captured;

    /** @param capturedNames number of captured values of the workload; each is empty until it is captured */
    public CallValues(LoadStream.Draw draw, int capturedNames) {
        this.draw = draw;
        captured = new byte[capturedNames][0];
    }

    public LoadStream.Draw draw() {
        return draw;
    }

    /** Captured values by the number of their name; not a copy. */
    public byte[][] captured() {
        return captured;
    }
}
