package kadrem.load.drive;

/**
 * What the programs of a driver that starts some have used.
 *
 * @param processorNanos time on processors of those that have ended so far
 * @param peakBytes the largest resident memory of one that has ended since this was last asked; 0 if none has, or it is not known of any
 * @param ended how many have ended since then
 */
public record Spent(long processorNanos, long peakBytes, int ended) {
    /** With what the programs of another driver have used beside them. */
    public Spent plus(Spent other) {
        return new Spent(processorNanos + other.processorNanos, Math.max(peakBytes, other.peakBytes),
                ended + other.ended);
    }
}
