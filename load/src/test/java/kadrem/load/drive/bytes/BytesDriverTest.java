package kadrem.load.drive.bytes;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.net.DatagramPacket;
import java.net.DatagramSocket;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.List;

import kadrem.core.measure.FailureKind;
import kadrem.core.rehearsal.RehearsedCall;
import kadrem.core.study.Access;
import kadrem.core.study.Call;
import kadrem.core.study.ValueList;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import kadrem.load.drive.Rehearsed;
import kadrem.load.engine.Load;
import kadrem.load.engine.LoadOrder;
import kadrem.load.net.Transport;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Echoes over TCP (RFC 862) and UDP, by servers of the test's own. */
class BytesDriverTest {
    @TempDir
    Path folder;

    private static Call call(String... fields) {
        return Rehearsed.call("bytes", "c", fields);
    }

    private RehearsedCall one(String address, Call call) throws Exception {
        return Rehearsed.all(Rehearsed.order(Rehearsed.address("bytes", address), Access.OPEN,
                Rehearsed.workload(call), folder)).getFirst();
    }

    /** Sends back what comes. */
    private static ServerSocket echo() throws IOException {
        var server = new ServerSocket(0, 50, InetAddress.getLoopbackAddress());
        Thread.ofVirtual().start(() -> {
            try {
                while (true) {
                    Socket client = server.accept();
                    Thread.ofVirtual().start(() -> {
                        try (client) {
                            client.getInputStream().transferTo(client.getOutputStream());
                        } catch (IOException _) {
                            // the client is gone
                        }
                    });
                }
            } catch (IOException _) {
                // closed
            }
        });
        return server;
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', value = {"TIDE north\\n | text | \\n | TIDE north", "abcdef | text | 6 | abcdef",
            "abc;def; | text | /def;/ | abc;def;", "54 49 0a | hex | \\n | TI", "a\\x42\\tc. | text | . | aB\tc."})
    void anAnswerEndsAsTheCallSays(String send, String as, String until, String answer) throws Exception {
        try (ServerSocket server = echo()) {
            RehearsedCall made = one("tcp://127.0.0.1:" + server.getLocalPort(),
                    call("send", send, "as", as, "until", until));
            assertThat(made.failure()).as(made.detail()).isEmpty();
            assertThat(Rehearsed.body(made).strip()).isEqualTo(answer);
        }
    }

    @Test
    void everyArrivalOfALoadIsEchoed() throws Exception {
        try (ServerSocket server = echo()) {
            var workload = new Workload(List.of(new ValueList.NumberRange("berth", 1, 2400)),
                    List.of(new Visit("v", 1, List.of(call("send", "berth {{berth}}\\n")))));
            Load load = Load.run(new LoadOrder(
                    Rehearsed.address("bytes", "tcp://127.0.0.1:" + server.getLocalPort()), Access.OPEN, workload,
                    Load.arrivals(200, 200, 4), 7, 1), Transport.best());
            assertThat(load.figures.failedTotal()).as("%s", load.exchanges).isZero();
            assertThat(load.figures.bytesIn()).isEqualTo(load.figures.bytesOut()).isGreaterThan(200 * 8);
        }
    }

    @Test
    void datagramsAreAnsweredByDatagrams() throws Exception {
        try (var server = new DatagramSocket(0, InetAddress.getLoopbackAddress())) {
            Thread.ofVirtual().start(() -> {
                try {
                    while (true) {
                        var packet = new DatagramPacket(new byte[2000], 2000);
                        server.receive(packet);
                        server.send(new DatagramPacket("1.2 m".getBytes(StandardCharsets.US_ASCII), 5,
                                packet.getSocketAddress()));
                    }
                } catch (IOException _) {
                    // closed
                }
            });
            RehearsedCall made = one("udp://127.0.0.1:" + server.getLocalPort(), call("send", "tide"));
            assertThat(Rehearsed.body(made)).as(made.detail()).isEqualTo("1.2 m");
        }
    }

    @Test
    void aConnectionThatEndsTooSoonIsAFailureOrTheEndOfTheAnswer() throws Exception {
        try (var server = new ServerSocket(0, 5, InetAddress.getLoopbackAddress())) {
            Thread.ofVirtual().start(() -> {
                try {
                    while (true) {
                        try (Socket client = server.accept()) {
                            client.getInputStream().read();
                            client.getOutputStream().write("half".getBytes(StandardCharsets.US_ASCII));
                            client.shutdownOutput();
                            client.getInputStream().readAllBytes();
                        }
                    }
                } catch (IOException _) {
                    // closed
                }
            });
            String address = "tcp://127.0.0.1:" + server.getLocalPort();
            assertThat(one(address, call("send", "x")).failure()).contains(FailureKind.CLOSED);
            assertThat(Rehearsed.body(one(address, call("send", "x", "until", "close")))).isEqualTo("half");
        }
        int port;
        try (var server = new ServerSocket(0, 5, InetAddress.getLoopbackAddress())) {
            port = server.getLocalPort();
        }
        assertThat(one("tcp://127.0.0.1:" + port, call("send", "x")).failure()).contains(FailureKind.REFUSED);
    }

    @Test
    void whatCannotBeReadIsRefused() {
        assertThatThrownBy(() -> Ending.of("/[/")).hasMessageContaining("pattern that cannot be read");
        assertThat(new BytesProtocol().objection(call("send", "zz", "as", "hex").form("bytes").orElseThrow()))
                .isPresent();
        assertThat(new BytesProtocol().address("tcp://127.0.0.1")).as("without a port").isEmpty();
        assertThat(Ending.unescaped("a\\n\\x00\\\\".getBytes(StandardCharsets.US_ASCII))).containsExactly('a', '\n', 0,
                '\\');
    }
}
