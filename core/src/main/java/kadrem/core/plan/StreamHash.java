package kadrem.core.plan;

/**
 * The 64-bit FNV-1a hash over numbers of eight bytes each, lowest byte first (Fowler, Noll, Vo; RFC 9923), with which
 * the stream of a run is digested.
 */
public final class StreamHash {
    public static final long START = 0xcbf29ce484222325L;
    private static final long PRIME = 0x100000001b3L;

    private StreamHash() {
    }

    /** {@code hash} carried on over the eight bytes of {@code number}. */
    public static long with(long hash, long number) {
        for (int shift = 0; shift < 64; shift += 8) {
            hash = (hash ^ ((number >>> shift) & 0xff)) * PRIME;
        }
        return hash;
    }

    /** {@code hash} carried on over a drawn visit: its number, then the row of each value list. */
    public static long with(long hash, LoadStream.Draw draw) {
        hash = with(hash, draw.visit());
        for (int i = 0; i < draw.lists(); i++) {
            hash = with(hash, draw.row(i));
        }
        return hash;
    }
}
