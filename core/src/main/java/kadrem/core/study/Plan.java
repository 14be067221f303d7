package kadrem.core.study;

import java.time.Duration;
import java.util.Optional;
import java.util.OptionalInt;

/**
 * How often and in which order.
 *
 * @param rounds planned rounds; each round measures every candidate once
 * @param seed fixes the order inside each round and everything that is sent
 * @param pause time between two runs
 * @param idle time before the load of each run in which the hosts are watched at rest
 * @param adaptive of an adaptive plan, the most rounds: rounds are added until all deciding pairs are settled; empty where a fixed
 *            number is measured
 * @param together whether all candidates of a round are measured at the same time, as candidates on separate hosts may be
 * @param pacing how the generator waits; empty for what fits the host
 */
public record Plan(int rounds, long seed, Duration pause, Duration idle, boolean together, OptionalInt adaptive,
        Optional<Pacing> pacing) {
    /** The idle stretch of a plan that gives none. */
    public static final Duration USUAL_IDLE = Duration.ofSeconds(5);

    /** Candidates one after the other, without an idle stretch. */
    public Plan(int rounds, long seed, Duration pause) {
        this(rounds, seed, pause, Duration.ZERO, false);
    }

    /** A plan whose generator waits as fits the host. */
    public Plan(int rounds, long seed, Duration pause, Duration idle, boolean together, OptionalInt adaptive) {
        this(rounds, seed, pause, idle, together, adaptive, Optional.empty());
    }

    /** A plan of a fixed number of rounds. */
    public Plan(int rounds, long seed, Duration pause, Duration idle, boolean together) {
        this(rounds, seed, pause, idle, together, OptionalInt.empty());
    }

    public boolean isAdaptive() {
        return adaptive.isPresent();
    }

    /** The rounds planned, or the most of an adaptive plan. */
    public int most() {
        return adaptive.orElse(rounds);
    }
}
