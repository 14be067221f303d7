package kadrem.load.drive;

/**
 * What is kept of one user from visit to visit, whatever connection it comes over: what its first part has captured, and what
 * a driver keeps of it, such as cookies. Confined to a lane.
 */
public final class User {
    /** What a driver keeps of a user before it has kept anything. */
    static final Object NO_SESSION = new Object();

    Object session = NO_SESSION;
    final byte[][] captured;
    private boolean introduced;

    /** @param capturedNames number of captured values of the workload; each is empty until it is captured */
    public User(int capturedNames) {
        captured = new byte[capturedNames][0];
    }

    /** Whether this user has made the first part. */
    public boolean isIntroduced() {
        return introduced;
    }

    /** This user has made the first part, with what it captured into {@code values}. */
    public void introduce(CallValues values) {
        introduced = true;
        System.arraycopy(values.captured(), 0, captured, 0, captured.length);
    }
}
