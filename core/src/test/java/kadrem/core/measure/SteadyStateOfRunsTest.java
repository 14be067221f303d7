package kadrem.core.measure;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.time.Duration;
import java.util.EnumMap;
import java.util.List;
import java.util.Random;

import kadrem.core.study.Metric;
import kadrem.core.study.StopRule;
import org.junit.jupiter.api.Test;

class SteadyStateOfRunsTest {
    private static SteadyState of(int warmUp, int seconds, java.util.function.IntToDoubleFunction mean) {
        var state = new SteadyState(warmUp);
        for (int i = 0; i < seconds; i++) {
            state.add(i, mean.applyAsDouble(i) * 50, 50);
        }
        return state;
    }

    @Test
    void aWarmUpThatIsTooShortIsSeenAndOneThatIsLongEnoughIsNot() {
        var random = new Random(3);
        double[] noise = random.doubles(200, -0.5, 0.5).toArray();
        // falls from 6 to 1 within about 20 s
        SteadyState slow = of(5, 60, i -> 1 + 5 * Math.exp(-i / 6.0) + noise[i] * 0.1);
        assertThat(slow.settledAfter()).isBetween(10.0, 30.0);
        assertThat(of(30, 60, i -> 1 + 5 * Math.exp(-i / 6.0) + noise[i] * 0.1).settledAfter())
                .isLessThanOrEqualTo(30);
    }

    @Test
    void noiseAloneSettlesWithinTheWarmUpNearlyAlways() {
        var random = new Random(9);
        int late = 0;
        int drifting = 0;
        for (int run = 0; run < 500; run++) {
            // lognormal noise of about 30 % a second, more than a quiet machine shows
            double[] noise = random.doubles(40).map(_ -> Math.exp(0.3 * random.nextGaussian())).toArray();
            SteadyState state = of(8, 40, i -> noise[i]);
            late += state.settledAfter() > 8 ? 1 : 0;
            drifting += state.drift() > 0.1 ? 1 : 0;
        }
        assertThat(late / 500.0).isLessThan(0.03);
        assertThat(drifting / 500.0).isLessThan(0.025);
    }

    @Test
    void aDriftIsItsChangeOverTheMeasuredPart() {
        assertThat(of(5, 45, i -> 1 + 0.01 * i).drift()).isCloseTo(0.4 / 1.25, within(0.03));
        assertThat(of(5, 12, i -> 1 + i).drift()).as("too short to say").isZero();
    }

    /** Eight hours take the room of ten minutes. */
    @Test
    void aLongRunIsLookedAtInLongerIntervals() {
        SteadyState day = of(60, 8 * 3600, i -> i < 7200 ? 3 : 1);
        assertThat(day.settledAfter()).isCloseTo(7200, within(600.0));
        assertThat(of(60, 8 * 3600, i -> 1 + i / 28_800.0).drift()).isCloseTo(1 / 1.5, within(0.05));
    }

    private static SecondSummary second(int number, long p95, long good, long failed) {
        var kinds = new EnumMap<FailureKind, Long>(FailureKind.class);
        kinds.put(FailureKind.TIMEOUT, failed);
        return new SecondSummary(number, 1, good + failed, good, kinds, 1, p95, p95, 0, 0, 0);
    }

    /** A candidate that answers a tenth fast and the rest never has no fast p95. */
    @Test
    void aSecondInWhichItIsNotReachedBreaksARuleOnResponseTimes() {
        var watch = new StopWatch(List.of(new StopRule(Metric.P95, 2e9, Duration.ofSeconds(2), false)));
        assertThat(watch.look(second(0, LatencySummary.NEVER, 5, 45))).isEmpty();
        assertThat(watch.look(second(1, LatencySummary.NEVER, 5, 45))).isPresent();
    }

    @Test
    void aStopRuleEndsTheRunWhenItIsBrokenForLongEnoughWithoutABreak() {
        var watch = new StopWatch(List.of(
                new StopRule(Metric.P95, 2e9, Duration.ofSeconds(3), false),
                new StopRule(Metric.ERROR_SHARE, 0.05, Duration.ofSeconds(2), true)));
        for (int i = 0; i < 10; i++) {
            assertThat(watch.look(second(i, i % 3 == 2 ? 1_000_000 : 3_000_000_000L, 99, 1))).isEmpty();
        }
        assertThat(watch.look(second(10, 1, 90, 10))).isEmpty();
        assertThat(watch.look(second(11, 1, 90, 10))).get().satisfies(stop -> {
            assertThat(stop.second()).isEqualTo(11);
            assertThat(stop.words()).isEqualTo("error share over 5 % for 2 s, at 12 s");
            assertThat(stop.rule().endsCampaign()).isTrue();
        });
    }
}
