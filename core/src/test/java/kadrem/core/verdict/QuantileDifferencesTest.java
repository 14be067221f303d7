package kadrem.core.verdict;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.Map;
import java.util.TreeMap;
import java.util.function.DoubleUnaryOperator;

import kadrem.core.measure.Latency;
import org.junit.jupiter.api.Test;

/** Whole distributions of made-up runs, compared percentile by percentile. */
class QuantileDifferencesTest {
    private static final int CALLS = 10_000;

    /** Runs whose k-th fastest call of {@value #CALLS} takes what a curve says of its rank, a little more or less in each round. */
    private static Map<Integer, RunTimes> runs(int rounds, double wobble, DoubleUnaryOperator millis, int lacking) {
        var runs = new TreeMap<Integer, RunTimes>();
        for (int round = 1; round <= rounds; round++) {
            var times = Latency.forRun();
            double factor = 1 + wobble * (round * 7 % 5 - 2);
            for (int k = 0; k < CALLS - lacking; k++) {
                times.recordValue(Math.round(millis.applyAsDouble((k + 0.5) / CALLS) * 1e6 * factor));
            }
            runs.put(round, new RunTimes(times, lacking));
        }
        return runs;
    }

    private static double curve(double rank) {
        return 10 - 5 * Math.log(1 - rank);
    }

    @Test
    void aShiftOfTheCurveIsToldWhereItLies() {
        QuantileDifferences found = QuantileDifferences.of("a", runs(8, 0.004, QuantileDifferencesTest::curve, 0), "b",
                runs(8, -0.003, rank -> curve(rank) * (rank < 0.91 ? 0.8 : 1.5), 0));
        assertThat(found.words()).isEqualTo("faster from p10 to p90, slower from p92.5 to p99.9");
        assertThat(found.at().getFirst().ratio()).isCloseTo(0.8, within(0.002));
        assertThat(found.at().getFirst().band().orElseThrow().achievedConfidence()).isEqualTo(0.95);
        QuantileDifferences none = QuantileDifferences.of("a", runs(8, 0.004, QuantileDifferencesTest::curve, 0), "b",
                runs(8, -0.003, QuantileDifferencesTest::curve, 0));
        assertThat(none.words()).isEqualTo("told apart at no percentile");
        assertThat(QuantileDifferences.of("a", runs(4, 0, QuantileDifferencesTest::curve, 0), "b",
                runs(4, 0, QuantileDifferencesTest::curve, 0)).words()).isEqualTo("too few rounds for a band");
    }

    /** Three in a hundred calls fail and the others are fast: p97 and what lies above is that of a call without an answer. */
    @Test
    void callsWithoutAnAnswerStayInTheDistribution() {
        QuantileDifferences found = QuantileDifferences.of("a", runs(8, 0.004, QuantileDifferencesTest::curve, 0), "b",
                runs(8, -0.003, rank -> curve(rank) / 2, 300));
        assertThat(found.without()).hasValue(new QuantileDifferences.Without("b", 98));
        assertThat(found.at().getLast().percentile()).isEqualTo(97);
        assertThat(found.words())
                .isEqualTo("faster from p10 to p97; from p98 on calls of b went without a good answer");
        QuantileDifferences silent = QuantileDifferences.of("a", runs(8, 0.004, QuantileDifferencesTest::curve, 0), "b",
                runs(8, -0.003, QuantileDifferencesTest::curve, 9_500));
        assertThat(silent.words()).isEqualTo("from p10 on calls of b went without a good answer");
        assertThat(runs(1, 0, QuantileDifferencesTest::curve, 300).get(1).at(99)).isInfinite();
    }
}
