package kadrem.core.scaling;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.List;
import java.util.Optional;

import org.junit.jupiter.api.Test;

class LadderResultTest {
    private static LadderResult of(Double... capacities) {
        return new LadderResult("a", List.of(List.of(new ScalabilityFit.Point(100, 400))), List.of(capacities),
                Optional.empty());
    }

    /** Sign test, by hand: six values enclose their median but for 2 / 64, ten by the second and the ninth but for 22 / 1,024. */
    @Test
    void theMedianCapacityHasAnIntervalFromSixRoundsOn() {
        assertThat(of(390.0, 410.0, 380.0, 400.0, 405.0).capacityInterval()).isEmpty();
        double[] six = of(390.0, 410.0, 380.0, 400.0, 405.0, 395.0).capacityInterval().orElseThrow();
        assertThat(six[0]).isEqualTo(380);
        assertThat(six[1]).isEqualTo(410);
        assertThat(six[2]).isCloseTo(1 - 2 / 64.0, within(1e-12));
        double[] ten = of(1.0, 2.0, 3.0, 4.0, 5.0, 6.0, 7.0, 8.0, 9.0, 10.0).capacityInterval().orElseThrow();
        assertThat(ten[0]).isEqualTo(2);
        assertThat(ten[1]).isEqualTo(9);
        assertThat(ten[2]).isCloseTo(1 - 22 / 1024.0, within(1e-12));
        assertThat(of(390.0, 410.0, 380.0, 400.0, 405.0, 395.0).sentence(Optional.empty()))
                .contains("over 6 rounds the middle one lies from 380 to 410 calls/s (96.9 %)");
    }
}
