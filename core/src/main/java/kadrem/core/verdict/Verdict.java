package kadrem.core.verdict;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;

import kadrem.core.study.Candidate;
import kadrem.core.study.Metric;
import kadrem.core.study.Question;
import kadrem.core.study.Study;

/**
 * Which candidate to choose, as far as it was shown.
 * <p>
 * Candidates that miss a requirement are out, and block nobody. Of those that meet all, one is preferred to another if it is shown
 * better on a deciding metric and shown not to be worse by the margin on every other; that a difference is not settled shows nothing.
 * Where each is shown better on something, the weights decide, if the same one comes first in {@value #CERTAIN} of the resampled
 * rounds. One that is not shown to meet a requirement cannot be chosen, but must be beaten like the others. Two that are shown not to
 * differ in any way that matters on any deciding metric are alike. The rest is open.
 *
 * @param requirements for each requirement and candidate
 * @param chosen the candidate recommended, or those of which either will do
 * @param qualified the candidates that meet all requirements
  * @param preference among those that miss no requirement; empty for fewer than two
 * @param notShown sentences on what was not shown, with what it would take
 * @param paragraph the recommendation in words
 */
public record Verdict(Comparison comparison, Kind kind, List<RequirementResult> requirements, List<String> chosen,
        List<String> qualified, Optional<Preference> preference, List<Preference.Place> ranking, List<String> notShown,
        String paragraph) {
    /** The share of resampled rounds from which weights decide. Common practice, no source. */
    static final double CERTAIN = 0.95;

    /** What can be said. */
    public enum Kind {
        RECOMMENDED("recommended"), EITHER("either-will-do"), NONE_MEETS("none-can-be-recommended"), OPEN(
                "not-settled"), NOTHING("nothing-to-compare");

        private final String id;

        Kind(String id) {
            this.id = id;
        }

        /** The word used in files. */
        public String id() {
            return id;
        }
    }

    /** How one candidate stands to another over the deciding metrics. */
    enum Relation {
        PREFERRED, LESS, ALIKE, OPEN
    }

    /**
     * The verdict under the weights of the study.
     *
     * @param seed of the resamples
     */
    public static Verdict of(Comparison comparison, Optional<NoiseFloor> floor, long seed) {
        Study study = comparison.study();
        List<String> ids = study.candidates().stream().map(Candidate::id).toList();
        List<RequirementResult> requirements = comparison.requirements();
        List<String> out = withAnswer(ids, requirements, RequirementResult.Answer.MISSED);
        List<String> unknown = withAnswer(ids, requirements, RequirementResult.Answer.NOT_SHOWN);
        List<String> qualified = ids.stream().filter(id -> !out.contains(id) && !unknown.contains(id))
                .filter(id -> !comparison.entered().getOrDefault(id, Map.of()).isEmpty()).toList();
        // one that may yet be shown to meet all is a rival, though it cannot be chosen
        List<String> rivals = ids.stream().filter(id -> !out.contains(id)).toList();
        Optional<Preference> preference = Preference.of(comparison, rivals, seed);
        List<Preference.Place> ranking = preference.map(one -> one.rank(one.ownWeights())).orElse(List.of());
        List<String> notShown = notShown(comparison, floor, requirements, ids);
        Kind kind;
        List<String> chosen = List.of();
        if (comparison.entered().values().stream().allMatch(Map::isEmpty)) {
            kind = Kind.NOTHING;
        } else if (comparison.progress().isEarlyLook()) {
            kind = Kind.OPEN;
        } else if (out.size() == ids.size()) {
            kind = Kind.NONE_MEETS;
        } else if (qualified.isEmpty()) {
            kind = Kind.OPEN;
        } else {
            chosen = best(comparison, qualified, rivals, ranking);
            kind = chosen.isEmpty() ? Kind.OPEN : chosen.size() == 1 ? Kind.RECOMMENDED : Kind.EITHER;
        }
        var made = new Verdict(comparison, kind, requirements, chosen, qualified, preference, ranking,
                notShown, "");
        return new Verdict(comparison, kind, made.requirements, chosen, qualified, preference, ranking, notShown,
                VerdictWording.paragraph(made));
    }

    private static List<String> withAnswer(List<String> ids, List<RequirementResult> results,
            RequirementResult.Answer answer) {
        return ids.stream().filter(id -> results.stream()
                .anyMatch(one -> one.candidate().equals(id) && one.answer() == answer)).toList();
    }

    /** The candidates that are preferred to or like every rival; empty where that is open. */
    private static List<String> best(Comparison comparison, List<String> qualified, List<String> rivals,
            List<Preference.Place> ranking) {
        return qualified.stream().filter(id -> rivals.stream().filter(other -> !other.equals(id)).allMatch(other -> {
            Relation relation = relation(comparison, id, other, ranking);
            return relation == Relation.PREFERRED || relation == Relation.ALIKE;
        })).toList();
    }

    static Relation relation(Comparison comparison, String one, String other, List<Preference.Place> ranking) {
        boolean better = false;
        boolean worse = false;
        boolean alike = true;
        boolean notWorse = true;
        boolean notBetter = true;
        for (Question.Decider decider : comparison.study().question().deciders()) {
            Optional<PairComparison> pair = comparison.on(decider.metric(), one, other);
            Optional<String> winner = pair.flatMap(Wording::winner);
            better |= winner.filter(one::equals).isPresent();
            worse |= winner.filter(other::equals).isPresent();
            alike &= pair.filter(found -> found.outcome() == Outcome.NO_DIFFERENCE_THAT_MATTERS).isPresent();
            notWorse &= pair.filter(found -> found.isNotWorse(one)).isPresent();
            notBetter &= pair.filter(found -> found.isNotWorse(other)).isPresent();
        }
        if (better && !worse && notWorse) {
            return Relation.PREFERRED;
        }
        if (worse && !better && notBetter) {
            return Relation.LESS;
        }
        Optional<Preference.Place> first = ranking.stream().findFirst()
                .filter(place -> place.shareOfResamples() >= CERTAIN);
        boolean factors = !comparison.study().question().factors().isEmpty();
        if (first.isPresent() && (better && worse || factors && alike)) {
            // a trade, or alike in what was measured: what is preferred is a matter of weights
            return first.get().candidate().equals(one)
                    ? Relation.PREFERRED
                    : first.get().candidate().equals(other) ? Relation.LESS : Relation.OPEN;
        }
        return alike ? Relation.ALIKE : Relation.OPEN;
    }

    /** Requirements, pairs and factors of which nothing can be said yet, each with what it would take. */
    private static List<String> notShown(Comparison comparison, Optional<NoiseFloor> floor,
            List<RequirementResult> requirements, List<String> ids) {
        Study study = comparison.study();
        var sentences = new ArrayList<String>();
        for (RequirementResult one : requirements) {
            if (one.answer() == RequirementResult.Answer.NOT_SHOWN) {
                sentences.add("Whether " + name(study, one.candidate()) + " meets "
                        + RequirementResult.words(one.requirement())
                        + " was " + one.sentence() + ".");
            }
        }
        Map<Metric, Planning> plans = new LinkedHashMap<>();
        for (PairComparison pair : comparison.pairs()) {
            if (pair.deciding() && pair.outcome() == Outcome.NOT_SETTLED) {
                Planning plan = plans.computeIfAbsent(pair.metric(),
                        metric -> Planning.of(study, metric, comparison, floor));
                sentences.add("Whether " + name(study, pair.candidate()) + " and " + name(study, pair.baseline())
                        + " differ in " + pair.metric().label() + " is not settled; " + takes(plan, pair) + ".");
            }
        }
        for (Question.Decider decider : study.question().deciders()) {
            if (comparison.on(decider.metric()).isEmpty() && !comparison.pairs().isEmpty()) {
                sentences.add("No two runs of a round have a figure of " + decider.metric().label() + ".");
            }
        }
        study.question().factors().forEach(factor -> {
            List<String> missing = ids.stream().filter(id -> !factor.scores().containsKey(id))
                    .map(id -> name(study, id)).toList();
            if (!missing.isEmpty()) {
                sentences.add("The " + factor.name() + " of " + String.join(", ", missing) + " was not judged.");
            }
        });
        return List.copyOf(sentences);
    }

    /** What it would take of a plan that asks for it from the start. */
    private static String takes(Planning plan, PairComparison pair) {
        if (Planning.hangsOnRunsWithoutFigure(pair)) {
            return Planning.WITHOUT_FIGURE;
        }
        OptionalInt rounds = plan.roundsFor(pair);
        return rounds.isPresent()
                ? "about " + rounds.getAsInt()
                        + " rounds, planned for from the start, would settle it four times in five,"
                        + " whichever way"
                : "more than " + Planning.MAX_ROUNDS + " rounds would be needed, or a wider margin";
    }

    private static String name(Study study, String id) {
        return study.candidate(id).map(Candidate::name).orElse(id);
    }
}
