package kadrem.load.drive.grpc;

import java.io.IOException;
import java.net.ConnectException;

import javax.net.ssl.SSLException;

import io.grpc.Status;
import kadrem.core.measure.FailureKind;

/** Status codes as numbers of answers, and what they say of a failure. */
final class GrpcStatus {
    /** Added to a code, so that OK is no 0, which stands for no answer. Source of the codes: gRPC, statuscodes.md. */
    private static final int OFFSET = 1000;

    private GrpcStatus() {
    }

    static int number(Status status) {
        return OFFSET + status.getCode().value();
    }

    static String word(int number) {
        return number < OFFSET ? "" : Status.fromCodeValue(number - OFFSET).getCode().name();
    }

    /** The kind of a failure whose status is not an expected one. */
    static FailureKind kind(Status status) {
        Throwable cause = status.getCause();
        if (status.getCode() == Status.Code.UNAVAILABLE && cause != null) {
            for (Throwable one = cause; one != null; one = one.getCause()) {
                if (one instanceof SSLException) {
                    return FailureKind.TLS;
                }
                if (one instanceof ConnectException) {
                    return String.valueOf(one.getMessage()).contains("refused")
                            ? FailureKind.REFUSED
                            : FailureKind.NO_CONNECTION;
                }
            }
            return cause instanceof IOException ? FailureKind.RESET : FailureKind.CLOSED;
        }
        return FailureKind.UNEXPECTED_STATUS;
    }
}
