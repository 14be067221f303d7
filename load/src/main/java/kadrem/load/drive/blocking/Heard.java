package kadrem.load.drive.blocking;

import java.time.Duration;
import java.util.Arrays;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.TimeUnit;

import kadrem.core.measure.FailureKind;

/** What a broker has sent to one user, among which its own message is waited for. Any thread may add. */
public final class Heard {
    private final LinkedBlockingQueue<byte[]> messages = new LinkedBlockingQueue<>();
    private final Duration limit;

    /** @param limit how long a message is waited for */
    public Heard(Duration limit) {
        this.limit = limit;
    }

    public void add(byte[] message) {
        messages.add(message);
    }

    /** Forgets what came before; messages of other users may come by the same topic. */
    public void clear() {
        messages.clear();
    }

    /**
     * Waits until the message comes.
     *
     * @throws CallFailure if it does not in time
     */
    public byte[] await(byte[] message) throws CallFailure, InterruptedException {
        long deadline = System.nanoTime() + limit.toNanos();
        while (true) {
            byte[] next = messages.poll(deadline - System.nanoTime(), TimeUnit.NANOSECONDS);
            if (next == null) {
                throw new CallFailure(FailureKind.TIMEOUT, 0, "the message did not come back");
            }
            if (Arrays.equals(next, message)) {
                return next;
            }
        }
    }
}
