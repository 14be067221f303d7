package kadrem.core.stats;

import java.util.Arrays;
import java.util.Optional;
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
 * smallest to the largest of them that are found at the Walsh averages (at some of them, where there are very many) and in the
 * stretches beside them.
 * <p>
 * Sources: de la Peña: A general class of exponential inequalities for martingales and ratios, Annals of Probability 27, 1999
 * (symmetric differences); Ramdas, Ruf, Larsson, Koolen: Admissible anytime-valid sequential inference must rely on nonnegative
 * martingales, 2020; Ville: Étude critique de la notion de collectif, 1939.
 */
public final class SymmetryMartingale implements LocationTest {
    private static final double[] BETS = {0.2, 0.4, 0.6, 0.8, 0.9};
    /** About how many Walsh averages are looked at on the way; of up to 44 differences every one is. */
    private static final int LOOKED_AT = 500;

    private final double[] differences;
    private final double largest;
    private final WalshAverages walsh;

    /** What was found last: an interval of less confidence lies within it. */
    private volatile Found found = new Found(0, 0, 0);

    /** The first and the last Walsh average in the interval at a limit. */
    private record Found(double limit, int first, int last) {
    }

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

    /** The bets on differences less a shift, of which one after the other becomes known. */
    public static final class Bets {
        private final double[] differences;
        private double shift;
        private final double[] up = new double[BETS.length];
        private final double[] down = new double[BETS.length];
        private int known;
        private double largest = 1;

        /** @param differences filled in until {@link #next} */
        public Bets(double[] differences, double shift) {
            this.differences = differences;
            begin(shift);
        }

        private void begin(double from) {
            shift = from;
            known = 0;
            largest = 1;
            Arrays.fill(up, 1);
            Arrays.fill(down, 1);
        }

        /** The largest value on all differences less a shift, or some value of at least {@code enough} where that is reached. */
        private double largest(double from, double enough) {
            begin(from);
            while (known < differences.length && largest < enough) {
                next();
            }
            return largest;
        }

        /** Takes the next difference in. */
        public void next() {
            double d = differences[known] - shift;
            double magnitude = Math.abs(d);
            int below = 0;
            int same = 0;
            for (int j = 0; j <= known; j++) {
                double other = Math.abs(differences[j] - shift);
                below += other < magnitude ? 1 : 0;
                same += other == magnitude ? 1 : 0;
            }
            known++;
            double signed = Math.signum(d) * (below + (same + 1) / 2.0) / known;
            double sum = 0;
            for (int b = 0; b < BETS.length; b++) {
                up[b] *= 1 + BETS[b] * signed;
                down[b] *= 1 - BETS[b] * signed;
                sum += up[b] + down[b];
            }
            largest = Math.max(largest, sum / (2 * BETS.length));
        }

        /** The largest value that the mean of the bets reached so far. */
        public double largest() {
            return largest;
        }
    }

    private static double largest(double[] differences, double shift) {
        return new Bets(differences, shift).largest(shift, Double.POSITIVE_INFINITY);
    }

    @Override
    public String method() {
        return "symmetry martingale";
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
        var bets = new Bets(differences, 0);
        DoublePredicate in = shift -> bets.largest(shift, limit) < limit;
        double low = walsh.at(0);
        double high = walsh.at(walsh.count() - 1);
        double beyond = Math.max(high - low, Math.max(Math.abs(low), Math.abs(high)) * 1e-9) * 1e-6 + 1e-300;
        // a shift beyond all differences has them all on one side: where that is not ruled out, nothing is
        if (in.test(low - beyond) || in.test(high + beyond)) {
            return Optional.empty();
        }
        Found known = found;
        boolean narrower = limit <= known.limit();
        int first = outermost(in, narrower ? known.first() : 0, walsh.count(), 1);
        int last = first == walsh.count()
                ? first - 1
                : outermost(in, narrower ? known.last() : walsh.count() - 1, first, -1);
        found = new Found(limit, first, last);
        if (first == walsh.count()) {
            double middle = estimate();
            return Optional.of(new Interval(middle, middle, confidence));
        }
        return Optional.of(new Interval(edge(in, walsh.at(first), first == 0 ? low : walsh.at(first - 1)),
                edge(in, walsh.at(last), last == walsh.count() - 1 ? high : walsh.at(last + 1)), confidence));
    }

    /**
     * The first Walsh average from one end on that is in. Of very many only some are looked at on the way, and all between the last of them
     * that is not in and the first that is.
     *
     * @param end where there is none
     * @param direction 1 upwards, −1 downwards
     */
    private int outermost(DoublePredicate in, int from, int end, int direction) {
        int stride = Math.max(1, walsh.count() / LOOKED_AT);
        int out = from - direction;
        int at = from;
        while ((end - at) * direction > 0 && !in.test(walsh.at(at))) {
            out = at;
            at += stride * direction;
        }
        for (int i = out + direction; (end - i) * direction > 0 && (at - i) * direction > 0; i += direction) {
            if (in.test(walsh.at(i))) {
                return i;
            }
        }
        return (end - at) * direction > 0 ? at : end;
    }

    /**
     * The place at which "in" ends. Ranks of magnitudes and signs change at Walsh averages alone, so that what holds halfway between two
     * that follow on each other holds for all of that stretch.
     */
    private static double edge(DoublePredicate in, double inside, double outside) {
        return in.test(inside / 2 + outside / 2) ? outside : inside;
    }
}
