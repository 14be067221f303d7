package kadrem.load.engine;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.OutputStream;
import java.net.StandardSocketOptions;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.List;
import java.util.Optional;

import kadrem.core.measure.FailureKind;
import kadrem.core.study.Call;
import kadrem.core.study.Expectations;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.StatusSet;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Answers that go wrong on the wire, to calls whose bodies are looked into: the right kind is counted, the run ends. */
class WireFaultsTest {
    static final int CALLS = 20;

    /** A call that expects its body to hold "free". */
    static Workload looking() {
        Call call = Call.of("call", "GET", "/x").expecting(new Expectations(StatusSet.ANY_SUCCESS, Optional.empty(),
                List.of(new Expectations.Expectation.BodyHolds("free"))));
        return new Workload(List.of(), List.of(new Visit("v", 1, List.of(call))));
    }

    private static LoadProfile load(Duration timeout) {
        return new LoadProfile.Open(CALLS, LoadProfile.Spacing.CONSTANT, 32, Duration.ZERO, Duration.ofSeconds(1),
                timeout);
    }

    static Load run(TestServer server, Duration timeout) {
        return Load.run(server.port(), looking(), load(timeout), 1, 1);
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', quoteCharacter = '`', value = {
            "HTTP/1.1 200 OK~Transfer-Encoding: chunked~~4~free~0~~ | ",
            "HTTP/1.1 200 OK~Transfer-Encoding: chunked~~2~fr~2~ee~0~~ | ",
            "HTTP/1.1 200 OK~Content-Length: 4~~free | ",
            "HTTP/1.1 200 OK~Content-Length: 4~~busy | failed-expectation",
            "HTTP/1.1 200 OK~Transfer-Encoding: chunked~~zz~free~0~~ | malformed",
            "HTTP/1.1 200 OK~Content-Length: 3~~free | malformed",
            "HTTP/1.1 200 OK~Content-Length: 4~Content-Encoding: gzip~~free | failed-expectation",
            "HTTP/1.1 204 No Content~~ | failed-expectation",
            "HTTP/1.1 500 x~Content-Length: 4~~free | unexpected-status"})
    void everyAnswerHasItsKind(String answer, String kind) throws IOException {
        try (TestServer server = TestServer.answering(answer.replace("~", "\r\n"))) {
            Load load = run(server, Load.PATIENT);
            assertThat(kind == null ? load.figures.good() : load.failed(FailureKind.byId(kind))).isEqualTo(CALLS);
        }
    }

    @Test
    void aBodyThatDripsIsGivenUpInTime() throws IOException {
        try (TestServer server = new TestServer((socket, in) -> {
            TestServer.readRequest(in);
            OutputStream out = socket.getOutputStream();
            out.write("HTTP/1.1 200 OK\r\nContent-Length: 100000\r\n\r\n".getBytes(StandardCharsets.US_ASCII));
            for (int i = 0; i < 100_000; i++) {
                out.write('x');
                out.flush();
                Thread.sleep(20);
            }
        })) {
            long begun = System.nanoTime();
            assertThat(run(server, Duration.ofMillis(300)).failed(FailureKind.TIMEOUT)).isEqualTo(CALLS);
            assertThat(Duration.ofNanos(System.nanoTime() - begun)).isLessThan(Duration.ofSeconds(20));
        }
    }

    /** An endless body is cut off by the time limit, and no more of it is kept than is looked into. */
    @Test
    void aBodyWithoutEndIsGivenUpInTime() throws IOException {
        var chunk = new byte[16 * 1024];
        try (TestServer server = new TestServer((socket, in) -> {
            TestServer.readRequest(in);
            OutputStream out = socket.getOutputStream();
            out.write("HTTP/1.1 200 OK\r\n\r\n".getBytes(StandardCharsets.US_ASCII));
            while (true) {
                out.write(chunk);
                Thread.sleep(1);
            }
        })) {
            assertThat(run(server, Duration.ofMillis(300)).failed(FailureKind.TIMEOUT)).isEqualTo(CALLS);
        }
    }

    @Test
    void aHeadWithoutEndIsMalformed() throws IOException {
        byte[] line = ("X-Long: " + "y".repeat(4000) + "\r\n").getBytes(StandardCharsets.US_ASCII);
        try (TestServer server = new TestServer((socket, in) -> {
            TestServer.readRequest(in);
            OutputStream out = socket.getOutputStream();
            out.write("HTTP/1.1 200 OK\r\n".getBytes(StandardCharsets.US_ASCII));
            for (int i = 0; i < 100; i++) {
                out.write(line);
            }
        })) {
            assertThat(run(server, Load.PATIENT).failed(FailureKind.MALFORMED)).isEqualTo(CALLS);
        }
    }

    /** The connection breaks in the head, in the body, or is half-closed: the server sends no more but still reads. */
    @ParameterizedTest
    @CsvSource(delimiter = '|', quoteCharacter = '`', value = {"HTTP/1.1 200 OK~Conte | true | reset",
            "HTTP/1.1 200 OK~Content-Length: 4000~~fre | true | reset", "`` | false | closed",
            "HTTP/1.1 200 OK~Conte | false | closed", "HTTP/1.1 200 OK~Content-Length: 4~~fre | false | closed"})
    void aBrokenConnectionHasItsKind(String answer, boolean reset, String kind) throws IOException {
        byte[] bytes = answer.replace("~", "\r\n").getBytes(StandardCharsets.US_ASCII);
        try (TestServer server = new TestServer((socket, in) -> {
            TestServer.readRequest(in);
            socket.getOutputStream().write(bytes);
            if (reset) {
                // what was written is on its way before the reset
                Thread.sleep(20);
                socket.setOption(StandardSocketOptions.SO_LINGER, 0);
                socket.close();
            } else {
                socket.shutdownOutput();
                while (in.read() >= 0) {
                    // still reads what comes
                }
            }
        })) {
            Load load = run(server, Load.PATIENT);
            assertThat(load.failed(FailureKind.byId(kind))).isEqualTo(CALLS);
        }
    }
}
