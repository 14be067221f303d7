package kadrem.load.wire;

import kadrem.core.random.SplitMix64;
import kadrem.core.study.RoughWire;

/** One way of a rough wire, which all its connections share. One thread. */
final class Way {
    /** Nanoseconds for which the thread waits awake at most. */
    private static final long MOST_EARLY = 1_000_000;

    private final RoughWire wire;
    private long state;
    /** Until when bytes that came before are on the wire. */
    private long busyUntil;
    /** How late the thread mostly wakes up. */
    private long wakesLate;

    Way(RoughWire wire, long seed) {
        this.wire = wire;
        state = SplitMix64.mix(seed);
        busyUntil = Long.MIN_VALUE;
    }

    /**
     * When the last of some bytes that come now arrives.
     *
     * @param now instants are of {@link System#nanoTime()}
     */
    long arrives(long now, int bytes) {
        if (wire.bytesPerSecond().isPresent()) {
            long from = busyUntil == Long.MIN_VALUE ? now : Math.max(now, busyUntil);
            busyUntil = from + Math.round(bytes * 1e9 / wire.bytesPerSecond().getAsLong());
            return busyUntil + delay();
        }
        return now + delay();
    }

    /** How much earlier than a piece arrives the thread is to be woken, so that it is there in time. */
    long early() {
        return wakesLate;
    }

    /** The thread was woken so much later than it was to be. About four in five are awaited so. */
    void woken(long late) {
        long next = late > wakesLate ? wakesLate + (late - wakesLate) / 8 : wakesLate - (wakesLate - late) / 32;
        wakesLate = Math.clamp(next, 0, MOST_EARLY);
    }

    private long delay() {
        long jitter = wire.jitter().toNanos();
        if (jitter == 0) {
            return wire.delay().toNanos();
        }
        state += SplitMix64.GAMMA;
        return wire.delay().toNanos() + (long) ((2 * SplitMix64.unit(SplitMix64.mix(state)) - 1) * jitter);
    }
}
