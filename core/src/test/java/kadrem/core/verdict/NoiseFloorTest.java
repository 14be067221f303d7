package kadrem.core.verdict;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.List;

import kadrem.core.measure.RunRecord;
import kadrem.core.measure.Runs;
import kadrem.core.plan.LoadDigest;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Metric;
import kadrem.core.study.Question;
import kadrem.core.study.Studies;
import org.junit.jupiter.api.Test;

class NoiseFloorTest {
    private static final MeasuredStudy STUDY = Studies.two();

    private static List<RunRecord> runs(int rounds, double... ratios) {
        MeasuredStudy itself = NoiseFloor.study(STUDY, "b");
        var runs = new ArrayList<RunRecord>();
        for (int round = 1; round <= rounds; round++) {
            runs.add(Runs.complete(itself, "b", round, 10_000_000, 0));
            runs.add(Runs.complete(itself, "b-again", round, Math.round(10_000_000 * ratios[round - 1]), 0));
        }
        return runs;
    }

    @Test
    void theStudyOfAFloorSendsTheSameToOneCandidateTwice() {
        MeasuredStudy itself = NoiseFloor.study(STUDY, "b");
        assertThat(itself.candidates()).hasSize(2);
        assertThat(itself.candidates().get(1).address()).isEqualTo(itself.candidates().get(0).address());
        assertThat(LoadDigest.of(itself)).isEqualTo(LoadDigest.of(STUDY));
        assertThatThrownBy(() -> NoiseFloor.study(STUDY, "c")).hasMessageContaining("c is not a candidate");
    }

    /**
     * Six rounds: the exact 96.88 % interval runs from the smallest to the largest difference (methods of Hollander and
     * Wolfe 1973), here from ln 0.97 to ln 1.02; the larger of the two is 1/0.97 − 1.
     */
    @Test
    void theFloorIsTheLargerBoundOfTheInterval() {
        NoiseFloor floor = NoiseFloor.of(STUDY, runs(6, 1.01, 0.97, 1.02, 0.99, 1.015, 1.005)).orElseThrow();
        assertThat(floor.candidate()).isEqualTo("b");
        assertThat(floor.rounds()).isEqualTo(6);
        NoiseFloor.Floor p99 = floor.floor(Metric.P99).orElseThrow();
        assertThat(p99.size()).isCloseTo(1 / 0.97 - 1, within(1e-3));
        assertThat(floor.floor(Metric.ERROR_SHARE).orElseThrow().size())
                .as("60,000 calls that differ in nothing may still hide so much")
                .isCloseTo(1 - Math.pow(0.025, 1 / 60_000.0), within(1e-9));
    }

    @Test
    void aMarginBelowTheFloorIsCalledOut() {
        NoiseFloor floor = NoiseFloor.of(STUDY, runs(6, 1.2, 0.8, 1.1, 0.9, 1.15, 1.05)).orElseThrow();
        assertThat(floor.marginsBelow(STUDY.question())).singleElement().asString()
                .startsWith("The margin of 10 % for p99 response time lies below the noise floor of 25");
        var wide = new Question("?", "a", 0.05, List.of(new Question.Decider(Metric.P99, 0.5)));
        assertThat(floor.marginsBelow(wide)).isEmpty();
    }

    /** A floor is no decision that would wait for a look: rounds beyond the plan of the study count at once. */
    @Test
    void allRoundsCountWhateverTheStudyPlans() {
        double[] ratios = {1.01, 0.97, 1.02, 0.99, 1.015, 1.005, 0.98, 1, 1.03, 0.96, 1.01};
        assertThat(STUDY.plan().rounds()).isBetween(1, 10);
        assertThat(NoiseFloor.of(STUDY, runs(ratios.length, ratios)).orElseThrow().rounds()).isEqualTo(ratios.length);
    }

    @Test
    void fewerRoundsGiveNoFloor() {
        assertThat(NoiseFloor.of(STUDY, runs(5, 1, 1.1, 0.9, 1, 1))).isEmpty();
        assertThat(NoiseFloor.of(STUDY, List.of())).isEmpty();
    }
}
