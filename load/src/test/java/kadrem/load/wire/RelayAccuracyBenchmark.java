package kadrem.load.wire;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.time.Duration;
import java.util.Arrays;
import java.util.OptionalLong;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicLong;

import kadrem.core.study.Address;
import kadrem.core.study.RoughWire;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.condition.EnabledIfSystemProperty;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** How near a rough wire comes to what was asked of it: docs/proof.md has the figures. To be run while the machine is at rest. */
@EnabledIfSystemProperty(named = "kadrem.benchmark.wire", matches = "true")
class RelayAccuracyBenchmark {
    private static final long KIB = 1024;

    @ParameterizedTest
    @ValueSource(ints = {5, 20, 60})
    void anAnswerComesLaterByTwiceTheDelay(int millis) throws Exception {
        try (var echo = new Echo();
                Relay smooth = Relay.on(0, echo.address(), RoughWire.SMOOTH, 1);
                Relay rough = Relay.on(0, echo.address(), RelayTest.delayed(millis, 0), 1)) {
            // both between rests, from which a thread has to be woken
            double later = rested(rough) - rested(smooth);
            System.out.printf("%d ms each way: an answer comes %.2f ms later, by itself %.3f ms%n", millis, later,
                    rested(smooth));
            assertThat(later).isCloseTo(2.0 * millis, within(2.0 * millis * 0.05));
        }
    }

    /** The median of milliseconds that a byte and its echo take, each after a rest. */
    private static double rested(Relay relay) throws Exception {
        Echo.median(relay.port(), 10);
        var took = new double[40];
        try (Socket socket = RelayTest.to(relay)) {
            socket.setTcpNoDelay(true);
            for (int i = 0; i < took.length; i++) {
                TimeUnit.MILLISECONDS.sleep(10);
                long begun = System.nanoTime();
                socket.getOutputStream().write(i);
                assertThat(socket.getInputStream().read()).isEqualTo(i);
                took[i] = (System.nanoTime() - begun) / 1e6;
            }
        }
        Arrays.sort(took);
        return took[took.length / 2];
    }

    @Test
    void jitterIsEven() throws Exception {
        try (var echo = new Echo();
                Relay relay = Relay.on(0, echo.address(), RelayTest.delayed(20, 10), 1);
                Socket socket = RelayTest.to(relay)) {
            socket.setTcpNoDelay(true);
            Echo.median(relay.port(), 10);
            var took = new double[100];
            for (int i = 0; i < took.length; i++) {
                long begun = System.nanoTime();
                socket.getOutputStream().write(i);
                assertThat(socket.getInputStream().read()).isEqualTo(i);
                took[i] = (System.nanoTime() - begun) / 1e6;
            }
            Arrays.sort(took);
            assertThat(took[0]).isGreaterThanOrEqualTo(20);
            // the sum of two even ones is a triangle from 20 to 60 ms: its quartiles lie 5.9 ms from its median, of which the
            // standard error is 1.0 with a hundred of them
            System.out.printf("20 ms, even by 10: median %.2f ms, quartiles %.2f and %.2f%n", took[50], took[25],
                    took[75]);
            assertThat(took[50]).isCloseTo(40, within(40 * 0.05 + 3 * 1.0));
            assertThat(took[75] - took[25]).isBetween(11.7 * 0.6, 11.7 * 1.4);
        }
    }

    @Test
    void theRateIsThatOfAllConnectionsTogether() throws Exception {
        long rate = 512 * KIB;
        var wire = new RoughWire(Duration.ZERO, Duration.ZERO, OptionalLong.of(rate), 0, 0, 0);
        try (var target = new ServerSocket(0, 16, InetAddress.getLoopbackAddress());
                Relay relay = Relay.on(0, new Address("127.0.0.1", target.getLocalPort(), ""), wire, 1);
                Socket one = RelayTest.to(relay);
                Socket other = RelayTest.to(relay)) {
            var bytes = new byte[(int) (512 * KIB)];
            Socket[] ends = {target.accept(), target.accept()};
            // what is compiled and loaded first is no matter of the wire
            for (int i = 0; i < 100; i++) {
                one.getOutputStream().write(1);
                assertThat(ends[0].getInputStream().read()).isEqualTo(1);
            }
            CompletableFuture<?>[] all = new CompletableFuture<?>[4];
            var first = new AtomicLong(Long.MAX_VALUE);
            for (int i = 0; i < 2; i++) {
                Socket from = i == 0 ? one : other;
                Socket to = ends[i];
                all[i] = CompletableFuture.runAsync(() -> RelayTest.unchecked(() -> {
                    from.getOutputStream().write(bytes);
                    from.shutdownOutput();
                }), run -> Thread.ofVirtual().start(run));
                all[2 + i] = CompletableFuture.supplyAsync(() -> RelayTest.unchecked(() -> {
                    assertThat(to.getInputStream().read()).isZero();
                    first.accumulateAndGet(System.nanoTime(), Math::min);
                    assertThat(to.getInputStream().readAllBytes()).hasSize(bytes.length - 1);
                }), run -> Thread.ofVirtual().start(run));
            }
            CompletableFuture.allOf(all).join();
            double seconds = (System.nanoTime() - first.get()) / 1e9;
            System.out.printf("%d bytes/s asked, %.0f came%n", rate, 2.0 * bytes.length / seconds);
            assertThat(2.0 * bytes.length / seconds).isCloseTo(rate, within(rate * 0.05));
        }
    }
}
