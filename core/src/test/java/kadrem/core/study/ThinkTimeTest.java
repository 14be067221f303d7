package kadrem.core.study;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.time.Duration;
import java.util.SplittableRandom;

import org.junit.jupiter.api.Test;

class ThinkTimeTest {
    private static final Duration SECOND = Duration.ofSeconds(1);

    private static double seconds(ThinkTime thinkTime, double u) {
        return thinkTime.nanos(u) / 1e9;
    }

    /** Standard normal quantiles: z(0.975) = 1.959964, z(0.5) = 0 (any table of the normal distribution; from memory). */
    @Test
    void normalPausesHaveTheQuantilesOfTheTable() {
        var normal = new ThinkTime.Normal(Duration.ofSeconds(10), SECOND);
        assertThat(seconds(normal, 0.5)).isCloseTo(10, within(1e-6));
        assertThat(seconds(normal, 0.975)).isCloseTo(11.959964, within(1e-5));
        assertThat(seconds(normal, 0.025)).isCloseTo(8.040036, within(1e-5));
        assertThat(new ThinkTime.Normal(SECOND, Duration.ofSeconds(5)).nanos(0.1)).as("never below zero").isZero();
    }

    /** The median of an exponential is ln 2 times its mean; of a lognormal it is m / √(1 + (s/m)²). */
    @Test
    void mediansOfExponentialAndLognormal() {
        assertThat(seconds(new ThinkTime.Exponential(SECOND), 0.5)).isCloseTo(Math.log(2), within(1e-8));
        assertThat(seconds(new ThinkTime.Lognormal(Duration.ofSeconds(2), SECOND), 0.5))
                .isCloseTo(2 / Math.sqrt(1.25), within(1e-6));
        assertThat(new ThinkTime.Exponential(SECOND).nanos(0)).isZero();
    }

    /** The mean of 100,000 pauses lies within five standard errors of the mean asked for. */
    @Test
    void meansAreThoseAskedFor() {
        var random = new SplittableRandom(11);
        int n = 100_000;
        record Case(ThinkTime thinkTime, double mean, double deviation) {
        }
        for (Case one : new Case[]{new Case(new ThinkTime.Exponential(SECOND), 1, 1),
                new Case(new ThinkTime.Lognormal(SECOND, Duration.ofMillis(500)), 1, 0.5),
                new Case(new ThinkTime.Normal(SECOND, Duration.ofMillis(200)), 1, 0.2),
                new Case(new ThinkTime.Uniform(Duration.ZERO, Duration.ofSeconds(2)), 1, 2 / Math.sqrt(12)),
                new Case(new ThinkTime.Fixed(SECOND), 1, 1e-9)}) {
            double sum = 0;
            for (int i = 0; i < n; i++) {
                sum += seconds(one.thinkTime(), random.nextDouble());
            }
            assertThat(sum / n).as(one.thinkTime().toString()).isCloseTo(one.mean(),
                    within(5 * one.deviation() / Math.sqrt(n)));
            assertThat(one.thinkTime().mean()).isEqualTo(SECOND);
        }
    }

    @Test
    void noPauseIsLongerThanAnHour() {
        assertThat(new ThinkTime.Exponential(Duration.ofMinutes(59)).nanos(0.999999))
                .isEqualTo(ThinkTime.MAX.toNanos());
    }
}
