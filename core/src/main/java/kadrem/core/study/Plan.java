package kadrem.core.study;

import java.time.Duration;

/**
 * How often and in which order.
 *
 * @param rounds planned rounds; each round measures every candidate once
 * @param seed fixes the order inside each round and everything that is sent
 * @param pause time between two runs
 */
public record Plan(int rounds, long seed, Duration pause) {
}
