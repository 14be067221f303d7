package kadrem.load.engine;

import kadrem.core.study.Pacing;

/** How long a lane may sleep, by its pacing. */
final class Sleep {
    /** An answer that has not come after this time is waited for asleep: what waking costs is little beside it. */
    private static final long AWAKE_NANOS = 200_000;
    /** A sleep shorter than this is not worth its call to the system. */
    private static final long MIN_NANOS = 20_000;

    private Sleep() {
    }

    /**
     * How long a lane may sleep now, in nanoseconds; 0 not at all.
     *
     * @param wakesWithin time that the system needs to wake a thread
     */
    static long of(Pacing pacing, Lane lane, long now, long wakesWithin) {
        long untilNext = lane.nextNanos() - now;
        return switch (pacing) {
            case ALWAYS -> 0;
            case EXACT -> lane.isAwaiting() && now - lane.lastEventNanos() < AWAKE_NANOS
                    || untilNext < wakesWithin + MIN_NANOS ? 0 : untilNext - wakesWithin;
            case THRIFTY -> Math.max(0, untilNext);
        };
    }
}
