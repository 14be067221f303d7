package kadrem.core.plan;

import java.time.Duration;

import kadrem.core.random.SplitMix64;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Timeline;

/**
 * The arrivals of a run that follows a timeline: a warm-up at one rate, which does what any of the window's arrivals do, then the window as
 * often as it is made.
 */
public final class Recorded implements Arrivals {
    private final Arrivals warmUp;
    private final long beginNanos;
    private final Timeline timeline;
    private final Instants instants;
    private final long fromNanos;
    private final double lengthNanos;

    private Recorded(Arrivals warmUp, long beginNanos, Timeline timeline, Instants instants) {
        this.warmUp = warmUp;
        this.beginNanos = beginNanos;
        this.timeline = timeline;
        this.instants = instants;
        fromNanos = timeline.from().toNanos();
        lengthNanos = timeline.length().toNanos();
    }

    /** The measured part alone, whose first instant is the window's beginning. */
    public static Recorded measured(Timeline timeline, Instants instants) {
        return new Recorded(NONE, 0, timeline, instants);
    }

    /**
     * @param load with a timeline, whose {@code instants} these are
     * @param start when its first arrivals come, after the beginning of the measured part
     */
    public static Recorded of(LoadProfile.Open load, Duration start, Timeline timeline, Instants instants) {
        if (timeline.first() + timeline.arrivals() > instants.count()) {
            throw new IllegalArgumentException("the timeline has " + instants.count() + " arrivals, and its window "
                    + timeline.arrivals() + " from number " + timeline.first());
        }
        double level = load.course().warmUpLevel().orElse(0);
        long before = (long) Math.floor(level * load.warmUp().toSeconds());
        return new Recorded(before == 0 ? NONE : new Constant(1e9 / level, before), load.warmUp().plus(start).toNanos(),
                timeline,
                instants);
    }

    @Override
    public long count() {
        return warmUp.count() + timeline.all();
    }

    @Override
    public long dueNanos(long index) {
        long arrival = index - warmUp.count();
        if (arrival < 0) {
            return warmUp.dueNanos(index);
        }
        long pass = arrival / timeline.arrivals();
        long nanos = instants.nanos(inFile(arrival)) - fromNanos;
        return beginNanos + (long) ((pass * lengthNanos + nanos) / timeline.speed());
    }

    private long inFile(long arrival) {
        return timeline.first() + arrival % timeline.arrivals();
    }

    /** The arrival of the file that an arrival of the run is, or that it does the same as in the warm-up. */
    private long like(long index) {
        long arrival = index - warmUp.count();
        return arrival < 0
                ? timeline.first() + SplitMix64.below(SplitMix64.mix(index), timeline.arrivals())
                : inFile(arrival);
    }

    @Override
    public long dueBefore(long nanos) {
        long low = 0;
        long high = count();
        while (low < high) {
            long middle = (low + high) >>> 1;
            if (dueNanos(middle) < nanos) {
                low = middle + 1;
            } else {
                high = middle;
            }
        }
        return low;
    }

    /** The visit that an arrival of the run makes, or {@link Instants#DRAWN}. */
    long visit(long index) {
        return instants.visit(like(index));
    }

    /** The row of a value list that an arrival of the run sends, or {@link Instants#DRAWN}. */
    long row(int list, long index) {
        return instants.row(list, like(index));
    }
}
