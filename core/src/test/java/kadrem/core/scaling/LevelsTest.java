package kadrem.core.scaling;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.DoubleFunction;

import kadrem.core.measure.FailureKind;
import kadrem.core.measure.LatencySummary;
import kadrem.core.measure.LevelResult;
import kadrem.core.measure.LevelResult.Step;
import kadrem.core.measure.RunFigures;
import kadrem.core.measure.Soundness;
import kadrem.core.study.LevelSearch;
import kadrem.core.study.Metric;
import kadrem.core.study.Requirement;
import kadrem.core.study.SoundnessRule;
import org.junit.jupiter.api.Test;

class LevelsTest {
    private static RunFigures figures(double throughput, long p99) {
        var latency = new LatencySummary(10_000, p99, p99, p99, p99, p99, p99, p99);
        return new RunFigures(1, 1, new EnumMap<>(FailureKind.class), 0, 10, Math.round(throughput * 10), 0, 0, latency,
                latency, latency, OptionalDouble.empty(), OptionalDouble.empty(), List.of());
    }

    private static List<LevelResult> run(Levels levels, DoubleFunction<RunFigures> candidate) {
        var results = new ArrayList<LevelResult>();
        for (OptionalDouble next = levels.next(results); next.isPresent(); next = levels.next(results)) {
            double level = next.getAsDouble();
            results.add(levels.judge(level, 0, candidate.apply(level), List.of(), results));
        }
        return results;
    }

    /**
     * Common practice, no source: 10 20 40 80 160 320 640 users gave 36 70 123 139 138 149 159 calls/s; throughput doubles,
     * then bends at about 80 users: capacity is about 150/s, not 640 users.
     */
    @Test
    void aLadderEndsWhereThroughputStopsGrowing() {
        double[] seen = {36, 70, 123, 139, 138, 149, 159};
        var levels = new Levels(new LevelSearch.Ladder(10, 2, 0, 12, 0.05), List.of());
        List<LevelResult> results = run(levels, level -> figures(
                seen[(int) Math.round(Math.log(level / 10) / Math.log(2))], 1));
        assertThat(results).extracting(LevelResult::level).containsExactly(10.0, 20.0, 40.0, 80.0, 160.0, 160.0);
        assertThat(results.getLast().step()).isEqualTo(Step.FLAT);
        assertThat(results.getLast().verdict()).startsWith("throughput grew by -0.719 %");
        assertThat(levels.best(results).orElseThrow().level()).as("the highest throughput").isEqualTo(80);
    }

    /** 0.65 % more throughput is none for a ladder that asks for 5 %, and is not bought with twice the response time. */
    @Test
    void aLevelThatAddsNextToNothingIsNotTheBest() {
        var levels = new Levels(new LevelSearch.Ladder(8, 2, 0, 12, 0.05), List.of());
        List<LevelResult> results = run(levels, level -> figures(level < 16 ? 600 : level < 32 ? 1000 : 1006.5, 1));
        assertThat(results).extracting(LevelResult::level).containsExactly(8.0, 16.0, 32.0, 32.0);
        assertThat(levels.best(results).orElseThrow().level()).isEqualTo(16);
        var any = new Levels(new LevelSearch.Ladder(8, 2, 0, 3, 0), List.of());
        assertThat(any.best(run(any, level -> figures(level < 16 ? 600 : level < 32 ? 1000 : 1006.5, 1))).orElseThrow()
                .level()).as("where any growth counts").isEqualTo(32);
    }

    @Test
    void aLadderOfStepsEndsWhereARequirementBreaks() {
        var levels = new Levels(new LevelSearch.Ladder(10, 1, 15, 12, 0),
                List.of(new Requirement(Metric.P99, 50e6)));
        List<LevelResult> results = run(levels, level -> figures(level, (long) (level * 1e6)));
        assertThat(results).extracting(LevelResult::level).containsExactly(10.0, 25.0, 40.0, 55.0, 55.0);
        assertThat(results.getLast().verdict()).isEqualTo("p99 response time is 55 ms, the limit is 50 ms");
        assertThat(levels.best(results).orElseThrow().level()).isEqualTo(40);
    }

    @Test
    void aCeilingIsFoundByBisection() {
        var requirements = List.of(new Requirement(Metric.P99, 100e6));
        for (double truth : new double[]{137, 250, 999, 3210}) {
            var levels = new Levels(new LevelSearch.Ceiling(100, 5000, 0.02, 30), requirements);
            List<LevelResult> results = run(levels, level -> figures(level, level <= truth ? 20_000_000 : 400_000_000));
            double found = levels.best(results).orElseThrow().level();
            assertThat(found).isLessThanOrEqualTo(truth).isCloseTo(truth, within(0.02 * truth));
        }
    }

    /** One hiccup, at whatever level: the truth is found all the same. Before, one at the first level ended the search at half of it. */
    @Test
    void aHiccupDoesNotEndASearch() {
        var requirements = List.of(new Requirement(Metric.P99, 100e6));
        for (double hiccup : new double[]{100, 200, 400}) {
            var tried = new AtomicInteger();
            var levels = new Levels(new LevelSearch.Ceiling(100, 5000, 0.02, 30), requirements);
            List<LevelResult> results = run(levels, level -> figures(level,
                    level <= 390 && (level != hiccup || tried.incrementAndGet() > 1) ? 20_000_000 : 400_000_000));
            assertThat(levels.best(results).orElseThrow().level()).as("hiccup at " + hiccup)
                    .isCloseTo(390, within(0.02 * 390));
        }
        var tried = new AtomicInteger();
        var ladder = new Levels(new LevelSearch.Ladder(10, 2, 0, 12, 0.05), List.of());
        List<LevelResult> results = run(ladder,
                level -> figures(level == 40 && tried.incrementAndGet() == 1 ? 20 : Math.min(level, 160), 1));
        assertThat(results).extracting(LevelResult::level).containsExactly(10.0, 20.0, 40.0, 40.0, 80.0, 160.0, 320.0,
                320.0);
    }

    @Test
    void aCeilingAboveTheHighestRateAndOneBelowTheFirstAreBothFound() {
        var levels = new Levels(new LevelSearch.Ceiling(100, 900, 0.05, 30), List.of());
        List<LevelResult> all = run(levels, level -> figures(level, 1));
        assertThat(all).extracting(LevelResult::level).containsExactly(100.0, 200.0, 400.0, 800.0, 900.0);
        var strict = new Levels(new LevelSearch.Ceiling(100, 900, 0.05, 6),
                List.of(new Requirement(Metric.P99, 1)));
        List<LevelResult> none = run(strict, level -> figures(level, 5));
        assertThat(none).hasSize(6).allMatch(one -> one.step() == Step.BROKEN);
        assertThat(strict.best(none)).isEmpty();
    }

    @Test
    void whereTheCandidateDiedOrTheRunIsUnsoundALadderEndsWithItsReason() {
        var levels = new Levels(new LevelSearch.Ladder(10, 2, 0, 12, 0.05), List.of());
        var passed = new LevelResult(10, 0, Optional.of(figures(10, 1)), List.of(), Step.PASSED, "");
        var died = new LevelResult(20, 9, Optional.empty(), List.of(), Step.DIED, "died at 20 users");
        assertThat(levels.next(List.of(passed))).hasValue(20);
        assertThat(levels.next(List.of(passed, died))).isEmpty();
        assertThat(levels.best(List.of(passed, died))).contains(passed);
        LevelResult unsound = levels.judge(20, 9, figures(20, 1),
                List.of(new Soundness.Finding("late", false, 1, 0.05, "the lanes were late")), List.of(passed));
        assertThat(unsound.step()).isEqualTo(Step.UNSOUND);
        assertThat(unsound.verdict()).isEqualTo("the lanes were late");
    }

    @Test
    void anUnsoundLevelIsTriedOnceMoreAndBlamesNoCandidate() {
        var levels = new Levels(new LevelSearch.Ladder(10, 2, 0, 12, 0.05),
                List.of(new Requirement(Metric.P99, 50e6)));
        LevelResult passed = levels.judge(10, 0, figures(10, 1), List.of(), List.of());
        var steal = new Soundness.Finding("own faults", false, 4, 0, "a fault of Kadrem's own");
        LevelResult disturbed = levels.judge(20, 9, figures(20, 900_000_000), List.of(steal), List.of(passed));
        assertThat(disturbed.step()).as("the p99 of 900 ms is not the candidate's").isEqualTo(Step.UNSOUND);
        assertThat(levels.next(List.of(passed, disturbed))).hasValue(20);
        LevelResult again = levels.judge(20, 18, figures(20, 1), List.of(), List.of(passed, disturbed));
        assertThat(again.step()).as("compared with the level below").isEqualTo(Step.PASSED);
        assertThat(levels.next(List.of(passed, disturbed, again))).hasValue(40);
        assertThat(levels.next(List.of(passed, disturbed, disturbed))).as("once, and no more").isEmpty();
        var backlog = new Soundness.Finding("backlog", false, 0.4, 0.01, "waited");
        assertThat(levels.judge(20, 9, figures(20, 900_000_000), List.of(backlog), List.of(passed)).step())
                .as("arrivals that wait are the candidate's doing").isEqualTo(Step.BROKEN);
    }

    @Test
    void aLowLevelMayHaveFewSamples() {
        var levels = new Levels(new LevelSearch.Ladder(1, 2, 0, 12, 0.05), List.of());
        var few = new Soundness.Finding("tail support", false, 3, 10, "3 samples");
        assertThat(Soundness.under(List.of(few), java.util.Map.of(SoundnessRule.TAIL_SUPPORT, 2.0)).getFirst().ok())
                .as("that is the rule's label").isTrue();
        assertThat(levels.judge(1, 0, figures(1, 1), List.of(few), List.of()).step()).isEqualTo(Step.PASSED);
    }

    @Test
    void aCeilingSearchGoesOnFromALevelThatPassedAtTheSecondTry() {
        var levels = new Levels(new LevelSearch.Ceiling(100, 800, 0.05, 12), List.of());
        var unsound = new LevelResult(100, 0, Optional.of(figures(1, 1)), List.of(), Step.UNSOUND, "");
        var passed = new LevelResult(100, 9, Optional.of(figures(1, 1)), List.of(), Step.PASSED, "");
        assertThat(levels.next(List.of(unsound))).hasValue(100);
        assertThat(levels.next(List.of(unsound, passed))).hasValue(200);
    }
}
