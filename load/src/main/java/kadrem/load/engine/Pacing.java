package kadrem.load.engine;

import java.util.Arrays;
import java.util.Optional;

/** How a lane waits for what is due next. */
public enum Pacing {
    /** Never sleeps: for a lane that has a processor of its own. */
    ALWAYS("always", "never sleeping"),
    /** Sleeps only where nothing is due soon and no answer is expected at any moment. */
    EXACT("exact", "awake around each due instant and while answers come"),
    /** Sleeps until something is due or has come: for hosts that have no processor to spare. */
    THRIFTY("thrifty", "sleeping between due instants");

    /** An answer that has not come after this time is waited for asleep: what waking costs is little beside it. */
    private static final long AWAKE_NANOS = 200_000;
    /** A sleep shorter than this is not worth its call to the system. */
    private static final long LEAST_SLEEP_NANOS = 20_000;

    private final String id;
    private final String words;

    Pacing(String id, String words) {
        this.id = id;
        this.words = words;
    }

    /** The word used in files and options. */
    public String id() {
        return id;
    }

    /** The words used on screens, as in "exact pacing: awake around each due instant". */
    public String words() {
        return words;
    }

    public static Optional<Pacing> byId(String id) {
        return Arrays.stream(values()).filter(pacing -> pacing.id.equals(id)).findFirst();
    }

    /** What fits a host: exact where each lane can have a processor and one is left for the candidate. */
    public static Pacing fitting(int processors, int lanes) {
        return processors >= 2 * lanes ? EXACT : THRIFTY;
    }

    /**
     * How long a lane may sleep now, in nanoseconds; 0 not at all.
     *
     * @param wakesWithin time that the system needs to wake a thread
     */
    long sleep(Lane lane, long now, long wakesWithin) {
        long untilNext = lane.nextNanos() - now;
        return switch (this) {
            case ALWAYS -> 0;
            case EXACT -> lane.isAwaiting() && now - lane.lastEventNanos() < AWAKE_NANOS
                    || untilNext < wakesWithin + LEAST_SLEEP_NANOS ? 0 : untilNext - wakesWithin;
            case THRIFTY -> Math.max(0, untilNext);
        };
    }
}
