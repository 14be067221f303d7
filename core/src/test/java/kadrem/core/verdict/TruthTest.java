package kadrem.core.verdict;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.IntUnaryOperator;

import kadrem.core.measure.Latency;
import kadrem.core.measure.LatencySummary;
import kadrem.core.measure.LevelResult;
import kadrem.core.measure.RunOutcome;
import kadrem.core.measure.RunRecord;
import kadrem.core.measure.Runs;
import kadrem.core.measure.Standing;
import kadrem.core.plan.Look;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Metric;
import kadrem.core.study.Plan;
import kadrem.core.study.Question;
import kadrem.core.study.Requirement;
import kadrem.core.study.Seal;
import kadrem.core.study.Studies;
import org.HdrHistogram.Histogram;
import org.junit.jupiter.api.Test;

/** Nothing that a candidate does keeps a run, a call or a second of it out of the figures, and no more is said than was shown. */
class TruthTest {
    private static final long MS = 1_000_000;
    private static final Question.Decider P50 = new Question.Decider(Metric.P50, 0.05);
    private static final Question.Decider P99 = new Question.Decider(Metric.P99, 0.05);

    private static MeasuredStudy study(int rounds, List<Requirement> requirements, Question.Decider... deciders) {
        MeasuredStudy some = Studies.of(List.of("a", "b"), Studies.OPEN);
        return new MeasuredStudy(some.name(), new Question("?", "a", 0.05, List.of(deciders), requirements, List.of()),
                some.candidates(), some.workload(), some.load(), new Plan(rounds, 1, Duration.ZERO));
    }

    private static Verdict verdict(MeasuredStudy study, List<RunRecord> runs) {
        return Verdict.of(Comparison.of(study, runs), Optional.empty(), 3);
    }

    private static long wobbling(long nanos, int round) {
        return nanos + nanos / 100 * (round * 7 % 5);
    }

    private static RunRecord ended(MeasuredStudy study, String candidate, int round, RunOutcome outcome) {
        return Runs.record(study, candidate, round, outcome, Optional.empty());
    }

    /** 60 % errors in 3 of 10 rounds: the candidate that is otherwise twice as fast is not recommended, and misses what is asked. */
    @Test
    void badRunsOfABadCandidateStay() {
        var limit = new Requirement(Metric.ERROR_SHARE, 0.01);
        MeasuredStudy study = study(10, List.of(limit), P99);
        var runs = new ArrayList<RunRecord>();
        for (int round = 1; round <= 10; round++) {
            runs.add(Runs.complete(study, "a", round, wobbling(20 * MS, round), 0, 10_000));
            runs.add(Runs.complete(study, "b", round, wobbling(10 * MS, round), round % 3 == 0 ? 15_000 : 0, 10_000));
        }
        Comparison comparison = Comparison.of(study, runs);
        assertThat(comparison.values(Metric.P99, "b")).hasSize(10).containsEntry(3, Double.POSITIVE_INFINITY);
        Verdict verdict = verdict(study, runs);
        assertThat(verdict.chosen()).doesNotContain("b");
        RequirementResult errors = verdict.requirements().getLast();
        assertThat(errors.candidate()).isEqualTo("b");
        assertThat(errors.answer()).isNotEqualTo(RequirementResult.Answer.MET);
        assertThat(errors.estimate().orElseThrow()).as("pooled").isCloseTo(45_000.0 / 145_000, within(1e-9));
    }

    /** Six deaths in thirteen rounds are results: they are ranked worst, named first, and its sibling is judged. */
    @Test
    void deathsAreResultsAndTheSiblingIsJudged() {
        MeasuredStudy study = study(13, List.of(), P99);
        var runs = new ArrayList<RunRecord>();
        for (int round = 1; round <= 13; round++) {
            runs.add(Runs.complete(study, "a", round, wobbling(20 * MS, round), 0, 10_000));
            runs.add(round % 2 == 0
                    ? ended(study, "b", round, RunOutcome.DIED)
                    : Runs.complete(study, "b", round, wobbling(10 * MS, round), 0, 10_000));
        }
        Verdict verdict = verdict(study, runs);
        assertThat(verdict.comparison().progress().measured()).isEqualTo(13);
        assertThat(verdict.comparison().on(Metric.P99).getFirst().rounds()).isEqualTo(13);
        assertThat(verdict.chosen()).doesNotContain("b");
        assertThat(verdict.paragraph()).contains("Candidate b died in 6 of 13 rounds");
        assertThat(verdict.comparison().outcomes()).hasSize(6)
                .allMatch(one -> one.why().equals("died: it ended with exit code 1"));
    }

    /** A candidate that never starts holds nobody back: the other is recommended once there are rounds enough. */
    @Test
    void whoNeverStartsLosesToWhoDoes() {
        MeasuredStudy study = study(7, List.of(), P99);
        var runs = new ArrayList<RunRecord>();
        for (int round = 1; round <= 7; round++) {
            runs.add(Runs.complete(study, "a", round, wobbling(20 * MS, round), 0, 10_000));
            runs.add(ended(study, "b", round, RunOutcome.DID_NOT_START));
        }
        Verdict verdict = verdict(study, runs);
        assertThat(verdict.kind()).isEqualTo(Verdict.Kind.RECOMMENDED);
        assertThat(verdict.chosen()).containsExactly("a");
        assertThat(verdict.paragraph()).contains("Candidate b did not start in 7 of 7 rounds")
                .contains("without bound");
    }

    @Test
    void aRunEndedByAStopRuleIsPartOfItsRound() {
        MeasuredStudy study = study(7, List.of(), P99);
        var runs = new ArrayList<RunRecord>();
        for (int round = 1; round <= 7; round++) {
            runs.add(Runs.complete(study, "a", round, wobbling(20 * MS, round), 0, 10_000));
            runs.add(round == 4
                    ? ended(study, "b", round, RunOutcome.ENDED_BY_RULE)
                    : Runs.complete(study, "b", round, wobbling(20 * MS, round), 0, 10_000));
        }
        assertThat(Comparison.of(study, runs).progress().measured()).isEqualTo(7);
        Verdict verdict = verdict(study, runs);
        assertThat(verdict.paragraph()).contains("was ended by a stop rule in 1 of 7 rounds");
        assertThat(verdict.notShown()).as("the scatter of the other runs says nothing of how often it ends")
                .singleElement()
                .asString().contains("it hangs on runs without a figure").doesNotContain("rounds would");
    }

    /** 1.5 % timeouts against 1.5 % answers in 3 s: the one that gives no answer at all is the worse one. */
    @Test
    void callsWithoutAnAnswerAreSlowerThanAllOthers() {
        MeasuredStudy study = study(7, List.of(), P99);
        var runs = new ArrayList<RunRecord>();
        for (int round = 1; round <= 7; round++) {
            Histogram slow = Latency.forRun();
            slow.recordValueWithCount(wobbling(10 * MS, round), 9_850);
            slow.recordValueWithCount(3_000 * MS, 150);
            runs.add(Runs.complete(study, "a", round, slow, 0));
            runs.add(Runs.complete(study, "b", round, wobbling(10 * MS, round), 150, 9_850));
        }
        Verdict verdict = verdict(study, runs);
        assertThat(verdict.chosen()).containsExactly("a");
        assertThat(Comparison.of(study, runs).values(Metric.P99, "b").values())
                .allMatch(value -> value == Double.POSITIVE_INFINITY);
    }

    @Test
    void aPercentileIsANumberOnlyWhileFewerWentWithout() {
        Histogram times = Latency.forRun();
        times.recordValueWithCount(10 * MS, 990);
        assertThat(LatencySummary.of(times, 9, 1).p99()).isBetween(9 * MS, 11 * MS);
        assertThat(LatencySummary.of(times, 11, 1).p99()).isEqualTo(LatencySummary.NEVER);
        assertThat(LatencySummary.of(times, 11, 1).p95()).isBetween(9 * MS, 11 * MS);
        assertThat(LatencySummary.of(Latency.forRun(), 5, 7).p50()).isEqualTo(LatencySummary.NEVER);
        assertThat(LatencySummary.of(times, 10, 500 * MS).mean()).as("without an answer they count for the time limit")
                .isCloseTo((990 * 10.0 + 10 * 500) / 1000 * MS, within(0.001 * 15 * MS));
        assertThat(LatencySummary.of(times, 110, 1).tailSupport(0.99)).isEqualTo(11);
    }

    /** p50 8 % lower is shown, p99 49 % higher is not settled: that is not "not worse". */
    @Test
    void notSettledIsNotNotWorse() {
        MeasuredStudy study = study(7, List.of(), P50, P99);
        var runs = new ArrayList<RunRecord>();
        for (int round = 1; round <= 7; round++) {
            runs.add(Runs.complete(study, "a", round, tailed(wobbling(100 * MS, round), 200 * MS), 0));
            runs.add(Runs.complete(study, "b", round,
                    tailed(wobbling(70 * MS, round), (round % 2 == 0 ? 150 : 320) * MS),
                    0));
        }
        Comparison comparison = Comparison.of(study, runs);
        assertThat(comparison.on(Metric.P50).getFirst().outcome()).isEqualTo(Outcome.BETTER_BY_MORE);
        assertThat(comparison.on(Metric.P99).getFirst().outcome()).isEqualTo(Outcome.NOT_SETTLED);
        assertThat(verdict(study, runs).kind()).isEqualTo(Verdict.Kind.OPEN);
    }

    private static Histogram tailed(long most, long tail) {
        Histogram times = Latency.forRun();
        times.recordValueWithCount(most, 9_800);
        times.recordValueWithCount(tail, 200);
        return times;
    }

    /** 10 % errors in one run of ten, limit 0.1 %: not met, and with more bad runs it does not become likelier. */
    @Test
    void aBadTenthOfTheRunsIsNotHidden() {
        var limit = new Requirement(Metric.ERROR_SHARE, 0.001);
        MeasuredStudy study = study(10, List.of(limit), P99);
        double before = -1;
        for (int bad = 0; bad <= 3; bad++) {
            var runs = new ArrayList<RunRecord>();
            for (int round = 1; round <= 10; round++) {
                runs.add(Runs.complete(study, "a", round, wobbling(20 * MS, round), 0, 10_000));
                runs.add(Runs.complete(study, "b", round, wobbling(20 * MS, round), round <= bad ? 1_000 : 0, 9_000));
            }
            RequirementResult result = Comparison.of(study, runs).requirements().getLast();
            assertThat(result.answer()).isEqualTo(
                    bad == 0 ? RequirementResult.Answer.MET : RequirementResult.Answer.NOT_SHOWN);
            assertThat(result.bounds().orElseThrow().high()).isGreaterThan(before);
            before = result.bounds().orElseThrow().high();
        }
    }

    /** p99 at most 50 ms is that 1 % of the calls may lack a good answer within 50 ms; one run in ten at 400 ms breaks it. */
    @Test
    void aRequirementOnAPercentileIsOneOnAShare() {
        var limit = new Requirement(Metric.P99, 50 * MS);
        MeasuredStudy study = study(10, List.of(limit), P50);
        var good = new ArrayList<RunRecord>();
        var oneBad = new ArrayList<RunRecord>();
        for (int round = 1; round <= 10; round++) {
            for (String id : List.of("a", "b")) {
                good.add(Runs.complete(study, id, round, wobbling(20 * MS, round), 0, 10_000));
                oneBad.add(
                        Runs.complete(study, id, round, round == 5 ? 400 * MS : wobbling(20 * MS, round), 0, 10_000));
            }
        }
        RequirementResult met = Comparison.of(study, good).requirements().getFirst();
        assertThat(met.answer()).isEqualTo(RequirementResult.Answer.MET);
        assertThat(met.sentence()).startsWith("met: 0 % of the calls had no good answer within 50 ms")
                .endsWith("1 % may");
        RequirementResult not = Comparison.of(study, oneBad).requirements().getFirst();
        assertThat(not.estimate().orElseThrow()).isCloseTo(0.1, within(1e-9));
        assertThat(not.answer()).isEqualTo(RequirementResult.Answer.NOT_SHOWN);
    }

    /** Beyond the plan's end the same significance is not used again: rounds wait until they have doubled, and what was kept back is spent. */
    @Test
    void goingOnBeyondThePlanIsJudgedWhenItsRoundsHaveDoubledByWhatWasKeptBack() {
        MeasuredStudy study = study(7, List.of(), P99);
        var runs = new ArrayList<RunRecord>();
        for (int round = 1; round <= 15; round++) {
            runs.add(Runs.complete(study, "a", round, wobbling(20 * MS, round), 0, 10_000));
            runs.add(Runs.complete(study, "b", round, wobbling(10 * MS, round + 1), 0, 10_000));
        }
        PairComparison atEnd = Comparison.of(study, runs.subList(0, 14)).on(Metric.P99).getFirst();
        assertThat(atEnd.adjustedP()).as("seven of seven, and a twentieth kept back").isCloseTo(0.015625 / 0.95,
                within(1e-12));
        Comparison between = Comparison.of(study, runs.subList(0, 27));
        assertThat(between.on(Metric.P99).getFirst()).as("a look counts until the next")
                .usingRecursiveComparison().isEqualTo(atEnd);
        assertThat(between.progress().waiting()).isEqualTo(6);
        assertThat(between.waitingRounds()).as("the last one lacks a run").containsExactly(8, 9, 10, 11, 12, 13, 14);
        assertThat(between.progress().isGoneOnWith()).isFalse();
        assertThat(between.leftOut()).hasSize(13)
                .allMatch(one -> one.why().equals("it waits for the next look at the study, at 14 rounds"));
        assertThat(Verdict.of(between, Optional.empty(), 1).paragraph())
                .contains("6 rounds wait for the next look at the study, at 14 rounds.");
        Comparison doubled = Comparison.of(study, runs);
        assertThat(doubled.on(Metric.P99).getFirst().rounds()).isEqualTo(14);
        assertThat(doubled.on(Metric.P99).getFirst().adjustedP()).as("half of a twentieth is spent").isCloseTo(
                Math.scalb(2, -14) / 0.025, within(1e-12));
        Explanation why = Explanation.of(doubled, doubled.on(Metric.P99).getFirst(), Optional.empty());
        assertThat(why.parts()).anySatisfy(part -> assertThat(part.text()).contains("held against 0.05")
                .contains("This look, at 14 rounds, spends 0.0013 of it"));
        assertThat(Verdict.of(doubled, Optional.empty(), 1).paragraph())
                .contains("It was gone on with beyond its plan of 7 rounds, and is judged at 14 by a part")
                .contains("1 round waits for the next look at the study, at 28 rounds.");
    }

    /**
     * A share of errors just above the limit, looked at after each of forty rounds of an adaptive plan: met at any look in at most as many
     * studies as half of the level says, which is for the bound on that side, within three standard errors.
     */
    @Test
    void aRequirementOfAnAdaptivePlanMayBeLookedAtAfterEachRound() {
        var limit = new Requirement(Metric.ERROR_SHARE, 0.01);
        MeasuredStudy study = study(6, List.of(limit));
        var random = new java.util.SplittableRandom(3);
        int studies = 250;
        int met = 0;
        int atEveryLook = 0;
        for (int i = 0; i < studies; i++) {
            var runs = new ArrayList<RunRecord>();
            for (int round = 1; round <= 40; round++) {
                long failed = Math.round(10.12 + 3 * random.nextGaussian());
                runs.add(Runs.complete(study, "a", round, 20 * MS, Math.max(0, failed), 1_000));
            }
            boolean any = false;
            boolean anyByOne = false;
            for (int round = 5; round <= 40; round++) {
                any |= isMet(RequirementResult.Draft.of(limit, "a", runs.subList(0, round), true));
                anyByOne |= isMet(RequirementResult.Draft.of(limit, "a", runs.subList(0, round), false));
            }
            met += any ? 1 : 0;
            atEveryLook += anyByOne ? 1 : 0;
        }
        double bar = 0.025 + 3 * Math.sqrt(0.025 * 0.975 / studies);
        assertThat((double) atEveryLook / studies).as("bounds that hold at one look").isGreaterThan(bar);
        assertThat((double) met / studies).isLessThanOrEqualTo(bar);
    }

    private static boolean isMet(RequirementResult.Draft draft) {
        return draft.finish(0.05).answer() == RequirementResult.Answer.MET;
    }

    /** However long one goes on, the looks together spend no more than the significance. */
    @Test
    void looksSpendTheSignificance() {
        double spent = 0;
        int looks = 0;
        for (int made = 7; made <= 7 << 20; made *= 2) {
            Look look = Look.last(7, made, 0.05);
            assertThat(look.count()).isEqualTo(made);
            assertThat(look.beyond()).isEqualTo(looks++);
            spent += look.significance();
        }
        assertThat(spent).isBetween(0.0499, 0.05);
        assertThat(Look.last(7, 6, 0.05)).isEqualTo(new Look(6, Look.Unit.ROUNDS, 0.0475, 0));
        assertThat(Look.only(7, 0.05).isOneOfSeveral()).isFalse();
    }

    /** Rounds, not runs, are set aside; whether that struck the candidates alike is tested, and both answers are there. */
    @Test
    void aDisturbedRoundIsSetAsideForAllAndBothAnswersAreThere() {
        MeasuredStudy study = study(12, List.of(), P99);
        var runs = new ArrayList<RunRecord>();
        for (int round = 1; round <= 12; round++) {
            RunRecord a = Runs.complete(study, "a", round, wobbling(20 * MS, round), 0, 10_000);
            runs.add(round <= 6 ? Runs.disturbed(a) : a);
            runs.add(Runs.complete(study, "b", round, wobbling((round <= 6 ? 40 : 10) * MS, round), 0, 10_000));
        }
        Comparison comparison = Comparison.of(study, runs);
        assertThat(comparison.progress().measured()).isEqualTo(6);
        assertThat(comparison.setAside().rounds()).containsExactly(1, 2, 3, 4, 5, 6);
        assertThat(comparison.setAside().blindness().orElseThrow()).as("six of six, binomial").isCloseTo(0.03125,
                within(1e-9));
        assertThat(comparison.on(Metric.P99).getFirst().outcome()).isEqualTo(Outcome.BETTER_BY_MORE);
        assertThat(comparison.otherwiseWithAll()).anyMatch(one -> one.contains("not settled instead of"));
        assertThat(runs.getFirst().standing()).isInstanceOf(Standing.Disturbed.class);
    }

    /** A round that takes the place of a disturbed one is no look beyond the plan's end: both answers go by the plan's own test. */
    @Test
    void roundsThatTookThePlaceOfDisturbedOnesAreNotGoneOnWith() {
        MeasuredStudy study = study(7, List.of(), P99);
        var runs = new ArrayList<RunRecord>();
        for (int round = 1; round <= 9; round++) {
            RunRecord a = Runs.complete(study, "a", round, wobbling(20 * MS, round), 0, 10_000);
            runs.add(round <= 2 ? Runs.disturbed(a) : a);
            runs.add(Runs.complete(study, "b", round, wobbling(10 * MS, round + 1), 0, 10_000));
        }
        Comparison comparison = Comparison.of(study, runs);
        assertThat(comparison.progress().waiting()).isZero();
        PairComparison all = comparison.all().orElseThrow().on(Metric.P99).getFirst();
        assertThat(all.rounds()).isEqualTo(9);
        assertThat(all.adjustedP()).as("the same look").isCloseTo(Math.scalb(2, -9) / 0.95, within(1e-12));
        assertThat(comparison.otherwiseWithAll()).isEmpty();
    }

    /** What of an interval is said in words can never disagree with it, nor with p. */
    @Test
    void sentenceIntervalAndPAgree() {
        var random = new java.util.SplittableRandom(5);
        for (int i = 0; i < 300; i++) {
            MeasuredStudy study = study(8, List.of(), P50, P99);
            var runs = new ArrayList<RunRecord>();
            for (int round = 1; round <= 8; round++) {
                for (String id : List.of("a", "b")) {
                    runs.add(Runs.complete(study, id, round, MS * random.nextInt(18, 23), 0, 1_000));
                }
            }
            for (PairComparison pair : Comparison.of(study, runs).pairs()) {
                pair.interval().ifPresent(interval -> {
                    assertThat(pair.adjustedP() <= 0.05).as("%s", pair)
                            .isEqualTo(!interval.contains(pair.metric().scale().neutral()));
                    assertThat(pair.outcome() == Outcome.NO_DIFFERENCE_THAT_MATTERS).isEqualTo(
                            interval.low() > pair.margin().low() && interval.high() < pair.margin().high());
                });
            }
        }
    }

    private static RunRecord on(int day, RunRecord run) {
        return Runs.at(run, run.started().plus(Duration.ofDays(day)), run.machine());
    }

    /**
     * Sittings of seven rounds on as many days, in which a takes 20 ms.
     *
     * @param ofB milliseconds of b by the day
     */
    private static List<RunRecord> sittings(MeasuredStudy study, int days, IntUnaryOperator ofB) {
        var runs = new ArrayList<RunRecord>();
        for (int day = 0; day < days; day++) {
            for (int round = day * 7 + 1; round <= day * 7 + 7; round++) {
                runs.add(on(day, Runs.complete(study, "a", round, wobbling(20 * MS, round), 0, 10_000)));
                runs.add(on(day, Runs.complete(study, "b", round, wobbling(ofB.applyAsInt(day) * MS, round + 1), 0,
                        10_000)));
            }
        }
        return runs;
    }

    /** Each day settles that b is faster, by 10 % or 40 % in turn: over days the interval is as wide as days differ. */
    @Test
    void oneSittingHoldsForThatOneAndThreeOverDays() {
        MeasuredStudy study = study(7, List.of(), P99);
        List<RunRecord> runs = sittings(study, 4, day -> day % 2 == 0 ? 18 : 12);
        Verdict first = verdict(study, runs.subList(0, 14));
        assertThat(first.paragraph()).contains("measured in one sitting and holds for that one");
        assertThat(first.chosen()).containsExactly("b");
        Comparison two = Comparison.of(study, runs.subList(0, 28));
        assertThat(two.progress().isGoneOnWith()).as("looked at once already").isTrue();
        Verdict three = verdict(study, runs.subList(0, 42));
        PairComparison pair = three.comparison().on(Metric.P99).getFirst();
        assertThat(three.comparison().sittings()).hasSize(3);
        assertThat(pair.interval().orElseThrow().low()).isLessThan(0.6);
        assertThat(pair.interval().orElseThrow().high()).as("t on two degrees of freedom").isGreaterThan(0.95);
        assertThat(three.paragraph()).contains("judged over 3 sittings");
        assertThat(three.chosen()).isEmpty();
    }

    /** Sittings are looked at when there are three, and six: between the two further ones wait, and one that is not through is none yet. */
    @Test
    void furtherSittingsWaitForTheNextLook() {
        MeasuredStudy study = study(7, List.of(), P99);
        List<RunRecord> runs = sittings(study, 6, _ -> 18);
        Comparison third = Comparison.of(study, runs.subList(0, 41));
        assertThat(third.progress().look()).as("a run is missing")
                .isEqualTo(Look.last(7, 20, 0.05));
        Comparison three = Comparison.of(study, runs.subList(0, 42));
        assertThat(three.progress().look()).isEqualTo(new Look(3, Look.Unit.SITTINGS, 0.025, 0));
        assertThat(three.progress().waiting()).isZero();
        Comparison five = Comparison.of(study, runs.subList(0, 70));
        assertThat(five.on(Metric.P99).getFirst()).usingRecursiveComparison()
                .isEqualTo(three.on(Metric.P99).getFirst());
        assertThat(five.progress().waitingSentence()).hasValue(
                "14 rounds wait for the next look at the study, at 6 sittings.");
        assertThat(SittingTable.of(five).rows().getFirst().cells()).hasSize(5).endsWith("waits", "waits");
        assertThat(verdict(study, runs.subList(0, 70)).paragraph()).contains("judged over 3 sittings")
                .doesNotContain("gone on with beyond its plan");
        assertThat(Comparison.of(study, runs).progress().look()).isEqualTo(new Look(6, Look.Unit.SITTINGS, 0.0125, 1));
    }

    /**
     * Two that are the same on average and differ from day to day, looked at after each of twelve sittings: settled at any look in at most
     * as many studies as the significance says, within three standard errors.
     */
    @Test
    void sittingsMayBeLookedAtAfterEach() {
        MeasuredStudy study = study(2, List.of(), P99);
        var random = new java.util.SplittableRandom(17);
        int studies = 400;
        int settled = 0;
        int atEachByOne = 0;
        for (int i = 0; i < studies; i++) {
            var runs = new ArrayList<RunRecord>();
            var days = new ArrayList<double[]>();
            boolean any = false;
            boolean anyByOne = false;
            for (int day = 0; day < 12; day++) {
                double ofDay = Math.exp(0.05 * random.nextGaussian());
                for (int round = 2 * day + 1; round <= 2 * day + 2; round++) {
                    runs.add(on(day, Runs.complete(study, "a", round, 20 * MS, 0, 10_000)));
                    runs.add(on(day, Runs.complete(study, "b", round,
                            Math.round(20 * MS * ofDay * Math.exp(0.01 * random.nextGaussian())), 0, 10_000)));
                }
                days.add(new double[]{Math.log(ofDay)});
                anyByOne |= kadrem.core.stats.BetweenGroups.of(days.toArray(double[][]::new))
                        .filter(one -> one.p(0) <= 0.05).isPresent();
                any |= day >= 2 && Comparison.of(study, runs).on(Metric.P99).getFirst().adjustedP() <= 0.05;
            }
            settled += any ? 1 : 0;
            atEachByOne += anyByOne ? 1 : 0;
        }
        double bar = 0.05 + 3 * Math.sqrt(0.05 * 0.95 / studies);
        assertThat((double) atEachByOne / studies).as("by t that holds at one look").isGreaterThan(bar);
        assertThat((double) settled / studies).isLessThanOrEqualTo(bar);
    }

    /** Two starts of the system on one day are in the order of time, which their names are not. */
    @Test
    void sittingsAreInTheOrderOfTime() {
        MeasuredStudy study = study(2, List.of(), P99);
        var runs = new ArrayList<RunRecord>();
        for (int round = 1; round <= 4; round++) {
            for (String id : List.of("a", "b")) {
                runs.add(started(round < 3 ? "f0" : "a1", Runs.complete(study, id, round, 20 * MS, 0, 10_000)));
            }
        }
        SittingTable table = SittingTable.of(Comparison.of(study, runs));
        assertThat(table.sittings()).hasSize(2);
        assertThat(table.sittings().getFirst()).endsWith("boot f0");
        assertThat(table.rows()).hasSize(1);
        assertThat(table.rows().getFirst().words()).isEqualTo("p99 of Candidate b against Candidate a");
        assertThat(table.rows().getFirst().cells()).containsExactly("the same in 2 rounds", "the same in 2 rounds");
    }

    private static RunRecord started(String boot, RunRecord run) {
        return Runs.at(run, run.started(), Map.of("boot", boot));
    }

    /** R 4.2.2: {@code t.test(c(-.1, -.4, -.12, -.38))}: mean −0.25, t = −3.0705 on 3 degrees of freedom, p = 0.0546; by hand. */
    @Test
    void sittingsAreTheUnitOfTheirMean() {
        var between = kadrem.core.stats.BetweenGroups.of(new double[]{-0.1, -0.1, -0.1}, new double[]{-0.4, -0.4},
                new double[]{-0.12}, new double[]{-0.38, -0.38, -0.38}).orElseThrow();
        double sd = Math.sqrt((0.15 * 0.15 * 2 + 0.13 * 0.13 * 2) / 3);
        assertThat(between.estimate()).isCloseTo(-0.25, within(1e-12));
        assertThat(between.interval(0.95).orElseThrow().high()).isCloseTo(-0.25 + 3.182446 * sd / 2, within(1e-6));
        assertThat(kadrem.core.stats.BetweenGroups.of(new double[]{1}, new double[]{2})).isEmpty();
    }

    /** What was promised before the first run stands in every run; what was changed after it is named. */
    @Test
    void whatIsChangedAfterTheFirstRunIsNamed() {
        MeasuredStudy study = study(7, List.of(new Requirement(Metric.P99, 50 * MS)), P99);
        var runs = new ArrayList<RunRecord>();
        for (int round = 1; round <= 7; round++) {
            for (String id : List.of("a", "b")) {
                runs.add(Runs.complete(study, id, round, wobbling(20 * MS, round), 0, 10_000).sealed(Seal.of(study)));
            }
        }
        assertThat(Comparison.of(study, runs).changedAfterSeal()).isEmpty();
        MeasuredStudy changed = study(7, List.of(), new Question.Decider(Metric.P99, 0.1), P50);
        assertThat(Comparison.of(changed, runs).changedAfterSeal()).containsExactly(
                "margin of p99 from 5 % to 10 % after 7 rounds",
                "requirement on p99 taken away, it was at most 50 ms after 7 rounds",
                "margin of p50 added, 5 % after 7 rounds");
        assertThat(verdict(changed, runs).paragraph())
                .contains("Changed after the first run: margin of p99 from 5 % to 10 %");
    }

    private static RunRecord searched(MeasuredStudy study, String id, int round, long... p95ByLevel) {
        var levels = new ArrayList<LevelResult>();
        for (int i = 0; i < p95ByLevel.length; i++) {
            RunRecord one = Runs.complete(study, id, round, wobbling(p95ByLevel[i] * MS, round), 0, 1_000 * (i + 1));
            levels.add(new LevelResult(80 << i, 0, one.figures(), List.of(), LevelResult.Step.PASSED, ""));
        }
        RunRecord best = Runs.record(study, id, round, RunOutcome.COMPLETE, levels.getLast().figures());
        return best.withLevels(levels);
    }

    /** a takes 320 users at 40 ms, b only 160 at 30 ms: p95 is compared at 160, where a took 10 ms; throughput is capacity. */
    @Test
    void candidatesOfASearchAreComparedAtALevelThatBothTook() {
        MeasuredStudy plain = study(7, List.of(new Requirement(Metric.P95, 50 * MS)),
                new Question.Decider(Metric.P95, 0.05),
                new Question.Decider(Metric.THROUGHPUT, 0.05));
        MeasuredStudy study = new MeasuredStudy(plain.name(), plain.question(), plain.candidates(), plain.workload(),
                plain.load().single().orElseThrow().withCourse(plain.load().course()
                        .withSearch(new kadrem.core.study.LevelSearch.Ladder(80, 2, 0, 4, 0.05))),
                plain.plan());
        var runs = new ArrayList<RunRecord>();
        for (int round = 1; round <= 7; round++) {
            runs.add(searched(study, "a", round, 8, 10, 40));
            runs.add(searched(study, "b", round, 20, 30));
        }
        Comparison comparison = Comparison.of(study, runs);
        assertThat(comparison.commonLevel()).hasValue(160);
        PairComparison p95 = comparison.on(Metric.P95).getFirst();
        assertThat(p95.estimate()).as("30 ms against 10 ms, not against 40 ms").isCloseTo(3, within(0.1));
        assertThat(comparison.on(Metric.THROUGHPUT).getFirst().outcome()).isEqualTo(Outcome.WORSE_BY_MORE);
        assertThat(comparison.requirements()).as("its levels were chosen by them").isEmpty();
        assertThat(verdict(study, runs).paragraph()).contains("all else is compared at 160 ");
    }

    /** A run of an older Kadrem keeps its figures, and the verdict says by which rules they were made. */
    @Test
    void runsOfOlderRulesSaySo() {
        MeasuredStudy study = study(7, List.of(), P99);
        var runs = new ArrayList<RunRecord>();
        for (int round = 1; round <= 7; round++) {
            for (String id : List.of("a", "b")) {
                RunRecord run = Runs.complete(study, id, round, wobbling(20 * MS, round), 0, 10_000);
                var figures = run.figures().orElseThrow();
                var failed = new java.util.EnumMap<>(figures.failed());
                failed.put(kadrem.core.measure.FailureKind.TIMEOUT, round == 3 ? 300L : 0L);
                runs.add(Runs.record(study, id, round, RunOutcome.COMPLETE,
                        Optional.of(new kadrem.core.measure.RunFigures(10_300, 10_000, failed, 0, 10, 10_000, 1, 1,
                                figures.response(), figures.service(), figures.late(), figures.cpuMillis(),
                                figures.peakMemory(), List.of()))));
            }
        }
        assertThat(verdict(study, runs).paragraph()).contains("2 runs are of an older Kadrem");
        assertThat(verdict(study, runs.stream().map(run -> run.sealed(Seal.of(study))).toList()).paragraph())
                .doesNotContain("older Kadrem");
    }
}
