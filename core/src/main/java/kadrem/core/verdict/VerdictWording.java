package kadrem.core.verdict;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Collectors;

import kadrem.core.study.Candidate;
import kadrem.core.study.Question;
import kadrem.core.study.Study;

/** The verdict as a paragraph. Each sentence is made from one figure, and none says more than it. */
final class VerdictWording {
    private VerdictWording() {
    }

    static String paragraph(Verdict verdict) {
        var sentences = new ArrayList<String>();
        Comparison comparison = verdict.comparison();
        Study study = comparison.study();
        Comparison.Progress progress = comparison.progress();
        if (progress.isEarlyLook() && verdict.kind() != Verdict.Kind.NOTHING) {
            sentences.add("In progress: " + progress.measured() + " of " + progress.planned()
                    + " rounds are measured, and nothing is concluded before the plan is through.");
        }
        switch (verdict.kind()) {
            case NOTHING -> sentences.add("Nothing was measured yet that can be compared.");
            case NONE_MEETS -> {
                sentences.add("No candidate can be recommended: each misses a requirement.");
                sentences.addAll(misses(verdict));
            }
            case RECOMMENDED -> {
                String one = verdict.chosen().getFirst();
                sentences.add(name(study, one) + " is recommended.");
                if (verdict.qualified().size() == 1 && study.candidates().size() > 1) {
                    sentences.add("It is the only candidate that is shown to meet every requirement.");
                } else if (!study.question().requirements().isEmpty()) {
                    sentences.add("It meets every requirement.");
                }
                study.candidates().stream().map(Candidate::id).filter(other -> !other.equals(one))
                        .filter(other -> !missed(verdict, other))
                        .forEach(other -> sentences.add(against(verdict, one, other)));
                sentences.addAll(misses(verdict));
            }
            case EITHER -> {
                sentences.add("Either will do: "
                        + verdict.chosen().stream().map(id -> name(study, id)).collect(Collectors.joining(" and "))
                        + " do not differ in any way that matters by the margins of the question.");
                sentences.addAll(misses(verdict));
            }
            case OPEN -> {
                if (!progress.isEarlyLook()) {
                    sentences.add("No candidate can be recommended yet.");
                    if (verdict.qualified().isEmpty() && !study.question().requirements().isEmpty()) {
                        sentences.add("None is shown to meet every requirement.");
                    }
                }
                sentences.addAll(misses(verdict));
            }
        }
        ranking(verdict).ifPresent(sentences::add);
        if (!verdict.notShown().isEmpty()) {
            sentences.add("Not shown: " + verdict.notShown().size()
                    + (verdict.notShown().size() == 1 ? " thing, named below." : " things, named below."));
        }
        return String.join(" ", sentences);
    }

    /** How the chosen one stands to another, metric by metric. */
    private static String against(Verdict verdict, String one, String other) {
        Comparison comparison = verdict.comparison();
        var parts = new ArrayList<String>();
        for (Question.Decider decider : comparison.study().question().deciders()) {
            comparison.on(decider.metric(), one, other).ifPresent(pair -> parts.add(part(pair, one)));
        }
        Verdict.Relation relation = Verdict.relation(comparison, one, other, List.of());
        String tail = relation == Verdict.Relation.PREFERRED || relation == Verdict.Relation.ALIKE
                ? ""
                : ", so that the weights decide";
        return "Against " + name(comparison.study(), other) + ": " + String.join("; ", parts) + tail + ".";
    }

    /** "p95 response time 42 % lower (37 % to 48 % lower), settled, better by more than the margin". */
    private static String part(PairComparison pair, String one) {
        boolean mirrored = pair.baseline().equals(one);
        String change = mirrored ? Wording.mirroredChange(pair) : Wording.change(pair.metric(), pair.estimate());
        Optional<String> interval = pair.interval().map(i -> mirrored
                ? Wording.interval(pair.metric(), Wording.mirrored(pair.metric(), i))
                : Wording.interval(pair.metric(), i));
        Outcome outcome = mirrored ? pair.outcome().mirrored() : pair.outcome();
        return pair.metric().label() + " " + change + interval.map(i -> " (" + i + ")").orElse("") + ", "
                + outcome.words();
    }

    private static boolean missed(Verdict verdict, String candidate) {
        return verdict.requirements().stream().anyMatch(result -> result.candidate().equals(candidate)
                && result.answer() == RequirementResult.Answer.MISSED);
    }

    private static List<String> misses(Verdict verdict) {
        return verdict.requirements().stream()
                .filter(one -> one.answer() == RequirementResult.Answer.MISSED)
                .map(one -> name(verdict.comparison().study(), one.candidate()) + " misses "
                        + RequirementResult.words(one.requirement()) + " ("
                        + one.sentence().substring(one.sentence().indexOf(' ') + 1) + ").")
                .toList();
    }

    private static Optional<String> ranking(Verdict verdict) {
        boolean several = verdict.preference().filter(one -> one.criteria().size() > 1).isPresent();
        return verdict.ranking().stream().findFirst().map(first -> String.format(Locale.ROOT, several
                ? "By the weights given %s comes first in %s of the resampled rounds, and at %s of all possible weights."
                : "%s comes first in %s of the resampled rounds.",
                name(verdict.comparison().study(), first.candidate()), percent(first.shareOfResamples()),
                percent(first.shareOfWeights())));
    }

    private static String percent(double share) {
        return share > 0.995 && share < 1 ? "more than 99 %" : String.format(Locale.ROOT, "%.0f %%", share * 100);
    }

    private static String name(Study study, String id) {
        return study.candidate(id).map(Candidate::name).orElse(id);
    }
}
