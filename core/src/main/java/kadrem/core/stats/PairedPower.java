package kadrem.core.stats;

import java.util.OptionalDouble;

import org.apache.commons.statistics.distribution.TDistribution;
import org.hipparchus.analysis.UnivariateFunction;
import org.hipparchus.analysis.solvers.BrentSolver;
import org.hipparchus.exception.MathRuntimeException;

/**
 * How many rounds a paired comparison takes, by the power of the two-sided paired t test: P(T &gt; t_{1−α/2, n−1}) with
 * noncentrality √n δ / σ; the chance of a result in the wrong direction is not counted. Source: Cohen: Statistical Power Analysis
 * for the Behavioral Sciences, 1988, chapter 2; the same convention as {@code power.t.test} of R.
 */
public final class PairedPower {
    private static final double MAX_ROUNDS = 10_000;
    private static final double PRECISION = 1e-9;
    private static final int STEPS = 200;

    private PairedPower() {
    }

    /**
     * The power.
     *
     * @param rounds above 1, not necessarily whole
     * @param difference δ, the true difference
     * @param sd σ, standard deviation of the differences, above 0
     * @param significance α, two-sided
     */
    public static double of(double rounds, double difference, double sd, double significance) {
        return of(rounds, difference, sd, new Critical(rounds, significance));
    }

    private static double of(double rounds, double difference, double sd, Critical critical) {
        return 1 - NoncentralT.cumulative(critical.t(), rounds - 1, Math.sqrt(rounds) * Math.abs(difference) / sd);
    }

    /** The bound that t must exceed. */
    private record Critical(double t) {
        Critical(double rounds, double significance) {
            this(TDistribution.of(rounds - 1).inverseSurvivalProbability(significance / 2));
        }
    }

    /** Rounds, not rounded, that give a power; empty where more than {@value #MAX_ROUNDS} would be needed. */
    public static OptionalDouble rounds(double difference, double sd, double significance, double power) {
        if (difference == 0) {
            return OptionalDouble.empty();
        }
        return solve(rounds -> of(rounds, difference, sd, significance) - power, 2, MAX_ROUNDS);
    }

    /** The smallest difference that so many rounds show with a power. */
    public static OptionalDouble difference(double rounds, double sd, double significance, double power) {
        var critical = new Critical(rounds, significance);
        return solve(difference -> of(rounds, difference, sd, critical) - power, 0, 1_000 * sd);
    }

    private static OptionalDouble solve(UnivariateFunction function, double low, double high) {
        if (function.value(low) >= 0) {
            return OptionalDouble.of(low);
        }
        try {
            return OptionalDouble.of(new BrentSolver(PRECISION, PRECISION).solve(STEPS, function, low, high));
        } catch (MathRuntimeException _) {
            return OptionalDouble.empty();
        }
    }
}
