package kadrem.load.wire;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.io.InputStream;
import java.net.ConnectException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.net.SocketTimeoutException;
import java.time.Duration;
import java.util.OptionalLong;
import java.util.Random;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;

import kadrem.core.study.Address;
import kadrem.core.study.RoughWire;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

/**
 * What a rough wire does to connections, bytes and their order. How near it comes to the delay and the rate that were asked for depends on the
 * machine, and is measured by {@link RelayAccuracyBenchmark}.
 */
@Timeout(value = 60, unit = TimeUnit.SECONDS)
class RelayTest {
    private static final long KIB = 1024;

    static RoughWire delayed(int delayMillis, int jitterMillis) {
        return new RoughWire(Duration.ofMillis(delayMillis), Duration.ofMillis(jitterMillis), OptionalLong.empty(), 0,
                0, 0);
    }

    private static RoughWire losing(double cut, double refused, double halfOpen) {
        return new RoughWire(Duration.ZERO, Duration.ZERO, OptionalLong.empty(), cut, refused, halfOpen);
    }

    static Socket to(Relay relay) throws IOException {
        return new Socket(InetAddress.getLoopbackAddress(), relay.port());
    }

    interface Doing {
        void run() throws IOException;
    }

    static Void unchecked(Doing doing) {
        try {
            doing.run();
            return null;
        } catch (IOException cause) {
            throw new AssertionError(cause);
        }
    }

    @Test
    void noAnswerComesBeforeItsDelayAndOrderStays() throws Exception {
        try (var echo = new Echo();
                Relay relay = Relay.on(0, echo.address(), delayed(20, 10), 1);
                Socket socket = to(relay)) {
            socket.setTcpNoDelay(true);
            for (int i = 0; i < 20; i++) {
                long begun = System.nanoTime();
                socket.getOutputStream().write(i);
                assertThat(socket.getInputStream().read()).isEqualTo(i);
                assertThat((System.nanoTime() - begun) / 1e6).isGreaterThanOrEqualTo(20);
            }
            CompletableFuture<Void> sent = CompletableFuture.runAsync(() -> unchecked(() -> {
                for (int i = 0; i < 200; i++) {
                    socket.getOutputStream().write(i);
                    Thread.yield();
                }
            }), run -> Thread.ofVirtual().start(run));
            for (int i = 0; i < 200; i++) {
                assertThat(socket.getInputStream().read()).isEqualTo(i);
            }
            sent.join();
        }
    }

    @Test
    void nothingComesFasterThanTheRate() throws Exception {
        long rate = 512 * KIB;
        var wire = new RoughWire(Duration.ZERO, Duration.ZERO, OptionalLong.of(rate), 0, 0, 0);
        try (var echo = new Echo(); Relay relay = Relay.on(0, echo.address(), wire, 1); Socket socket = to(relay)) {
            var sent = new byte[(int) (256 * KIB)];
            long begun = System.nanoTime();
            CompletableFuture<Void> writing = CompletableFuture.runAsync(() -> unchecked(() -> {
                socket.getOutputStream().write(sent);
                socket.shutdownOutput();
            }), run -> Thread.ofVirtual().start(run));
            assertThat(socket.getInputStream().readAllBytes()).hasSize(sent.length);
            assertThat((System.nanoTime() - begun) / 1e9).isGreaterThanOrEqualTo(0.5);
            writing.join();
        }
    }

    /** What connections come to that are made one after the other. */
    private static int[] outcomes(Relay relay, int connections) throws IOException {
        var outcomes = new int[3];
        for (int i = 0; i < connections; i++) {
            try (Socket socket = to(relay)) {
                socket.setSoTimeout(2000);
                socket.getOutputStream().write(7);
                outcomes[socket.getInputStream().read() == 7 ? 0 : 1]++;
            } catch (SocketTimeoutException _) {
                outcomes[2]++;
            } catch (IOException _) {
                outcomes[1]++;
            }
        }
        return outcomes;
    }

    /** Clopper-Pearson intervals at 99 % hold the shares that were asked for. */
    @Test
    void sharesOfConnectionsAreLost() throws Exception {
        int all = 300;
        try (var echo = new Echo(); Relay relay = Relay.on(0, echo.address(), losing(0.1, 0.05, 0.02), 42)) {
            int[] outcomes = outcomes(relay, all);
            Relay.Counts counts = relay.counts();
            assertThat(counts.taken()).isEqualTo(all);
            assertThat(outcomes[1] + outcomes[2])
                    .isEqualTo((int) (counts.cut() + counts.refused() + counts.halfOpen()));
            holds(counts.cut(), all, 0.1);
            holds(counts.refused(), all, 0.05);
            holds(counts.halfOpen(), all, 0.02);
        }
        // the same seed, the same connections
        try (var echo = new Echo(); Relay again = Relay.on(0, echo.address(), losing(0.1, 0.05, 0), 42)) {
            outcomes(again, 100);
            long first = again.counts().cut();
            try (Relay third = Relay.on(0, echo.address(), losing(0.1, 0.05, 0), 42)) {
                outcomes(third, 100);
                assertThat(third.counts().cut()).isEqualTo(first);
            }
        }
    }

    private static void holds(long count, int of, double share) {
        var interval = org.apache.commons.statistics.interval.BinomialConfidenceInterval.CLOPPER_PEARSON.fromErrorRate(
                of,
                (int) count, 0.01);
        assertThat(share).isBetween(interval.getLowerBound(), interval.getUpperBound());
    }

    @Test
    void whereAllAreRefusedNobodyListens() throws Exception {
        try (var echo = new Echo(); Relay relay = Relay.on(0, echo.address(), losing(0, 1, 0), 1)) {
            assertThatThrownBy(() -> to(relay)).isInstanceOf(ConnectException.class);
        }
    }

    @Test
    void whatIsLargeArrivesWholeAlsoThroughAConnectionThatIsHalfClosed() throws Exception {
        var sent = new byte[(int) (20 * KIB * KIB)];
        new Random(1).nextBytes(sent);
        try (var echo = new Echo();
                Relay relay = Relay.on(0, echo.address(), delayed(2, 1), 1);
                Socket socket = to(relay)) {
            CompletableFuture<Void> writing = CompletableFuture.runAsync(() -> unchecked(() -> {
                socket.getOutputStream().write(sent);
                socket.shutdownOutput();
            }), run -> Thread.ofVirtual().start(run));
            InputStream in = socket.getInputStream();
            assertThat(in.readAllBytes()).isEqualTo(sent);
            writing.join();
        }
    }

    @Test
    void whereNobodyAnswersTheConnectionIsReset() throws Exception {
        int nobody;
        try (var free = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
            nobody = free.getLocalPort();
        }
        try (Relay relay = Relay.on(0, new Address("127.0.0.1", nobody, ""), RoughWire.SMOOTH, 1);
                Socket socket = to(relay)) {
            socket.setSoTimeout(5000);
            assertThatThrownBy(() -> {
                if (socket.getInputStream().read() < 0) {
                    throw new IOException("closed");
                }
            }).isInstanceOf(IOException.class).isNotInstanceOf(SocketTimeoutException.class);
            assertThat(relay.counts().unreachable()).isEqualTo(1);
        }
    }

    @Test
    void itsOwnDelayIsMeasured() throws Exception {
        assertThat(Relay.ownDelay()).isPositive().isLessThan(Duration.ofSeconds(1));
    }

    @Test
    void aPortThatIsTakenIsTold() throws Exception {
        try (var taken = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
            assertThatThrownBy(
                    () -> Relay.on(taken.getLocalPort(), new Address("127.0.0.1", 1, ""), RoughWire.SMOOTH, 1))
                    .isInstanceOf(IllegalStateException.class).hasMessageContaining("in use");
        }
    }
}
