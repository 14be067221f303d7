package kadrem.load.host.remote;

import java.util.OptionalDouble;

/**
 * When a host far away was read. How far two readings lie apart is what the host's own clock says, since an answer may be long under way;
 * where that clock was set between the two, or says nothing, the middle of question and answer counts.
 */
final class ReadingClock {
    /** By how much a clock that was not set may differ from ours between two readings, besides what the answers took. */
    private static final long SET_NANOS = 2_000_000;

    private boolean begun;
    private long instant;
    private long lastMiddle;
    private long lastTook;
    private OptionalDouble lastTold = OptionalDouble.empty();

    /**
     * The instant of a reading, on a time scale of its own.
     *
     * @param sent when it was asked for, by {@link System#nanoTime()}
     * @param took nanoseconds until the answer was whole
     * @param told seconds by the host's clock
     */
    long at(long sent, long took, OptionalDouble told) {
        long middle = sent + took / 2;
        if (begun) {
            long ours = middle - lastMiddle;
            long theirs = told.isPresent() && lastTold.isPresent()
                    ? Math.round((told.getAsDouble() - lastTold.getAsDouble()) * 1e9)
                    : ours;
            instant += Math.abs(theirs - ours) <= (took + lastTook) / 2 + SET_NANOS ? theirs : ours;
        } else {
            instant = middle;
            begun = true;
        }
        lastMiddle = middle;
        lastTook = took;
        lastTold = told;
        return instant;
    }
}
