package kadrem.load.engine;

import java.util.function.LongSupplier;

import org.jspecify.annotations.Nullable;

/** When a lane last looked at its clock, whether it was held up since, and what it then has not read in time. Confined to the lane. */
final class Attention {
    /** A turn that takes longer is one in which calls could be late; it is counted with its cause. */
    static final long LONG_TURN_NANOS = 1_000_000L;

    private final LongSupplier clock;
    private final TurnWatch turns;
    private final LaneSecond second;
    /** Told when the lane was held up; null before the load begins, when nothing is counted. */
    private @Nullable Runnable heldUp;
    /** Until when the lane has looked at its clock, or means to sleep; a later look means that it was held up. */
    private long seenNanos = Long.MAX_VALUE / 2;
    private long lastEventNanos;
    /** Calls sent and answers read, and how many there were when a turn last began, and when that was. */
    private long events;
    private long eventsBefore;
    private long lookedNanos;
    /** While answers are read that came, or may have, while the lane was held up: from when to when that was. */
    private long unreadFrom;
    private long unreadUntil;

    Attention(LongSupplier clock, TurnWatch turns, LaneSecond second) {
        this.clock = clock;
        this.turns = turns;
        this.second = second;
    }

    /**
     * The load begins; a lane that comes to it late was held up since its start.
     *
     * @param told when the lane was held up
     */
    void counts(long startNanos, Runnable told) {
        heldUp = told;
        if (clock.getAsLong() > startNanos) {
            seenNanos = startNanos;
        }
    }

    /** Looks at the clock, and notices whether the lane was held up since it last did. */
    long look() {
        long now = clock.getAsLong();
        see(now);
        if (events != eventsBefore) {
            eventsBefore = events;
            second.work(now - lookedNanos);
        }
        lookedNanos = now;
        seenNanos = now;
        return now;
    }

    void see(long now) {
        if (now - seenNanos > LONG_TURN_NANOS && now > seenNanos) {
            unreadFrom = seenNanos;
            unreadUntil = now;
            Runnable told = heldUp;
            if (told != null) {
                second.longTurn(turns.causeOf(now - seenNanos), now - seenNanos);
                told.run();
            }
        }
        seenNanos = Math.max(seenNanos, now);
    }

    /** Whether the lane was held up until now, so that what it reads next may have lain unread. */
    boolean isHeldUp(long now) {
        see(now);
        return unreadUntil > 0;
    }

    /** The lane means to sleep until then. */
    void sleeps(long until) {
        seenNanos = until;
    }

    /** All that lay unread was read. */
    void caughtUp() {
        unreadUntil = 0;
    }

    /** A call was sent or answered. */
    void happened(long now) {
        lastEventNanos = now;
        events++;
    }

    long lastEventNanos() {
        return lastEventNanos;
    }

    /** How long an answer to what was sent at that instant may have lain unread; 0 where it did not. */
    long unreadNanos(long sentNanos) {
        return unreadUntil > 0 && sentNanos <= unreadFrom ? unreadUntil - unreadFrom : 0;
    }
}
