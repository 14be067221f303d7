package kadrem.load.campaign;

import java.time.Duration;

import kadrem.core.study.LevelSearch;
import kadrem.core.study.MeasuredStudy;

/** How long a campaign still takes: the mean of its runs so far, but no less than the load itself, since failed runs are short. */
final class TimeLeft {
    /** Guess of what a run needs besides its load, until one has been timed. */
    private static final Duration ASSUMED_OVERHEAD = Duration.ofSeconds(3);

    private final long begun = System.nanoTime();
    private final Duration load;
    private final boolean isSearch;

    TimeLeft(MeasuredStudy study) {
        int levels = study.load().course().search().map(LevelSearch::most).orElse(1);
        load = study.load().total().multipliedBy(levels).plus(study.plan().idle()).plus(study.plan().pause());
        isSearch = levels > 1;
    }

    /** The time for {@code of} runs of which {@code done} are made. */
    Duration after(int done, int of) {
        Duration assumed = load.plus(ASSUMED_OVERHEAD);
        Duration mean = done > 0 ? Duration.ofNanos((System.nanoTime() - begun) / done) : assumed;
        // a search may end after any of its levels
        boolean tooShort = !isSearch && mean.compareTo(load) < 0;
        return (tooShort ? assumed : mean).multipliedBy(of - done);
    }
}
