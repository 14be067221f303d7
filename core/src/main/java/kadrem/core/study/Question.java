package kadrem.core.study;

import java.util.List;
import java.util.Optional;

/**
 * What is to be decided.
 *
 * @param text the decision in a sentence
 * @param baseline id of the candidate that the others are compared with
 * @param significance the accepted probability of calling a difference settled where there is none, e.g. 0.05
 * @param deciders the metrics that decide, most important first
 * @param requirements limits that a candidate must meet
 */
public record Question(String text, String baseline, double significance, List<Decider> deciders,
        List<Requirement> requirements) {
    public Question {
        deciders = List.copyOf(deciders);
        requirements = List.copyOf(requirements);
    }

    /** A question without requirements. */
    public Question(String text, String baseline, double significance, List<Decider> deciders) {
        this(text, baseline, significance, deciders, List.of());
    }

    /** The decider on a metric, if that metric decides. */
    public Optional<Decider> decider(Metric metric) {
        return deciders.stream().filter(decider -> decider.metric() == metric).findFirst();
    }

    /**
     * A metric that decides.
     *
     * @param margin the smallest difference that would matter: a ratio (0.05 is 5 %) for metrics compared as ratios, an
     *            absolute difference for the others
     */
    public record Decider(Metric metric, double margin) {
    }
}
