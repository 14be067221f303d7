package kadrem.core.stats;

import java.util.Arrays;
import java.util.Optional;

import org.hipparchus.stat.correlation.SpearmansCorrelation;

import org.hipparchus.stat.ranking.NaturalRanking;
import org.hipparchus.stat.ranking.TiesStrategy;

/**
 * Whether two courses over time move together: Spearman's rank correlation, of all the delays of the second behind the first
 * the one at which it is strongest. An association and no more: what drives both looks the same. Source: Spearman: The Proof
 * and Measurement of Association between Two Things, American Journal of Psychology 15, 1904; ties take their mean rank.
 */
public final class LaggedAssociation {
    /** Fewest pairs for which a correlation is computed. */
    public static final int FEWEST = 8;

    private LaggedAssociation() {
    }

    /**
     * What was found.
     *
     * @param rho from -1 to 1
     * @param delay steps by which the second course follows the first
     * @param pairs pairs of values behind it
     */
    public record Result(double rho, int delay, int pairs) {
    }

    /**
     * The strongest association; empty where one of the two never changes or there are fewer than {@link #FEWEST} pairs.
     *
     * @param first values at equal distances
     * @param second values at the same instants
     * @throws IllegalArgumentException if their numbers differ
     */
    public static Optional<Result> of(double[] first, double[] second, int mostDelay) {
        if (first.length != second.length) {
            throw new IllegalArgumentException(first.length + " values against " + second.length);
        }
        Optional<Result> best = Optional.empty();
        for (int delay = 0; delay <= mostDelay && first.length - delay >= FEWEST; delay++) {
            double rho = spearman(Arrays.copyOfRange(first, 0, first.length - delay),
                    Arrays.copyOfRange(second, delay, second.length));
            if (Double.isFinite(rho) && (best.isEmpty() || Math.abs(rho) > Math.abs(best.get().rho()))) {
                best = Optional.of(new Result(rho, delay, first.length - delay));
            }
        }
        return best;
    }

    /** Spearman's rho; NaN where one of the two never changes. */
    static double spearman(double[] x, double[] y) {
        return new SpearmansCorrelation(new NaturalRanking(TiesStrategy.AVERAGE)).correlation(x,
                y);
    }
}
