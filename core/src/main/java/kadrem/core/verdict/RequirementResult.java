package kadrem.core.verdict;

import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.OptionalDouble;

import kadrem.core.stats.Interval;
import kadrem.core.stats.SignedRank;
import kadrem.core.study.Requirement;
import kadrem.core.study.Written;

/**
 * Whether a candidate meets a requirement. The values of its runs are taken for a sample; their centre has an exact
 * signed-rank interval of 90 %, whose ends are one-sided bounds of 95 %. The requirement is met where the bound on the bad side
 * is inside the limit, missed where the bound on the good side is outside, and else not shown.
 *
 * @param values of the candidate's runs
 * @param bounds both one-sided 95 % bounds; empty where the runs are too few
 */
public record RequirementResult(Requirement requirement, String candidate, List<Double> values, OptionalDouble estimate,
        Optional<Interval> bounds, Answer answer) {
    /** Both one-sided bounds together. */
    private static final double BOTH_BOUNDS = 0.90;
    /** Fewer runs have no bound of 95 %. */
    public static final int FEWEST_RUNS = 5;

    /** What can be said. */
    public enum Answer {
        MET("met"), MISSED("missed"), NOT_SHOWN("not shown");

        private final String words;

        Answer(String words) {
            this.words = words;
        }

        public String words() {
            return words;
        }
    }

    static RequirementResult of(Requirement requirement, String candidate, List<Double> values) {
        if (values.isEmpty()) {
            return new RequirementResult(requirement, candidate, values, OptionalDouble.empty(), Optional.empty(),
                    Answer.NOT_SHOWN);
        }
        // logarithms where they can be taken, as between candidates
        boolean ratios = values.stream().allMatch(value -> value > 0);
        SignedRank test = SignedRank
                .of(values.stream().mapToDouble(value -> ratios ? Math.log(value) : value).toArray());
        Optional<Interval> bounds = test.interval(BOTH_BOUNDS).map(i -> ratios
                ? new Interval(Math.exp(i.low()), Math.exp(i.high()), i.achievedConfidence())
                : i);
        return new RequirementResult(requirement, candidate, values,
                OptionalDouble.of(ratios ? Math.exp(test.estimate()) : test.estimate()), bounds,
                bounds.map(i -> answer(requirement, i)).orElse(Answer.NOT_SHOWN));
    }

    private static Answer answer(Requirement requirement, Interval bounds) {
        boolean low = requirement.isMetBy(bounds.low());
        boolean high = requirement.isMetBy(bounds.high());
        return low && high ? Answer.MET : low || high ? Answer.NOT_SHOWN : Answer.MISSED;
    }

    /** "p99 response time at most 50 ms". */
    public static String words(Requirement requirement) {
        return requirement.metric().label() + (requirement.metric().higherIsBetter() ? " at least " : " at most ")
                + Written.value(requirement.metric().unit(), requirement.limit());
    }

    /** "not shown: 48 ms, 45 to 54 ms in 7 runs". */
    public String sentence() {
        return answer.words() + ": " + (estimate.isEmpty()
                ? "no run that counts"
                : Written.value(requirement.metric().unit(), estimate.getAsDouble())
                        + bounds.map(i -> ", " + Written.value(requirement.metric().unit(), i.low()) + " to "
                                + Written.value(requirement.metric().unit(), i.high())).orElse("")
                        + String.format(Locale.ROOT, " in %d %s", values.size(), values.size() == 1 ? "run" : "runs")
                        + (values.size() < FEWEST_RUNS ? "; it takes " + FEWEST_RUNS : ""));
    }
}
