package kadrem.core.verdict;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.Collectors;

import kadrem.core.measure.RunFigures;
import kadrem.core.measure.RunOutcome;
import kadrem.core.measure.RunRecord;
import kadrem.core.measure.Standing;
import kadrem.core.plan.Look;
import kadrem.core.stats.RobustZ;
import kadrem.core.scaling.LadderResult;
import kadrem.core.study.Candidate;
import kadrem.core.study.FigureStudy;
import kadrem.core.study.Written;
import kadrem.core.study.Question;
import kadrem.core.study.SoundnessRule;
import kadrem.core.study.Study;

/** The verdict as a paragraph. Each sentence is made from one figure, and none says more than it. */
final class VerdictWording {
    private static final double MINUTE = 60;

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
            case NOTHING -> sentences.add(Wording.nothing(comparison));
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
        sentences.addAll(outcomes(comparison));
        comparison.study().candidates().forEach(candidate -> unsteady(comparison, candidate).ifPresent(sentences::add));
        sentences.addAll(setAside(comparison));
        List<String> changed = comparison.changedAfterSeal();
        if (!changed.isEmpty()) {
            sentences.add("Changed after the first run: " + String.join("; ", changed) + ".");
        }
        int older = comparison.ofOlderRules().size();
        if (older > 0) {
            sentences.add(older + (older == 1 ? " run is" : " runs are")
                    + " of an older Kadrem, by whose rules failed calls stand"
                    + " outside the percentiles: measure anew to have them in.");
        }
        if (progress.isGoneOnWith()) {
            sentences.add("It was gone on with beyond its plan of " + progress.planned() + " rounds, and is judged at "
                    + progress.look().count() + " by a part of the significance that was kept back for that.");
        }
        progress.waitingSentence().ifPresent(sentences::add);
        sittings(verdict).ifPresent(sentences::add);
        comparison.commonLevel()
                .ifPresent(level -> sentences.add("Throughput is each candidate's capacity; all else is compared at "
                        + Written.significant(level) + (LadderResult.isOfUsers(study) ? " users" : " arrivals/s")
                        + ", the highest level that every run took."));
        ranking(verdict).ifPresent(sentences::add);
        if (!verdict.notShown().isEmpty()) {
            sentences.add("Not shown: " + verdict.notShown().size()
                    + (verdict.notShown().size() == 1 ? " thing, named below." : " things, named below."));
        }
        return String.join(" ", sentences);
    }

    /** What going on with a plan that is through comes to; empty where it is not, or may be looked at after each round. */
    static String goingOn(Comparison.Progress progress) {
        Look look = progress.look();
        if (!look.isOneOfSeveral() || progress.isEarlyLook()) {
            return "";
        }
        return look.isOfSittings()
                ? "It can be gone on with: the study is judged again at " + look.nextWords()
                        + ", by a part of the significance that is kept back."
                : "A plan that is through can be gone on with: the study is judged again at " + look.nextWords()
                        + ", by a part of the significance that is kept back, which takes more rounds than where they had been"
                        + " planned for.";
    }

    /** What candidates did to their own runs, by kind: "Pool died in 3 of 10 rounds." */
    private static List<String> outcomes(Comparison comparison) {
        var sentences = new ArrayList<String>();
        comparison.study().candidates().forEach(candidate -> {
            var counts = new TreeMap<RunOutcome, Integer>();
            Map<Integer, RunRecord> runs = comparison.entered().getOrDefault(candidate.id(), Map.of());
            runs.values().forEach(run -> {
                if (run.standing() instanceof Standing.OfCandidate own) {
                    counts.merge(own.outcome(), 1, Integer::sum);
                }
            });
            counts.forEach((outcome, count) -> sentences.add(candidate.name() + " " + switch (outcome) {
                case DIED -> "died";
                case DID_NOT_START -> "did not start";
                case ENDED_BY_RULE -> "was ended by a stop rule";
                case NO_LEVEL, RUNNING, COMPLETE, FAILED, STOPPED, CUT_OFF -> "could not take the load";
            } + " in " + count + " of " + runs.size() + (runs.size() == 1 ? " round" : " rounds")
                    + ", which counts as worse than any figure."));
        });
        return sentences;
    }

    /** A candidate that is not the same at the end of a run as at its beginning, in half of the rounds or more. */
    private static Optional<String> unsteady(Comparison comparison, Candidate candidate) {
        Map<Integer, RunRecord> runs = comparison.entered().getOrDefault(candidate.id(), Map.of());
        double[] aMinute = runs.values().stream().flatMapToDouble(run -> run.soundness().stream()
                .filter(finding -> finding.rule().equals(SoundnessRule.DRIFT.label()) && !finding.ok())
                .mapToDouble(finding -> finding.figure() * MINUTE
                        / run.figures().map(RunFigures::seconds).orElse(MINUTE)))
                .sorted().toArray();
        if (aMinute.length == 0 || aMinute.length * 2 < runs.size()) {
            return Optional.empty();
        }
        double middle = RobustZ.median(aMinute);
        return Optional.of(candidate.name() + " gets " + (middle < 0 ? "faster" : "slower")
                + " while it is measured: its response times " + (middle < 0 ? "fall" : "rise") + " by "
                + percent(Math.abs(middle)) + " of their median a minute in the middle of " + aMinute.length + " of "
                + runs.size()
                + (runs.size() == 1 ? " round." : " rounds."));
    }

    /** Rounds that do not count, whether that was blind to the candidates, and what would be said with them. */
    private static List<String> setAside(Comparison comparison) {
        Comparison.RoundsSetAside aside = comparison.setAside();
        var sentences = new ArrayList<String>();
        if (!aside.rounds().isEmpty()) {
            sentences.add(aside.rounds().size() == 1
                    ? "One round was set aside: " + aside.sentences().getFirst() + "."
                    : aside.rounds().size() + " rounds were set aside, the first for this: "
                            + aside.sentences().getFirst() + ".");
            aside.blindness().filter(p -> p <= comparison.study().question().significance())
                    .ifPresent(p -> sentences.add(String.format(Locale.ROOT,
                            "Disturbances did not strike the candidates alike (p = %.3f): read both answers.", p)));
            List<String> otherwise = comparison.otherwiseWithAll();
            String with = aside.rounds().size() == 1 ? "With it" : "With them";
            sentences.add(otherwise.isEmpty()
                    ? with + " the same would be said."
                    : with + " it would be said otherwise: " + String.join("; ", otherwise) + ".");
        }
        return sentences;
    }

    /** Over how many sittings it holds. */
    private static Optional<String> sittings(Verdict verdict) {
        Comparison comparison = verdict.comparison();
        int sittings = comparison.sittings().size();
        if (comparison.study() instanceof FigureStudy || verdict.kind() == Verdict.Kind.NOTHING || sittings == 0) {
            return Optional.empty();
        }
        return Optional.of(sittings == 1
                ? "It was measured in one sitting and holds for that one; three or more, on other days, say whether it is"
                        + " there tomorrow, too."
                : !comparison.progress().look().isOfSittings()
                        ? "It was measured in " + sittings
                                + " sittings; three or more say whether it is there tomorrow, too."
                        : "It is judged over " + sittings + " sittings, whose differences are in the intervals.");
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
        return verdict.ranking().stream().findFirst().map(first -> {
            String name = name(verdict.comparison().study(), first.candidate());
            String resamples = " comes first in " + percent(first.shareOfResamples()) + " of the resampled rounds";
            return several
                    ? "By the weights given " + name + resamples + ", and at " + percent(first.shareOfWeights())
                            + " of all possible weights."
                    : name + resamples + ".";
        });
    }

    private static String percent(double share) {
        return share > 0.995 && share < 1 ? "more than 99 %" : String.format(Locale.ROOT, "%.0f %%", share * 100);
    }

    private static String name(Study study, String id) {
        return study.candidate(id).map(Candidate::name).orElse(id);
    }
}
