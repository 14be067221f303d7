package kadrem.load.drive.http;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.net.StandardSocketOptions;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.zip.GZIPOutputStream;

import kadrem.core.measure.FailureKind;
import kadrem.core.plan.LoadStream;
import kadrem.core.rehearsal.RehearsedCall;
import kadrem.core.study.Access;
import kadrem.core.study.Address;
import kadrem.core.study.Call;
import kadrem.core.study.Capture;
import kadrem.core.study.Expectations;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.SignIn;
import kadrem.core.study.StatusSet;
import kadrem.core.study.Tls;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import kadrem.fixtures.Ports;
import kadrem.load.drive.CallValues;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.Rehearser;
import kadrem.load.drive.Secrets;
import kadrem.load.content.UnusableCall;
import kadrem.load.net.Transport;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;

/** Single exchanges with servers that answer in every way. */
class HttpRehearsalTest {
    private static final Call CALL = Call.of("c", "GET", "/x");
    private ServerSocket listener;

    private interface Answer {
        void on(Socket socket, String head) throws IOException;
    }

    @AfterEach
    void close() throws IOException {
        if (listener != null) {
            listener.close();
        }
    }

    private int serve(Answer answer) throws IOException {
        listener = new ServerSocket(0, 16, InetAddress.getLoopbackAddress());
        Thread.ofVirtual().start(() -> {
            while (!listener.isClosed()) {
                try {
                    Socket socket = listener.accept();
                    Thread.ofVirtual().start(() -> answer(socket, answer));
                } catch (IOException _) {
                    return;
                }
            }
        });
        return listener.getLocalPort();
    }

    private static void answer(Socket socket, Answer answer) {
        try (socket) {
            InputStream in = socket.getInputStream();
            var head = new StringBuilder();
            for (int b = in.read(); b >= 0; b = in.read()) {
                head.append((char) b);
                if (head.toString().endsWith("\r\n\r\n")) {
                    answer.on(socket, head.toString());
                    head.setLength(0);
                }
            }
        } catch (IOException _) {
            // the test is over
        }
    }

    private static void write(Socket socket, String text) throws IOException {
        OutputStream out = socket.getOutputStream();
        out.write(text.getBytes(StandardCharsets.ISO_8859_1));
        out.flush();
    }

    private static String ok(String body) {
        return "HTTP/1.1 200 OK\r\nContent-Type: text/plain\r\nContent-Length: " + body.length() + "\r\n\r\n" + body;
    }

    private static RehearsedCall rehearse(int port, Call call) {
        return rehearse(port, Access.OPEN, call).getFirst();
    }

    private static List<RehearsedCall> rehearse(int port, Access access, Call... calls) {
        var workload = new Workload(List.of(), List.of(new Visit("v", 1, List.of(calls))));
        var load = new LoadProfile.Open(1, LoadProfile.Spacing.CONSTANT, 1, Duration.ZERO, Duration.ofSeconds(1),
                Duration.ofSeconds(20));
        var secrets = new Secrets(Map.of("BERTH_TOKEN", "tok-31415"), Path.of(""));
        try (var driver = new HttpDriver(new DriverOrder(new Address("127.0.0.1", port, ""), access, workload,
                load.timeout(), secrets, Transport.best())); Rehearser rehearser = driver.newRehearser()) {
            var values = new CallValues(new LoadStream(workload, 0, 1).newDraw(), workload.capturedNames().size());
            return java.util.stream.IntStream.range(0, calls.length)
                    .mapToObj(number -> rehearser.call("v", number, values)).toList();
        } catch (UnusableCall cause) {
            throw new AssertionError(cause);
        }
    }

    @Test
    void aGoodExchangeIsKeptWhole() throws IOException {
        int port = serve((socket, _) -> write(socket, ok("hello")));
        RehearsedCall call = rehearse(port, CALL);
        assertThat(call.isGood()).isTrue();
        assertThat(new String(call.body().toArray())).isEqualTo("hello");
        assertThat(call.bytesIn()).isEqualTo(ok("hello").length());
        assertThat(call.headers()).contains(new Call.Header("Content-Length", "5"));
        assertThat(call.sha256()).as("of \"hello\", by sha256sum")
                .isEqualTo("2cf24dba5fb0a30e26e83b2ac5b9e29e1b161e5c1fa7425e73043362938b9824");
        assertThat(call.request()).isEqualTo("GET /x HTTP/1.1\r\nHost: 127.0.0.1:" + port + "\r\n\r\n");
    }

    @Test
    void aChunkedAndCompressedBodyIsUnfolded() throws IOException {
        var packed = new ByteArrayOutputStream();
        try (var out = new GZIPOutputStream(packed)) {
            out.write("hello".getBytes());
        }
        int port = serve((socket, _) -> {
            write(socket, "HTTP/1.1 200 OK\r\nContent-Encoding: gzip\r\nTransfer-Encoding: chunked\r\n\r\n"
                    + Integer.toHexString(packed.size()) + "\r\n");
            socket.getOutputStream().write(packed.toByteArray());
            write(socket, "\r\n0\r\n\r\n");
        });
        RehearsedCall call = rehearse(port, CALL);
        assertThat(new String(call.decoded().toArray())).isEqualTo("hello");
        assertThat(call.body().size()).isEqualTo(packed.size());
    }

    /** RFC 9112, section 9.5: a server may close an idle connection at any time. */
    @Test
    void aKeptConnectionThatTheServerClosedMeanwhileIsOpenedAnew() throws IOException {
        var connections = new java.util.concurrent.atomic.AtomicInteger();
        int port = serve((socket, _) -> {
            connections.incrementAndGet();
            write(socket, ok("hello"));
            // closed without a word in the head, as after an idle time
            socket.close();
        });
        List<RehearsedCall> calls = rehearse(port, Access.OPEN, CALL, CALL, CALL);
        assertThat(calls).allSatisfy(call -> assertThat(call.isGood()).as(call.detail()).isTrue());
        assertThat(connections.get()).isEqualTo(3);
    }

    @Test
    void everyWayToFailHasItsKind() throws IOException {
        int refused = Ports.free();
        assertThat(rehearse(refused, CALL).failure()).hasValue(FailureKind.REFUSED);
        int port = serve((socket, head) -> {
            switch (head.split(" ")[1]) {
                case "/reset" -> {
                    socket.setOption(StandardSocketOptions.SO_LINGER, 0);
                    socket.close();
                }
                case "/half" -> {
                    write(socket, "HTTP/1.1 200 OK\r\nContent-Length: 9\r\n\r\nhal");
                    socket.shutdownOutput();
                }
                case "/garbage" -> write(socket, "what is this?\r\n\r\n");
                case "/status" -> write(socket, "HTTP/1.1 503 Busy\r\nContent-Length: 0\r\n\r\n");
                case "/close" -> {
                    write(socket, "HTTP/1.1 200 OK\r\n\r\nto the end");
                    socket.close();
                }
                default -> {
                    // no answer at all
                }
            }
        });
        assertThat(rehearse(port, Call.of("c", "GET", "/reset")).failure()).hasValue(FailureKind.RESET);
        assertThat(rehearse(port, Call.of("c", "GET", "/half")).failure()).hasValue(FailureKind.CLOSED);
        assertThat(rehearse(port, Call.of("c", "GET", "/garbage")).failure()).hasValue(FailureKind.MALFORMED);
        RehearsedCall status = rehearse(port, Call.of("c", "GET", "/status"));
        assertThat(status.failure()).hasValue(FailureKind.UNEXPECTED_STATUS);
        assertThat(status.detail()).isEqualTo("status 503, and not 2xx");
        RehearsedCall end = rehearse(port, Call.of("c", "GET", "/close"));
        assertThat(end.isGood()).as("a body may end with its connection").isTrue();
        assertThat(new String(end.body().toArray())).isEqualTo("to the end");
        Call silent = new Call("c", "GET", "/silent", List.of(), kadrem.core.study.Body.NONE, Expectations.ANY_SUCCESS,
                List.of(), Optional.of(Duration.ofMillis(100)), Optional.empty());
        assertThat(rehearse(port, silent).failure()).hasValue(FailureKind.TIMEOUT);
    }

    @Test
    void expectationsAndCapturesHoldAsUnderLoad() throws IOException {
        int port = serve((socket, head) -> write(socket, head.startsWith("GET /in ")
                ? ok("{\"token\":\"t-1\"}")
                : ok(head.contains("X-Token: t-1") ? "known" : "unknown")));
        Call in = Call.of("in", "GET", "/in").capturing(new Capture("token", new Capture.Source.Json("$.token")));
        Call use = Call.of("use", "GET", "/use").withHeaders(List.of(new Call.Header("X-Token", "{{token}}")))
                .expecting(new Expectations(StatusSet.ANY_SUCCESS, Optional.empty(),
                        List.of(new Expectations.Expectation.BodyMatches("^known$"))));
        assertThat(rehearse(port, Access.OPEN, in, use)).allSatisfy(call -> assertThat(call.isGood()).isTrue());
        RehearsedCall late = rehearse(port, CALL.expecting(
                new Expectations(StatusSet.ANY_SUCCESS, Optional.of(Duration.ofNanos(1)), List.of())));
        assertThat(late.detail()).startsWith("it took ");
    }

    @Test
    void challengesAreMetAndSecretsMasked() throws IOException {
        int port = serve((socket, head) -> write(socket, head.contains("Authorization: Digest ")
                ? ok("your password is tok-31415")
                : "HTTP/1.1 401 x\r\nWWW-Authenticate: Digest realm=\"b\", nonce=\"n\", qop=\"auth\"\r\n"
                        + "Content-Length: 0\r\n\r\n"));
        var access = new Access(new SignIn.Digest("harbour", "{{env:BERTH_TOKEN}}"), Tls.USUAL);
        RehearsedCall call = rehearse(port, access, CALL).getFirst();
        assertThat(call.isGood()).isTrue();
        assertThat(call.request()).contains("Authorization: (secret)").doesNotContain("response=");
    }
}
