package kadrem.core.verdict;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;
import static org.assertj.core.api.Assertions.withinPercentage;

import kadrem.core.stats.PairedPower;
import org.junit.jupiter.api.Test;
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

    /**
     * Where nothing differs, "no difference that matters" is said of most in twenty rounds; where one metric is far apart, its part is handed on
     * to the others.
     */
    @ParameterizedTest
    @CsvSource({"2, 4, 0, FIXED", "2, 4, 0, EXTENDED", "3, 2, 0, FIXED", "2, 4, 5, FIXED", "3, 2, 5, EXTENDED"})
    void whatIsSaidOfOneMetricDoesNotMakeWhatIsSaidOfOthersFalse(int candidates, int metrics, double first,
            SimulatedStudies.Stopping stopping) {
        SimulatedStudies.Rates rates = SimulatedStudies.of(new SimulatedStudies.Cell(candidates, metrics, first, 0,
                SimulatedStudies.Noise.LOGNORMAL, 20, stopping), 2 * STUDIES, 47);
        assertThat(rates.falseShare()).isLessThanOrEqualTo(0.05 + 3 * Math.sqrt(0.05 * 0.95 / (2 * STUDIES)));
    }

    /** Four times in five, within five points and three standard errors of the simulation. */
    @ParameterizedTest
    @CsvSource({"2, 1, false, 1", "2, 1, false, 0", "3, 2, false, 1", "3, 2, false, 0", "2, 2, true, 1",
            "2, 1, true, 0"})
    void theRoundsThatArePlannedSettleAsOftenAsIsSaid(int candidates, int metrics, boolean adaptive,
            double difference) {
        Planning plan = SimulatedStudies.planning(candidates, metrics, adaptive);
        int rounds = (difference == 0 ? plan.roundsForNone() : plan.roundsForMargin()).orElseThrow();
        SimulatedStudies.Rates rates = SimulatedStudies.of(new SimulatedStudies.Cell(candidates, metrics, difference,
                SimulatedStudies.Noise.LOGNORMAL, rounds,
                adaptive ? SimulatedStudies.Stopping.ADAPTIVE : SimulatedStudies.Stopping.FIXED), STUDIES, 31);
        assertThat(rates.power()).isCloseTo(Planning.POWER,
                within(0.05 + 3 * Math.sqrt(0.8 * 0.2 / (STUDIES * (candidates - 1) * metrics))));
    }

    /**
     * Of normal differences the signed-rank test wants π/3 times the rounds of the t test, in the limit. Source: Hodges, Lehmann: The
     * efficiency of some nonparametric competitors of the t-test, Annals of Mathematical Statistics 27, 1956.
     */
    @Test
    void onePairTakesTheRoundsOfTheTTestByTheEfficiencyOfRanks() {
        var one = new FamilyPower.Shape(2, 1, 0, 0.05, false);
        for (double effect : new double[]{0.25, 0.3, 0.4}) {
            int rounds = FamilyPower
                    .rounds(new FamilyPower.Asked(one, effect, 100, Planning.POWER, FamilyPower.TESTS),
                            6, 200)
                    .orElseThrow();
            // 600 studies: an error of the power of 1.6 points, which is one of the rounds of about 4 %
            assertThat(rounds).isCloseTo((int) Math.round(
                    PairedPower.rounds(effect, 1, 0.05, Planning.POWER).orElseThrow() * Math.PI / 3),
                    withinPercentage(9));
        }
    }
}
