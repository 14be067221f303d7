package kadrem.core.stats;

import org.apache.commons.statistics.distribution.NormalDistribution;
import org.hipparchus.special.Beta;
import org.hipparchus.special.Gamma;

/**
 * The noncentral t distribution, from which the power of a t test follows. Source: Lenth: Algorithm AS 243, Cumulative
 * distribution function of the non-central t distribution, Applied Statistics 38, 1989.
 */
public final class NoncentralT {
    private static final double ENOUGH = 1e-13;
    private static final int MOST_TERMS = 10_000;
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
        double x = t * t / (t * t + degrees);
        double half = delta * delta / 2;
        double b = degrees / 2;
        double sum = 0;
        double weight = 0;
        for (int j = 0; x > 0 && j < MOST_TERMS && (j < half || 1 - weight > ENOUGH); j++) {
            // Poisson weights of both series, by logarithms so that a large noncentrality does not underflow
            double p = half == 0 ? j == 0 ? 1 : 0 : Math.exp(-half + j * Math.log(half) - Gamma.logGamma(j + 1.0));
            double q = half == 0
                    ? 0
                    : delta / Math.sqrt(2) * Math.exp(-half + j * Math.log(half) - Gamma.logGamma(j + 1.5));
            sum += p * Beta.regularizedBeta(x, j + 0.5, b) + q * Beta.regularizedBeta(x, j + 1.0, b);
            weight += p;
        }
        return Math.clamp(sum / 2 + NORMAL.cumulativeProbability(-delta), 0, 1);
    }
}
