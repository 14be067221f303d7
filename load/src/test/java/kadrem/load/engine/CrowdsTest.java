package kadrem.load.engine;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

import kadrem.core.measure.FailureKind;
import kadrem.core.measure.PartFigures;
import kadrem.core.plan.StreamDigest;
import kadrem.core.study.Call;
import kadrem.core.study.Course;
import kadrem.core.study.Crowd;
import kadrem.core.study.Crowds;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Segment;
import kadrem.core.study.Shape;
import kadrem.core.study.ThinkTime;
import kadrem.core.study.ValueList;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import kadrem.core.study.Access;
import kadrem.core.study.Address;
import kadrem.core.study.Entrance;
import kadrem.core.study.Form;
import kadrem.core.study.Protocols;
import kadrem.load.net.Transport;
import org.junit.jupiter.api.Test;

/**
 * Several crowds on one time axis. On the simulated clock a service time does not hang on who else is there, so that each crowd must come out
 * as it does alone, to the last call.
 */
final class CrowdsTest {
    private static final Duration PATIENT = Duration.ofSeconds(5);
    private static final int WARM_UP = 2;
    private static final int WHOLE = 20;
    private static final Workload WORKLOAD = new Workload(
            List.of(new ValueList.NumberRange("berth", 1, 1000), new ValueList.NumberRange("ship", 1, 1000)),
            List.of(new Visit("browse", 3, List.of(call("list", "/berths"), call("one", "/berths/{{berth}}"))),
                    new Visit("look", 1, List.of(call("tide", "/tides/{{berth}}"))),
                    new Visit("import", 1, List.of(call("arrival", "/ships/{{ship}}")))));

    private static Call call(String name, String path) {
        return Load.get(name, path);
    }

    private static Course course() {
        return Course.of(Duration.ofSeconds(WARM_UP), PATIENT);
    }

    private static Segment hold(int seconds, double level) {
        return Segment.hold(Duration.ofSeconds(seconds), level);
    }

    private static Crowd readers() {
        Shape shape = new Shape(List.of(hold(WHOLE, 8)));
        return new Crowd("readers", List.of("browse", "look"), Optional.empty(), Duration.ZERO, shape,
                new LoadProfile.Closed(shape, new ThinkTime.Exponential(Duration.ofMillis(200)), Optional.empty(),
                        course()));
    }

    /** Comes after 5 seconds, ramps for 5 and is gone after 9 of them. */
    private static Crowd arriving() {
        var own = new Shape(List.of(Segment.ramp(Duration.ofSeconds(5), 100), hold(4, 100)));
        var placed = new Shape(List.of(hold(5, 0), own.segments().get(0), own.segments().get(1), hold(6, 0)));
        return new Crowd("import", List.of("import"), Optional.empty(), Duration.ofSeconds(5), own,
                new LoadProfile.Open(placed, LoadProfile.Spacing.POISSON, 16, 64, course(), Optional.empty()));
    }

    private static Crowds both() {
        return new Crowds(List.of(readers(), arriving()), course());
    }

    private static SimulatedRun.Outcome run(Crowd... crowds) {
        // 3 ms, and 30 ms in one second of twenty
        return SimulatedRun.of(WORKLOAD, new Crowds(List.of(crowds), course()),
                at -> at / 1_000_000_000 % 20 == 13 ? 30_000_000 : 3_000_000, new TreeMap<>(),
                SimulatedRun.Where.BEHIND_SLEEP);
    }

    @Test
    void theSumOfTwoIsThatOfEachAlone() {
        SimulatedRun.Outcome together = run(readers(), arriving());
        SimulatedRun.Outcome reading = run(readers());
        SimulatedRun.Outcome importing = run(arriving());
        assertThat(together.streams()).containsExactly(reading.streams().getFirst(),
                importing.streams().getFirst());
        assertThat(together.figures().sent()).isEqualTo(reading.figures().sent() + importing.figures().sent());
        assertThat(together.figures().part("readers")).isEqualTo(reading.figures().part("readers"));
        assertThat(together.figures().part("import")).isEqualTo(importing.figures().part("import"));
        var sums = new ArrayList<long[]>();
        for (int second = 0; second < WARM_UP + WHOLE; second++) {
            long[] one = reading.sentBySecond().get(second);
            long[] two = importing.sentBySecond().get(second);
            sums.add(new long[]{one[0] + two[0], one[1] + two[1], one[2] + two[2], one[3] + two[3]});
        }
        assertThat(together.sentBySecond().subList(0, sums.size())).containsExactlyElementsOf(sums);
    }

    @Test
    void aCrowdComesAndIsGoneOnTheRunsTimeAxis() {
        SimulatedRun.Outcome made = run(readers(), arriving());
        List<long[]> sent = made.sentBySecond();
        assertThat(sent.subList(0, WARM_UP + 5)).allMatch(counts -> counts[3] == 0);
        assertThat(sent.subList(WARM_UP + 14, WARM_UP + WHOLE)).allMatch(counts -> counts[3] == 0)
                .allMatch(counts -> counts[0] > 0, "the readers go on");
        long arrivals = sent.stream().mapToLong(counts -> counts[3]).sum();
        // 250 of the ramp and 400 of the level, by the law of Poisson within four deviations
        assertThat(arrivals).isBetween(650 - 102L, 650 + 102L);
    }

    @Test
    void figuresOfCrowdsAndOfCallsAddUpToThoseOfAll() {
        SimulatedRun.Outcome made = run(readers(), arriving());
        PartFigures readers = made.figures().part("readers").orElseThrow();
        PartFigures importing = made.figures().part("import").orElseThrow();
        assertThat(made.figures().crowds()).extracting(PartFigures::name).containsExactly("readers", "import");
        assertThat(readers.good() + importing.good()).isEqualTo(made.figures().good());
        assertThat(readers.goodInTime().getAsLong() + importing.goodInTime().getAsLong())
                .isEqualTo(made.figures().goodInTime());
        assertThat(made.figures().part("arrival").orElseThrow().due()).isEqualTo(importing.due());
        assertThat(readers.due()).isEqualTo(made.figures().calls().stream()
                .filter(call -> !call.name().equals("arrival")).mapToLong(PartFigures::due).sum());
        assertThat(made.figures().failed()).allSatisfy((kind, count) -> assertThat(count).as(kind.id()).isZero());
        assertThat(importing.failed()).containsKey(FailureKind.TIMEOUT);
    }

    @Test
    void eachCrowdHasAStreamOfItsOwnWhoeverElseIsThere() {
        var same = new Crowd("others", readers().makes(), Optional.empty(), Duration.ZERO, readers().own(),
                readers().load());
        StreamDigest one = run(readers()).streams().getFirst();
        StreamDigest other = run(same).streams().getFirst();
        assertThat(one.match(other)).isEqualTo(StreamDigest.Match.DIFFERENT);
        StreamDigest all = StreamDigest.of(run(readers(), arriving()).streams());
        assertThat(all.match(StreamDigest.of(run(readers(), arriving()).streams())))
                .isEqualTo(StreamDigest.Match.SAME);
        assertThat(all.match(StreamDigest.of(run(arriving(), readers()).streams())))
                .isEqualTo(StreamDigest.Match.DIFFERENT);
    }

    @Test
    void theyGoOverARealWireOnSeveralLanes() throws IOException {
        var short1 = new Shape(List.of(hold(3, 20)));
        var short2 = new Shape(List.of(hold(1, 0), hold(1, 50), hold(1, 0)));
        Course course = Course.of(Duration.ofSeconds(1), PATIENT);
        var crowds = new Crowds(List.of(
                new Crowd("readers", List.of("browse", "look"), Optional.empty(), Duration.ZERO, short1,
                        new LoadProfile.Open(short1, LoadProfile.Spacing.CONSTANT, 4, 8, course, Optional.empty())),
                new Crowd("import", List.of("import"), Optional.empty(), Duration.ofSeconds(1),
                        new Shape(List.of(hold(1, 50))),
                        new LoadProfile.Open(short2, LoadProfile.Spacing.CONSTANT, 4, 8, course, Optional.empty()))),
                course);
        try (TestServer server = TestServer.answering("HTTP/1.1 200 OK\r\nContent-Length: 2\r\n\r\n{}")) {
            Load sent = Load.run(server.port(), WORKLOAD, crowds, 5, 2);
            assertThat(sent.figures.part("import").orElseThrow().good()).isEqualTo(50);
            assertThat(sent.result.crowds()).containsExactly(new LoadResult.Begun("readers", 60, 60),
                    new LoadResult.Begun("import", 50, 50));
            assertThat(sent.result.stream().crowds()).hasSize(2);
        }
    }

    @Test
    void aCrowdSpeaksAnotherProtocolAtAnotherAddressOfTheCandidate() throws IOException {
        var shape = new Shape(List.of(hold(2, 30)));
        Course course = Course.of(Duration.ZERO, PATIENT);
        Call telegram = Call.of("telegram", "", "").with(new Form("bytes",
                Map.of("send", List.of("berth {{berth}}\\n")), Optional.empty(), Optional.empty(), Optional.empty()));
        var workload = new Workload(WORKLOAD.values(),
                List.of(WORKLOAD.visits().get(1), new Visit("tell", 1, List.of(telegram))));
        var crowds = new Crowds(List.of(
                new Crowd("readers", List.of("look"), Optional.empty(), Duration.ZERO, shape,
                        new LoadProfile.Open(shape, LoadProfile.Spacing.CONSTANT, 4, 8, course, Optional.empty())),
                new Crowd("tellers", List.of("tell"), Optional.empty(), Duration.ZERO, shape,
                        new LoadProfile.Open(shape, LoadProfile.Spacing.CONSTANT, 4, 8, course, Optional.empty()))),
                course);
        try (TestServer http = TestServer.answering("HTTP/1.1 200 OK\r\nContent-Length: 2\r\n\r\n{}");
                TestServer echo = new TestServer((socket, in) -> in.transferTo(socket.getOutputStream()))) {
            var order = new LoadOrder(new Address("127.0.0.1", http.port(), ""), workload, crowds, 5, 1)
                    .reaching(Map.of("tellers", new Entrance(
                            Protocols.byId("bytes").orElseThrow().address("tcp://127.0.0.1:" + echo.port())
                                    .orElseThrow(),
                            Access.OPEN)));
            Load sent = Load.run(order, Transport.best());
            // visits of one call, which is due when the visit is, however busy the machine
            assertThat(sent.figures.part("readers").orElseThrow().good()).as("%s", sent.exchanges).isEqualTo(60);
            assertThat(sent.figures.part("tellers").orElseThrow().good()).as("%s", sent.exchanges).isEqualTo(60);
        }
    }
}
