package kadrem.standins.habits;

import java.util.Arrays;
import java.util.stream.Collectors;

/** What a {@link HabitService} does that others do not. */
public enum Habit {
    /** Nothing of all that. */
    NONE("healthy"),
    /** Writes head and body apart on connections that wait for acknowledgements. */
    IN_PIECES("in-pieces"),
    /** Closes the connection after each answer. */
    CLOSING("closing"),
    /** Hands bodies on to a service that never says that it wants them. */
    EXPECTING("expecting"),
    /** Speaks TLS, and forgets each session. */
    FORGETFUL("forgetful"),
    /** Speaks TLS, and resumes sessions. */
    REMEMBERING("remembering"),
    /** Answers all questions with the answer to the first. */
    CACHED("cached"),
    /** Leaves berths out when much is asked for. */
    SHORTENING("shortening"),
    /** Asks a service now and then that never answers, and gives up after a second. */
    PATIENT("patient"),
    /** Writes all that it knows down each two and a half seconds, and answers nothing meanwhile. */
    WRITING("writing"),
    /** Serves one connection until that ends, and only then the next. */
    SINGLE("single"),
    /** Takes eight connections, and closes those that come on top of them. */
    FULL("full");

    private final String id;

    Habit(String id) {
        this.id = id;
    }

    /** The word by which it is started. */
    public String id() {
        return id;
    }

    boolean speaksTls() {
        return this == FORGETFUL || this == REMEMBERING;
    }

    /** @throws IllegalArgumentException if there is none of that name */
    public static Habit byId(String id) {
        return Arrays.stream(values()).filter(one -> one.id.equals(id)).findFirst()
                .orElseThrow(() -> new IllegalArgumentException("there is no HABIT " + id + "; it is one of "
                        + Arrays.stream(values()).map(Habit::id).collect(Collectors.joining(", "))));
    }
}
