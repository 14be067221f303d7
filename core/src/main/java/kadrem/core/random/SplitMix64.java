package kadrem.core.random;

/**
 * The SplitMix64 generator as pure functions, so that the n-th number of a stream is had without the ones before it.
 * Steele, Lea, Flood: Fast splittable pseudorandom number generators, OOPSLA 2014; {@code java.util.SplittableRandom}
 * gives the same numbers.
 */
public final class SplitMix64 {
    /** The step between two states: 2^64 divided by the golden ratio, made odd. */
    public static final long GAMMA = 0x9E3779B97F4A7C15L;

    private SplitMix64() {
    }

    public static long mix(long z) {
        z = (z ^ (z >>> 30)) * 0xBF58476D1CE4E5B9L;
        z = (z ^ (z >>> 27)) * 0x94D049BB133111EBL;
        return z ^ (z >>> 31);
    }

    /** A number from 0 to {@code bound} - 1 from 64 random bits; the bias is below bound / 2^64. */
    public static long below(long bits, long bound) {
        return Math.unsignedMultiplyHigh(bits, bound);
    }

    /** A number in [0, 1) from the upper 53 bits. */
    public static double unit(long bits) {
        return (bits >>> 11) * 0x1.0p-53;
    }
}
