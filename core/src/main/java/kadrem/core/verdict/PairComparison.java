package kadrem.core.verdict;

import java.util.List;
import java.util.Optional;

import kadrem.core.stats.SignedRank;
import kadrem.core.study.Metric;

/**
 * One pair of candidates on one metric. Estimate and interval are candidate divided by baseline for a metric compared as a
 * ratio, candidate minus baseline otherwise.
 *
 * @param deciding whether the metric decides, and p was adjusted together with all that decide
 * @param margin the margin of the metric, on the scale of {@link Metric#scale()}
 * @param points the values of both in each round that both have
 * @param interval at the confidence asked for; empty where the rounds are too few for one
 * @param adjustedP p after Holm
 */
public record PairComparison(Metric metric, boolean deciding, String baseline, String candidate, double margin,
        List<Point> points, double estimate, Optional<SignedRank.Interval> interval, double p, double adjustedP,
        Outcome outcome) {

    /** The values of one round. */
    public record Point(int round, double baseline, double candidate) {
    }

    public int rounds() {
        return points.size();
    }

    /** The value that means "no difference": 1 for a ratio, 0 for a difference. */
    public double neutral() {
        return metric.scale() == Metric.Scale.RATIO ? 1 : 0;
    }

    /** Lower end of the margin zone on the scale of the estimate. */
    public double marginLow() {
        return metric.scale() == Metric.Scale.RATIO ? 1 / (1 + margin) : -margin;
    }

    /** Upper end of the margin zone on the scale of the estimate. */
    public double marginHigh() {
        return metric.scale() == Metric.Scale.RATIO ? 1 + margin : margin;
    }
}
