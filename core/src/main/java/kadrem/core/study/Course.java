package kadrem.core.study;

import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.OptionalLong;

/**
 * What surrounds the measured part of a load profile, and what may end it.
 *
 * @param warmUp sent before the measured part and not counted
 * @param warmUpLevel users or arrivals a second of the warm-up; that with which the measured part begins if empty
 * @param windDown time after the measured part in which the level falls to 0; sent and not counted
 * @param visits number of visits in the measured part, of each user or of all arrivals; the measured part is then the
 *            longest time
 * @param timeout from the instant a call was sent until it is given up
 * @param search levels that are tried one after the other instead of the one of the profile
 * @param stopRules what ends a run before its time
 */
public record Course(Duration warmUp, OptionalDouble warmUpLevel, Duration windDown, OptionalLong visits,
        Duration timeout, Optional<LevelSearch> search, List<StopRule> stopRules) {
    public Course {
        stopRules = List.copyOf(stopRules);
    }

    /** A warm-up at the level with which the measured part begins, and nothing else. */
    public static Course of(Duration warmUp, Duration timeout) {
        return new Course(warmUp, OptionalDouble.empty(), Duration.ZERO, OptionalLong.empty(), timeout,
                Optional.empty(), List.of());
    }

    public Course withWindDown(Duration other) {
        return new Course(warmUp, warmUpLevel, other, visits, timeout, search, stopRules);
    }

    public Course withWarmUpLevel(double level) {
        return new Course(warmUp, OptionalDouble.of(level), windDown, visits, timeout, search, stopRules);
    }

    public Course withVisits(long number) {
        return new Course(warmUp, warmUpLevel, windDown, OptionalLong.of(number), timeout, search, stopRules);
    }

    public Course withSearch(LevelSearch other) {
        return new Course(warmUp, warmUpLevel, windDown, visits, timeout, Optional.of(other), stopRules);
    }

    public Course withStopRules(List<StopRule> others) {
        return new Course(warmUp, warmUpLevel, windDown, visits, timeout, search, others);
    }

    /** The same without a search, as for one of its levels. */
    public Course withoutSearch() {
        return new Course(warmUp, warmUpLevel, windDown, visits, timeout, Optional.empty(), stopRules);
    }
}
