package kadrem.core.stats;

import org.apache.commons.statistics.distribution.NormalDistribution;
import org.hipparchus.special.Beta;
import org.hipparchus.special.Gamma;

/**
 * The noncentral t distribution, from which the power of a t test follows: a Poisson mixture of incomplete beta functions, each from
 * the one before by recurrence. Source: Lenth: Algorithm AS 243, Cumulative distribution function of the non-central t distribution,
 * Applied Statistics 38, 1989; for a large noncentrality the normal approximation of Abramowitz and Stegun 1964, 26.7.10.
 */
public final class NoncentralT {
    private static final double ENOUGH = 1e-13;
    private static final int MAX_TERMS = 2_000;
    /** Beyond it the first Poisson weight is no number any more. */
    private static final double LARGE = 37.6;
    private static final NormalDistribution NORMAL = NormalDistribution.of(0, 1);

    private NoncentralT() {
    }

    /**
     * P(T ≤ t).
     *
     * @param degrees of freedom, above 0, not necessarily whole
     * @param delta the noncentrality
     */
    public static double cumulative(double t, double degrees, double delta) {
        if (t < 0) {
            return 1 - cumulative(-t, degrees, -delta);
        }
        if (Math.abs(delta) > LARGE) {
            return NORMAL.cumulativeProbability(
                    (t * (1 - 1 / (4 * degrees)) - delta) / Math.sqrt(1 + t * t / (2 * degrees)));
        }
        double x = t * t / (t * t + degrees);
        double sum = x > 0 ? mixture(x, degrees / 2, delta) : 0;
        return Math.clamp(sum + NORMAL.cumulativeProbability(-delta), 0, 1);
    }

    private static double mixture(double x, double b, double delta) {
        double half = delta * delta / 2;
        double p = 0.5 * Math.exp(-half);
        double q = Math.sqrt(2 / Math.PI) * p * delta;
        double rest = 0.5 - p;
        double a = 0.5;
        double power = Math.pow(1 - x, b);
        double odd = Beta.regularizedBeta(x, a, b);
        double oddStep = 2 * power * Math.exp(a * Math.log(x)
                - (Gamma.logGamma(0.5) + Gamma.logGamma(b) - Gamma.logGamma(0.5 + b)));
        double even = 1 - power;
        double evenStep = b * x * power;
        double sum = p * odd + q * even;
        for (int n = 1; n < MAX_TERMS && (n < half || 2 * rest * (odd - oddStep) > ENOUGH); n++) {
            a++;
            odd -= oddStep;
            even -= evenStep;
            oddStep *= x * (a + b - 1) / a;
            evenStep *= x * (a + b - 0.5) / (a + 0.5);
            p *= half / n;
            q *= 2 * half / (2 * n + 1);
            rest -= p;
            sum += p * odd + q * even;
        }
        return sum;
    }
}
