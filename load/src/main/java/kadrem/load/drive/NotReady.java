package kadrem.load.drive;

import java.io.IOException;

/** A candidate answers its ready probe, and not with success. */
public final class NotReady extends IOException {
    private static final long serialVersionUID = 1L;

    /** @param message what it answered, as in "it answered with status 503" */
    public NotReady(String message) {
        super(message);
    }
}
