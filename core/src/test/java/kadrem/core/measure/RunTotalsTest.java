package kadrem.core.measure;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.OptionalDouble;
import java.util.Set;

import kadrem.core.study.LoadProfile;
import kadrem.core.study.Segment;
import kadrem.core.study.Shape;
import kadrem.core.study.SoundnessRule;
import kadrem.core.study.Metric;
import kadrem.core.study.Studies;
import org.junit.jupiter.api.Test;

class RunTotalsTest {
    private static SecondTally second(int number, Phase phase, int good, long nanos) {
        var tally = new SecondTally(1);
        tally.second = number;
        CallTally call = tally.call(0, phase);
        call.sent = good;
        call.good = good;
        for (int i = 0; i < good; i++) {
            call.answered(nanos, 0, nanos / 2);
        }
        return tally;
    }

    private static HostSample host(double at, long cpu, long memory) {
        return new HostSample(at, 0.5, 0.01, 0, cpu, memory, 1, 0, 0, (long) (at * 100), (long) (at * 400), 0, 2);
    }

    @Test
    void theWarmUpIsSentAndNotCounted() {
        var totals = new RunTotals(List.of("call"), 2, 3);
        totals.add(second(0, Phase.WARM_UP, 100, 90_000_000));
        totals.add(second(1, Phase.WARM_UP, 100, 90_000_000));
        totals.add(second(2, Phase.MEASURED, 50, 1_000_000));
        totals.add(second(3, Phase.MEASURED, 50, 1_000_000));
        totals.add(second(4, Phase.MEASURED, 50, 1_000_000));
        RunFigures figures = totals.figures();
        assertThat(figures.sent()).isEqualTo(150);
        assertThat((double) figures.response().max()).isCloseTo(1e6, within(1e3));
        assertThat(figures.throughput()).isEqualTo(50);
    }

    /** A call due in the measured part that ends after it is timed, but not part of the throughput. */
    @Test
    void throughputCountsWhatWasCompletedInTheMeasuredPart() {
        var totals = new RunTotals(List.of("call"), 1, 1);
        totals.add(second(1, Phase.WARM_UP, 10, 1_000_000));
        totals.add(second(1, Phase.MEASURED, 30, 1_000_000));
        totals.add(second(2, Phase.MEASURED, 7, 1_000_000));
        assertThat(totals.figures().throughput()).isEqualTo(40);
        assertThat(totals.figures().good()).isEqualTo(37);
    }

    @Test
    void cpuIsInterpolatedAtTheBordersOfTheMeasuredPart() {
        var totals = new RunTotals(List.of("call"), 2, 4);
        for (int i = 0; i <= 8; i++) {
            totals.add(host(i + 0.5, 1000 + 200 * i, i == 4 ? 900 : 100 * i));
        }
        totals.add(second(3, Phase.MEASURED, 1000, 1_000_000));
        RunFigures figures = totals.figures();
        assertThat(figures.cpuMillis().orElseThrow()).isCloseTo(800, within(1e-6));
        assertThat(figures.value(Metric.CPU_PER_THOUSAND).orElseThrow()).isCloseTo(800, within(1e-6));
        assertThat(figures.value(Metric.PEAK_MEMORY).orElseThrow()).isEqualTo(900);
        assertThat(totals.laneCpuShare().orElseThrow()).isCloseTo(0.1, within(0.01));
        assertThat(totals.watched().stealShare().orElseThrow()).isCloseTo(0.01, within(1e-9));
    }

    @Test
    void whatCannotBeKnownIsLeftOpen() {
        RunFigures figures = new RunTotals(List.of("call"), 0, 1).figures();
        assertThat(figures.value(Metric.P99)).isEmpty();
        assertThat(figures.value(Metric.CPU_PER_THOUSAND)).isEmpty();
        assertThat(figures.value(Metric.PEAK_MEMORY)).isEmpty();
        assertThat(figures.value(Metric.ERROR_SHARE)).hasValue(0);
    }

    private static List<String> broken(RunFigures figures, OptionalDouble lane, long intended, long begun) {
        var open = new LoadProfile.Open(100, LoadProfile.Spacing.CONSTANT, 8, Duration.ZERO, Duration.ofSeconds(10),
                Duration.ofSeconds(1));
        return Soundness
                .judge(new Soundness.Evidence(open, figures, List.of(new Soundness.Asked("", intended, begun)), 1,
                        new Soundness.Watched(lane, OptionalDouble.empty(), OptionalDouble.empty(),
                                OptionalDouble.empty(),
                                OptionalDouble.empty(), OptionalDouble.empty(), OptionalDouble.empty(),
                                OptionalDouble.empty()),
                        0, 0, Set.of(Metric.P99), true), Map.of())
                .stream().filter(finding -> !finding.ok()).map(Soundness.Finding::rule).toList();
    }

    @Test
    void anUnsoundRunSaysWhy() {
        RunFigures good = Runs.complete(Studies.two(), "a", 1, 1_000_000, 0).figures().orElseThrow();
        assertThat(broken(good, OptionalDouble.of(0.2), 1000, 1000)).isEmpty();
        assertThat(broken(good, OptionalDouble.of(0.97), 1000, 1000)).containsExactly("generator CPU");
        assertThat(broken(good, OptionalDouble.empty(), 1000, 900)).containsExactly("achieved load");
    }

    /** A run whose p99 was so much as it was, and so much without the generator's part. */
    private static RunFigures withP99(long raw, long withoutLate) {
        RunFigures base = Runs.complete(Studies.two(), "a", 1, 1_000_000, 0).figures().orElseThrow();
        var response = new LatencySummary(10_000, 1e6, 1_000_000, 1, 1_000_000, withoutLate, 1, 1);
        var asItWas = new LatencySummary(10_000, 1e6, 1_000_000, 1, 1_000_000, raw, 1, 1);
        return new RunFigures(base.sent(), base.good(), base.failed(), 0, 10, base.goodInTime(), 1, 1, response,
                response, LatencySummary.EMPTY, base.cpuMillis(), base.peakMemory(), List.of()).withRaw(asItWas);
    }

    /** What counts is the part of a percentile that decides, not a number of milliseconds. */
    @Test
    void aRunIsLateWhereAPercentileThatDecidesIsTheGeneratorsByMoreThanATwentieth() {
        assertThat(broken(withP99(100_000_000, 96_000_000), OptionalDouble.empty(), 1000, 1000)).isEmpty();
        assertThat(broken(withP99(100_000, 90_000), OptionalDouble.empty(), 1000, 1000)).containsExactly("late");
    }

    /**
     * A percentile that no good answer reached hides how late the calls were. It took a call's time limit at the least, here a second; what
     * was late of that is the generator's, and may be why no answer came in time.
     */
    @Test
    void aPercentileThatWasNotReachedMayBeLateToo() {
        RunFigures dead = Runs.complete(Studies.two(), "a", 1, 1_000_000, 0.6).figures().orElseThrow();
        assertThat(broken(late(dead, 400_000_000), OptionalDouble.empty(), 1000, 1000)).contains("late");
        assertThat(broken(late(dead, 300_000), OptionalDouble.empty(), 1000, 1000)).as("the candidate's own")
                .doesNotContain("late");
    }

    private static RunFigures late(RunFigures base, long nanos) {
        return new RunFigures(base.sent(), base.good(), base.failed(), 0, base.seconds(), base.good(), 1, 1,
                base.response(), LatencySummary.EMPTY,
                new LatencySummary(base.sent(), nanos, nanos, nanos, nanos, nanos, nanos, nanos), base.cpuMillis(),
                base.peakMemory(), List.of());
    }

    @Test
    void aPercentileThatDoesNotDecideMayBeLate() {
        var open = new LoadProfile.Open(100, LoadProfile.Spacing.CONSTANT, 8, Duration.ZERO, Duration.ofSeconds(10),
                Duration.ofSeconds(1));
        assertThat(Soundness.judge(
                new Soundness.Evidence(open, withP99(100_000, 10_000), List.of(new Soundness.Asked("", 1000, 1000)), 1,
                        Soundness.Watched.NOTHING, 0, 0, Set.of(Metric.P50, Metric.CPU_PER_THOUSAND), true),
                Map.of()))
                .allMatch(Soundness.Finding::ok);
    }

    @Test
    void aFaultOfKadremsOwnSpoilsARun() {
        RunFigures good = Runs.complete(Studies.two(), "a", 1, 1_000_000, 0).figures().orElseThrow();
        var flat = new LoadProfile.Closed(4, Duration.ZERO, Duration.ofSeconds(8), Duration.ofSeconds(10),
                Duration.ofSeconds(1));
        assertThat(Soundness.judge(new Soundness.Evidence(flat, good, List.of(new Soundness.Asked("", 0, 0)), 1,
                Soundness.Watched.NOTHING, 0, 2,
                Set.of(), true), Map.of())).filteredOn(one -> !one.ok()).singleElement()
                .satisfies(finding -> assertThat(finding.sentence()).isEqualTo("2 faults of Kadrem's own (at most 0)"));
    }

    /** The part of each answer that was the generator's is taken away, and told beside it. */
    @Test
    void theLatePartIsTakenAwayAndKeptApart() {
        var totals = new RunTotals(List.of("call"), 0, 1);
        SecondTally tally = second(0, Phase.MEASURED, 0, 0);
        CallTally call = tally.call(0, Phase.MEASURED);
        call.sent = 1;
        call.good = 1;
        call.answered(9_000_000, 5_000_000, 3_000_000);
        totals.add(tally);
        RunFigures figures = totals.figures();
        assertThat((double) figures.raw().p50()).isCloseTo(9e6, within(1e4));
        assertThat((double) figures.response().p50()).isCloseTo(4e6, within(1e4));
        assertThat((double) figures.service().p50()).isCloseTo(3e6, within(1e4));
        assertThat(figures.lateShare(Metric.P50).orElseThrow()).isCloseTo(5.0 / 9, within(0.01));
        SecondSummary.Parts parts = SecondSummary.of(tally).parts();
        assertThat(parts.late()).isCloseTo(5e6, within(1e4));
        assertThat(parts.waiting()).isCloseTo(1e6, within(2e4));
        assertThat(parts.service()).isCloseTo(3e6, within(1e4));
    }

    /** Little's law (Little 1961) by time averages: a level at the end of a second is no average over it. */
    @Test
    void callsUnderWayAreAveragedOverTime() {
        var totals = new RunTotals(List.of("call"), 0, 2);
        for (int i = 0; i < 2; i++) {
            SecondTally tally = second(i, Phase.MEASURED, 10, 1_000_000);
            tally.busy = 64;
            tally.busyNanos = 38_500_000_000L;
            totals.add(tally);
        }
        assertThat(totals.watched().underWay().orElseThrow()).isCloseTo(38.5, within(1e-9));
    }

    @Test
    void limitsOfTheStudyHoldForRunsThatWereMadeBefore() {
        RunFigures late = withP99(1_000_000, 500_000);
        var load = new LoadProfile.Open(100, LoadProfile.Spacing.CONSTANT, 8, Duration.ZERO, Duration.ofSeconds(10),
                Duration.ofSeconds(1));
        List<Soundness.Finding> found = Soundness
                .judge(new Soundness.Evidence(load, late, List.of(new Soundness.Asked("", 1000, 1000)), 1,
                        Soundness.Watched.NOTHING, 0, 0, Set.of(Metric.P99), true), Map.of());
        assertThat(found).filteredOn(one -> !one.ok()).singleElement()
                .satisfies(finding -> assertThat(finding.sentence()).isEqualTo(
                        "50.0 % of a deciding percentile was the generator's own delay (at most 5.0 %)"));
        List<Soundness.Finding> again = Soundness.under(found, Map.of(SoundnessRule.LATE, 0.6));
        assertThat(again).allMatch(Soundness.Finding::ok).hasSameSizeAs(found);
        assertThat(again.getFirst().sentence()).endsWith("(at most 60.0 %)");
    }

    private static List<String> broken(Soundness.Watched watched, LoadProfile load) {
        RunFigures good = Runs.complete(Studies.two(), "a", 1, 1_000_000, 0).figures().orElseThrow();
        return Soundness
                .judge(new Soundness.Evidence(load, good, List.of(new Soundness.Asked("", 0, 0)), 1, watched, 0, 0,
                        Set.of(), true), Map.of())
                .stream()
                .filter(finding -> !finding.ok()).map(Soundness.Finding::rule).toList();
    }

    /** Two processors: 400 ms of a second are a fifth of what both have. */
    @Test
    void threadsUnderUsersWhoWaitCountAsTheGenerators() {
        var totals = new RunTotals(List.of("call"), 1, 2);
        for (int second = 0; second <= 3; second++) {
            totals.add(host(second, second, 1));
        }
        assertThat(totals.watched().userCpuShare().orElseThrow()).isCloseTo(0.2, within(1e-9));
        var flat = new LoadProfile.Closed(4, Duration.ZERO, Duration.ofSeconds(8), Duration.ofSeconds(10),
                Duration.ofSeconds(1));
        OptionalDouble none = OptionalDouble.empty();
        OptionalDouble idle = OptionalDouble.of(0.1);
        assertThat(broken(new Soundness.Watched(idle, OptionalDouble.of(0.95), none, none, none, none, none, none),
                flat)).containsExactly("generator CPU");
        assertThat(broken(new Soundness.Watched(idle, OptionalDouble.of(0.5), none, none, none, none, none, none),
                flat)).isEmpty();
    }

    @Test
    void whatTheHostAndTheCourseOfTimeTellIsLookedAt() {
        var flat = new LoadProfile.Closed(4, Duration.ZERO, Duration.ofSeconds(8), Duration.ofSeconds(10),
                Duration.ofSeconds(1));
        OptionalDouble none = OptionalDouble.empty();
        assertThat(
                broken(new Soundness.Watched(none, none, none, none, OptionalDouble.of(0.5), none, none, none), flat))
                .containsExactly("other processes");
        assertThat(broken(new Soundness.Watched(none, none, none, none, none, OptionalDouble.of(15), none, none), flat))
                .containsExactly("warm-up");
        assertThat(
                broken(new Soundness.Watched(none, none, none, none, none, none, OptionalDouble.of(0.4), none), flat))
                .containsExactly("drift");
        // 1,000 good calls a second of 1 ms each are one call under way on the mean, too few to say; 100 are not one
        assertThat(broken(new Soundness.Watched(none, none, none, none, none, none, none, OptionalDouble.of(1)), flat))
                .isEmpty();
        assertThat(
                broken(new Soundness.Watched(none, none, none, none, none, none, none, OptionalDouble.of(100)), flat))
                .containsExactly("Little's law");
        LoadProfile.Single rising = flat.withShape(new Shape(List.of(Segment.ramp(Duration.ofSeconds(10), 9))));
        assertThat(broken(
                new Soundness.Watched(none, none, none, none, none, OptionalDouble.of(15), OptionalDouble.of(0.4),
                        none),
                rising)).as("response times may change with the load").isEmpty();
    }

    @Test
    void secretsNeverReachARun() {
        var exchange = new Exchange("c", "slow", "", 0, 1, 1, 200,
                "GET / HTTP/1.1\r\nAuthorization: Bearer s3cret\r\ncookie: id=s3cret\r\nAccept: */*\r\n\r\n",
                "HTTP/1.1 200 OK\r\nSet-Cookie: id=s3cret\r\nX-Api-Key:s3cret\r\n\r\n");
        Exchange kept = exchange.withoutSecrets();
        assertThat(kept.request() + kept.response()).doesNotContain("s3cret").contains("Accept: */*")
                .contains("Authorization: (removed)");
    }
}
