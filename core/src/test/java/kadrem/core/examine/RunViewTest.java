package kadrem.core.examine;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.IntStream;

import kadrem.core.measure.Exchange;
import kadrem.core.measure.FailureKind;
import kadrem.core.measure.HostSeries;
import kadrem.core.measure.Latency;
import kadrem.core.measure.LatencySummary;
import kadrem.core.measure.Phase;
import kadrem.core.measure.SecondSummary;
import kadrem.core.measure.SeriesRole;
import org.HdrHistogram.Histogram;
import org.junit.jupiter.api.Test;

class RunViewTest {
    private static Histogram times(long... nanos) {
        Histogram histogram = Latency.forRun();
        for (long one : nanos) {
            Latency.record(histogram, one);
        }
        return histogram;
    }

    private static CallView.Counts counts(long sent, long good, long timeouts) {
        return new CallView.Counts(sent, good, Map.of(FailureKind.TIMEOUT, timeouts), sent * 100, good * 1000);
    }

    /** Two calls over a second of warm-up and two measured ones. */
    private static RunView view(Selection selection) {
        var view = new RunView.Builder(selection);
        view.response(0, Phase.WARM_UP, "look", times(90_000_000));
        view.counts(0, 1, Phase.WARM_UP, "look", counts(1, 1, 0));
        for (int second = 1; second <= 2; second++) {
            view.response(second, Phase.MEASURED, "look", times(1_000_000, 2_000_000, 3_000_000));
            view.service(second, Phase.MEASURED, "look", times(900_000));
            view.response(second, Phase.MEASURED, "book", times(20_000_000L * second));
            view.counts(second, 1, Phase.MEASURED, "look", counts(4, 3, 1));
            view.counts(second, 1, Phase.MEASURED, "book", counts(1, 1, 0));
            view.whole(second, 5, 2, 1);
            view.late(second, 40_000);
        }
        return view.build();
    }

    @Test
    void whatWasDueInTheMeasuredPartIsCounted() {
        RunView view = view(Selection.ALL);
        assertThat(view.calls()).extracting(CallView::name).containsExactly("look", "book");
        assertThat(view.total().sent()).isEqualTo(10);
        assertThat(view.total().good()).isEqualTo(8);
        assertThat(view.total().failedTotal()).isEqualTo(2);
        assertThat(view.total().bytesIn()).isEqualTo(8000);
        assertThat(view.total().response().getTotalCount()).isEqualTo(8);
        assertThat(view.total().response().getMaxValue() / 1e6).isCloseTo(40, within(0.1));
        assertThat(view.countedSeconds()).isEqualTo(2);
        assertThat(view.throughput()).isEqualTo(4);
    }

    @Test
    void theCourseShowsTheWarmUpToo() {
        RunView view = view(Selection.ALL.between(2, 3));
        assertThat(view.seconds()).hasSize(3);
        assertThat(view.seconds().getFirst().p99() / 1e6).isCloseTo(90, within(0.1));
        assertThat(view.seconds().get(1).intended()).isEqualTo(5);
        assertThat(view.density().count(0, view.density().filled()[1] - 1)).isEqualTo(1);
    }

    @Test
    void aCallAndATimeAreLeftOut() {
        RunView without = view(Selection.ALL.without(Set.of("book")));
        assertThat(without.total().sent()).isEqualTo(8);
        // three answers and one that never came
        assertThat(without.seconds().getLast().p50() / 1e6).isCloseTo(2, within(0.01));
        assertThat(without.seconds().getLast().p99()).isEqualTo(LatencySummary.NEVER);
        RunView part = view(Selection.ALL.between(2, 3));
        assertThat(part.total().sent()).isEqualTo(5);
        assertThat(part.countedSeconds()).isEqualTo(1);
        assertThat(part.measuredFrom()).isEqualTo(2);
        assertThat(view(Selection.ALL.between(7, 9)).countedSeconds()).isZero();
        assertThatThrownBy(() -> Selection.ALL.between(3, 3)).isInstanceOf(IllegalArgumentException.class);
    }

    @Test
    void aKindOfFailureIsLeftOutAsIfThoseCallsHadNotBeenMade() {
        RunView without = view(Selection.ALL.withoutKinds(Set.of(FailureKind.TIMEOUT)));
        assertThat(without.total().sent()).isEqualTo(8);
        assertThat(without.total().failedTotal()).isZero();
        assertThat(without.seconds().getLast().failedTotal()).isZero();
        assertThat(without.total().good()).isEqualTo(8);
        RunView other = view(Selection.ALL.withoutKinds(Set.of(FailureKind.RESET)));
        assertThat(other.total().failedTotal()).isEqualTo(2);
        var kept = new Exchange("look", "timeout", "", 1.5, 1, 1, 0, "", "");
        assertThat(Selection.ALL.has(kept)).isTrue();
        assertThat(Selection.ALL.withoutKinds(Set.of(FailureKind.TIMEOUT)).has(kept)).isFalse();
        assertThat(Selection.ALL.between(2, 3).has(kept)).isFalse();
    }

    @Test
    void connectionsAreThoseMadeInTheChosenTime() {
        var view = new RunView.Builder(Selection.ALL.between(1, 3));
        for (int second = 0; second < 4; second++) {
            view.connects(second, false, times(200_000L * (second + 1)));
            view.connects(second, true, times(900_000));
        }
        RunView run = view.build();
        assertThat(run.connect().getTotalCount()).isEqualTo(2);
        assertThat(run.connect().getMaxValue() / 1e3).isCloseTo(600, within(1.0));
        assertThat(run.handshake().getTotalCount()).isEqualTo(2);
    }

    @Test
    void aSourceIsSilentFromItsLastTroubleUntilItTellsSomethingAgain() {
        var watch = new WatchView.Builder();
        var cpu = new HostSeries("pump house", "CPU", "% of one core", SeriesRole.CPU);
        watch.value(cpu, 1, 40);
        watch.trouble("pump house", 2, "no answer");
        watch.trouble("lock gate", 1, "refused");
        assertThat(watch.build().sources()).containsExactly("pump house", "lock gate");
        assertThat(watch.build().silence("pump house")).hasValueSatisfying(
                one -> assertThat(one.reason()).isEqualTo("no answer"));
        watch.value(cpu, 5, 41);
        assertThat(watch.build().silence("pump house")).isEmpty();
        assertThat(watch.build().silence("lock gate")).isPresent();
    }

    /** What the parts give together is what HdrHistogram gives of all values at once. */
    @Test
    void percentilesAreThoseOfAllValuesTogether() {
        Histogram whole = Latency.forRun();
        var view = new RunView.Builder(Selection.ALL);
        for (int second = 0; second < 50; second++) {
            int seed = second;
            Histogram part = times(IntStream.range(0, 200).mapToLong(i -> 10_000L * ((i * 37 + seed * 101) % 5000) + 1)
                    .toArray());
            whole.add(part);
            view.response(second, Phase.MEASURED, "a", part);
        }
        Histogram read = view.build().total().response();
        for (double percentile : new double[]{0, 10, 50, 90, 99, 99.9, 100}) {
            assertThat(read.getValueAtPercentile(percentile)).isEqualTo(whole.getValueAtPercentile(percentile));
        }
    }

    /** By hand: 95 answers and 4 calls without one: the 95th of 99 is the last that has a time, the 99th has none. */
    @Test
    void aSecondsPercentileIsNotReachedWhereTooManyCallsGotNoAnswer() {
        var view = new RunView.Builder(Selection.ALL);
        view.counts(0, 1, Phase.MEASURED, "a", counts(99, 95, 4));
        view.counts(1, 1, Phase.MEASURED, "a", counts(3, 0, 3));
        view.response(0, Phase.MEASURED, "a", times(IntStream.rangeClosed(1, 95).mapToLong(n -> n * 1_000_000L)
                .toArray()));
        List<SecondSummary> seconds = view.build().seconds();
        assertThat(seconds.getFirst().p50() / 1e6).isCloseTo(50, within(0.1));
        assertThat(seconds.getFirst().p95() / 1e6).isCloseTo(95, within(0.1));
        assertThat(seconds.getFirst().p99()).isEqualTo(LatencySummary.NEVER);
        assertThat(seconds.getLast().p50()).as("no call of it was answered").isEqualTo(LatencySummary.NEVER);
    }

    @Test
    void aTailOfFewCallsIsWeak() {
        var view = new RunView.Builder(Selection.ALL);
        for (int i = 0; i < 10; i++) {
            view.response(i, Phase.MEASURED, "a",
                    times(IntStream.range(0, 100).mapToLong(n -> 1_000_000 + n).toArray()));
        }
        CallView call = view.build().total();
        assertThat(call.isWeak(95)).as("50 of 1,000 calls took longer").isFalse();
        assertThat(call.isWeak(95.1)).isTrue();
        assertThat(call.isShown(99)).as("10 of 1,000 calls took longer").isTrue();
        assertThat(call.isShown(99.1)).isFalse();
    }

    /**
     * Ranks by R 4.2.2: qbinom(c(0.025, 0.975), 1000, 0.95) are 936 and 963, so that the interval of p95 runs from the 936th to the
     * 964th of 1,000. Wilson's interval of 682 of 925: docs/methods.md.
     */
    @Test
    void aRunsPercentilesAndFailuresHaveIntervals() {
        var view = new RunView.Builder(Selection.ALL);
        view.response(0, Phase.MEASURED, "a", times(IntStream.rangeClosed(1, 1_000).mapToLong(n -> n * 1_000_000L)
                .toArray()));
        CallView call = view.build().total();
        assertThat(call.percentileInterval(95).orElseThrow().low() / 1e6).isCloseTo(936, within(0.6));
        assertThat(call.percentileInterval(95).orElseThrow().high() / 1e6).isCloseTo(964, within(0.6));
        assertThat(call.percentileInterval(99.99)).as("too few beyond it").isEmpty();
        var failing = new RunView.Builder(Selection.ALL);
        failing.counts(0, 1, Phase.MEASURED, "a", counts(925, 925 - 682, 682));
        CallView failed = failing.build().total();
        assertThat(failed.failedShare().orElseThrow().low()).isCloseTo(0.7079960, within(1e-7));
        assertThat(failed.failedShare().orElseThrow().high()).isCloseTo(0.7646358, within(1e-7));
        // 1,000 answers and 60 calls without one: p95 is not reached, and more failures than calls sent are no harm
        view.counts(0, 1, Phase.MEASURED, "a", counts(10, 1_000, 60));
        CallView both = view.build().total();
        assertThat(both.percentile(90) / 1e6).isCloseTo(954, within(0.6));
        assertThat(both.percentile(95)).isEqualTo(LatencySummary.NEVER);
        assertThat(both.percentileInterval(95)).isEmpty();
        assertThat(both.failedShare().orElseThrow().high()).isLessThan(0.1);
        assertThat(new RunView.Builder(Selection.ALL).build().total().failedShare()).isEmpty();
    }
}
