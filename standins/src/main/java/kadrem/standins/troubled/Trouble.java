package kadrem.standins.troubled;

import java.io.IOException;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.ThreadLocalRandom;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.locks.LockSupport;
import java.util.concurrent.locks.ReentrantLock;

/** What a troubled service does for each call. */
public sealed interface Trouble extends AutoCloseable {
    /** A call is served. */
    int GOOD = 200;

    /** Does what it does for a call, and says with which status it is answered. */
    int serve() throws IOException;

    @Override
    default void close() throws IOException {
        // holds nothing open
    }

    /** Keeps something of each call and never lets it go, up to {@value #MAX} pieces. */
    final class Leak implements Trouble {
        private static final int PIECE = 128 << 10;
        private static final int MAX = 4_000;

        private final List<byte[]> kept = new ArrayList<>();

        @Override
        public synchronized int serve() {
            if (kept.size() < MAX) {
                byte[] piece = new byte[PIECE];
                java.util.Arrays.fill(piece, (byte) kept.size());
                kept.add(piece);
            }
            return GOOD;
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
        public int serve() {
            hash(times);
            return GOOD;
        }
    }

    /** Asks another service for each call. */
    final class Waiting implements Trouble {
        private final RemoteGauge gauge;

        public Waiting(RemoteGauge gauge) {
            this.gauge = gauge;
        }

        @Override
        public int serve() throws IOException {
            gauge.ask();
            return GOOD;
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
        public int serve() throws IOException {
            lock.lock();
            try {
                gauge.ask();
                return GOOD;
            } finally {
                lock.unlock();
            }
        }

        @Override
        public void close() throws IOException {
            gauge.close();
        }
    }

    /** Answers fast, but in some of its starts refuses most calls at once. */
    final class Refusing implements Trouble {
        private static final int REFUSED = 503;
        private static final double SHARE = 0.6;

        private final boolean refuses;

        /** @param refuses whether it does so in this start */
        public Refusing(boolean refuses) {
            this.refuses = refuses;
        }

        @Override
        public int serve() {
            return refuses && ThreadLocalRandom.current().nextDouble() < SHARE ? REFUSED : GOOD;
        }
    }

    /** Answers fast, but in some of its starts the process ends in the middle of its work. */
    final class Dying implements Trouble {
        private final AtomicInteger left;
        private final Runnable death;

        /**
         * @param calls after which it dies
         * @param death ends the process
         */
        public Dying(int calls, Runnable death) {
            left = new AtomicInteger(calls);
            this.death = death;
        }

        @Override
        public int serve() {
            if (left.getAndDecrement() == 0) {
                death.run();
            }
            return GOOD;
        }
    }

    /** Answers fast, but for some time in every few seconds nothing is served, as while a collector works. */
    final class Stalling implements Trouble {
        private static final long EVERY = TimeUnit.SECONDS.toNanos(2);
        private static final long FOR = TimeUnit.MILLISECONDS.toNanos(250);

        private final long begun = System.nanoTime();

        @Override
        public int serve() {
            long into = (System.nanoTime() - begun) % EVERY;
            if (into < FOR) {
                LockSupport.parkNanos(FOR - into);
            }
            return GOOD;
        }
    }

    /** Looks through all that it was ever asked, without an index: each call takes a little longer than the one before. */
    final class Tiring implements Trouble {
        private static final int PIECES = 4_000;

        private final List<byte[]> asked = new ArrayList<>();

        @Override
        public synchronized int serve() {
            int sum = 0;
            for (byte[] one : asked) {
                for (byte part : one) {
                    sum += part;
                }
            }
            asked.add(Integer.toString(sum).repeat(PIECES).getBytes(java.nio.charset.StandardCharsets.US_ASCII));
            return GOOD;
        }
    }
}
