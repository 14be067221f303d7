package kadrem.core.stats;

import org.apache.commons.statistics.distribution.HypergeometricDistribution;

/**
 * How many of the next runs will keep a limit, from how many did: given the sum of both, which of the runs kept it is hypergeometric
 * whatever the chance. Source: Thatcher: Relationships between Bayesian and Confidence Limits for Predictions, Journal of the Royal
 * Statistical Society B 26, 1964; Krishnamoorthy, Mathew: Statistical Tolerance Regions, 2009.
 */
public final class NextRuns {
    private NextRuns() {
    }

    /**
     * The lower prediction bound.
     *
     * @param kept runs that kept it, of {@code runs}
     * @param next runs to come
     * @param confidence that at least so many will, over many such predictions
     * @return from 0 to {@code next}
     */
    public static int atLeast(int kept, int runs, int next, double confidence) {
        for (int bound = 0; bound < next; bound++) {
            // of kept + bound in all, at least kept in the runs that were made
            double chance = HypergeometricDistribution.of(runs + next, kept + bound, runs)
                    .survivalProbability(kept - 1);
            if (chance > 1 - confidence) {
                return bound;
            }
        }
        return next;
    }
}
