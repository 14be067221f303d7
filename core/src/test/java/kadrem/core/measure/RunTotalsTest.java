package kadrem.core.measure;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.time.Duration;
import java.util.List;
import java.util.OptionalDouble;

import kadrem.core.study.LoadProfile;
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
        return new HostSample(at, 0.5, 0.01, 0, cpu, memory, 1, 0, 0, (long) (at * 100), 0);
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
        assertThat(totals.stealShare().orElseThrow()).isCloseTo(0.01, within(1e-9));
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
                .judge(new Soundness.Evidence(open, figures, intended, begun, 1, lane, OptionalDouble.empty(),
                        OptionalDouble.empty(), true))
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

    /** A delay of the generator that is small beside what the users felt does not spoil the figure. */
    @Test
    void theLagLimitGrowsWithTheResponseTime() {
        var slow = new LatencySummary(10_000, 1e8, 1, 1, 1, 100_000_000, 1, 1);
        var lag = new LatencySummary(10_000, 1e6, 1, 1, 1, 9_000_000, 1, 1);
        RunFigures base = Runs.complete(Studies.two(), "a", 1, 1_000_000, 0).figures().orElseThrow();
        var figures = new RunFigures(base.sent(), base.good(), base.failed(), 0, 10, base.goodInTime(), 1, 1, slow,
                slow,
                lag, base.cpuMillis(), base.peakMemory(), List.of());
        assertThat(broken(figures, OptionalDouble.empty(), 1000, 1000)).isEmpty();
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
