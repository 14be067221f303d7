package kadrem.core.study;

import java.time.Duration;

/**
 * How often and in which order.
 *
 * @param rounds planned rounds; each round measures every candidate once
 * @param seed fixes the order inside each round and everything that is sent
 * @param pause time between two runs
 * @param together whether all candidates of a round are measured at the same time, as candidates on separate hosts may be
 */
public record Plan(int rounds, long seed, Duration pause, boolean together) {
    /** Candidates one after the other. */
    public Plan(int rounds, long seed, Duration pause) {
        this(rounds, seed, pause, false);
    }
}
