package kadrem.core.stats;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import org.junit.jupiter.api.Test;

class BinomialIntervalsTest {
    /** Both methods have these bounds by their formulas; what the arithmetic leaves over is not shown. */
    @Test
    void nothingOrAllHasAnExactBound() {
        for (int of = 1; of <= 2_000; of++) {
            assertThat(BinomialIntervals.wilson(0, of, 0.95).low()).as("0 of %d", of).isZero();
            assertThat(BinomialIntervals.wilson(of, of, 0.95).high()).as("%1$d of %1$d", of).isEqualTo(1);
            assertThat(BinomialIntervals.clopperPearson(0, of, 0.95).low()).as("0 of %d", of).isZero();
        }
    }

    /** Newcombe: Two-sided confidence intervals for the single proportion, Statistics in Medicine 17, 1998, table I: 81 of 263 (from memory). */
    @Test
    void theIntervalsOfAHandbook() {
        Interval score = BinomialIntervals.wilson(81, 263, 0.95);
        assertThat(score.low()).isEqualTo(0.2553, within(5e-5));
        assertThat(score.high()).isEqualTo(0.3662, within(5e-5));
        Interval exact = BinomialIntervals.clopperPearson(81, 263, 0.95);
        assertThat(exact.low()).isEqualTo(0.2527, within(5e-5));
        assertThat(exact.high()).isEqualTo(0.3676, within(5e-5));
    }
}
