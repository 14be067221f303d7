package kadrem.load.drive;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;

import kadrem.core.measure.FailureKind;
import kadrem.core.rehearsal.RehearsedCall;
import kadrem.core.study.Access;
import kadrem.core.study.Call;
import kadrem.core.study.Form;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import kadrem.load.engine.Load;
import kadrem.load.engine.LoadOrder;
import kadrem.load.net.Transport;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.api.parallel.Isolated;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.MethodSource;

/** Peers that begin an answer and never end it: each call is given up in time, and all of them together take no more than there is room for. */
@Isolated
@Timeout(120)
class EndlessPeersTest {
    private static final int USERS = 32;
    private static final Duration LIMIT = Duration.ofSeconds(8);

    @TempDir
    private Path folder;

    /** Sends a beginning and then one byte without end. */
    private static ServerSocket flooding(String beginning, char without) throws IOException {
        var listener = new ServerSocket(0, 128, InetAddress.getLoopbackAddress());
        byte[] chunk = Character.toString(without).repeat(1 << 16).getBytes(StandardCharsets.US_ASCII);
        Thread.ofVirtual().start(() -> {
            while (!listener.isClosed()) {
                try {
                    Socket socket = listener.accept();
                    Thread.ofVirtual().start(() -> {
                        try (socket; OutputStream out = socket.getOutputStream()) {
                            socket.getInputStream().read();
                            out.write(beginning.getBytes(StandardCharsets.US_ASCII));
                            while (true) {
                                out.write(chunk);
                            }
                        } catch (IOException _) {
                            // the peer has enough
                        }
                    });
                } catch (IOException _) {
                    return;
                }
            }
        });
        return listener;
    }

    static Stream<Arguments> floods() {
        return Stream.of(
                Arguments.of("bytes", "tcp", "", Map.of("send", List.of("tide"), "until", List.of("\\n"))),
                Arguments.of("resp", "redis", "$400000000\r\n", Map.of("commands", List.of("GET berth"))),
                Arguments.of("events", "http",
                        "HTTP/1.1 200 OK\r\nContent-Type: text/event-stream\r\n\r\ndata: ",
                        Map.of("path", List.of("/live"))));
    }

    private static Workload workload(String protocol, Map<String, List<String>> form) {
        Call call = Call.of("flooded", "", "").with(Form.of(protocol, form)).in(protocol);
        return new Workload(List.of(), List.of(new Visit("v", 1, List.of(call))));
    }

    @ParameterizedTest
    @MethodSource("floods")
    void aLoadEndsInTime(String protocol, String scheme, String beginning, Map<String, List<String>> form)
            throws Exception {
        try (ServerSocket server = flooding(beginning, 'x')) {
            LoadProfile load = new LoadProfile.Closed(USERS, Duration.ZERO, Duration.ZERO, Duration.ofSeconds(4),
                    LIMIT);
            Load made = Load.run(new LoadOrder(
                    Rehearsed.address(protocol, scheme + "://127.0.0.1:" + server.getLocalPort()), Access.OPEN,
                    workload(protocol, form), load, 7, 1), Transport.best());
            assertThat(made.figures.good()).isZero();
            assertThat(made.failed(FailureKind.MALFORMED)).as("%s", made.figures.failed()).isPositive();
            assertThat(made.exchanges).anyMatch(one -> one.detail().contains("the answer does not end"));
        }
    }

    @ParameterizedTest
    @MethodSource("floods")
    void aRehearsalEndsInTime(String protocol, String scheme, String beginning, Map<String, List<String>> form)
            throws Exception {
        try (ServerSocket server = flooding(beginning, 'x')) {
            RehearsedCall made = Rehearsed.all(Rehearsed.order(
                    Rehearsed.address(protocol, scheme + "://127.0.0.1:" + server.getLocalPort()), Access.OPEN,
                    workload(protocol, form), folder)).getFirst();
            assertThat(made.failure()).hasValue(FailureKind.MALFORMED);
            assertThat(made.detail()).contains("the answer does not end");
        }
    }

    /** Kafka's own client takes the first bytes of whatever answers for a length: here it is more than a gigabyte. */
    @Test
    void whatIsNoBrokerIsNotMadeRoomFor() throws Exception {
        try (ServerSocket server = flooding("HTTP/1.1 400 Bad Request\r\n\r\n", 'x')) {
            RehearsedCall made = Rehearsed.all(Rehearsed.order(
                    Rehearsed.address("kafka", "kafka://127.0.0.1:" + server.getLocalPort()), Access.OPEN,
                    workload("kafka", Map.of("topic", List.of("arrivals"), "payload", List.of("x"))), folder))
                    .getFirst();
            assertThat(made.detail()).contains("is no broker of Kafka's protocol");
        }
    }

    @Test
    void roomThatIsGivenBackIsThereAgain() {
        var room = new AnswerRoom();
        for (int i = 0; i < 100; i++) {
            assertThat(room.take(AnswerRoom.MOST_OF_ONE)).isTrue();
            assertThat(room.take(1)).as("one answer has a bound").isFalse();
            room.release();
        }
    }
}
