package kadrem.core.measure;

/**
 * Whether answers differ where what is asked for does. Some calls are looked into; of each request and of each answer's body a hash sets one
 * bit of 64. Two different things set the same bit once in 64 times, so that one bit set by many different answers does not happen. Mutable
 * and confined.
 */
public final class LookedInto {
    /** Calls that were looked into. */
    public long calls;
    /** A bit for each different request. */
    public long asked;
    /** A bit for each different body. */
    public long answered;

    /** Looks into a call. */
    public void look(int askedHash, int answerHash) {
        calls++;
        asked |= bit(askedHash);
        answered |= bit(answerHash);
    }

    private static long bit(int hash) {
        // Fibonacci hashing: the upper bits of the product depend on all bits of the hash
        return 1L << (hash * 0x9E3779B9 >>> 26);
    }

    public void add(LookedInto other) {
        calls += other.calls;
        asked |= other.asked;
        answered |= other.answered;
    }

    void clear() {
        calls = 0;
        asked = 0;
        answered = 0;
    }
}
