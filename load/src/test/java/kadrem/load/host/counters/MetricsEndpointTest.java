package kadrem.load.host.counters;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.util.List;

import kadrem.core.study.WatchSource;
import kadrem.load.host.SourceFailure;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

/** Endpoints that do not end their answers. */
@Timeout(60)
class MetricsEndpointTest {
    private static final String HEAD = "HTTP/1.1 200 OK\r\nContent-Type: text/plain\r\n\r\n";

    private interface Body {
        void to(OutputStream out) throws IOException, InterruptedException;
    }

    private static void refused(Body body, String why) throws Exception {
        try (var listener = new ServerSocket(0, 8, InetAddress.getLoopbackAddress())) {
            Thread.ofVirtual().start(() -> {
                try (Socket socket = listener.accept()) {
                    socket.getInputStream().read(new byte[4096]);
                    socket.getOutputStream().write(HEAD.getBytes(StandardCharsets.US_ASCII));
                    body.to(socket.getOutputStream());
                } catch (IOException | InterruptedException _) {
                    // the peer has enough
                }
            });
            try (MetricsEndpoint endpoint = MetricsEndpoint.open(new WatchSource.MetricsEndpoint("m",
                    "http://127.0.0.1:" + listener.getLocalPort() + "/metrics",
                    List.of(new WatchSource.MetricsEndpoint.Choice("berths", "", "custom"))))) {
                long begun = System.nanoTime();
                assertThatThrownBy(endpoint::read).isInstanceOf(SourceFailure.class).hasMessageContaining(why);
                assertThat((System.nanoTime() - begun) / 1e9).isLessThan(20);
            }
        }
    }

    @Test
    void anAnswerThatDripsIsGivenUpInTime() throws Exception {
        refused(out -> {
            while (true) {
                out.write('#');
                out.flush();
                Thread.sleep(50);
            }
        }, "did not answer whole within 5 s");
    }

    @Test
    void anAnswerThatFloodsIsGivenUpBySize() throws Exception {
        refused(out -> {
            while (true) {
                out.write(new byte[1 << 16]);
            }
        }, "does not answer");
    }
}
