package kadrem.core.proposal;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.OptionalInt;

import kadrem.core.study.LoadProfile;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Metric;
import kadrem.core.study.Question;
import kadrem.core.study.Studies;
import kadrem.core.verdict.Comparison;
import kadrem.core.verdict.Planning;
import org.junit.jupiter.api.Test;

/** The rules of the proposal are common practice, no source, but for its rounds, which are those of {@link Planning}. */
class ProposedLoadTest {
    private static Probe probe(String candidate, double... callsPerSecond) {
        var steps = new java.util.ArrayList<Probe.Step>();
        for (int i = 0; i < callsPerSecond.length; i++) {
            steps.add(new Probe.Step(1 << i, callsPerSecond[i], 1e9 / callsPerSecond[i], 0));
        }
        return new Probe(candidate, steps, "");
    }

    private static MeasuredStudy decidedBy(Metric metric) {
        return Studies.of(List.of("a", "b"), Studies.OPEN, new Question.Decider(metric, 0.10));
    }

    private static ProposedLoad proposed(MeasuredStudy study, Probe... probes) {
        return ProposedLoad.of(study, List.of(probes)).orElseThrow();
    }

    @Test
    void theRateIsHalfOfWhatTheSlowestDidAtItsBest() {
        ProposedLoad proposed = proposed(decidedBy(Metric.P95), probe("a", 100, 180, 170), probe("b", 300, 580, 900));
        assertThat(proposed.load().arrivalsPerSecond()).as("90/s, to be read easily").isEqualTo(80);
        assertThat(proposed.reasons().getFirst()).isEqualTo("Candidate a answered 180 calls/s to 2 users, Candidate b"
                + " answered 900 calls/s to 4 users. Half of what Candidate a did is 90/s: 80 arrivals/s are proposed.");
    }

    @Test
    void aStepWithFailuresIsNotBorne() {
        var steps = List.of(new Probe.Step(1, 40, 25e6, 0), new Probe.Step(2, 80, 25e6, 0),
                new Probe.Step(4, 150, 25e6, 0.02));
        ProposedLoad proposed = proposed(decidedBy(Metric.P95), new Probe("a", steps, ""), probe("b", 900));
        assertThat(proposed.load().arrivalsPerSecond()).isEqualTo(40);
    }

    @Test
    void aFastServiceIsAskedNoMoreThanItTakes() {
        ProposedLoad proposed = proposed(decidedBy(Metric.P99), probe("a", 9_000), probe("b", 8_000));
        assertThat(proposed.load().arrivalsPerSecond()).isEqualTo(ProposedLoad.MOST_VISITS);
        assertThat(proposed.load().measured()).as("50 calls lie above p99").isEqualTo(Duration.ofSeconds(10));
        assertThat(proposed.reasons().getFirst()).contains("would show little more");
    }

    @Test
    void aRunIsSoLongThatThePercentileIsCarriedButNoLongerThanAMinute() {
        // half of 50/s is 25/s, read as 20/s: 1,000 calls take 50 s
        assertThat(proposed(decidedBy(Metric.P95), probe("a", 50), probe("b", 60)).load().measured())
                .isEqualTo(Duration.ofSeconds(50));
        ProposedLoad slow = proposed(decidedBy(Metric.P99), probe("a", 2), probe("b", 3));
        assertThat(slow.load().measured()).isEqualTo(Duration.ofSeconds(60));
        assertThat(slow.reasons().getLast()).as("what cannot be carried is said").contains("lie above p99");
    }

    @Test
    void theRoundsSettleTheMarginAndThatThereIsNoDifference() {
        MeasuredStudy study = decidedBy(Metric.P95);
        Planning planning = Planning.of(study, Metric.P95, Comparison.of(study, List.of()), Optional.empty());
        ProposedLoad proposed = proposed(study, probe("a", 900), probe("b", 800));
        assertThat(proposed.study().plan().rounds()).isEqualTo(
                Math.max(planning.roundsForMargin().orElseThrow(), planning.roundsForNone().orElseThrow()));
        assertThat(proposed.reasons().get(1)).contains("7 rounds of 10 s a candidate settle a difference of 10 %")
                .contains("or that there is none, four times in five").contains("assumed until rounds are measured");
        // 2 s of warm-up, 10 s, 3 s at rest
        assertThat(proposed.size()).isEqualTo("7 rounds, about 4 min");
        ProposedLoad shorter = proposed.with(OptionalInt.of(3), Optional.of(Duration.ofSeconds(2)));
        assertThat(shorter.size()).isEqualTo("3 rounds, about 42 s");
        assertThat(shorter.reasons()).as("what was said of other rounds is not said of these").hasSize(1);
    }

    @Test
    void usersBecomeArrivals() {
        var users = new LoadProfile.Closed(20, Duration.ofSeconds(1), Duration.ZERO, Duration.ofSeconds(5),
                Duration.ofSeconds(7));
        ProposedLoad proposed = proposed(Studies.withLoad(users), probe("a", 900), probe("b", 800));
        assertThat(proposed.load().timeout()).isEqualTo(Duration.ofSeconds(7));
        assertThat(proposed.load().arrivalsPerSecond()).isEqualTo(400);
    }

    @Test
    void nothingIsProposedWhereACandidateBearsNothing() {
        var refused = new Probe("b", List.of(new Probe.Step(1, 0, 0, 1)), "");
        assertThat(ProposedLoad.of(decidedBy(Metric.P95), List.of(probe("a", 100), refused))).isEmpty();
        assertThat(ProposedLoad.of(decidedBy(Metric.P95), List.of())).isEmpty();
    }
}
