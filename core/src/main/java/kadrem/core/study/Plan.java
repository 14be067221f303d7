package kadrem.core.study;

import java.time.Duration;

/**
 * How often and in which order.
 *
 * @param rounds planned rounds; each round measures every candidate once
 * @param seed fixes the order inside each round and everything that is sent
 * @param pause time between two runs
 * @param idle time before the load of each run in which the hosts are watched at rest
 * @param together whether all candidates of a round are measured at the same time, as candidates on separate hosts may be
 */
public record Plan(int rounds, long seed, Duration pause, Duration idle, boolean together) {
    /** The idle stretch of a plan that gives none. */
    public static final Duration USUAL_IDLE = Duration.ofSeconds(5);

    /** Candidates one after the other, without an idle stretch. */
    public Plan(int rounds, long seed, Duration pause) {
        this(rounds, seed, pause, Duration.ZERO, false);
    }
}
