package kadrem.core.verdict;

import java.util.List;
import java.util.Optional;

import kadrem.core.stats.Interval;
import kadrem.core.stats.LocationTest;
import kadrem.core.stats.SymmetryMartingale;
import kadrem.core.study.Margin;
import kadrem.core.study.Metric;
import kadrem.core.study.Scale;

/**
 * One pair of candidates on one metric. Estimate and interval are candidate divided by baseline for a metric compared as a
 * ratio, candidate minus baseline otherwise.
 *
 * @param call name of the call of which the values are; empty for all calls together
 * @param deciding whether the metric decides, and p was adjusted together with all that decide
 * @param points the values of both in each round that both have
 * @param test of which p and interval are
 * @param interval with the confidence that the family leaves it; empty where the rounds are too few for one
 * @param adjustedP p by what all items and looks leave it of the significance, which is at most the significance where the interval does
 *            not hold "no difference"
 * @param family the number of items that shared what the look spends, at the step of Holm's at which the pair stood
 */
public record PairComparison(Metric metric, String call, boolean deciding, String baseline, String candidate,
        Margin margin, List<Point> points, LocationTest test, double estimate, Optional<Interval> interval, double p,
        double adjustedP, int family, Outcome outcome) {

    /** The values of one round. */
    public record Point(int round, double baseline, double candidate) {
    }

    public int rounds() {
        return points.size();
    }

    /** The differences of the rounds: of logarithms for a metric compared as a ratio. */
    public double[] differences() {
        return differences(metric, points);
    }

    static double[] differences(Metric metric, List<Point> points) {
        return points.stream().mapToDouble(point -> metric.scale() == Scale.RATIO
                ? logarithm(point)
                : point.candidate() - point.baseline()).toArray();
    }

    /** Of the ratio; beyond all bounds where one of the two was not reached, none where both were not. */
    private static double logarithm(Point point) {
        if (point.candidate() == point.baseline()) {
            return 0;
        }
        return Math.clamp(Math.log(point.candidate() / point.baseline()), -PairTest.UNBOUNDED, PairTest.UNBOUNDED);
    }

    /** The outcome in words; of a metric that does not decide it is a hint. */
    public String words() {
        return deciding
                ? outcome.words()
                : outcome.words().replace("not settled", "no hint").replace("settled, ", "hint: ");
    }

    /** Whether it is shown that this candidate of the pair is not worse than the other by the margin. */
    boolean isNotWorse(String one) {
        if (interval.isEmpty()) {
            return false;
        }
        boolean higherIsWorse = candidate.equals(one) != metric.higherIsBetter();
        return higherIsWorse ? interval.get().high() < margin.high() : interval.get().low() > margin.low();
    }

    /** Whether p and interval are those that are valid at any stop. */
    public boolean isAnyTime() {
        return test instanceof SymmetryMartingale;
    }
}
