package kadrem.core.verdict;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.stream.IntStream;

import kadrem.core.study.Metric;
import kadrem.core.study.Question;
import kadrem.core.study.Studies;
import kadrem.core.study.Study;
import org.junit.jupiter.api.Test;

/** Versions of a candidate: the study of two of them, and the levels of many. */
class HistoryTest {
    private static List<History.Entry> versions(int count, int slowFrom, double factor) {
        var random = new Random(3);
        return IntStream
                .range(0, count).mapToObj(i -> new History.Entry("c" + i, Instant.ofEpochSecond(i * 86_400L), "pool",
                        Map.of(Metric.P95, random.doubles(7).map(_ -> 5e6 * Math.exp(0.03 * random.nextGaussian())
                                * (i < slowFrom ? 1 : factor)).boxed().toList())))
                .toList();
    }

    @Test
    void aSlowerVersionBeginsANewLevelOfItsSize() {
        History history = History.of(Metric.P95, versions(12, 7, 1.2).reversed());
        assertThat(history.entries().getFirst().version()).as("oldest first").isEqualTo("c0");
        assertThat(history.steps()).hasSize(1);
        History.Step step = history.steps().getFirst();
        assertThat(step.at()).isEqualTo(7);
        assertThat(step.estimate()).isCloseTo(1.2, within(0.03));
        assertThat(step.interval().orElseThrow().contains(1.2)).isTrue();
        assertThat(history.sentence(step)).startsWith("p95 response time is ").contains("% higher from c7 on (");
    }

    @Test
    void versionsWithoutChangeHaveOneLevelAndThoseWithoutTheMetricAreLeftOut() {
        assertThat(History.of(Metric.P95, versions(12, 12, 1)).steps()).isEmpty();
        assertThat(History.of(Metric.PEAK_MEMORY, versions(3, 3, 1)).entries()).isEmpty();
    }

    @Test
    void twoVersionsAreAStudyOfTheirOwnUnderTheSameLoad() {
        Study study = Studies.of(List.of("pool", "loop"), Studies.OPEN, new Question.Decider(Metric.P99, 0.1),
                new Question.Decider(Metric.P50, 0.1));
        var launch = new kadrem.core.study.Launch(List.of("run"), ".", Map.of(), java.util.Optional.empty(),
                java.time.Duration.ofSeconds(5), java.time.Duration.ofSeconds(5));
        Study two = Regression.study(study, "pool", new Regression.Version("a1", launch),
                new Regression.Version("b2", launch), java.util.Optional.empty());
        assertThat(two.question().baseline()).isEqualTo(Regression.BEFORE);
        assertThat(two.candidates()).extracting(one -> one.address().toString())
                .containsOnly(study.candidates().getFirst().address().toString());
        assertThat(two.load()).isEqualTo(study.load());
        assertThat(two.plan().rounds()).as("two deciding metrics take seven").isGreaterThanOrEqualTo(7);
        assertThat(Regression.study(study, "pool", new Regression.Version("a1", launch),
                new Regression.Version("b2", launch), java.util.Optional.of(3)).plan().rounds()).isEqualTo(3);
    }
}
