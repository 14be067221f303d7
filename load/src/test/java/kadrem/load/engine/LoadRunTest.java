package kadrem.load.engine;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.net.StandardSocketOptions;
import java.time.Duration;
import java.util.List;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;

import kadrem.core.measure.Exchange;
import kadrem.core.measure.FailureKind;
import kadrem.core.plan.StreamDigest;
import kadrem.core.study.Call;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.StatusSet;
import kadrem.core.study.ValueList;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import kadrem.fixtures.Ports;
import kadrem.load.net.Transport;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import org.junit.jupiter.params.provider.ValueSource;

class LoadRunTest {
    private static final Workload VARIED = new Workload(List.of(new ValueList.NumberRange("berth", 1, 1000)),
            List.of(new Visit("look", 3, List.of(Load.get("list", "/berths"), Load.get("one", "/berths/{{berth}}"))),
                    new Visit("tide", 1, List.of(Load.get("tides", "/tides/{{berth}}")))));

    private static String ok() {
        return "HTTP/1.1 200 OK\r\nContent-Length: 2\r\n\r\nok";
    }

    @ParameterizedTest
    @EnumSource(Transport.class)
    void everyArrivalThatIsDueIsSent(Transport transport) throws IOException {
        if (transport == Transport.EPOLL && Transport.best() != Transport.EPOLL) {
            return;
        }
        try (TestServer server = TestServer.answering(ok())) {
            Load load = Load.run(server.port(), Load.one("/x"), Load.open(300, 16, 1, 2), 1, 1, transport);
            assertThat(load.figures.sent()).isEqualTo(600);
            assertThat(load.figures.good()).isEqualTo(600);
            assertThat(load.result.intended()).isEqualTo(600);
            assertThat(load.result.begun()).isEqualTo(600);
            assertThat(load.seconds.stream().mapToLong(second -> second.intended()).sum()).isEqualTo(900);
        }
    }

    @Test
    void sameSeedSameStreamWhateverTheNumberOfLanes() throws IOException {
        try (TestServer server = TestServer.answering(ok())) {
            StreamDigest one = Load.run(server.port(), VARIED, Load.open(200, 8, 0, 1), 5, 1).result.stream();
            StreamDigest two = Load.run(server.port(), VARIED, Load.open(200, 8, 0, 1), 5, 2).result.stream();
            StreamDigest other = Load.run(server.port(), VARIED, Load.open(200, 8, 0, 1), 6, 1).result.stream();
            assertThat(two.match(one)).isEqualTo(StreamDigest.Match.SAME);
            assertThat(other.match(one)).isEqualTo(StreamDigest.Match.DIFFERENT);
        }
    }

    /** A faster candidate is asked more in the closed model; over the common part both were asked the same. */
    @Test
    void closedStreamsOfAFastAndASlowCandidateAreTheSameOverTheirCommonPart() throws IOException {
        try (TestServer fast = TestServer.answering(ok()); TestServer slow = new TestServer((socket, in) -> {
            while (TestServer.readRequest(in)) {
                Thread.sleep(5);
                socket.getOutputStream().write(TestServer.OK);
            }
        })) {
            Load a = Load.run(fast.port(), VARIED, Load.closed(4, Duration.ZERO, 1), 9, 2);
            Load b = Load.run(slow.port(), VARIED, Load.closed(4, Duration.ZERO, 1), 9, 1);
            assertThat(a.figures.good()).isGreaterThan(b.figures.good());
            assertThat(a.result.stream().match(b.result.stream())).isEqualTo(StreamDigest.Match.SAME);
        }
    }

    @Test
    void usersCallInTheOrderOfTheirVisitsAndValuesVary() throws IOException {
        Set<String> paths = ConcurrentHashMap.newKeySet();
        try (TestServer server = new TestServer((socket, in) -> {
            var line = new StringBuilder();
            for (int b = in.read(); b >= 0; b = in.read()) {
                line.append((char) b);
                if (line.length() > 4 && line.substring(line.length() - 4).equals("\r\n\r\n")) {
                    paths.add(line.substring(4, line.indexOf(" HTTP")));
                    line.setLength(0);
                    socket.getOutputStream().write(TestServer.OK);
                }
            }
        })) {
            Load load = Load.run(server.port(), VARIED, Load.arrivals(200, 200, 8), 1, 1);
            long list = load.figures.calls().get(0).sent();
            assertThat(load.figures.calls().get(1).sent()).isEqualTo(list);
            assertThat(list + load.figures.calls().get(2).sent()).isEqualTo(200);
            assertThat(paths).hasSizeGreaterThan(150).contains("/berths");
        }
    }

    /** The response-time law: 10 users with 100 ms think time make at most 100 calls a second, however fast the server. */
    @Test
    void thinkTimeHoldsUsersBack() throws IOException {
        try (TestServer server = TestServer.answering(ok())) {
            Load load = Load.run(server.port(), Load.one("/x"), Load.closed(10, Duration.ofMillis(100), 2), 1, 1);
            assertThat(load.figures.sent()).isBetween(20L, 210L);
        }
    }

    @Test
    void nothingListensIsRefused() throws IOException {
        int port = Ports.free();
        Load load = Load.run(port, Load.one("/x"), Load.open(50, 4, 0, 1), 1, 1);
        assertThat(load.failed(FailureKind.REFUSED)).isEqualTo(50);
        assertThat(load.figures.good()).isZero();
        Load users = Load.run(port, Load.one("/x"), Load.closed(4, Duration.ZERO, 1), 1, 1);
        assertThat(users.failed(FailureKind.REFUSED)).as("a candidate that is down is not stormed").isBetween(4L, 100L);
    }

    @Test
    void aResetIsAReset() throws IOException {
        try (TestServer server = new TestServer((socket, in) -> {
            TestServer.readRequest(in);
            socket.setOption(StandardSocketOptions.SO_LINGER, 0);
            socket.close();
        })) {
            Load load = Load.run(server.port(), Load.one("/x"), Load.open(40, 4, 0, 1), 1, 1);
            assertThat(load.failed(FailureKind.RESET)).isEqualTo(40);
        }
    }

    @Test
    void aConnectionThatEndsBeforeTheAnswerIsClosed() throws IOException {
        try (TestServer server = new TestServer((socket, in) -> {
            TestServer.readRequest(in);
            socket.getOutputStream().write("HTTP/1.1 200 OK\r\nContent-Length: 10\r\n\r\nhal".getBytes());
            socket.shutdownOutput();
        })) {
            Load load = Load.run(server.port(), Load.one("/x"), Load.open(40, 4, 0, 1), 1, 1);
            assertThat(load.failed(FailureKind.CLOSED)).isEqualTo(40);
            assertThat(load.exchanges).hasSize(5).allSatisfy(exchange -> {
                assertThat(exchange.reason()).isEqualTo("closed");
                assertThat(exchange.request()).startsWith("GET /x HTTP/1.1");
                assertThat(exchange.response()).endsWith("hal");
            });
        }
    }

    @Test
    void noAnswerIsATimeoutAndTheRunEndsOnTime() throws IOException {
        try (TestServer server = new TestServer((_, in) -> {
            while (in.read() >= 0) {
                // listens and says nothing
            }
        })) {
            long begun = System.nanoTime();
            var load = Load.run(server.port(), Load.one("/x"),
                    new LoadProfile.Open(20, LoadProfile.Spacing.CONSTANT, 64,
                            Duration.ZERO, Duration.ofSeconds(1), Duration.ofSeconds(2)),
                    1, 1);
            assertThat(load.failed(FailureKind.TIMEOUT)).isEqualTo(20);
            assertThat(Duration.ofNanos(System.nanoTime() - begun)).isLessThan(Duration.ofSeconds(20));
        }
    }

    @Test
    void theStatusDecidesWhetherACallIsGood() throws IOException {
        var call = Call.of("call", "GET", "/x").expecting(StatusSet.of(200, 409));
        var workload = new Workload(List.of(), List.of(new Visit("v", 1, List.of(call))));
        String conflict = "HTTP/1.1 409 Conflict\r\nContent-Length: 0\r\n\r\n";
        try (TestServer server = TestServer.answering(conflict)) {
            assertThat(Load.run(server.port(), workload, Load.open(40, 4, 0, 1), 1, 1).figures.good()).isEqualTo(40);
            Load load = Load.run(server.port(), Load.one("/x"), Load.open(40, 4, 0, 1), 1, 1);
            assertThat(load.failed(FailureKind.UNEXPECTED_STATUS)).isEqualTo(40);
            assertThat(load.exchanges.getFirst().status()).isEqualTo(409);
        }
    }

    @ParameterizedTest
    @ValueSource(strings = {"what is this\r\n\r\n", "HTTP/1.1 200 OK\r\nContent-Length: 2\r\n\r\nok, and more"})
    void whatIsNoResponseIsMalformed(String answer) throws IOException {
        try (TestServer server = TestServer.answering(answer)) {
            Load load = Load.run(server.port(), Load.one("/x"), Load.open(40, 4, 0, 1), 1, 1);
            assertThat(load.failed(FailureKind.MALFORMED)).isEqualTo(40);
        }
    }

    @Test
    void aServerThatClosesAfterEachAnswerIsStillMeasured() throws IOException {
        String closing = "HTTP/1.1 200 OK\r\nConnection: close\r\nContent-Length: 2\r\n\r\nok";
        try (TestServer server = TestServer.answering(closing)) {
            Load load = Load.run(server.port(), Load.one("/x"), Load.open(50, 4, 0, 1), 1, 1);
            assertThat(load.figures.good()).isEqualTo(50);
        }
    }

    @Test
    void aRunMayBeStoppedBeforeItBegins() throws IOException {
        try (TestServer server = TestServer.answering(ok())) {
            assertThat(Load.stopped(server.port(), Load.open(100, 4, 0, 60)).stopped()).isTrue();
        }
    }

    @Test
    void theSlowestExchangesAreKept() throws IOException {
        try (TestServer server = TestServer.answering(ok())) {
            Load load = Load.run(server.port(), Load.one("/x"), Load.open(100, 4, 0, 1), 1, 1);
            assertThat(load.exchanges).hasSize(5)
                    .allSatisfy(exchange -> assertThat(exchange.reason()).isEqualTo(Exchange.SLOW));
            assertThat(load.exchanges.getFirst().responseNanos())
                    .isGreaterThanOrEqualTo(load.exchanges.getLast().responseNanos());
        }
    }
}
