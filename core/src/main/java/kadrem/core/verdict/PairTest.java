package kadrem.core.verdict;

import java.util.Optional;

import kadrem.core.stats.Interval;
import kadrem.core.stats.LocationTest;
import kadrem.core.study.Margin;

/**
 * The analysis of a pair, and what its interval says.
 *
 * @param test of differences: of logarithms where values are compared as ratios
 */
record PairTest(Margin margin, boolean higherIsBetter, LocationTest test) implements Family.Item {
    /** A difference beyond it is one without bound: one of the two values was not reached. */
    static final double UNBOUNDED = 1e9;

    double estimate() {
        return shown(test.estimate());
    }

    /**
     * What a level says.
     *
     * @param interval on the scale of the estimate
     */
    record Said(Optional<Interval> interval, Outcome outcome) {
    }

    /** The interval of confidence {@code 1 - level}, and what it says. */
    Said at(double level) {
        Optional<Interval> found = test.interval(1 - level);
        return new Said(found.map(i -> new Interval(shown(i.low()), shown(i.high()), i.achievedConfidence())),
                outcome(found));
    }

    /** What an interval says, and nothing else: that it lies beyond the margin, inside the margin, or on one side of no difference. */
    private Outcome outcome(Optional<Interval> found) {
        double zone = margin.zone();
        if (found.isEmpty()) {
            return Outcome.NOT_SETTLED;
        }
        Interval interval = found.get();
        if (interval.low() > zone || interval.high() < -zone) {
            return towards(interval.low() > 0, Outcome.WORSE_BY_MORE, Outcome.BETTER_BY_MORE);
        }
        if (interval.low() > -zone && interval.high() < zone) {
            return Outcome.NO_DIFFERENCE_THAT_MATTERS;
        }
        return interval.contains(0)
                ? Outcome.NOT_SETTLED
                : towards(interval.low() > 0, Outcome.WORSE, Outcome.BETTER);
    }

    @Override
    public boolean isBeyond(double level) {
        return switch (outcome(test.interval(1 - level))) {
            case BETTER_BY_MORE, WORSE_BY_MORE -> true;
            case BETTER, WORSE, NO_DIFFERENCE_THAT_MATTERS, NOT_SETTLED -> false;
        };
    }

    private Outcome towards(boolean higher, Outcome ifHigher, Outcome mirror) {
        return higher != higherIsBetter ? ifHigher : mirror;
    }

    private double shown(double difference) {
        return margin.scale().shown(difference);
    }
}
