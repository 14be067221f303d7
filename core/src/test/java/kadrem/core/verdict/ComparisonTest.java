package kadrem.core.verdict;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.IntToLongFunction;
import kadrem.core.measure.RunOutcome;
import kadrem.core.measure.RunIdentity;
import kadrem.core.measure.RunRecord;
import kadrem.core.measure.Runs;
import kadrem.core.measure.Soundness;
import kadrem.core.plan.StreamDigest;
import kadrem.core.study.Judgement;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Metric;
import kadrem.core.study.Question;
import kadrem.core.study.SoundnessRule;
import kadrem.core.study.Studies;
import kadrem.core.study.Written;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;
import org.junit.jupiter.api.Test;

class ComparisonTest {
    private static final MeasuredStudy STUDY = Studies.two();

    private static List<RunRecord> rounds(int rounds, IntToLongFunction a, IntToLongFunction b) {
        var runs = new ArrayList<RunRecord>();
        for (int round = 1; round <= rounds; round++) {
            runs.add(Runs.complete(STUDY, "a", round, a.applyAsLong(round), 0));
            runs.add(Runs.complete(STUDY, "b", round, b.applyAsLong(round), 0));
        }
        return runs;
    }

    private static PairComparison p99(List<RunRecord> runs) {
        return Comparison.of(STUDY, runs).on(Metric.P99).getFirst();
    }

    private static long noisy(long base, int round) {
        return base + base / 100 * (round * 7 % 5);
    }

    @Test
    void aLargeDifferenceInSevenRoundsIsSettledByMoreThanTheMargin() {
        PairComparison pair = p99(rounds(7, r -> noisy(20_000_000, r), r -> noisy(10_000_000, r + 1)));
        assertThat(pair.estimate()).isCloseTo(0.5, within(0.03));
        assertThat(pair.p()).isCloseTo(0.015625, within(1e-12));
        assertThat(pair.outcome()).isEqualTo(Outcome.BETTER_BY_MORE);
        assertThat(pair.interval().orElseThrow().achievedConfidence()).isCloseTo(0.953125, within(1e-9));
        assertThat(pair.deciding()).isTrue();
    }

    @Test
    void throughputIsBetterWhenHigherAndLatencyWhenLower() {
        List<RunRecord> runs = rounds(7, r -> noisy(10_000_000, r), r -> noisy(20_000_000, r + 1));
        assertThat(p99(runs).outcome()).isEqualTo(Outcome.WORSE_BY_MORE);
        assertThat(Outcome.WORSE_BY_MORE.isSettled()).isTrue();
    }

    @Test
    void aDifferenceInsideTheMarginDoesNotMatter() {
        PairComparison pair = p99(rounds(7, r -> noisy(10_000_000, r), r -> noisy(10_100_000, r + 1)));
        assertThat(pair.outcome()).isEqualTo(Outcome.NO_DIFFERENCE_THAT_MATTERS);
    }

    @Test
    void fiveRoundsSettleNothing() {
        PairComparison pair = p99(rounds(5, r -> noisy(20_000_000, r), r -> noisy(10_000_000, r + 1)));
        assertThat(pair.interval()).isEmpty();
        assertThat(pair.outcome()).isEqualTo(Outcome.NOT_SETTLED);
    }

    @Test
    void aDifferenceThatComesAndGoesIsNotSettled() {
        PairComparison pair = p99(rounds(7, _ -> 10_000_000, r -> r % 2 == 0 ? 13_000_000 : 8_000_000));
        assertThat(pair.outcome()).isEqualTo(Outcome.NOT_SETTLED);
    }

    /** A constant effect of the round, such as a slow hour, changes nothing in paired results. */
    @Test
    void aRoundThatIsSlowForAllChangesNothing() {
        PairComparison plain = p99(rounds(7, r -> noisy(20_000_000, r), r -> noisy(10_000_000, r + 1)));
        PairComparison slowed = p99(
                rounds(7, r -> noisy(20_000_000, r) * (1 + r % 3), r -> noisy(10_000_000, r + 1) * (1 + r % 3)));
        assertThat(slowed.estimate()).isCloseTo(plain.estimate(), within(1e-9));
        assertThat(slowed.interval().orElseThrow().low()).isCloseTo(plain.interval().orElseThrow().low(), within(1e-9));
    }

    @Test
    void holmRunsOverAllPairsAndDecidingMetricsTogether() {
        MeasuredStudy study = Studies.of(List.of("a", "b", "c"), Studies.OPEN, new Question.Decider(Metric.P99, 0.1));
        var runs = new ArrayList<RunRecord>();
        for (int round = 1; round <= 7; round++) {
            runs.add(Runs.complete(study, "a", round, noisy(40_000_000, round), 0));
            runs.add(Runs.complete(study, "b", round, noisy(20_000_000, round + 1), 0));
            runs.add(Runs.complete(study, "c", round, noisy(10_000_000, round + 2), 0));
        }
        Comparison comparison = Comparison.of(study, runs);
        assertThat(comparison.on(Metric.P99)).hasSize(3).allSatisfy(pair -> {
            assertThat(pair.adjustedP()).isCloseTo(3 * 0.015625 / 0.95, within(1e-12));
            assertThat(pair.outcome().isSettled()).isTrue();
        });
        assertThat(Wording.standing(comparison)).startsWith("Candidate c leads on p99: 75 % lower")
                .endsWith("settled against all.");
    }

    @Test
    void errorSharesAreComparedAsDifferences() {
        var runs = new ArrayList<RunRecord>();
        for (int round = 1; round <= 7; round++) {
            runs.add(Runs.complete(STUDY, "a", round, 1_000_000, 0));
            runs.add(Runs.complete(STUDY, "b", round, 1_000_000, 0.02 + 0.001 * round));
        }
        PairComparison pair = Comparison.of(STUDY, runs).on(Metric.ERROR_SHARE).getFirst();
        assertThat(pair.estimate()).isCloseTo(0.024, within(1e-3));
        assertThat(pair.outcome()).isEqualTo(Outcome.WORSE_BY_MORE);
        assertThat(pair.deciding()).isFalse();
        assertThat(Wording.change(Metric.ERROR_SHARE, pair.estimate())).isEqualTo("2.40 points higher");
        assertThat(Wording.outcome(pair)).startsWith("a hint: ");
    }

    @Test
    void runsThatDoNotCountAreLeftOutWithTheReason() {
        List<RunRecord> runs = new ArrayList<>(rounds(7, _ -> 10_000_000, _ -> 10_000_000));
        runs.set(1, Runs.record(STUDY, "b", 1, RunOutcome.FAILED, Optional.empty()));
        MeasuredStudy edited = Studies.withLoad(new kadrem.core.study.LoadProfile.Closed(3, java.time.Duration.ZERO,
                java.time.Duration.ZERO, java.time.Duration.ofSeconds(1), java.time.Duration.ofSeconds(1)));
        Comparison comparison = Comparison.of(STUDY, runs);
        assertThat(comparison.on(Metric.P99).getFirst().rounds()).isEqualTo(6);
        assertThat(comparison.leftOut()).extracting(Comparison.LeftOut::sentence)
                .containsExactly("round 1, b: failed: it ended with exit code 1");
        assertThat(Comparison.of(edited, runs).pairs()).isEmpty();
        assertThat(Comparison.of(edited, runs).leftOut()).hasSize(14)
                .allSatisfy(run -> assertThat(run.why()).contains("another workload or load"));
    }

    @Test
    void aRunMadeAgainTakesThePlaceOfTheFirst() {
        List<RunRecord> runs = new ArrayList<>(rounds(7, _ -> 10_000_000, _ -> 10_000_000));
        RunRecord again = Runs.complete(STUDY, "b", 7, 30_000_000, 0);
        runs.add(new RunRecord(new RunIdentity("again", 7, "b", 1, 1, again.studyDigest(),
                again.started().plusSeconds(9), again.machine(), Optional.empty()), again.state(), List.of(),
                again.fingerprint(), again.processes(), again.stream(), again.figures(), List.of(), Optional.empty(),
                List.of(), List.of()));
        assertThat(p99(runs).points().getLast().candidate()).isEqualTo(30_000_000);
    }

    @Test
    void valuesAreWrittenWithUnitsAndSensibleRounding() {
        assertThat(Written.value(Metric.Unit.NANOSECONDS, 12_412_345)).isEqualTo("12.4 ms");
        assertThat(Written.value(Metric.Unit.NANOSECONDS, 1_834_000_000)).isEqualTo("1.83 s");
        assertThat(Written.value(Metric.Unit.NANOSECONDS, 999_700)).isEqualTo("1.00 ms");
        assertThat(Written.value(Metric.Unit.PER_SECOND, 41_234)).isEqualTo("41,200/s");
        assertThat(Written.value(Metric.Unit.SHARE, 0.0012)).isEqualTo("0.120 %");
        assertThat(Written.share(0.95)).isEqualTo("95 %");
        assertThat(Written.share(0.9837)).isEqualTo("98.4 %");
        assertThat(Written.share(0.9995)).as("what is not all is never written as all").isEqualTo("over 99.9 %");
        assertThat(Written.share(1)).isEqualTo("100 %");
        assertThat(Written.value(Metric.Unit.BYTES, 327_155_712)).isEqualTo("312 MiB");
        assertThat(Wording.change(Metric.P99, 0.62)).isEqualTo("38 % lower");
        assertThat(Wording.change(Metric.P99, 2.6)).isEqualTo("2.60 times as high");
        assertThat(Wording.change(Metric.P99, 1.0001)).isEqualTo("the same");
        assertThat(Wording.interval(Metric.P99, new kadrem.core.stats.Interval(2.11, 2.8, 0.95)))
                .isEqualTo("2.11 to 2.80 times as high");
        assertThat(Wording.interval(Metric.P99, new kadrem.core.stats.Interval(0.56, 0.69, 0.95)))
                .isEqualTo("31 % to 44 % lower");
    }

    private static MeasuredStudy judging(Judgement judgement) {
        return new MeasuredStudy(STUDY.name(), STUDY.question(), STUDY.candidates(), STUDY.workload(), STUDY.load(),
                STUDY.plan(), STUDY.agreement(), STUDY.intended(), judgement);
    }

    @Test
    void aDisturbedRunSetsItsRoundAsideUnlessByHandOrUnderAnotherLimitAndEveryReportSaysSo() {
        var runs = new ArrayList<>(rounds(7, r -> noisy(20_000_000, r), r -> noisy(10_000_000, r + 1)));
        RunRecord late = runs.getFirst();
        runs.set(0, late.withResult(new StreamDigest(StreamDigest.Model.OPEN, List.of()),
                late.figures().orElseThrow(),
                List.of(new Soundness.Finding(SoundnessRule.LATE.label(), false, 3, 0.05, "late by 3 ms"))));
        Comparison usual = Comparison.of(STUDY, runs);
        assertThat(usual.on(Metric.P99).getFirst().rounds()).isEqualTo(6);
        assertThat(usual.leftOut()).extracting(Comparison.LeftOut::sentence)
                .containsExactly("round 1, a: its round was set aside", "round 1, b: its round was set aside");
        assertThat(usual.setAside().sentences()).containsExactly("round 1 (a: late by 3 ms)");
        assertThat(usual.all().orElseThrow().on(Metric.P99).getFirst().rounds()).as("the other answer").isEqualTo(7);
        assertThat(usual.judgedOtherwise()).isEmpty();

        Comparison byHand = Comparison.of(
                judging(new Judgement(Map.of(), List.of(new Judgement.TakenIn(late.id(), "a burst at its start")))),
                runs);
        assertThat(byHand.on(Metric.P99).getFirst().rounds()).isEqualTo(7);
        assertThat(byHand.judgedOtherwise())
                .containsExactly("round 1, a: taken in by hand, though late by 3 ms: a burst at its start");

        Comparison lenient = Comparison.of(judging(new Judgement(Map.of(SoundnessRule.LATE, 4.0), List.of())),
                runs);
        assertThat(lenient.on(Metric.P99).getFirst().rounds()).isEqualTo(7);
        assertThat(lenient.judgedOtherwise()).containsExactly("limit of late: 400.0 %, usually 5.0 %");
    }
}
