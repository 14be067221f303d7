package kadrem.core.verdict;

import java.util.Optional;

import kadrem.core.stats.Interval;
import kadrem.core.stats.LocationTest;
import kadrem.core.study.Metric;

/**
 * The analysis of a pair before p-values are adjusted, and the outcome that follows from it.
 *
 * @param test of differences: of logarithms where values are compared as ratios
 * @param margin a ratio less 1 or an absolute difference
 */
record PairTest(Metric.Scale scale, boolean higherIsBetter, double margin, LocationTest test) {
    /** The confidence of the interval that is held inside the margin to show that a difference does not matter. */
    static final double EQUIVALENCE_CONFIDENCE = 0.90;

    double estimate() {
        return shown(test.estimate());
    }

    /** On the scale of the estimate. */
    Optional<Interval> interval(double confidence) {
        return test.interval(confidence)
                .map(i -> new Interval(shown(i.low()), shown(i.high()), i.achievedConfidence()));
    }

    /**
     * The outcome: a difference is settled where the interval at 1 − significance excludes none and p after Holm is at most the
     * significance; that none matters, where the 90 % interval lies inside the margin (two one-sided tests at 5 %: Schuirmann, A
     * comparison of the two one-sided tests procedure and the power approach, J. Pharmacokinetics and Biopharmaceutics 15, 1987).
     */
    Outcome outcome(double adjustedP, double significance) {
        double zone = scale == Metric.Scale.RATIO ? Math.log1p(margin) : margin;
        Optional<Interval> interval = test.interval(1 - significance);
        boolean different = adjustedP <= significance && interval.isPresent() && !interval.get().contains(0);
        if (different && (interval.get().low() > zone || interval.get().high() < -zone)) {
            return towards(interval.get().low() > 0, Outcome.WORSE_BY_MORE, Outcome.BETTER_BY_MORE);
        }
        Optional<Interval> narrow = test.interval(EQUIVALENCE_CONFIDENCE);
        if (narrow.isPresent() && narrow.get().low() > -zone && narrow.get().high() < zone) {
            return Outcome.NO_DIFFERENCE_THAT_MATTERS;
        }
        return different ? towards(interval.get().low() > 0, Outcome.WORSE, Outcome.BETTER) : Outcome.NOT_SETTLED;
    }

    private Outcome towards(boolean higher, Outcome ifHigher, Outcome mirror) {
        return higher != higherIsBetter ? ifHigher : mirror;
    }

    private double shown(double difference) {
        return scale == Metric.Scale.RATIO ? Math.exp(difference) : difference;
    }
}
