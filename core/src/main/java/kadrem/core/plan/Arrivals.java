package kadrem.core.plan;

/** Arrivals at constant spacing: number i is due i / rate after the start. */
public final class Arrivals {
    private final double spacingNanos;
    private final long count;

    /** @param seconds length of the whole load, warm-up included */
    public Arrivals(double perSecond, long seconds) {
        spacingNanos = 1e9 / perSecond;
        count = (long) Math.ceil(seconds * perSecond - 1e-9);
    }

    /** Number of arrivals due before the end. */
    public long count() {
        return count;
    }

    /** Due instant of arrival {@code index}, in ns after the start. */
    public long dueNanos(long index) {
        return (long) (index * spacingNanos);
    }

    /** Arrivals due in [0, {@code nanos}). */
    public long dueBefore(long nanos) {
        long guess = Math.min(count, (long) (nanos / spacingNanos));
        while (guess < count && dueNanos(guess) < nanos) {
            guess++;
        }
        while (guess > 0 && dueNanos(guess - 1) >= nanos) {
            guess--;
        }
        return guess;
    }
}
