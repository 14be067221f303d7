package kadrem.core.measure;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.OptionalDouble;

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
            Latency.record(call.response, nanos);
            Latency.record(call.service, nanos / 2);
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
        assertThat(totals.watched().laneCpuShare().orElseThrow()).isCloseTo(0.1, within(0.01));
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
                .judge(new Soundness.Evidence(open, figures, intended, begun, 1,
                        new Soundness.Watched(lane, OptionalDouble.empty(), OptionalDouble.empty(),
                                OptionalDouble.empty(),
                                OptionalDouble.empty(), OptionalDouble.empty(), OptionalDouble.empty(),
                                OptionalDouble.empty()),
                        0, true), Map.of())
                .stream().filter(finding -> !finding.ok()).map(Soundness.Finding::rule).toList();
    }

    @Test
    void anUnsoundRunSaysWhy() {
        RunFigures good = Runs.complete(Studies.two(), "a", 1, 1_000_000, 0).figures().orElseThrow();
        assertThat(broken(good, OptionalDouble.of(0.2), 1000, 1000)).isEmpty();
        assertThat(broken(good, OptionalDouble.of(0.97), 1000, 1000)).containsExactly("generator CPU");
        assertThat(broken(good, OptionalDouble.empty(), 1000, 900)).containsExactly("achieved load");
        RunFigures late = Runs.complete(Studies.two(), "a", 1, 3_000_000, 0).figures().orElseThrow();
        assertThat(broken(late, OptionalDouble.empty(), 1000, 1000)).containsExactly("schedule lag");
    }

    private static RunFigures withTimes(long medianService, long p99Service, long lagP99) {
        var service = new LatencySummary(10_000, 1e8, medianService, 1, 1, p99Service, 1, 1);
        var lag = new LatencySummary(10_000, 1e6, 1, 1, 1, lagP99, 1, 1);
        RunFigures base = Runs.complete(Studies.two(), "a", 1, 1_000_000, 0).figures().orElseThrow();
        return new RunFigures(base.sent(), base.good(), base.failed(), 0, 10, base.goodInTime(), 1, 1, service,
                service, lag, base.cpuMillis(), base.peakMemory(), List.of());
    }

    /**
     * A delay of the generator that is small beside what a call usually takes does not spoil the figure; a tail, which a
     * generator that is late makes itself, is no excuse.
     */
    @Test
    void theLagLimitGrowsWithTheUsualServiceTimeAndNotWithTheTail() {
        assertThat(broken(withTimes(100_000_000, 100_000_000, 9_000_000), OptionalDouble.empty(), 1000, 1000))
                .isEmpty();
        assertThat(broken(withTimes(1_000_000, 200_000_000, 9_000_000), OptionalDouble.empty(), 1000, 1000))
                .containsExactly("schedule lag");
    }

    @Test
    void limitsOfTheStudyHoldForRunsThatWereMadeBefore() {
        RunFigures late = withTimes(1_000_000, 1_000_000, 9_000_000);
        var load = new LoadProfile.Open(100, LoadProfile.Spacing.CONSTANT, 8, Duration.ZERO, Duration.ofSeconds(10),
                Duration.ofSeconds(1));
        List<Soundness.Finding> found = Soundness.judge(
                new Soundness.Evidence(load, late, 1000, 1000, 1, Soundness.Watched.NOTHING, 0, true), Map.of());
        assertThat(found).filteredOn(one -> !one.ok()).singleElement().satisfies(finding -> assertThat(
                finding.sentence()).isEqualTo("p99 of the generator's own delay is 9.00 ms (at most 2.00 ms)"));
        List<Soundness.Finding> again = Soundness.under(found, Map.of(SoundnessRule.SCHEDULE_LAG, 10.0));
        assertThat(again).allMatch(Soundness.Finding::ok).hasSameSizeAs(found);
        assertThat(again.getFirst().sentence()).endsWith("9.00 ms (at most 10.00 ms)");
    }

    private static List<String> broken(Soundness.Watched watched, LoadProfile load) {
        RunFigures good = Runs.complete(Studies.two(), "a", 1, 1_000_000, 0).figures().orElseThrow();
        return Soundness.judge(new Soundness.Evidence(load, good, 0, 0, 1, watched, 0, true), Map.of()).stream()
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
        LoadProfile rising = flat.withShape(new Shape(List.of(Segment.ramp(Duration.ofSeconds(10), 9))));
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
