package kadrem.load.wire;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.time.Duration;
import java.util.OptionalLong;
import java.util.stream.IntStream;

import kadrem.core.study.RoughWire;
import org.junit.jupiter.api.Test;

/** When bytes arrive that go over a rough wire, by arithmetic: no clock runs. */
class WayTest {
    private static final long MILLI = 1_000_000;

    private static Way way(int delayMillis, int jitterMillis, OptionalLong rate) {
        return new Way(new RoughWire(Duration.ofMillis(delayMillis), Duration.ofMillis(jitterMillis), rate, 0, 0, 0),
                7);
    }

    @Test
    void allArriveLaterByTheDelay() {
        Way way = way(20, 0, OptionalLong.empty());
        assertThat(way.arrives(1000, 1)).isEqualTo(1000 + 20 * MILLI);
        assertThat(way.arrives(2000, 100_000)).isEqualTo(2000 + 20 * MILLI);
    }

    /** An even distribution from a to b has the mean (a + b) / 2 and the standard deviation (b - a) / sqrt(12) (handbooks). */
    @Test
    void jitterIsEven() {
        Way way = way(20, 10, OptionalLong.empty());
        int times = 100_000;
        double[] delays = IntStream.range(0, times).mapToDouble(_ -> way.arrives(0, 1) / (double) MILLI).toArray();
        double mean = java.util.Arrays.stream(delays).average().orElseThrow();
        double variance = java.util.Arrays.stream(delays).map(one -> (one - mean) * (one - mean)).average()
                .orElseThrow();
        assertThat(java.util.Arrays.stream(delays).min().orElseThrow()).isBetween(10.0, 10.01);
        assertThat(java.util.Arrays.stream(delays).max().orElseThrow()).isBetween(29.99, 30.0);
        assertThat(mean).isCloseTo(20, within(3 * 20 / Math.sqrt(12 * times)));
        assertThat(Math.sqrt(variance)).isCloseTo(20 / Math.sqrt(12), within(0.05));
    }

    @Test
    void bytesFollowEachOtherAtTheRateAndTheWireRestsWhenNoneCome() {
        Way way = way(5, 0, OptionalLong.of(1_000_000));
        for (int i = 1; i <= 100; i++) {
            // 1,000 bytes take a millisecond
            assertThat(way.arrives(0, 1000)).isEqualTo(i * MILLI + 5 * MILLI);
        }
        assertThat(way.arrives(40 * MILLI, 1000)).isEqualTo(101 * MILLI + 5 * MILLI);
        assertThat(way.arrives(500 * MILLI, 1000)).isEqualTo(501 * MILLI + 5 * MILLI);
    }

    @Test
    void aThreadThatWakesLateIsWokenEarlier() {
        Way way = way(5, 0, OptionalLong.empty());
        for (int i = 0; i < 200; i++) {
            way.woken(300_000);
        }
        assertThat(way.early()).isBetween(290_000L, 300_000L);
        for (int i = 0; i < 2000; i++) {
            way.woken(50_000_000);
        }
        // whoever is held up for longer does not spin for it
        assertThat(way.early()).isEqualTo(MILLI);
    }
}
