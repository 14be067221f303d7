package kadrem.core.study;

import java.time.Duration;
import java.util.List;
import java.util.Optional;

/**
 * Users or arrivals with visits and a load profile of their own, on the run's time axis.
 *
 * @param name by which its figures are told; empty where a study has no crowds
 * @param makes names of its visits; all where it has no name
 * @param first names of the calls that each of its users makes once before its first visit; empty for all of the workload's
 * @param start when it comes, after the beginning of the measured part
 * @param own its own load over time, from when it comes
 * @param load on the run's time axis: at 0 before it comes and after it is gone
 */
public record Crowd(String name, List<String> makes, Optional<List<String>> first, Duration start, Shape own,
        LoadProfile.Single load) {
    public Crowd {
        makes = List.copyOf(makes);
        first = first.map(List::copyOf);
    }

    /** All who make a load. */
    public static Crowd everyone(LoadProfile.Single load) {
        return new Crowd("", List.of(), Optional.empty(), Duration.ZERO, load.shape(), load);
    }

    /** Whether it is the only one, and makes the whole workload. */
    public boolean isEveryone() {
        return name.isEmpty();
    }

    /** How long it is there. */
    public Duration length() {
        return own.length();
    }

    /** Whether it makes a visit of that name. */
    public boolean makes(String visit) {
        return isEveryone() || makes.contains(visit);
    }

    /** Whether its users make a call of the first part of that name. */
    public boolean begins(String call) {
        return first.map(names -> names.contains(call)).orElse(true);
    }
}
