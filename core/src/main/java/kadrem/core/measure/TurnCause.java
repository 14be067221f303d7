package kadrem.core.measure;

import java.util.Arrays;
import java.util.Optional;

/** Why a turn of a lane's loop took longer than a millisecond, in which nothing could be sent or read on time. */
public enum TurnCause {
    /** The generator's collector stopped its threads. */
    COLLECTOR("collector", "its garbage collector"),
    /** The lane was ready to run and had no processor: other threads of this host had them. */
    NO_PROCESSOR("no-processor", "other work on this host"),
    /** The machine below, or a stop from outside, took the lane's time away. */
    TAKEN_AWAY("taken-away", "the machine below, or a stop from outside"),
    /** The lane itself had as much to do, its compiler and safepoints among it. */
    OWN_WORK("own-work", "its own work");

    private final String id;
    private final String words;

    TurnCause(String id, String words) {
        this.id = id;
        this.words = words;
    }

    /** The word used in files. */
    public String id() {
        return id;
    }

    /** The words used on screens, as in "held up by its garbage collector". */
    public String words() {
        return words;
    }

    public static Optional<TurnCause> byId(String id) {
        return Arrays.stream(values()).filter(cause -> cause.id.equals(id)).findFirst();
    }
}
