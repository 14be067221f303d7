package kadrem.load.host.remote;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.OptionalDouble;

import org.junit.jupiter.api.Test;

/** Worked out by hand. */
class ReadingClockTest {
    private static final long SECOND = 1_000_000_000;

    @Test
    void anAnswerThatIsLongUnderWayDoesNotMoveTheInstant() {
        var clock = new ReadingClock();
        long first = clock.at(0, SECOND / 100, OptionalDouble.of(1_000_000.005));
        // asked a second later; the host read itself at once, the answer took 0.8 s
        long second = clock.at(SECOND, SECOND * 8 / 10, OptionalDouble.of(1_000_001.005));
        assertThat(second - first).isBetween(SECOND - 1000, SECOND + 1000);
    }

    @Test
    void aClockThatWasSetIsNotFollowed() {
        var clock = new ReadingClock();
        long first = clock.at(0, SECOND / 100, OptionalDouble.of(1_000_000.005));
        assertThat(clock.at(SECOND, SECOND / 100, OptionalDouble.of(1_003_601.005)) - first).isEqualTo(SECOND);
    }

    @Test
    void withoutAClockTheMiddleCounts() {
        var clock = new ReadingClock();
        long first = clock.at(0, SECOND / 10, OptionalDouble.empty());
        assertThat(clock.at(SECOND, SECOND / 5, OptionalDouble.empty()) - first).isEqualTo(SECOND + SECOND / 20);
    }
}
