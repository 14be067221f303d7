package kadrem.load.drive;

import java.io.IOException;
import java.net.ConnectException;
import java.net.PortUnreachableException;
import java.util.concurrent.TimeoutException;

import javax.net.ssl.SSLException;

import io.netty.handler.codec.CodecException;
import kadrem.core.measure.FailureKind;
import org.jspecify.annotations.Nullable;

/** What an exception of a connection says about a call, the same for every protocol. */
public final class Failures {
    private Failures() {
    }

    /**
     * The kind of a failure, by the exception or one that it was caused by.
     *
     * @param connecting whether there was no connection yet
     * @return {@link FailureKind#GENERATOR} for what no wire and no candidate can bring about
     */
    public static FailureKind kindOf(@Nullable Throwable failure, boolean connecting) {
        if (has(failure, SSLException.class)) {
            return FailureKind.TLS;
        }
        if (has(failure, TimeoutException.class)) {
            return FailureKind.TIMEOUT;
        }
        if (isRefused(failure)) {
            return FailureKind.REFUSED;
        }
        if (connecting || has(failure, ConnectException.class)) {
            return FailureKind.NO_CONNECTION;
        }
        return has(failure, CodecException.class)
                ? FailureKind.MALFORMED
                : has(failure, IOException.class) ? FailureKind.RESET : FailureKind.GENERATOR;
    }

    /** Nothing listens there, as TCP says by a reset and UDP by an ICMP message. */
    private static boolean isRefused(@Nullable Throwable failure) {
        for (Throwable one = failure; one != null; one = one.getCause()) {
            if (one instanceof PortUnreachableException
                    || one instanceof ConnectException && String.valueOf(one.getMessage()).contains("refused")) {
                return true;
            }
        }
        return false;
    }

    private static boolean has(@Nullable Throwable failure, Class<? extends Throwable> kind) {
        for (Throwable one = failure; one != null; one = one.getCause()) {
            if (kind.isInstance(one)) {
                return true;
            }
        }
        return false;
    }
}
