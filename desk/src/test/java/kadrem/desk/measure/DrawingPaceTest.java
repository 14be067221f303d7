package kadrem.desk.measure;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.concurrent.TimeUnit;

import org.junit.jupiter.api.Test;

class DrawingPaceTest {
    private static final long LOOK = TimeUnit.MILLISECONDS.toNanos(250);
    private long cpu;

    /** Drawings in a minute of looks four times a second, each drawing costing 60 ms of processor time. */
    private int drawings(double busy, int processors) {
        var pace = new DrawingPace(() -> cpu, () -> busy, processors);
        int drawn = 0;
        for (long at = 0; at < TimeUnit.MINUTES.toNanos(1); at += LOOK) {
            if (pace.mayDraw(at)) {
                pace.drawing(at);
                cpu += TimeUnit.MILLISECONDS.toNanos(60);
                drawn++;
            }
        }
        return drawn;
    }

    @Test
    void aQuietMachineIsDrawnOnAtEveryLook() {
        assertThat(drawings(0.3, 2)).isEqualTo(240);
    }

    @Test
    void aBusyMachineGivesNoMoreThanItsShare() {
        // 1 % of two processors is 1.2 s of a minute, 20 drawings of 60 ms
        assertThat(drawings(0.99, 2)).isBetween(17, 21);
        assertThat(drawings(0.99, 16)).isBetween(110, 160);
    }
}
