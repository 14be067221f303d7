package kadrem.load.engine;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;

import kadrem.core.measure.FailureKind;
import kadrem.core.plan.LoadStream;
import kadrem.core.rehearsal.RehearsedCall;
import kadrem.core.study.Access;
import kadrem.core.study.Address;
import kadrem.core.study.Call;
import kadrem.core.study.Expectations;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.StatusSet;
import kadrem.core.study.Visit;
import kadrem.core.study.Wire;
import kadrem.core.study.Workload;
import kadrem.load.drive.CallValues;
import kadrem.load.drive.Rehearser;
import kadrem.load.drive.Secrets;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.http.HttpDriver;
import kadrem.load.net.Transport;
import org.junit.jupiter.api.Test;

/** HTTP/2 against a server made of Netty's codec, an implementation of RFC 9113 that is not ours. */
class Http2Test {
    private static final Wire FOUR = Wire.USUAL.withProtocol(Wire.Protocol.HTTP_2, 4);

    private static Http2TestServer server(Http2TestServer.Answering answering) {
        return new Http2TestServer(Optional.empty(), 1000, answering);
    }

    private static Load run(Http2TestServer server, Workload workload, LoadProfile.Single load) {
        return WireTest.run(server.port(), FOUR, workload, load);
    }

    @Test
    void callsShareConnectionsAsStreams() {
        try (Http2TestServer server = server((_, _, stream) -> Http2TestServer.ok(stream, "ok"))) {
            Load load = run(server, Load.one("/x"), Load.arrivals(200, 200, 8));
            assertThat(load.figures.good()).isEqualTo(200);
            assertThat(server.connections.get()).as("8 at the same time, 4 on a connection").isEqualTo(2);
            assertThat(server.requests.get()).isEqualTo(200);
        }
    }

    @Test
    void requestAndAnswerAreWhole() {
        var call = Call.of("reserve", "POST", "/reservations?day=1")
                .withHeaders(List.of(new Call.Header("X-Trace", "7"))).withBody("{\"berth\": 7}")
                .expecting(new Expectations(StatusSet.of(200), Optional.empty(),
                        List.of(new Expectations.Expectation.JsonValue("$.echo",
                                Optional.of("POST /reservations?day=1 7")),
                                new Expectations.Expectation.HeaderHolds("X-Seen", "{\"berth\": 7}"))));
        try (Http2TestServer server = server((request, body, stream) -> Http2TestServer.ok(stream,
                "{\"echo\": \"" + request.method() + " " + request.path() + " " + request.get("x-trace") + "\"}",
                "x-seen", body))) {
            Load load = run(server, new Workload(List.of(), List.of(new Visit("v", 1, List.of(call)))),
                    Load.arrivals(20, 20, 4));
            assertThat(load.figures.good()).as(load.exchanges.toString()).isEqualTo(20);
            RehearsedCall rehearsed = rehearse(server, call);
            assertThat(rehearsed.isGood()).as(rehearsed.toString()).isTrue();
            assertThat(rehearsed.header("x-seen")).isEqualTo("{\"berth\": 7}");
            assertThat(new String(rehearsed.decoded().toArray())).startsWith("{\"echo\"");
            assertThat(rehearsed.timeline().connect()).isPositive();
        }
    }

    private static RehearsedCall rehearse(Http2TestServer server, Call call) {
        var workload = new Workload(List.of(), List.of(new Visit("v", 1, List.of(call))));
        try (var driver = new HttpDriver(new DriverOrder(new Address("127.0.0.1", server.port(), ""),
                Access.over(FOUR), workload, Load.arrivals(1, 1, 1).timeout(), new Secrets(Map.of(), Path.of("")),
                Transport.best()));
                Rehearser rehearser = driver.newRehearser()) {
            return rehearser.call("v", 0, new CallValues(new LoadStream(workload, 0, 1).newDraw(), 0));
        } catch (kadrem.load.content.UnusableCall cause) {
            throw new AssertionError(cause);
        }
    }

    @Test
    void moreCallsThanTheServerAllowsStreamsWaitAndAreAnswered() {
        try (Http2TestServer server = new Http2TestServer(Optional.empty(), 2,
                (_, _, stream) -> stream.eventLoop().schedule(() -> Http2TestServer.ok(stream, "ok"), 5,
                        TimeUnit.MILLISECONDS))) {
            LoadProfile.Single load = Load.closed(8, Duration.ZERO, 20);
            Load sent = WireTest.run(server.port(), Wire.USUAL.withProtocol(Wire.Protocol.HTTP_2, 8), Load.one("/x"),
                    load.withCourse(load.course().withVisits(10)));
            assertThat(sent.figures.good()).isEqualTo(80);
            assertThat(server.connections.get()).isEqualTo(1);
        }
    }

    @Test
    void aStreamThatIsResetIsAResetCallAndTheOthersGoOn() {
        var number = new AtomicInteger();
        try (Http2TestServer server = server((_, _, stream) -> {
            if (number.incrementAndGet() % 4 == 0) {
                Http2TestServer.reset(stream);
            } else {
                Http2TestServer.ok(stream, "ok");
            }
        })) {
            Load load = run(server, Load.one("/x"), Load.arrivals(100, 100, 4));
            assertThat(load.failed(FailureKind.RESET)).isEqualTo(25);
            assertThat(load.figures.good()).isEqualTo(75);
            assertThat(server.connections.get()).isEqualTo(1);
        }
    }

    @Test
    void afterAGoAwayCallsGoOverANewConnection() {
        var number = new AtomicInteger();
        try (Http2TestServer server = server((_, _, stream) -> {
            Http2TestServer.ok(stream, "ok");
            if (number.incrementAndGet() % 20 == 0) {
                Http2TestServer.goAway(stream);
            }
        })) {
            Load load = run(server, Load.one("/x"), Load.arrivals(100, 100, 4));
            assertThat(load.figures.good() + load.figures.failedTotal()).isEqualTo(100);
            assertThat(load.figures.good()).as(load.exchanges.toString()).isGreaterThanOrEqualTo(90);
            assertThat(load.figures.failedTotal()).isEqualTo(load.failed(FailureKind.CLOSED));
            assertThat(server.connections.get()).isBetween(5, 6);
        }
    }

    @Test
    void noAnswerIsATimeoutAndTheRunEndsOnTime() {
        try (Http2TestServer server = server((_, _, _) -> {
        })) {
            var load = new LoadProfile.Open(20, LoadProfile.Spacing.CONSTANT, 4, Duration.ZERO, Duration.ofSeconds(1),
                    Duration.ofMillis(300));
            long begun = System.nanoTime();
            Load sent = run(server, Load.one("/x"), load);
            assertThat(sent.failed(FailureKind.TIMEOUT) + sent.figures.unsent()).isEqualTo(20);
            assertThat((System.nanoTime() - begun) / 1e9).isLessThan(10);
        }
    }

    @Test
    void aServerThatSpeaksOnlyHttp1IsNoHttp2Server() throws Exception {
        try (TestServer server = TestServer.answering(new String(TestServer.OK))) {
            var load = new LoadProfile.Open(10, LoadProfile.Spacing.CONSTANT, 2, Duration.ZERO, Duration.ofSeconds(1),
                    Duration.ofMillis(500));
            Load sent = WireTest.run(server.port(), FOUR, Load.one("/x"), load);
            assertThat(sent.figures.good()).isZero();
            assertThat(sent.figures.failedTotal() + sent.figures.unsent()).isEqualTo(10);
        }
    }

    /** A server that takes connections and never sends its settings: the call fails in time, and the next tries another one. */
    @Test
    void aConnectionThatIsNeverGreetedIsGivenUpWithItsCall() throws Exception {
        var taken = new AtomicInteger();
        try (var server = new ServerSocket(0, 50, InetAddress.getLoopbackAddress())) {
            Thread.ofVirtual().start(() -> {
                while (!server.isClosed()) {
                    try {
                        server.accept();
                        taken.incrementAndGet();
                    } catch (IOException _) {
                        return;
                    }
                }
            });
            var load = new LoadProfile.Open(2, LoadProfile.Spacing.CONSTANT, 1, Duration.ZERO, Duration.ofSeconds(2),
                    Duration.ofMillis(300));
            Load sent = WireTest.run(server.getLocalPort(),
                    Wire.USUAL.withProtocol(Wire.Protocol.HTTP_2, 1), Load.one("/x"),
                    load);
            assertThat(sent.figures.good()).isZero();
            assertThat(taken.get()).as("connections for 4 calls").isGreaterThanOrEqualTo(4);
        }
    }
}
