package kadrem.load.drive.blocking;

import java.time.Duration;
import java.util.Arrays;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;

import kadrem.core.measure.FailureKind;

/**
 * Waits for a user's own message among all that a broker sends, which may be those of other users, or of anybody. What is not waited for
 * is not kept. One user waits; any thread may hear.
 */
public final class Heard {
    private final Duration limit;
    private volatile Awaited awaited = new Awaited(new byte[0], CompletableFuture.completedFuture(null));

    private record Awaited(byte[] message, CompletableFuture<Void> came) {
    }

    /** @param limit how long a message is waited for */
    public Heard(Duration limit) {
        this.limit = limit;
    }

    /** From now on the message is listened for. */
    public void expect(byte[] message) {
        awaited = new Awaited(message, new CompletableFuture<>());
    }

    /** A message has come. */
    public void hear(byte[] message) {
        Awaited now = awaited;
        if (Arrays.equals(now.message(), message)) {
            now.came().complete(null);
        }
    }

    /**
     * Waits until the message that is expected comes.
     *
     * @throws CallFailure if it does not in time
     */
    public byte[] await() throws CallFailure, InterruptedException {
        Awaited now = awaited;
        try {
            now.came().get(limit.toNanos(), TimeUnit.NANOSECONDS);
            return now.message();
        } catch (TimeoutException _) {
            throw new CallFailure(FailureKind.TIMEOUT, 0, "the message did not come back");
        } catch (ExecutionException impossible) {
            throw new IllegalStateException(impossible);
        }
    }
}
