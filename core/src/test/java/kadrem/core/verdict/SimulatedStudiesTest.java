package kadrem.core.verdict;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/**
 * Studies of known truth: in at most as many as the significance says is anything false, within the error of the simulation (three
 * standard errors). A part of the table of docs/proof.md.
 */
class SimulatedStudiesTest {
    private static final int STUDIES = 400;

    @ParameterizedTest
    @CsvSource({"2, 1, 0, LOGNORMAL, 6, FIXED", "2, 1, 1, LOGNORMAL, 10, EXTENDED", "3, 2, 1, LOGNORMAL, 10, FIXED",
            "3, 2, 0, HEAVY_TAILED, 10, FIXED", "3, 1, -1, CLUSTERED, 10, EXTENDED", "4, 2, 1, LOGNORMAL, 20, FIXED",
            "2, 2, 0, CLUSTERED, 12, ADAPTIVE"})
    void nothingFalseIsSaidMoreOftenThanStated(int candidates, int metrics, double difference,
            SimulatedStudies.Noise noise, int rounds, SimulatedStudies.Stopping stopping) {
        SimulatedStudies.Rates rates = SimulatedStudies
                .of(new SimulatedStudies.Cell(candidates, metrics, difference, noise, rounds, stopping), STUDIES, 23);
        assertThat(rates.falseShare()).isLessThanOrEqualTo(0.05 + 3 * Math.sqrt(0.05 * 0.95 / STUDIES));
    }
}
