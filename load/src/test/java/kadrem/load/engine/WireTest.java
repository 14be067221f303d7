package kadrem.load.engine;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.InputStream;
import java.net.StandardProtocolFamily;
import java.net.UnixDomainSocketAddress;
import java.nio.ByteBuffer;
import java.nio.channels.Channels;
import java.nio.channels.ServerSocketChannel;
import java.nio.channels.SocketChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.zip.GZIPInputStream;

import kadrem.core.measure.FailureKind;
import kadrem.core.study.Access;
import kadrem.core.study.Address;
import kadrem.core.study.Call;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Visit;
import kadrem.core.study.Wire;
import kadrem.core.study.Workload;
import kadrem.load.net.Transport;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.condition.DisabledOnOs;
import org.junit.jupiter.api.condition.OS;
import org.junit.jupiter.api.io.TempDir;

/** How calls travel: connections, redirects, cookies, compression and Unix sockets, against servers that look at them. */
class WireTest {
    @TempDir
    private Path folder;

    static Load run(int port, Wire wire, Workload workload, LoadProfile.Single load) {
        return Load.run(new LoadOrder(new Address("127.0.0.1", port, ""), Access.over(wire), workload, load, 1, 1),
                Transport.best());
    }

    private static Workload twoCalls() {
        return new Workload(List.of(), List.of(new Visit("v", 1, List.of(Load.get("a", "/a"), Load.get("b", "/b")))));
    }

    /** Reads a request with its head; empty at the end of the stream. */
    private static String head(InputStream in) throws IOException {
        var head = new StringBuilder();
        for (int b = in.read(); b >= 0; b = in.read()) {
            head.append((char) b);
            if (head.toString().endsWith("\r\n\r\n")) {
                return head.toString();
            }
        }
        return "";
    }

    @Test
    void aNewConnectionIsMadeForEachVisitOrEachCallAsChosen() throws IOException {
        for (Wire.Reuse reuse : Wire.Reuse.values()) {
            var connections = new AtomicInteger();
            try (TestServer server = new TestServer((socket, in) -> {
                connections.incrementAndGet();
                while (TestServer.readRequest(in)) {
                    socket.getOutputStream().write(TestServer.OK);
                }
            })) {
                Load load = run(server.port(), Wire.USUAL.withReuse(reuse), twoCalls(), Load.arrivals(20, 20, 4));
                assertThat(load.figures.good()).isEqualTo(40);
                long made = load.figures.connects().connect().count();
                switch (reuse) {
                    case KEEP -> {
                        assertThat(connections.get()).as("opened before the start").isEqualTo(4);
                        assertThat(made).isZero();
                    }
                    case PER_VISIT -> assertThat(made).isEqualTo(20).isEqualTo(connections.get());
                    case PER_CALL -> assertThat(made).isEqualTo(40).isEqualTo(connections.get());
                }
                assertThat(load.figures.connects().handshake().count()).as("no TLS").isZero();
            }
        }
    }

    /** A server that answers only when it has read four requests: they must be on their way at the same time. */
    @Test
    void requestsAreSentBeforeEarlierOnesAreAnswered() throws IOException {
        var connections = new AtomicInteger();
        try (TestServer server = new TestServer((socket, in) -> {
            connections.incrementAndGet();
            while (true) {
                for (int i = 0; i < 4; i++) {
                    if (!TestServer.readRequest(in)) {
                        return;
                    }
                }
                for (int i = 0; i < 4; i++) {
                    socket.getOutputStream().write(TestServer.OK);
                }
            }
        })) {
            LoadProfile.Single load = Load.closed(4, Duration.ZERO, 2);
            Load sent = run(server.port(), Wire.USUAL.withProtocol(Wire.Protocol.HTTP_1, 4), Load.one("/x"),
                    load.withCourse(load.course().withVisits(50)));
            assertThat(sent.figures.good()).isEqualTo(200);
            assertThat(connections.get()).as("four users on one connection").isEqualTo(1);
        }
    }

    @Test
    void pipelinedAnswersGoToTheirOwnCalls() throws IOException {
        try (TestServer server = new TestServer((socket, in) -> {
            for (String head = head(in); !head.isEmpty(); head = head(in)) {
                String path = head.split(" ")[1];
                String answer = "HTTP/1.1 200 OK\r\nContent-Length: " + path.length() + "\r\n\r\n" + path;
                // in pieces, so that answers run into each other
                socket.getOutputStream().write(answer.substring(0, 9).getBytes(StandardCharsets.US_ASCII));
                socket.getOutputStream().write(answer.substring(9).getBytes(StandardCharsets.US_ASCII));
            }
        })) {
            List<Visit> visits = new ArrayList<>();
            for (String name : List.of("a", "bb", "ccc", "dddd")) {
                visits.add(new Visit(name, 1, List.of(Call.of(name, "GET", "/" + name).expecting(
                        new kadrem.core.study.Expectations(kadrem.core.study.StatusSet.ANY_SUCCESS, Optional.empty(),
                                List.of(new kadrem.core.study.Expectations.Expectation.BodyMatches(
                                        "^/" + name + "$")))))));
            }
            Load load = run(server.port(), Wire.USUAL.withProtocol(Wire.Protocol.HTTP_1, 8),
                    new Workload(List.of(), visits), Load.closed(8, Duration.ZERO, 1));
            assertThat(load.figures.good()).isGreaterThan(100);
            assertThat(load.figures.failedTotal()).as(load.exchanges.toString()).isZero();
        }
    }

    @Test
    void whenASharedConnectionBreaksTheCallsBehindFailAsClosed() throws IOException {
        try (TestServer server = new TestServer((socket, in) -> {
            for (int i = 0; i < 3; i++) {
                TestServer.readRequest(in);
            }
            socket.getOutputStream().write("HTTP/1.1 200 OK\r\nContent-Le".getBytes(StandardCharsets.US_ASCII));
        })) {
            LoadProfile.Single load = Load.closed(3, Duration.ZERO, 20);
            Load sent = run(server.port(), Wire.USUAL.withProtocol(Wire.Protocol.HTTP_1, 3), Load.one("/x"),
                    load.withCourse(load.course().withVisits(4)));
            assertThat(sent.failed(FailureKind.CLOSED)).isEqualTo(12);
        }
    }

    private static TestServer redirecting(Set<String> seen) throws IOException {
        return new TestServer((socket, in) -> {
            for (String head = head(in); !head.isEmpty(); head = head(in)) {
                String[] words = head.split(" ");
                if (head.contains("Content-Length: ")) {
                    in.skipNBytes(Integer.parseInt(head.replaceFirst("(?s).*Content-Length: (\\d+).*", "$1")));
                }
                seen.add(words[0] + " " + words[1]);
                int step = words[1].startsWith("/step") ? Integer.parseInt(words[1].substring(5)) : 0;
                String answer = switch (words[1]) {
                    case "/other" -> "302 Found\r\nLocation: http://board.example/\r\nContent-Length: 0";
                    case "/post" -> "303 See Other\r\nLocation: step2\r\nContent-Length: 0";
                    case "/step3" -> "200 OK\r\nContent-Length: 0";
                    default -> "307 Temporary Redirect\r\nLocation: /step" + (step + 1) + "\r\nContent-Length: 0";
                };
                socket.getOutputStream()
                        .write(("HTTP/1.1 " + answer + "\r\n\r\n").getBytes(StandardCharsets.US_ASCII));
            }
        });
    }

    /** RFC 9110, section 15.4. */
    @Test
    void redirectsAreFollowedAsChosenAndNeverToAnotherHost() throws IOException {
        Set<String> seen = ConcurrentHashMap.newKeySet();
        try (TestServer server = redirecting(seen)) {
            assertThat(run(server.port(), Wire.USUAL, Load.one("/step0"), Load.arrivals(10, 10, 2))
                    .failed(FailureKind.UNEXPECTED_STATUS)).as("not followed by default").isEqualTo(10);
            Load followed = run(server.port(), Wire.USUAL.withRedirects(3), Load.one("/step0"),
                    Load.arrivals(10, 10, 2));
            assertThat(followed.figures.good()).isEqualTo(10);
            assertThat(followed.figures.sent()).as("a redirect is part of its call").isEqualTo(10);
            assertThat(seen).contains("GET /step0", "GET /step1", "GET /step2", "GET /step3");
            Load tooMany = run(server.port(), Wire.USUAL.withRedirects(2), Load.one("/step0"),
                    Load.arrivals(10, 10, 2));
            assertThat(tooMany.failed(FailureKind.REDIRECTS)).isEqualTo(10);
            assertThat(tooMany.exchanges.getFirst().detail()).isEqualTo("more than 2 redirects, the last to /step3");
            Load away = run(server.port(), Wire.USUAL.withRedirects(5), Load.one("/other"), Load.arrivals(10, 10, 2));
            assertThat(away.failed(FailureKind.REDIRECTS)).isEqualTo(10);
            assertThat(away.exchanges.getFirst().detail()).contains("not on this candidate");
            seen.clear();
            var post = new Workload(List.of(), List.of(new Visit("v", 1,
                    List.of(Call.of("p", "POST", "/post").withBody("{}")))));
            assertThat(run(server.port(), Wire.USUAL.withRedirects(5), post, Load.arrivals(10, 10, 2)).figures.good())
                    .isEqualTo(10);
            assertThat(seen).containsExactlyInAnyOrder("POST /post", "GET /step2", "GET /step3");
        }
    }

    @Test
    void eachUserKeepsItsOwnCookies() throws IOException {
        var next = new AtomicInteger();
        Set<String> sent = ConcurrentHashMap.newKeySet();
        try (TestServer server = new TestServer((socket, in) -> {
            for (String head = head(in); !head.isEmpty(); head = head(in)) {
                String cookie = head.lines().filter(line -> line.startsWith("Cookie: ")).findFirst().orElse("");
                String set = cookie.isEmpty()
                        ? "Set-Cookie: sid=" + next.incrementAndGet() + "; Path=/\r\nSet-Cookie: deep=1; Path=/deep\r\n"
                        : "";
                sent.add(cookie);
                socket.getOutputStream().write(("HTTP/1.1 200 OK\r\n" + set + "Content-Length: 0\r\n\r\n")
                        .getBytes(StandardCharsets.US_ASCII));
            }
        })) {
            LoadProfile.Single load = Load.closed(3, Duration.ZERO, 20);
            Load kept = run(server.port(), Wire.USUAL.withCookies(), Load.one("/x"),
                    load.withCourse(load.course().withVisits(5)));
            assertThat(kept.figures.good()).isEqualTo(15);
            assertThat(sent).as("a session for each of three users, and each goes on with its own")
                    .containsExactlyInAnyOrder("", "Cookie: sid=1", "Cookie: sid=2", "Cookie: sid=3");
            assertThat(kept.exchanges).allSatisfy(one -> assertThat(one.request()).doesNotContain("sid="));
        }
    }

    @Test
    void bodiesArePackedAndPackedAnswersAskedForAsChosen() throws IOException {
        List<String> heads = Collections.synchronizedList(new ArrayList<>());
        List<String> bodies = Collections.synchronizedList(new ArrayList<>());
        try (TestServer server = new TestServer((socket, in) -> {
            for (String head = head(in); !head.isEmpty(); head = head(in)) {
                heads.add(head);
                int length = Integer.parseInt(head.replaceFirst("(?s).*Content-Length: (\\d+).*", "$1"));
                bodies.add(new String(new GZIPInputStream(
                        new java.io.ByteArrayInputStream(in.readNBytes(length))).readAllBytes(),
                        StandardCharsets.UTF_8));
                socket.getOutputStream().write(TestServer.OK);
            }
        })) {
            var wire = new Wire(Wire.Protocol.HTTP_1, Wire.Reuse.KEEP, 1, true, List.of("gzip", "br"), true, 0, false,
                    Optional.empty(), 0);
            var post = new Workload(List.of(), List.of(new Visit("v", 1,
                    List.of(Call.of("p", "POST", "/x").withBody("{\"berth\": 7}")))));
            assertThat(run(server.port(), wire, post, Load.arrivals(10, 10, 2)).figures.good()).isEqualTo(10);
            assertThat(bodies).hasSize(10).containsOnly("{\"berth\": 7}");
            assertThat(heads.getFirst()).contains("Content-Encoding: gzip\r\n").contains(
                    "Accept-Encoding: gzip, br\r\n");
        }
    }

    /** W3C: Trace Context, section 3.2: version 00, ids in lower-case hexadecimal and not all zeros, the sampled flag. */
    @Test
    void aShareOfTheCallsCarriesATraceIdThatStandsBesideKeptExchanges() throws IOException {
        List<List<String>> ofRuns = new ArrayList<>();
        for (int i = 0; i < 2; i++) {
            List<String> heads = Collections.synchronizedList(new ArrayList<>());
            try (TestServer server = new TestServer((socket, in) -> {
                for (String head = head(in); !head.isEmpty(); head = head(in)) {
                    heads.add(head);
                    socket.getOutputStream().write(TestServer.OK);
                }
            })) {
                Load load = run(server.port(), Wire.USUAL.withTraced(0.5), twoCalls(), Load.arrivals(100, 100, 1));
                assertThat(load.figures.good()).isEqualTo(200);
                assertThat(load.exchanges).filteredOn(one -> one.traceId().isPresent())
                        .allMatch(one -> heads.stream().anyMatch(head -> head.contains(one.traceId().get())));
                assertThat(load.exchanges).anyMatch(one -> one.traceId().isPresent());
            }
            ofRuns.add(heads);
        }
        List<String> traced = ofRuns.getFirst().stream().filter(head -> head.contains("traceparent")).toList();
        // binomial(200, 0.5): within five standard deviations
        assertThat(traced.size()).isBetween(65, 135);
        assertThat(traced).allMatch(head -> head.matches(
                "(?s).*\r\ntraceparent: 00-(?!0{32})[0-9a-f]{32}-(?!0{16})[0-9a-f]{16}-01\r\n.*"))
                .doesNotHaveDuplicates();
        assertThat(ofRuns.getLast().stream().map(head -> head.contains("traceparent")).toList())
                .as("the same calls in every run").isEqualTo(ofRuns.getFirst().stream()
                        .map(head -> head.contains("traceparent")).toList());
        assertThat(ofRuns.getLast()).as("with other ids").doesNotContainAnyElementsOf(traced);
    }

    @Test
    @DisabledOnOs(OS.WINDOWS)
    void callsGoOverAUnixSocket() throws IOException {
        Path path = folder.resolve("board.sock");
        try (ServerSocketChannel listener = ServerSocketChannel.open(StandardProtocolFamily.UNIX)) {
            listener.bind(UnixDomainSocketAddress.of(path));
            Thread.ofVirtual().start(() -> {
                while (listener.isOpen()) {
                    try {
                        SocketChannel channel = listener.accept();
                        Thread.ofVirtual().start(() -> serve(channel));
                    } catch (IOException _) {
                        return;
                    }
                }
            });
            for (Transport transport : Transport.values()) {
                if (transport == Transport.EPOLL && Transport.best() != Transport.EPOLL) {
                    continue;
                }
                Load load = Load.run(new LoadOrder(new Address("localhost", 80, ""),
                        Access.over(Wire.USUAL.withSocket(path.toString())), Load.one("/x"), Load.arrivals(50, 50, 4),
                        1,
                        1), transport);
                assertThat(load.figures.good()).as(transport.name()).isEqualTo(50);
            }
        }
        Load gone = Load.run(new LoadOrder(new Address("localhost", 80, ""),
                Access.over(Wire.USUAL.withSocket(folder.resolve("nobody.sock").toString())), Load.one("/x"),
                Load.arrivals(10, 10, 1), 1, 1), Transport.best());
        assertThat(gone.figures.failedTotal()).isEqualTo(10);
    }

    private static void serve(SocketChannel channel) {
        try (channel) {
            InputStream in = Channels.newInputStream(channel);
            while (TestServer.readRequest(in)) {
                channel.write(ByteBuffer.wrap(TestServer.OK));
            }
        } catch (IOException _) {
            // the run is over
        }
    }
}
