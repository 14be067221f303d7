package kadrem.load.engine;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.io.IOException;
import java.time.Duration;
import java.util.List;
import java.util.Optional;

import kadrem.core.plan.Curve;
import kadrem.core.plan.StreamDigest;
import kadrem.core.study.Course;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Segment;
import kadrem.core.study.Shape;
import kadrem.core.study.ThinkTime;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.parallel.Execution;
import org.junit.jupiter.api.parallel.ExecutionMode;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Load profiles as they are really sent. */
@Execution(ExecutionMode.CONCURRENT)
class ProfilesTest {
    private static Duration s(double seconds) {
        return Duration.ofNanos((long) (seconds * 1e9));
    }

    private static final Shape VARIED = new Shape(List.of(Segment.ramp(s(1), 200), Segment.burst(s(0.5), 600),
            Segment.step(s(1), 400, 2), Segment.ramp(s(0.5), 0)));

    private static LoadProfile.Open arrivals(Shape shape) {
        return new LoadProfile.Open(shape, LoadProfile.Spacing.CONSTANT, 16, Course.of(Duration.ZERO, Load.PATIENT));
    }

    private static LoadProfile.Closed users(Shape shape, Duration think) {
        return new LoadProfile.Closed(shape, new ThinkTime.Fixed(think), Optional.empty(),
                Course.of(Duration.ZERO, Load.PATIENT));
    }

    private static TestServer server() throws IOException {
        return TestServer.answering(new String(TestServer.OK));
    }

    @ParameterizedTest
    @ValueSource(ints = {1, 2, 3})
    void arrivalsSentAreTheAreaOfTheProfile(int lanes) throws IOException {
        try (TestServer server = server()) {
            Load load = Load.run(server.port(), Load.one("/x"), arrivals(VARIED), 1, lanes);
            double area = Curve.of(VARIED).area();
            assertThat(load.figures.sent()).isEqualTo((long) Math.ceil(area - 1e-9));
            assertThat(load.result.intended()).isEqualTo(load.figures.sent());
            assertThat(load.seconds.stream().mapToLong(second -> second.intended()).sum())
                    .isEqualTo(load.figures.sent());
        }
    }

    @Test
    void whatIsSentInWarmUpAndWindDownIsNotCounted() throws IOException {
        LoadProfile.Single load = Load.open(100, 8, 1, 2);
        try (TestServer server = server()) {
            Load sent = Load.run(server.port(), Load.one("/x"),
                    load.withCourse(load.course().withWindDown(s(2)).withWarmUpLevel(50)), 1, 2);
            assertThat(sent.figures.sent()).isEqualTo(200);
            assertThat(server(sent)).as("50 before, 200, and half of 2 s of 100 a second after").isEqualTo(350);
            assertThat(sent.result.intended()).isEqualTo(200);
            assertThat(sent.result.begun()).isEqualTo(200);
        }
    }

    private static long server(Load load) {
        return load.seconds.stream().mapToLong(second -> second.sent()).sum();
    }

    /** Users come and go; what they send is bounded by their user-seconds divided by the think time. */
    @Test
    void usersComeAndGoWithTheProfile() throws IOException {
        Shape shape = new Shape(List.of(Segment.ramp(s(1), 8), Segment.hold(s(1), 8), Segment.ramp(s(1), 0)));
        try (TestServer server = server()) {
            Load load = Load.run(server.port(), Load.one("/x"), users(shape, Duration.ofMillis(50)), 1, 2);
            double most = Curve.of(shape).area() / 0.05 + 8;
            assertThat(load.figures.good()).isBetween((long) (most * 0.4), (long) most);
            // an upper bound, which a slow host cannot break: all eight would send up to 160 in a second
            long half = (long) (8 / 2 / 0.05 + 8);
            assertThat(load.seconds.get(0).sent()).as("half of the users in the mean").isBetween(1L, half);
            assertThat(load.seconds.get(2).sent()).isBetween(1L, half);
        }
    }

    @Test
    void theSameSeedGivesTheSameStreamWhateverTheProfileAndItsLanes() throws IOException {
        Shape shape = new Shape(List.of(Segment.ramp(s(0.5), 8), Segment.hold(s(0.5), 8)));
        try (TestServer server = server()) {
            for (LoadProfile load : List.of(users(shape, Duration.ofMillis(30)), arrivals(VARIED))) {
                StreamDigest one = Load.run(server.port(), Load.one("/x"), load, 5, 1).result.stream();
                StreamDigest two = Load.run(server.port(), Load.one("/x"), load, 5, 3).result.stream();
                assertThat(one.match(two)).isEqualTo(StreamDigest.Match.SAME);
            }
        }
    }

    /**
     * Visits of a paced user are due in advance: a candidate that takes longer than the pace is asked no less, and its
     * response times grow by what it is late.
     */
    @Test
    void aPaceIsKeptHoweverSlowTheCandidateIs() throws IOException {
        try (TestServer slow = new TestServer((socket, in) -> {
            while (TestServer.readRequest(in)) {
                Thread.sleep(150);
                socket.getOutputStream().write(TestServer.OK);
            }
        })) {
            LoadProfile.Single load = Load.closed(4, Duration.ZERO, 2).withPace(Duration.ofMillis(100));
            Load sent = Load.run(slow.port(), Load.one("/x"), load, 1, 2);
            assertThat(sent.result.intended()).as("4 users, every 0.1 s, for 2 s").isEqualTo(80);
            assertThat(sent.result.begun()).isEqualTo(80);
            assertThat(sent.figures.good()).isEqualTo(80);
            // the last of a user's 20 visits is due after 1.9 s and begins after 19 answers of at least 150 ms each
            assertThat(sent.response.getMaxValue() / 1e9).isGreaterThan(19 * 0.150 + 0.150 - 1.9 - 0.01);
            assertThat(sent.service.getValueAtPercentile(50) / 1e9).isCloseTo(0.150, within(0.14));
            assertThat(sent.seconds.get(1).backlog()).isPositive();
        }
    }

    @Test
    void aFastCandidateIsAskedAtThePaceAndNotFaster() throws IOException {
        try (TestServer server = server()) {
            LoadProfile.Single load = Load.closed(5, Duration.ZERO, 2).withPace(Duration.ofMillis(200));
            Load sent = Load.run(server.port(), Load.one("/x"), load, 1, 2);
            assertThat(sent.figures.sent()).isEqualTo(50);
            assertThat(sent.result.begun()).isEqualTo(50);
        }
    }

    /** Common practice, no source: 5 users × 10 visits × 2 calls = 100 samples. */
    @Test
    void aNumberOfVisitsEndsTheRunWhenItIsMade() throws IOException {
        var workload = new Workload(List.of(),
                List.of(new Visit("v", 1, List.of(Load.get("a", "/a"), Load.get("b", "/b")))));
        LoadProfile.Single load = Load.closed(5, Duration.ofMillis(5), 60);
        try (TestServer server = server()) {
            long begun = System.nanoTime();
            Load sent = Load.run(server.port(), workload, load.withCourse(load.course().withVisits(10)), 1, 8);
            assertThat(sent.figures.good()).isEqualTo(100);
            assertThat((System.nanoTime() - begun) / 1e9).as("long before the longest time").isLessThan(30);
            assertThat(sent.result.measuredSeconds().orElseThrow()).isBetween(0.09, 30.0);
        }
    }

    @Test
    void aNumberOfArrivalsEndsTheRunWhenTheyAreAnswered() throws IOException {
        LoadProfile.Single load = Load.open(200, 8, 1, 60);
        try (TestServer server = server()) {
            Load sent = Load.run(server.port(), Load.one("/x"), load.withCourse(load.course().withVisits(150)), 1, 2);
            assertThat(sent.figures.good()).isEqualTo(150);
            assertThat(sent.result.measuredSeconds().orElseThrow()).isBetween(0.7, 30.0);
            assertThat(sent.result.stopped()).isFalse();
        }
    }
}
