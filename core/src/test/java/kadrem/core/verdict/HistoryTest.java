package kadrem.core.verdict;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.stream.IntStream;

import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Metric;
import kadrem.core.study.Question;
import kadrem.core.study.Studies;
import org.junit.jupiter.api.Test;

/** Versions of a candidate: the study of two of them, and the levels of many. */
class HistoryTest {
    private static List<History.Entry> versions(int count, int slowFrom, double factor) {
        var random = new Random(3);
        return IntStream
                .range(0, count).mapToObj(i -> new History.Entry("c" + i, Instant.ofEpochSecond(i * 86_400L), "pool",
                        Optional.empty(),
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

    /** Thirty runs of a version say no more of another day than one sitting does: the size of a step has no interval of them. */
    @Test
    void theSizeOfAStepGoesBySittings() {
        List<History.Entry> apart = versions(12, 10, 1.4);
        History.Step two = History.of(Metric.P95, apart).steps().getFirst();
        assertThat(two.before()).isEqualTo(10);
        assertThat(two.after()).isEqualTo(2);
        List<History.Entry> together = IntStream.range(0, 12).mapToObj(i -> new History.Entry(apart.get(i).version(),
                apart.get(i).at(), "pool", Optional.of(i < 8 ? "a day" : "day " + i), apart.get(i).values())).toList();
        History.Step few = History.of(Metric.P95, together).steps().getFirst();
        assertThat(few.before()).isEqualTo(3);
        assertThat(few.interval()).as("of five sittings no order is rarer than one in ten").isEmpty();
        assertThat(few.estimate()).isCloseTo(1.4, within(0.05));
        assertThat(History.of(Metric.P95, together).sentence(few)).endsWith(
                "from c10 on (no interval from 3 sittings before it, 2 after)");
    }

    /** A run that a candidate ended itself counts as one without bound, and most of them leave no centre. */
    @Test
    void aVersionThatDiedIsNamedAndHasNoPlaceAmongLevels() {
        double never = Double.POSITIVE_INFINITY;
        var at = Instant.EPOCH;
        var entries = List.of(
                new History.Entry("once", at, "pool", Optional.empty(),
                        Map.of(Metric.P95, List.of(5e6, never, 5.1e6, 5e6))),
                new History.Entry("often", at, "pool", Optional.empty(),
                        Map.of(Metric.P95, List.of(never, never, 5e6, never))));
        History history = History.of(Metric.P95, entries);
        assertThat(history.entries()).extracting(History.Entry::version).containsExactly("once");
        assertThat(history.unreachedSentence())
                .hasValue("often did not reach p95 response time in half of its runs or more");
    }

    /** The same unpaired: of a version that died in one run of eight the others decide, and the dead one counts against it. */
    @Test
    void aRunThatDiedIsComparedAsWorseThanAny() {
        var values = new java.util.ArrayList<ValueComparison.Value>();
        for (int i = 0; i < 8; i++) {
            values.add(new ValueComparison.Value("before", "", 5e6 + i * 1e4));
            values.add(new ValueComparison.Value("after", "", i == 7 ? Double.POSITIVE_INFINITY : 9e6 + i * 1e4));
        }
        ValueComparison.Pair pair = ValueComparison
                .of(values, new ValueComparison.Asked("before", 0.1, 0.05, false)).pairs().getFirst();
        assertThat(pair.outcome()).isEqualTo(Outcome.WORSE_BY_MORE);
        assertThat(pair.estimate()).isCloseTo(1.8, within(0.02));
    }

    @Test
    void versionsWithoutChangeHaveOneLevelAndThoseWithoutTheMetricAreLeftOut() {
        assertThat(History.of(Metric.P95, versions(12, 12, 1)).steps()).isEmpty();
        assertThat(History.of(Metric.PEAK_MEMORY, versions(3, 3, 1)).entries()).isEmpty();
    }

    @Test
    void twoVersionsAreAStudyOfTheirOwnUnderTheSameLoad() {
        MeasuredStudy study = Studies.of(List.of("pool", "loop"), Studies.OPEN, new Question.Decider(Metric.P99, 0.1),
                new Question.Decider(Metric.P50, 0.1));
        var launch = new kadrem.core.study.Launch(List.of("run"), ".", Map.of(), java.util.Optional.empty(),
                java.time.Duration.ofSeconds(5), java.time.Duration.ofSeconds(5));
        MeasuredStudy two = Regression.study(study, "pool", new Regression.Version("a1", launch),
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
