package kadrem.core.measure;

import java.util.List;
import java.util.OptionalDouble;

/**
 * How the watch of one source went in a run.
 *
 * @param kind such as "ssh"
 * @param where what was watched, in a few words
 * @param readings how often it was read
 * @param cpuMillis processor time that reading it took Kadrem in all
 * @param slowestMillis how long the slowest reading took
 * @param clockOffset seconds by which its clock was ahead of this host's; empty where it tells no time
 * @param clockError seconds by which that may be wrong: half of the fastest question and answer
 * @param troubles when it could not be read and why, the first {@value #MAX_TROUBLES}
 */
public record WatchedSource(String name, String kind, String where, int readings, double cpuMillis,
        double slowestMillis, OptionalDouble clockOffset, OptionalDouble clockError, List<Trouble> troubles) {
    public static final int MAX_TROUBLES = 20;

    public WatchedSource {
        troubles = List.copyOf(troubles);
    }

    /** @param at seconds after the start of the warm-up */
    public record Trouble(double at, String reason) {
    }
}
