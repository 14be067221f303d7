package kadrem.core.proposal;

import java.util.List;
import java.util.Optional;

/**
 * What a few seconds with few users showed of a candidate.
 *
 * @param steps in the order in which they were made, each with more users than the one before
 * @param problem why there are none, or not all; empty where there are
 */
public record Probe(String candidate, List<Step> steps, String problem) {
    /** A share of failed calls above which a step is one that the candidate does not bear. Common practice, no source. */
    public static final double BORNE = 0.01;

    public Probe {
        steps = List.copyOf(steps);
    }

    /**
     * Users who called without a pause for a second.
     *
     * @param callsPerSecond good answers
     * @param p50Nanos median response time
     * @param errorShare from 0 to 1
     */
    public record Step(int users, double callsPerSecond, double p50Nanos, double errorShare) {
        public boolean isBorne() {
            return errorShare <= BORNE && callsPerSecond > 0;
        }
    }

    /** The step with the most good answers a second among those that the candidate bore; empty where it bore none. */
    public Optional<Step> best() {
        return steps.stream().filter(Step::isBorne).max(java.util.Comparator.comparingDouble(Step::callsPerSecond));
    }
}
