package kadrem.core.verdict;

import java.util.Optional;

import kadrem.core.study.Factor;
import kadrem.core.study.Metric;

/**
 * One thing that counts in the preference: a deciding metric or a judged factor.
 *
 * @param name in words
 * @param weight as the study gives it
 */
public record Criterion(String name, double weight, Optional<Metric> metric, Optional<Factor> factor) {
    static Criterion of(Metric metric, double weight) {
        return new Criterion(metric.label(), weight, Optional.of(metric), Optional.empty());
    }

    static Criterion of(Factor factor) {
        return new Criterion(factor.name(), factor.weight(), Optional.empty(), Optional.of(factor));
    }
}
