package kadrem.core.verdict;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;

import kadrem.core.measure.RunFigures;
import kadrem.core.measure.RunOutcome;
import kadrem.core.measure.RunRecord;
import kadrem.core.measure.Runs;
import kadrem.core.study.Factor;
import kadrem.core.study.Judgement;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Metric;
import kadrem.core.study.Plan;
import kadrem.core.study.Question;
import kadrem.core.study.Requirement;
import kadrem.core.study.Studies;
import org.junit.jupiter.api.Test;

class VerdictTest {
    /** A value of a candidate in a round: response times in ms, and CPU per 1,000 calls. */
    private interface Values {
        double[] of(String candidate, int round);
    }

    private static Question question(List<Requirement> requirements, List<Factor> factors,
            Question.Decider... deciders) {
        return new Question("Which one?", "a", 0.05, List.of(deciders), requirements, factors);
    }

    private static MeasuredStudy study(List<String> ids, Plan plan, Question question) {
        MeasuredStudy some = Studies.of(ids, Studies.OPEN);
        return new MeasuredStudy(some.name(), question, some.candidates(), some.workload(), some.load(), plan);
    }

    private static Plan plan(int rounds) {
        return new Plan(rounds, 1, Duration.ZERO);
    }

    private static List<RunRecord> runs(MeasuredStudy study, int rounds, Values values) {
        var runs = new ArrayList<RunRecord>();
        for (int round = 1; round <= rounds; round++) {
            for (var candidate : study.candidates()) {
                double[] one = values.of(candidate.id(), round);
                RunRecord run = Runs.complete(study, candidate.id(), round, Math.round(one[0] * 1e6), 0);
                RunFigures figures = run.figures().orElseThrow();
                RunFigures with = new RunFigures(figures.sent(), figures.good(), figures.failed(), figures.unsent(),
                        figures.seconds(), figures.goodInTime(), figures.bytesOut(), figures.bytesIn(),
                        figures.response(), figures.service(), figures.late(),
                        java.util.OptionalDouble.of(one.length > 1 ? one[1] : 10), figures.peakMemory(),
                        figures.calls());
                runs.add(Runs.record(study, candidate.id(), round, RunOutcome.COMPLETE, Optional.of(with)));
            }
        }
        return runs;
    }

    private static double wobble(int round, int salt) {
        return 1 + 0.01 * ((round * 7 + salt * 3) % 5 - 2);
    }

    private static Verdict verdict(MeasuredStudy study, List<RunRecord> runs) {
        return Verdict.of(Comparison.of(study, runs), Optional.empty(), 5);
    }

    private static final Question.Decider P99 = new Question.Decider(Metric.P99, 0.05);
    private static final Question.Decider CPU = new Question.Decider(Metric.CPU_PER_THOUSAND, 0.05);

    @Test
    void theOneThatIsSettledBetterIsRecommended() {
        MeasuredStudy study = study(List.of("a", "b"), plan(7), question(List.of(), List.of(), P99));
        Verdict verdict = verdict(study, runs(study, 7,
                (id, round) -> new double[]{(id.equals("a") ? 20 : 10) * wobble(round, id.charAt(0))}));
        assertThat(verdict.kind()).isEqualTo(Verdict.Kind.RECOMMENDED);
        assertThat(verdict.chosen()).containsExactly("b");
        assertThat(verdict.paragraph()).startsWith("Candidate b is recommended.").contains("50 % lower")
                .contains("better by more than the margin");
        assertThat(verdict.notShown()).isEmpty();
    }

    @Test
    void nothingIsConcludedBeforeThePlanIsThrough() {
        MeasuredStudy study = study(List.of("a", "b"), plan(12), question(List.of(), List.of(), P99));
        Verdict verdict = verdict(study, runs(study, 7,
                (id, round) -> new double[]{(id.equals("a") ? 20 : 10) * wobble(round, id.charAt(0))}));
        assertThat(verdict.kind()).isEqualTo(Verdict.Kind.OPEN);
        assertThat(verdict.paragraph()).startsWith("In progress: 7 of 12 rounds").doesNotContain("recommended.");
        assertThat(Wording.standing(verdict.comparison())).startsWith("In progress, 7 of 12 rounds").contains("so far")
                .doesNotContain("settled against");
    }

    @Test
    void twoThatDoNotDifferInAnyWayThatMattersWillBothDo() {
        MeasuredStudy study = study(List.of("a", "b"), plan(7), question(List.of(), List.of(), P99));
        Verdict verdict = verdict(study, runs(study, 7, (id, round) -> new double[]{20 * wobble(round, id.charAt(0))}));
        assertThat(verdict.kind()).isEqualTo(Verdict.Kind.EITHER);
        assertThat(verdict.chosen()).containsExactly("a", "b");
        assertThat(verdict.paragraph()).startsWith("Either will do: Candidate a and Candidate b");
    }

    @Test
    void whereNothingIsSettledItIsSaidWhatItWouldTake() {
        MeasuredStudy study = study(List.of("a", "b"), plan(7), question(List.of(), List.of(), P99));
        Verdict verdict = verdict(study, runs(study, 7,
                (id, round) -> new double[]{20 * (id.equals("a") ? 1 : round % 2 == 0 ? 1.3 : 0.8)}));
        assertThat(verdict.kind()).isEqualTo(Verdict.Kind.OPEN);
        assertThat(verdict.paragraph()).startsWith("No candidate can be recommended yet.");
        assertThat(verdict.notShown()).singleElement().asString().contains("is not settled; ").contains("rounds");
    }

    @Test
    void requirementsAreMetMissedOrNotShown() {
        var limit = new Requirement(Metric.P99, 15e6);
        MeasuredStudy study = study(List.of("a", "b", "c"), plan(8), question(List.of(limit), List.of(), P99));
        Verdict verdict = verdict(study, runs(study, 8, (id, round) -> new double[]{switch (id) {
            case "a" -> 20 * wobble(round, 1);
            case "b" -> 10 * wobble(round, 2);
            default -> 15 * (round % 2 == 0 ? 1.1 : 0.9);
        }}));
        assertThat(verdict.requirements()).extracting(RequirementResult::answer).containsExactly(
                RequirementResult.Answer.MISSED, RequirementResult.Answer.MET, RequirementResult.Answer.NOT_SHOWN);
        assertThat(verdict.kind()).as("c may yet meet it, but is settled worse").isEqualTo(Verdict.Kind.RECOMMENDED);
        assertThat(verdict.chosen()).containsExactly("b");
        assertThat(verdict.paragraph()).contains("the only candidate that is shown to meet every requirement")
                .contains("Against Candidate c: ").doesNotContain("Against Candidate a");
        assertThat(verdict.paragraph()).contains("Candidate a misses p99 response time at most 15 ms");
        assertThat(verdict.notShown()).anyMatch(one -> one.startsWith("Whether Candidate c meets"));
    }

    @Test
    void whoMayYetMeetARequirementAndIsBetterKeepsTheVerdictOpen() {
        MeasuredStudy study = study(List.of("a", "b", "c"), plan(7),
                question(List.of(new Requirement(Metric.CPU_PER_THOUSAND, 2)), List.of(), P99));
        Verdict verdict = verdict(study, runs(study, 7, (id, round) -> switch (id) {
            case "a" -> new double[]{20 * wobble(round, 1), 30};
            case "b" -> new double[]{10 * wobble(round, 2), 10};
            default -> new double[]{5 * wobble(round, 3), round % 2 == 0 ? 26 : 17};
        }));
        assertThat(verdict.kind()).isEqualTo(Verdict.Kind.OPEN);
        assertThat(verdict.qualified()).containsExactly("b");
        assertThat(verdict.notShown()).anyMatch(one -> one.startsWith("Whether Candidate c meets"));
    }

    @Test
    void noneCanBeRecommendedWhereEachMissesARequirement() {
        MeasuredStudy study = study(List.of("a", "b"), plan(7),
                question(List.of(new Requirement(Metric.P99, 5e6)), List.of(), P99));
        Verdict verdict = verdict(study, runs(study, 7,
                (id, round) -> new double[]{(id.equals("a") ? 20 : 10) * wobble(round, id.charAt(0))}));
        assertThat(verdict.kind()).isEqualTo(Verdict.Kind.NONE_MEETS);
        assertThat(verdict.paragraph()).startsWith("No candidate can be recommended: each misses a requirement.");
    }

    /** b is twice as fast and takes three times the processor: what is preferred is a matter of weights. */
    @Test
    void aTradeIsDecidedByTheWeights() {
        Values values = (id, round) -> id.equals("a")
                ? new double[]{20 * wobble(round, 1), 10 * wobble(round, 4)}
                : new double[]{10 * wobble(round, 2), 30 * wobble(round, 3)};
        for (boolean latencyCounts : new boolean[]{true, false}) {
            MeasuredStudy study = study(List.of("a", "b"), plan(8), question(List.of(), List.of(),
                    new Question.Decider(Metric.P99, 0.05, latencyCounts ? 4 : 1), CPU));
            Verdict verdict = verdict(study, runs(study, 8, values));
            assertThat(verdict.kind()).isEqualTo(Verdict.Kind.RECOMMENDED);
            assertThat(verdict.chosen()).containsExactly(latencyCounts ? "b" : "a");
            assertThat(verdict.paragraph()).contains("so that the weights decide");
            assertThat(verdict.ranking()).allMatch(Preference.Place::unbeaten);
        }
    }

    /**
     * b is better by ln 2 in the first and worse by ln 3 in the second: it comes first where w1 ln 2 &gt; (1 − w1) ln 3, which
     * is a share ln 2 / (ln 2 + ln 3) of all weights, by calculation.
     */
    @Test
    void theShareOfWeightsIsThatOfTheGeometry() {
        MeasuredStudy study = study(List.of("a", "b"), plan(8), question(List.of(), List.of(), P99, CPU));
        Verdict verdict = verdict(study,
                runs(study, 8, (id, _) -> id.equals("a") ? new double[]{20, 10} : new double[]{10, 30}));
        Preference preference = verdict.preference().orElseThrow();
        double expected = Math.log(2) / (Math.log(2) + Math.log(3));
        assertThat(preference.rank(new double[]{1, 1}).stream().filter(one -> one.candidate().equals("b")).findFirst()
                .orElseThrow().shareOfWeights()).isCloseTo(expected, within(4 * Math.sqrt(0.25 / 5_000)));
        assertThat(preference.rank(new double[]{1, 0}).getFirst().candidate()).isEqualTo("b");
        assertThat(preference.rank(new double[]{0, 1}).getFirst().candidate()).isEqualTo("a");
        // worth of a at equal weights: (10/20)^½ (10/10)^½
        assertThat(preference.rank(new double[]{1, 0}).getLast().worth()).isCloseTo(0.5, within(1e-9));
    }

    @Test
    void judgedFactorsCountWithTheirReasonsAndAreMissedWhereTheyAreNot() {
        var operation = new Factor("operation", 2,
                Map.of("a", new Factor.Score(5, "we run it today"), "b", new Factor.Score(2, "nobody knows it")));
        var licence = new Factor("licence", 1, Map.of("a", new Factor.Score(3, "free")));
        MeasuredStudy study = study(List.of("a", "b"), plan(7), question(List.of(), List.of(operation, licence), P99));
        Verdict verdict = verdict(study, runs(study, 7, (id, round) -> new double[]{20 * wobble(round, id.charAt(0))}));
        assertThat(verdict.kind()).as("alike in what was measured").isEqualTo(Verdict.Kind.RECOMMENDED);
        assertThat(verdict.chosen()).containsExactly("a");
        assertThat(verdict.notShown()).containsExactly("The licence of Candidate b was not judged.");
        assertThat(verdict.preference().orElseThrow().criteria()).extracting(Criterion::name)
                .containsExactly("p99 response time", "operation");
    }

    @Test
    void anAdaptivePlanIsValidAtAnyStop() {
        var adaptive = new Plan(7, 1, Duration.ZERO, Duration.ZERO, false, OptionalInt.of(30));
        MeasuredStudy study = study(List.of("a", "b"), adaptive, question(List.of(), List.of(), P99));
        List<RunRecord> runs = runs(study, 14,
                (id, round) -> new double[]{(id.equals("a") ? 20 : 14) * wobble(round, id.charAt(0))});
        Comparison comparison = Comparison.of(study, runs);
        assertThat(comparison.progress().isEarlyLook()).isFalse();
        PairComparison pair = comparison.on(Metric.P99).getFirst();
        assertThat(pair.isAnyTime()).isTrue();
        assertThat(pair.outcome()).isEqualTo(Outcome.BETTER_BY_MORE);
        Comparison early = Comparison.of(study, runs.subList(0, 12));
        assertThat(early.on(Metric.P99).getFirst().outcome()).as("six rounds are too few for it")
                .isEqualTo(Outcome.NOT_SETTLED);
    }

    @Test
    void aRoundIsLeftOutWithAReasonAndItIsSaidWhatChanges() {
        MeasuredStudy study = study(List.of("a", "b"), plan(7), question(List.of(), List.of(), P99));
        List<RunRecord> runs = runs(study, 7, (id, round) -> new double[]{
                (id.equals("b") && round == 3 ? 60 : id.equals("a") ? 20 : 10) * wobble(round, id.charAt(0))});
        Comparison before = Comparison.of(study, runs);
        assertThat(before.on(Metric.P99).getFirst().outcome()).isEqualTo(Outcome.NOT_SETTLED);
        MeasuredStudy without = new MeasuredStudy(study.name(), study.question(), study.candidates(), study.workload(),
                study.load(),
                study.plan(), study.agreement(), study.intended(), study.judgement().without(3, "the backup ran"));
        Comparison after = Comparison.of(without, runs);
        assertThat(after.on(Metric.P99).getFirst().rounds()).isEqualTo(6);
        assertThat(after.changesFrom(before)).anyMatch(
                one -> one
                        .equals("p99 of b against a: settled, better by more than the margin instead of not settled"));
        assertThat(after.leftOut()).hasSize(2)
                .allMatch(one -> one.why().equals("its round was set aside"));
        assertThat(after.setAside().sentences()).containsExactly("round 3 (by hand: the backup ran)");
        assertThat(after.judgedOtherwise()).contains("round 3 left out by hand: the backup ran");
        assertThat(Judgement.USUAL.without(3, "x").without(3, "y").leftOut()).hasSize(1);
    }

    private static Planning withMargin(Planning plan, double margin) {
        return new Planning(plan.metric(), plan.metric().margin(margin), plan.noise(), plan.shape());
    }

    @Test
    void thePlannerReckonsWithTheFamilyAndTheFewestRounds() {
        MeasuredStudy study = study(List.of("a", "b", "c"), plan(7), question(List.of(), List.of(), P99));
        Planning plan = Planning.of(study, Metric.P99, Comparison.of(study, List.of()), Optional.empty());
        assertThat(plan.noise().origin()).isEqualTo(Planning.Noise.Origin.ASSUMED);
        assertThat(plan.fewest()).as("three pairs: 2^-6 is below 0.05 / 3").isEqualTo(7);
        assertThat(plan.settles(6)).isEmpty();
        assertThat(plan.settles(7).orElseThrow()).isGreaterThan(plan.settles(12).orElseThrow());
        assertThat(plan.settles(300).orElseThrow()).isPositive().isLessThan(plan.settles(150).orElseThrow());
        assertThat(withMargin(plan, 1).roundsForMargin()).hasValue(7);
        assertThat(withMargin(plan, 1e-6).roundsForMargin()).isEmpty();
        Comparison seen = Comparison.of(study,
                runs(study, 5, (id, round) -> new double[]{10 * wobble(round, id.charAt(0))}));
        assertThat(Planning.of(study, Metric.P99, seen, Optional.empty()).noise().words(Metric.P99))
                .contains("seen in 5 rounds");
    }

    @Test
    void secondOpinionsAreOnTheScaleOfTheEstimateAndSayWhereTheyDisagree() {
        MeasuredStudy study = study(List.of("a", "b"), plan(7), question(List.of(), List.of(), P99));
        PairComparison pair = Comparison.of(study, runs(study, 7,
                (id, round) -> new double[]{(id.equals("a") ? 20 : 10) * wobble(round, id.charAt(0))})).pairs()
                .getFirst();
        SecondOpinions agree = SecondOpinions.of(pair, kadrem.core.stats.StudentisedBootstrap.of(7, 1), 0.05);
        assertThat(agree.disagreements()).isEmpty();
        assertThat(agree.bootstrap().orElseThrow().contains(pair.estimate())).isTrue();
        assertThat(agree.tInterval().orElseThrow().high()).isLessThan(0.6);
        // five rounds have no exact interval, and nothing to disagree with
        PairComparison few = Comparison.of(study, runs(study, 5,
                (id, round) -> new double[]{(id.equals("a") ? 20 : 10) * wobble(round, id.charAt(0))})).pairs()
                .getFirst();
        assertThat(SecondOpinions.of(few, kadrem.core.stats.StudentisedBootstrap.of(5, 1), 0.05).disagreements())
                .isEmpty();
    }

    @Test
    void friedmanIsAskedOfThreeAndMore() {
        MeasuredStudy two = study(List.of("a", "b"), plan(7), question(List.of(), List.of(), P99));
        assertThat(Comparison.of(two, runs(two, 7, (_, round) -> new double[]{10 * wobble(round, 1)}))
                .together(Metric.P99)).isEmpty();
        MeasuredStudy three = study(List.of("a", "b", "c"), plan(7), question(List.of(), List.of(), P99));
        Comparison comparison = Comparison.of(three, runs(three, 7,
                (id, round) -> new double[]{(10 + id.charAt(0)) * wobble(round, 1)}));
        // always in the same order: 12/(7·3·4)·Σ R² − 3·7·4 = 14, the largest of seven rounds
        assertThat(comparison.together(Metric.P99).orElseThrow().chiSquared()).isCloseTo(14, within(1e-9));
    }
}
