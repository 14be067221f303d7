package kadrem.load.drive;

import java.nio.charset.StandardCharsets;
import java.util.List;

import kadrem.core.plan.LoadStream;

/** What the placeholders of a user's next call stand for: the rows of its visit, and what it has captured. Confined. */
public final class CallValues {
    private final LoadStream.Draw draw;
    private final byte[][] captured;
    private User user;

    /** @param capturedNames number of captured values of the workload; each is empty until it is captured */
    public CallValues(LoadStream.Draw draw, int capturedNames) {
        this.draw = draw;
        captured = new byte[capturedNames][0];
        user = new User(capturedNames);
    }

    public LoadStream.Draw draw() {
        return draw;
    }

    /** The user whose calls are made. */
    public User user() {
        return user;
    }

    /** From now on the calls are another user's, who knows what its own first part has captured. */
    public void become(User other) {
        user = other;
        System.arraycopy(other.captured, 0, captured, 0, captured.length);
    }

    /** What the driver keeps of this user from one call to the next, such as the answer to a challenge. */
    public Object session() {
        return user.session;
    }

    public void keepSession(Object kept) {
        user.session = kept;
    }

    /** Captured values by the number of their name; not a copy. */
    public byte[][] captured() {
        return captured;
    }

    /** The captured values under these numbers, as texts. */
    public List<String> captured(List<Integer> numbers) {
        return numbers.stream().map(number -> new String(captured[number], StandardCharsets.UTF_8)).toList();
    }
}
