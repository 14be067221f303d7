package kadrem.core.study;

import java.time.Duration;
import java.util.Arrays;
import java.util.Optional;

/** How much load, and for how long. The lengths of warm-up and measured part are whole seconds. */
public sealed interface LoadProfile {

    Duration warmUp();

    Duration measured();

    /** From the instant a call was sent until it is given up. */
    Duration timeout();

    /** Connections held open to the candidate. */
    int connections();

    /**
     * A fixed number of users, each on a connection of its own, who wait for an answer, pause, and call again.
     *
     * @param thinkTime pause between an answer and the user's next call, for calls that have none of their own
     */
    record Closed(int users, ThinkTime thinkTime, Duration warmUp, Duration measured, Duration timeout)
            implements LoadProfile {
        /** Users who pause for the same time after each call. */
        public Closed(int users, Duration thinkTime, Duration warmUp, Duration measured, Duration timeout) {
            this(users, new ThinkTime.Fixed(thinkTime), warmUp, measured, timeout);
        }

        @Override
        public int connections() {
            return users;
        }
    }

    /** Visits that begin at a given rate whether or not earlier ones were answered. */
    record Open(double arrivalsPerSecond, Spacing spacing, int connections, Duration warmUp, Duration measured,
            Duration timeout) implements LoadProfile {
    }

    /** How arrivals follow each other. */
    enum Spacing {
        /** At equal distances. */
        CONSTANT("constant"),
        /** At independent exponential distances, as many unrelated users would come. */
        POISSON("poisson");

        private final String id;

        Spacing(String id) {
            this.id = id;
        }

        /** The word used in files. */
        public String id() {
            return id;
        }

        public static Optional<Spacing> byId(String id) {
            return Arrays.stream(values()).filter(spacing -> spacing.id.equals(id)).findFirst();
        }
    }
}
