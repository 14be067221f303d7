package kadrem.core.study;

import java.time.Duration;
import java.util.Arrays;
import java.util.Optional;

/**
 * One piece of a load profile.
 *
 * @param level users or arrivals a second: held, or reached at the end, or for the time of the burst
 * @param stairs of a step, the number of equal stairs in which the level is reached; 1 otherwise
 */
public record Segment(Kind kind, Duration length, double level, int stairs) {

    /** How the level changes. */
    public enum Kind {
        /** One level. */
        HOLD("hold"),
        /** Evenly from the level before. */
        RAMP("ramp"),
        /** In stairs from the level before. */
        STEP("step"),
        /** Another level for a while, and back to the one before. */
        BURST("burst");

        private final String id;

        Kind(String id) {
            this.id = id;
        }

        /** The word used in files. */
        public String id() {
            return id;
        }

        public static Optional<Kind> byId(String id) {
            return Arrays.stream(values()).filter(kind -> kind.id.equals(id)).findFirst();
        }
    }

    /** A level that is held. */
    public static Segment hold(Duration length, double level) {
        return new Segment(Kind.HOLD, length, level, 1);
    }

    /** An even change to {@code level}. */
    public static Segment ramp(Duration length, double level) {
        return new Segment(Kind.RAMP, length, level, 1);
    }

    /** A change to {@code level} in equal stairs of equal length. */
    public static Segment step(Duration length, double level, int stairs) {
        return new Segment(Kind.STEP, length, level, stairs);
    }

    /** Another level for a while. */
    public static Segment burst(Duration length, double level) {
        return new Segment(Kind.BURST, length, level, 1);
    }
}
