package kadrem.standins.troubled;

import java.io.IOException;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.locks.ReentrantLock;

/** What a troubled service does for each call. */
public sealed interface Trouble extends AutoCloseable {
    void serve() throws IOException;

    @Override
    default void close() throws IOException {
        // holds nothing open
    }

    /** Keeps something of each call and never lets it go, up to {@value #MOST} pieces. */
    final class Leak implements Trouble {
        private static final int PIECE = 128 << 10;
        private static final int MOST = 4_000;

        private final List<byte[]> kept = new ArrayList<>();

        @Override
        public synchronized void serve() {
            if (kept.size() < MOST) {
                byte[] piece = new byte[PIECE];
                java.util.Arrays.fill(piece, (byte) kept.size());
                kept.add(piece);
            }
        }
    }

    /** Computes for each call what takes this machine's processor a given time at the start. */
    final class Busy implements Trouble {
        private static final int CALIBRATION = 20_000;

        private final int times;

        /** @param millis processor time that a call is to take */
        public Busy(double millis) {
            hash(CALIBRATION);
            long begun = System.nanoTime();
            hash(CALIBRATION);
            double each = (System.nanoTime() - begun) / 1e6 / CALIBRATION;
            times = (int) Math.max(1, millis / each);
        }

        private static byte[] hash(int times) {
            try {
                MessageDigest digest = MessageDigest.getInstance("SHA-256");
                byte[] text = new byte[64];
                for (int i = 0; i < times; i++) {
                    byte[] sum = digest.digest(text);
                    System.arraycopy(sum, 0, text, 0, sum.length);
                }
                return text;
            } catch (NoSuchAlgorithmException cause) {
                throw new IllegalStateException("every Java has SHA-256", cause);
            }
        }

        @Override
        public void serve() {
            hash(times);
        }
    }

    /** Asks another service for each call. */
    final class Waiting implements Trouble {
        private final RemoteGauge gauge;

        public Waiting(RemoteGauge gauge) {
            this.gauge = gauge;
        }

        @Override
        public void serve() throws IOException {
            gauge.ask();
        }

        @Override
        public void close() throws IOException {
            gauge.close();
        }
    }

    /** Asks another service for each call, one call at a time: all others wait for the lock. */
    final class Locked implements Trouble {
        private final ReentrantLock lock = new ReentrantLock();
        private final RemoteGauge gauge;

        public Locked(RemoteGauge gauge) {
            this.gauge = gauge;
        }

        @Override
        public void serve() throws IOException {
            lock.lock();
            try {
                gauge.ask();
            } finally {
                lock.unlock();
            }
        }

        @Override
        public void close() throws IOException {
            gauge.close();
        }
    }
}
