package kadrem.load.drive;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.net.ConnectException;
import java.net.InetAddress;
import java.net.NoRouteToHostException;
import java.net.PortUnreachableException;
import java.net.Socket;
import java.net.SocketException;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.TimeoutException;
import java.util.stream.Stream;

import javax.net.ssl.SSLHandshakeException;

import io.netty.handler.codec.DecoderException;
import kadrem.core.measure.FailureKind;
import kadrem.fixtures.Ports;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.MethodSource;

/** An exception says the same of a call, whatever the protocol and however deep its cause lies. */
class FailuresTest {
    static Stream<Arguments> failures() {
        return Stream.of(Arguments.of(new SSLHandshakeException("no"), true, FailureKind.TLS),
                Arguments.of(new DecoderException(new SSLHandshakeException("no")), false, FailureKind.TLS),
                Arguments.of(new DecoderException("what is this?"), false, FailureKind.MALFORMED),
                Arguments.of(new TimeoutException(), false, FailureKind.TIMEOUT),
                Arguments.of(new ExecutionException(new ConnectException("Connection refused: /127.0.0.1:1")), true,
                        FailureKind.REFUSED),
                Arguments.of(new PortUnreachableException(), false, FailureKind.REFUSED),
                Arguments.of(new ConnectException("Connection timed out"), true, FailureKind.NO_CONNECTION),
                Arguments.of(new NoRouteToHostException(), true, FailureKind.NO_CONNECTION),
                Arguments.of(new SocketException("Connection reset"), false, FailureKind.RESET),
                Arguments.of(new IOException("Broken pipe"), false, FailureKind.RESET),
                Arguments.of(new IllegalStateException("Kadrem's own"), false, FailureKind.GENERATOR));
    }

    @ParameterizedTest
    @MethodSource("failures")
    void anExceptionHasAKind(Throwable failure, boolean connecting, FailureKind kind) {
        assertThat(Failures.kindOf(failure, connecting)).isEqualTo(kind);
    }

    /** The words of this Java's own exception are those that are looked for. */
    @Test
    void nothingListensIsRefused() throws Exception {
        try (var _ = new Socket(InetAddress.getLoopbackAddress(), Ports.free())) {
            throw new AssertionError("somebody listens");
        } catch (IOException cause) {
            assertThat(Failures.kindOf(cause, true)).isEqualTo(FailureKind.REFUSED);
        }
    }
}
