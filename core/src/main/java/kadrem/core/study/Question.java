package kadrem.core.study;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * What is to be decided.
 *
 * @param text the decision in a sentence
 * @param baseline id of the candidate that the others are compared with
 * @param significance the accepted probability of calling a difference settled where there is none, e.g. 0.05
 * @param deciders the metrics that decide, most important first
 * @param requirements limits that a candidate must meet
 * @param factors what counts beside the metrics and is judged
 */
public record Question(String text, String baseline, double significance, List<Decider> deciders,
        List<Requirement> requirements, List<Factor> factors) {
    public Question {
        deciders = List.copyOf(deciders);
        requirements = List.copyOf(requirements);
        factors = List.copyOf(factors);
    }

    /** A question without judged factors. */
    public Question(String text, String baseline, double significance, List<Decider> deciders,
            List<Requirement> requirements) {
        this(text, baseline, significance, deciders, requirements, List.of());
    }

    /** Metrics by which candidates are compared or judged. */
    public Set<Metric> metrics() {
        return Stream.concat(deciders.stream().map(Decider::metric), requirements.stream().map(Requirement::metric))
                .collect(Collectors.toUnmodifiableSet());
    }

    /** A question without requirements. */
    public Question(String text, String baseline, double significance, List<Decider> deciders) {
        this(text, baseline, significance, deciders, List.of());
    }

    /** The decider on a metric, if that metric decides. */
    public Optional<Decider> decider(Metric metric) {
        return deciders.stream().filter(decider -> decider.metric().equals(metric)).findFirst();
    }

    /**
     * A metric that decides.
     *
     * @param weight its share of the decision, beside those of the other metrics and factors
     */
    public record Decider(Metric metric, Margin margin, double weight) {
        /** @param margin a ratio less 1 (0.05 is 5 %), or an absolute difference */
        public Decider(Metric metric, double margin, double weight) {
            this(metric, metric.margin(margin), weight);
        }

        /** A metric that weighs as much as any other. */
        public Decider(Metric metric, double margin) {
            this(metric, margin, 1);
        }
    }
}
