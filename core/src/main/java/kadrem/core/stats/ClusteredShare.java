package kadrem.core.stats;

import org.apache.commons.statistics.distribution.TDistribution;

/**
 * A share of calls, pooled over runs, with bounds that take the run for the unit: the ratio estimate Σx / Σn with its variance between
 * runs and t on r − 1 degrees of freedom, never narrower than the exact binomial bounds of the pooled counts. With more bad runs
 * the upper bound rises, whatever the others are.
 * <p>
 * Sources: Williams: Extra-binomial variation in logistic linear models, Applied Statistics 31, 1982, for why; Cochran: Sampling
 * Techniques, 1977, section 6.3, for the ratio estimate and its variance; Clopper, Pearson 1934.
 */
public final class ClusteredShare {
    private final long hits;
    private final long of;
    private final int runs;
    private final double error;

    private ClusteredShare(long hits, long of, int runs, double error) {
        this.hits = hits;
        this.of = of;
        this.runs = runs;
        this.error = error;
    }

    /**
     * The share.
     *
     * @param hits calls of each run that count
     * @param of calls of each run
     * @throws IllegalArgumentException if there is no call, or there are more hits than calls
     */
    public static ClusteredShare of(long[] hits, long[] of) {
        long allHits = 0;
        long all = 0;
        for (int i = 0; i < hits.length; i++) {
            if (hits[i] < 0 || hits[i] > of[i]) {
                throw new IllegalArgumentException(hits[i] + " of " + of[i] + " calls");
            }
            allHits += hits[i];
            all += of[i];
        }
        if (all == 0) {
            throw new IllegalArgumentException("a share of no calls");
        }
        double share = (double) allHits / all;
        double squares = 0;
        for (int i = 0; i < hits.length; i++) {
            double residual = hits[i] - share * of[i];
            squares += residual * residual;
        }
        int r = hits.length;
        double error = r < 2 ? Double.POSITIVE_INFINITY : Math.sqrt(squares * r / (r - 1)) / all;
        return new ClusteredShare(allHits, all, r, error);
    }

    public double share() {
        return (double) hits / of;
    }

    /** Both bounds, each of which is passed with probability half of {@code 1 - confidence}. */
    public Interval interval(double confidence) {
        double scale = Math.max(1, (double) of / Integer.MAX_VALUE);
        Interval exact = BinomialIntervals.clopperPearson((long) (hits / scale), (long) (of / scale), confidence);
        if (runs < 2) {
            return new Interval(0, 1, confidence);
        }
        double half = TDistribution.of(runs - 1.0).inverseCumulativeProbability(0.5 + confidence / 2) * error;
        return new Interval(Math.max(0, Math.min(exact.low(), share() - half)),
                Math.min(1, Math.max(exact.high(), share() + half)), confidence);
    }
}
