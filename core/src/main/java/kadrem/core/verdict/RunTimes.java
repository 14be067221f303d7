package kadrem.core.verdict;

import kadrem.core.measure.LatencySummary;
import org.HdrHistogram.AbstractHistogram;

/**
 * The response times of a run, of all calls that were due.
 *
 * @param answered times to a good answer, in nanoseconds
 * @param lacking calls without one, which lie above all times
 */
public record RunTimes(AbstractHistogram answered, long lacking) {
    private static final long MIN_TAIL = 10;

    /** Calls that were due. */
    public long due() {
        return answered.getTotalCount() + lacking;
    }

    /** @param percentile 0 to 100 */
    boolean hasTail(double percentile) {
        return due() * (1 - percentile / 100) >= MIN_TAIL - 1e-6;
    }

    /**
     * A percentile in nanoseconds, without end where it was not reached.
     *
     * @param percentile 0 to 100
     */
    public double at(double percentile) {
        return LatencySummary.comparable(LatencySummary.at(answered, lacking, percentile / 100));
    }
}
