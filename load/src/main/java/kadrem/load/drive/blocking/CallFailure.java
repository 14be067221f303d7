package kadrem.load.drive.blocking;

import kadrem.core.measure.FailureKind;

/** Why a call is not good. */
public final class CallFailure extends Exception {
    private static final long serialVersionUID = 1L;

    private final FailureKind kind;
    private final int status;

    /**
     * @param status what the candidate answered; 0 where it did not
     * @param detail in words, without secrets
     */
    public CallFailure(FailureKind kind, int status, String detail) {
        super(detail, null, false, false);
        this.kind = kind;
        this.status = status;
    }

    public FailureKind kind() {
        return kind;
    }

    public int status() {
        return status;
    }

    public String detail() {
        return String.valueOf(getMessage());
    }
}
