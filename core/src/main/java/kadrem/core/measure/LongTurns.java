package kadrem.core.measure;

/** Turns of lanes that took longer than a millisecond, by cause. Mutable and confined, as tallies are. */
public final class LongTurns {
    private static final int CAUSES = TurnCause.values().length;

    private final long[] counts = new long[CAUSES];
    private final long[] nanos = new long[CAUSES];
    private final long[] longest = new long[CAUSES];

    /** Turns of one cause. */
    public record Of(TurnCause cause, long count, long totalNanos, long longestNanos) {
    }

    public void add(TurnCause cause, long turnNanos) {
        counts[cause.ordinal()]++;
        nanos[cause.ordinal()] += turnNanos;
        longest[cause.ordinal()] = Math.max(longest[cause.ordinal()], turnNanos);
    }

    public void add(Of turns) {
        int cause = turns.cause().ordinal();
        counts[cause] += turns.count();
        nanos[cause] += turns.totalNanos();
        longest[cause] = Math.max(longest[cause], turns.longestNanos());
    }

    public void add(LongTurns other) {
        for (int i = 0; i < CAUSES; i++) {
            counts[i] += other.counts[i];
            nanos[i] += other.nanos[i];
            longest[i] = Math.max(longest[i], other.longest[i]);
        }
    }

    public void clear() {
        java.util.Arrays.fill(counts, 0);
        java.util.Arrays.fill(nanos, 0);
        java.util.Arrays.fill(longest, 0);
    }

    /** Those that there were, the cause that took most time first. */
    public java.util.List<Of> all() {
        return java.util.Arrays.stream(TurnCause.values()).filter(cause -> counts[cause.ordinal()] > 0)
                .map(cause -> new Of(cause, counts[cause.ordinal()], nanos[cause.ordinal()], longest[cause.ordinal()]))
                .sorted(java.util.Comparator.comparingLong(Of::totalNanos).reversed()).toList();
    }
}
