package kadrem.load.drive.grpc;

import io.grpc.Status;
import kadrem.core.measure.FailureKind;
import kadrem.load.drive.Failures;

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
            FailureKind kind = Failures.kindOf(cause, false);
            return kind == FailureKind.GENERATOR ? FailureKind.CLOSED : kind;
        }
        return FailureKind.UNEXPECTED_STATUS;
    }
}
