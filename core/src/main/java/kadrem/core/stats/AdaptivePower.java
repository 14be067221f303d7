package kadrem.core.stats;

import java.util.Arrays;
import java.util.OptionalInt;
import java.util.SplittableRandom;
import java.util.random.RandomGenerator;

/**
 * How many rounds the test takes that may be looked at after each ({@link SymmetryMartingale}), by simulation of normal differences
 * with a fixed seed. It takes about twice as many as a test that is looked at once.
 */
public final class AdaptivePower {
    /** Enough for a power of 0.8 to be within 3 points of what it is two times in three. */
    private static final int STUDIES = 200;
    private static final int STEPS = 14;
    private static final long SEED = 20_261_129;

    private AdaptivePower() {
    }

    /**
     * Rounds after which a difference is settled with a power; empty where that takes more than {@code most}.
     *
     * @param effect difference in standard deviations of the paired differences, above 0
     * @param level two-sided, that of the interval
     */
    public static OptionalInt rounds(double effect, double level, double power, int most) {
        int[] settled = new int[STUDIES];
        RandomGenerator random = new SplittableRandom(SEED);
        for (int i = 0; i < STUDIES; i++) {
            var differences = new double[most];
            for (int j = 0; j < most; j++) {
                differences[j] = effect + random.nextGaussian();
            }
            settled[i] = SymmetryMartingale.settledAfter(differences, level).orElse(most + 1);
        }
        Arrays.sort(settled);
        int rounds = settled[(int) Math.ceil(STUDIES * power) - 1];
        return rounds > most ? OptionalInt.empty() : OptionalInt.of(rounds);
    }

    /** The smallest effect that so many rounds settle with a power. */
    public static double effect(int rounds, double level, double power) {
        double low = 0;
        double high = 20;
        for (int i = 0; i < STEPS; i++) {
            double middle = (low + high) / 2;
            if (rounds(middle, level, power, rounds).isPresent()) {
                high = middle;
            } else {
                low = middle;
            }
        }
        return high;
    }
}
