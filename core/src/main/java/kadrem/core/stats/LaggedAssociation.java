package kadrem.core.stats;

import java.util.Arrays;
import java.util.Optional;
import java.util.SplittableRandom;

import org.hipparchus.stat.correlation.SpearmansCorrelation;
import org.hipparchus.stat.ranking.NaturalRanking;
import org.hipparchus.stat.ranking.TiesStrategy;

/**
 * Whether two courses over time move together: Spearman's rank correlation, of all the delays of the second behind the first
 * the one at which it is strongest. An association and no more: what drives both looks the same. Source: Spearman: The Proof
 * and Measurement of Association between Two Things, American Journal of Psychology 15, 1904; ties take their mean rank.
 *
 * <p>Courses over time drift together by chance, the more so the more delays are looked at. So the strongest correlation is held against
 * those of courses that have nothing to do with the second but wander as the first does: its ranks with random phases (Ebisuzaki: A
 * Method to Estimate the Statistical Significance of a Correlation When the Data Are Serially Correlated, Journal of Climate 10, 1997).
 */
public final class LaggedAssociation {
    /** Fewest pairs for which a correlation is computed. */
    public static final int MIN = 8;
    /** Courses with random phases that a correlation is held against. */
    private static final int SURROGATES = 999;
    /** Larger correlations of such courses after which no more are made (Besag and Clifford, Biometrika 78, 1991). */
    private static final int ENOUGH = 20;
    /** Largest product of a course's length and that of the stretches whose phases are drawn: what bounds the time. */
    private static final int MAX_WORK = 1 << 18;
    private static final int MIN_STRETCH = 32;

    private LaggedAssociation() {
    }

    /**
     * What was found.
     *
     * @param rho from -1 to 1
     * @param delay steps by which the second course follows the first
     * @param pairs pairs of values behind it
     * @param p chance that a course that wanders as the first does, and has nothing to do with the second, shows as strong a correlation
     */
    public record Result(double rho, int delay, int pairs, double p) {
    }

    /**
     * The strongest association; empty where one of the two never changes or there are fewer than {@link #MIN} pairs.
     *
     * @param first values at equal distances
     * @param second values at the same instants
     * @param worthIt |rho| below which nothing is said, and p is 1
     * @throws IllegalArgumentException if their numbers differ
     */
    public static Optional<Result> of(double[] first, double[] second, int mostDelay, double worthIt) {
        if (first.length != second.length) {
            throw new IllegalArgumentException(first.length + " values against " + second.length);
        }
        Optional<Result> best = Optional.empty();
        for (int delay = 0; delay <= mostDelay && first.length - delay >= MIN; delay++) {
            double rho = spearman(Arrays.copyOfRange(first, 0, first.length - delay),
                    Arrays.copyOfRange(second, delay, second.length));
            if (Double.isFinite(rho) && (best.isEmpty() || Math.abs(rho) > Math.abs(best.get().rho()))) {
                best = Optional.of(new Result(rho, delay, first.length - delay, 1));
            }
        }
        return best.map(found -> Math.abs(found.rho()) < worthIt
                ? found
                : new Result(found.rho(), found.delay(), found.pairs(), chance(first, second, mostDelay)));
    }

    /** Spearman's rho; NaN where one of the two never changes. */
    static double spearman(double[] x, double[] y) {
        return new SpearmansCorrelation(new NaturalRanking(TiesStrategy.AVERAGE)).correlation(x,
                y);
    }

    private static double chance(double[] first, double[] second, int mostDelay) {
        double[] ranks = MidRanks.of(first, value -> value);
        double[] others = MidRanks.of(second, value -> value);
        double seen = strongest(ranks, others, mostDelay);
        var phases = new RandomPhases(ranks,
                Math.clamp(MAX_WORK / ranks.length, MIN_STRETCH, Math.max(MIN_STRETCH, ranks.length)));
        var random = new SplittableRandom(ranks.length);
        int larger = 0;
        for (int made = 1; made <= SURROGATES; made++) {
            if (strongest(MidRanks.of(phases.next(random), value -> value), others, mostDelay) >= seen) {
                larger++;
            }
            if (larger == ENOUGH) {
                return (double) larger / made;
            }
        }
        return (1.0 + larger) / (1 + SURROGATES);
    }

    /** The largest |r| over the delays. */
    private static double strongest(double[] x, double[] y, int mostDelay) {
        double most = 0;
        for (int delay = 0; delay <= mostDelay && x.length - delay >= MIN; delay++) {
            most = Math.max(most, Math.abs(pearson(x, y, delay)));
        }
        return most;
    }

    private static double pearson(double[] x, double[] y, int delay) {
        int n = x.length - delay;
        double sumX = 0;
        double sumY = 0;
        for (int i = 0; i < n; i++) {
            sumX += x[i];
            sumY += y[i + delay];
        }
        double meanX = sumX / n;
        double meanY = sumY / n;
        double both = 0;
        double squareX = 0;
        double squareY = 0;
        for (int i = 0; i < n; i++) {
            double dx = x[i] - meanX;
            double dy = y[i + delay] - meanY;
            both += dx * dy;
            squareX += dx * dx;
            squareY += dy * dy;
        }
        return squareX > 0 && squareY > 0 ? both / Math.sqrt(squareX * squareY) : 0;
    }
}
