package kadrem.core.scaling;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.OptionalLong;

import kadrem.core.rehearsal.Rehearsal;
import kadrem.core.rehearsal.RehearsedCall;
import kadrem.core.rehearsal.Timeline;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Metric;
import kadrem.core.study.Plan;
import kadrem.core.study.Bytes;
import kadrem.core.study.Call;
import kadrem.core.study.Course;
import kadrem.core.study.LevelSearch;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Segment;
import kadrem.core.study.Shape;
import kadrem.core.study.Studies;
import kadrem.core.study.ThinkTime;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import org.junit.jupiter.api.Test;

/** The facts of the trade below are common practice, no source; the laws behind them are in Jain 1991, chapter 33. */
class PredictionTest {
    private static final Duration SECOND = Duration.ofSeconds(1);

    private static MeasuredStudy study(LoadProfile load, int calls) {
        MeasuredStudy base = Studies.withLoad(load);
        List<Call> visit = java.util.stream.IntStream.range(0, calls)
                .mapToObj(number -> Call.of("call " + number, "GET", "/" + number)).toList();
        return new MeasuredStudy(base.name(), base.question(), base.candidates(),
                new Workload(List.of(), List.of(new Visit("visit", 1, visit))), load, base.plan());
    }

    private static LoadProfile.Closed users(Shape shape, Duration think) {
        return new LoadProfile.Closed(shape, new ThinkTime.Fixed(think), Optional.empty(),
                Course.of(Duration.ZERO, Duration.ofSeconds(5)));
    }

    /** A rehearsal of one candidate, each of whose calls took {@code millis} and moved 1,000 bytes. */
    private static Optional<Rehearsal> rehearsed(int calls, double millis) {
        var timeline = new Timeline(0, 5_000_000, 0, 0, Math.round(millis * 1e6), 0);
        List<RehearsedCall> answers = java.util.stream.IntStream.range(0, calls)
                .mapToObj(number -> new RehearsedCall("visit", "call " + number, "G".repeat(100), 200, List.of(), 900,
                        Bytes.of(new byte[0]), Bytes.of(new byte[0]), "", timeline, Optional.empty(), ""))
                .toList();
        return Optional.of(new Rehearsal(Instant.EPOCH, "", List.of(new Rehearsal.OfCandidate("a", answers, "")),
                List.of()));
    }

    /** Ramp 0 to 100 in 15 s, hold 30 s, ramp to 0 in 15 s: 4,500 user-seconds; 895 ms and 1 s think time: about 2,375 calls. */
    @Test
    void aRampedProfileHasItsUserSecondsAndCalls() {
        var shape = new Shape(List.of(Segment.ramp(Duration.ofSeconds(15), 100),
                Segment.hold(Duration.ofSeconds(30), 100), Segment.ramp(Duration.ofSeconds(15), 0)));
        Prediction prediction = Prediction.of(study(users(shape, SECOND), 1), rehearsed(1, 895));
        assertThat(prediction.userSeconds()).hasValue(4500);
        assertThat(prediction.candidates().getFirst().calls()).isCloseTo(2375, within(1.0));
        assertThat(prediction.candidates().getFirst().bytes()).isCloseTo(2_375_000, within(1000.0));
        assertThat(prediction.callsPerRun()).as("the bound, were every answer there at once").hasValue(4500);
    }

    /** 10 users, 1 s think time, 82 ms mean, 30 s: about 277 calls. */
    @Test
    void theResponseTimeLawGivesTheCallsOfUsersWhoPause() {
        Prediction prediction = Prediction.of(study(users(Shape.flat(Duration.ofSeconds(30), 10), SECOND), 1),
                rehearsed(1, 82));
        assertThat(prediction.candidates().getFirst().calls()).isCloseTo(277, within(0.5));
    }

    /** 60 arrivals/s for 30 s with 4 calls a visit is 7,200 calls; Little's law gives those under way. */
    @Test
    void arrivalsTimesCallsOfAVisit() {
        var load = new LoadProfile.Open(60, LoadProfile.Spacing.CONSTANT, 16, Duration.ZERO, Duration.ofSeconds(30),
                Duration.ofSeconds(5));
        Prediction prediction = Prediction.of(study(load, 4), rehearsed(4, 50));
        assertThat(prediction.arrivals()).hasValue(1800);
        assertThat(prediction.callsPerRun()).hasValue(7200);
        assertThat(prediction.mostCallsPerSecond()).hasValue(240);
        assertThat(prediction.candidates().getFirst().mostUnderWay()).as("L = 60/s · 4 · 50 ms")
                .isCloseTo(12, within(1e-9));
    }

    /** Common practice, no source: 200 users with 750 ms think time cannot exceed 267 calls/s. */
    @Test
    void thinkTimeBoundsTheRate() {
        Prediction prediction = Prediction.of(
                study(users(Shape.flat(Duration.ofSeconds(30), 200), Duration.ofMillis(750)), 1), Optional.empty());
        assertThat(prediction.mostCallsPerSecond().orElseThrow()).isCloseTo(267, within(0.5));
        assertThat(prediction.callsPerRun().orElseThrow()).isCloseTo(8000, within(0.5));
        assertThat(prediction.candidates()).isEmpty();
    }

    /** 5 users × 10 visits × 2 calls = 100 samples. */
    @Test
    void aNumberOfVisitsGivesTheSamples() {
        LoadProfile.Closed load = users(Shape.flat(Duration.ofMinutes(10), 5), Duration.ZERO);
        var counted = load.withCourse(load.course().withVisits(10));
        assertThat(Prediction.of(study(counted, 2), Optional.empty()).callsPerRun()).hasValue(100);
    }

    @Test
    void aPaceFixesTheVisitsAsLongAsACandidateKeepsUp() {
        LoadProfile.Closed load = users(Shape.flat(Duration.ofSeconds(60), 10), Duration.ZERO)
                .withPace(Duration.ofSeconds(2));
        Prediction fast = Prediction.of(study(load, 1), rehearsed(1, 100));
        assertThat(fast.arrivals()).hasValue(300);
        assertThat(fast.candidates().getFirst().calls()).isCloseTo(300, within(1e-9));
        Prediction slow = Prediction.of(study(load, 1), rehearsed(1, 4000));
        assertThat(slow.candidates().getFirst().calls()).as("a visit of 4 s every 4 s").isCloseTo(150, within(1e-9));
    }

    @Test
    void aSearchTakesTheTimeOfItsLevels() {
        LoadProfile.Closed load = users(Shape.flat(Duration.ofSeconds(10), 1), Duration.ZERO);
        var ladder = load.withCourse(load.course().withSearch(new LevelSearch.Ladder(10, 2, 0, 6, 0.05)));
        MeasuredStudy study = study(ladder, 1);
        int runs = study.plan().rounds() * study.candidates().size();
        assertThat(Prediction.of(study, Optional.empty()).wallTime())
                .isEqualTo(Duration.ofSeconds(60).plus(study.plan().pause()).multipliedBy(runs));
        assertThat(load.course().visits()).isEqualTo(OptionalLong.empty());
    }

    @Test
    void theTimeInWhichHostsAreWatchedAtRestIsTimeToo() {
        MeasuredStudy study = Studies.two();
        var resting = study.withPlan(new Plan(7, 1, SECOND, Duration.ofSeconds(5), false));
        // 1 s of warm-up, 10 s measured, 5 s at rest, 1 s between runs
        assertThat(Prediction.of(resting, Optional.empty()).wallTime()).isEqualTo(Duration.ofSeconds(17 * 14));
    }

    @Test
    void aRehearsalWithoutAnAnswerSaysNothing() {
        var failed = new Rehearsal(Instant.EPOCH, "",
                List.of(new Rehearsal.OfCandidate("a", List.of(), "refused")), List.of());
        assertThat(Prediction.of(study(users(Shape.flat(SECOND, 1), SECOND), 1), Optional.of(failed)).candidates())
                .isEmpty();
    }

    /** 400 calls have 4 above p99: no number, and said before anything is sent, with what would mend it. */
    @Test
    void percentilesThatARunCannotCarryAreToldBefore() {
        MeasuredStudy study = Studies.withLoad(new LoadProfile.Open(20, LoadProfile.Spacing.CONSTANT, 16, Duration.ZERO,
                Duration.ofSeconds(20), Duration.ofSeconds(5)));
        assertThat(study.question().metrics()).contains(Metric.P99);
        assertThat(Prediction.of(study, Optional.empty()).weakPercentiles(study)).singleElement().asString()
                .startsWith("Of some 400 calls in a run about 4 lie above p99").contains("hardly a number")
                .contains("Measure for about 250 s");
        MeasuredStudy longer = Studies
                .withLoad(new LoadProfile.Open(200, LoadProfile.Spacing.CONSTANT, 16, Duration.ZERO,
                        Duration.ofSeconds(25), Duration.ofSeconds(5)));
        assertThat(Prediction.of(longer, Optional.empty()).weakPercentiles(longer)).isEmpty();
    }
}
