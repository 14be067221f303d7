package kadrem.core.stats;

import java.util.Optional;
import java.util.OptionalInt;
import java.util.function.DoublePredicate;

/**
 * A test of paired differences that may be looked at after every round and ended whenever one likes.
 * <p>
 * The order inside a round is random, so that under "no difference" the sign of d_i is a fair coin whatever |d_i| and the rounds
 * before were. Then each M_λ = Π (1 + λ w_i s_i), with s_i the sign and a weight 0 ≤ w_i ≤ 1 that depends on |d_1| … |d_i| only, is
 * a martingale of mean 1; so is their mean over λ = ±0.2, ±0.4 … ±0.9. It reaches 1/α at any time with probability at most α
 * (Ville), so that 1 / (its largest value so far) is a p-value valid at any stop. w_i is the rank of |d_i| among the magnitudes so
 * far divided by i: a small difference of the other sign costs little. Zeros count for nothing.
 * <p>
 * The interval holds all shifts θ for which d − θ has not reached 1/α yet; as such sets need not be connected, it runs from the
 * smallest to the largest of them that are found at the Walsh averages and halfway between.
 * <p>
 * Sources: de la Peña: A general class of exponential inequalities for martingales and ratios, Annals of Probability 27, 1999
 * (symmetric differences); Ramdas, Ruf, Larsson, Koolen: Admissible anytime-valid sequential inference must rely on nonnegative
 * martingales, 2020; Ville: Étude critique de la notion de collectif, 1939.
 */
public final class SymmetryMartingale implements LocationTest {
    private static final double[] BETS = {0.2, 0.4, 0.6, 0.8, 0.9};
    private static final int BISECTIONS = 40;

    private final double[] differences;
    private final double largest;
    private final WalshAverages walsh;

    private SymmetryMartingale(double[] differences) {
        this.differences = differences;
        largest = largest(differences, 0);
        walsh = new WalshAverages(differences);
    }

    /**
     * The analysis of differences in the order in which the rounds were measured.
     *
     * @throws IllegalArgumentException if there is no difference, or one that is not a finite number
     */
    public static SymmetryMartingale of(double... differences) {
        if (differences.length == 0) {
            throw new IllegalArgumentException("no differences to bet on");
        }
        for (double difference : differences) {
            if (!Double.isFinite(difference)) {
                throw new IllegalArgumentException("a difference is " + difference);
            }
        }
        return new SymmetryMartingale(differences.clone());
    }

    /** The number of differences after which "no difference" is first ruled out at a level; empty where it never is. */
    static OptionalInt settledAfter(double[] differences, double level) {
        for (int n = 1, step = 8; n <= differences.length; n = Math.min(differences.length, n + step)) {
            double[] some = java.util.Arrays.copyOf(differences, n);
            if (largest(some, 0) >= 1 / level) {
                // the largest value only grows with the differences: the first place lies in the last stretch
                int least = Math.max(1, n - step);
                while (largest(java.util.Arrays.copyOf(differences, least), 0) < 1 / level) {
                    least++;
                }
                return OptionalInt.of(least);
            }
            if (n == differences.length) {
                break;
            }
        }
        return OptionalInt.empty();
    }

    /** The largest value that the mean of the bets reached, of differences less a shift. */
    private static double largest(double[] differences, double shift) {
        var up = new double[BETS.length];
        var down = new double[BETS.length];
        java.util.Arrays.fill(up, 1);
        java.util.Arrays.fill(down, 1);
        double largest = 1;
        for (int i = 0; i < differences.length; i++) {
            double d = differences[i] - shift;
            double magnitude = Math.abs(d);
            int below = 0;
            int same = 0;
            for (int j = 0; j <= i; j++) {
                double other = Math.abs(differences[j] - shift);
                below += other < magnitude ? 1 : 0;
                same += other == magnitude ? 1 : 0;
            }
            double signed = Math.signum(d) * (below + (same + 1) / 2.0) / (i + 1);
            double sum = 0;
            for (int b = 0; b < BETS.length; b++) {
                up[b] *= 1 + BETS[b] * signed;
                down[b] *= 1 - BETS[b] * signed;
                sum += up[b] + down[b];
            }
            largest = Math.max(largest, sum / (2 * BETS.length));
        }
        return largest;
    }

    @Override
    public double estimate() {
        return walsh.median();
    }

    @Override
    public double p(double shift) {
        return 1 / (shift == 0 ? largest : largest(differences, shift));
    }

    @Override
    public Optional<Interval> interval(double confidence) {
        double limit = 1 / (1 - confidence);
        DoublePredicate in = shift -> largest(differences, shift) < limit;
        double low = walsh.at(0);
        double high = walsh.at(walsh.count() - 1);
        double beyond = Math.max(high - low, Math.max(Math.abs(low), Math.abs(high)) * 1e-9) * 1e-6 + 1e-300;
        // a shift beyond all differences has them all on one side: where that is not ruled out, nothing is
        if (in.test(low - beyond) || in.test(high + beyond)) {
            return Optional.empty();
        }
        int first = 0;
        while (first < walsh.count() && !in.test(walsh.at(first))) {
            first++;
        }
        int last = walsh.count() - 1;
        while (last > first && !in.test(walsh.at(last))) {
            last--;
        }
        if (first == walsh.count()) {
            double middle = estimate();
            return Optional.of(new Interval(middle, middle, confidence));
        }
        return Optional.of(new Interval(
                edge(in, walsh.at(first), first == 0 ? low - beyond : walsh.at(first - 1)),
                edge(in, walsh.at(last), last == walsh.count() - 1 ? high + beyond : walsh.at(last + 1)), confidence));
    }

    /** The place between one that is in and one that is not at which that changes. */
    private static double edge(DoublePredicate in, double inside, double outside) {
        double a = inside;
        double b = outside;
        for (int i = 0; i < BISECTIONS; i++) {
            double middle = a / 2 + b / 2;
            if (in.test(middle)) {
                a = middle;
            } else {
                b = middle;
            }
        }
        return b;
    }
}
