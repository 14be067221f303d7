package kadrem.core.stats;

import org.apache.commons.statistics.interval.BinomialConfidenceInterval;

/** Intervals of a share from counts. */
public final class BinomialIntervals {
    private BinomialIntervals() {
    }

    /**
     * Wilson's score interval. Source: Wilson: Probable inference, the law of succession, and statistical inference, JASA 22,
     * 1927.
     */
    public static Interval wilson(long hits, long of, double confidence) {
        return interval(BinomialConfidenceInterval.WILSON_SCORE, hits, of, confidence);
    }

    /**
     * The exact interval. Source: Clopper, Pearson: The use of confidence or fiducial limits illustrated in the case of the
     * binomial, Biometrika 26, 1934.
     */
    public static Interval clopperPearson(long hits, long of, double confidence) {
        return interval(BinomialConfidenceInterval.CLOPPER_PEARSON, hits, of, confidence);
    }

    private static Interval interval(BinomialConfidenceInterval method, long hits, long of, double confidence) {
        var found = method.fromErrorRate(Math.toIntExact(of), Math.toIntExact(hits), 1 - confidence);
        // exact there, where rounding leaves something beside it
        return new Interval(hits == 0 ? 0 : found.getLowerBound(), hits == of ? 1 : found.getUpperBound(), confidence);
    }
}
