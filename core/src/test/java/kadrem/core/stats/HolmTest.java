package kadrem.core.stats;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import org.junit.jupiter.api.Test;

class HolmTest {
    /** Computed with R 4.2.2: p.adjust(c(.0005, .04, .013, .2), "holm"). */
    @Test
    void givesTheValuesOfR() {
        assertThat(Holm.adjust(0.0005, 0.04, 0.013, 0.2)).containsExactly(new double[]{0.002, 0.080, 0.039, 0.200},
                within(1e-12));
    }

    @Test
    void neverExceedsOneAndNeverTurnsTheOrder() {
        assertThat(Holm.adjust(0.9, 0.8)).containsExactly(1, 1);
        assertThat(Holm.adjust()).isEmpty();
    }
}
