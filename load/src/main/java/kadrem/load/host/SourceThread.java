package kadrem.load.host;

import java.lang.management.ManagementFactory;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.locks.LockSupport;
import java.util.function.LongToDoubleFunction;

import kadrem.core.measure.WatchReading;
import kadrem.core.measure.WatchedSource;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Opens one source, reads it each second and closer together while the hosts are at rest, opens it anew after a failure, and keeps account of
 * what that cost.
 */
final class SourceThread {
    private static final Logger LOG = LoggerFactory.getLogger(SourceThread.class);
    private static final long PERIOD = TimeUnit.SECONDS.toNanos(1);
    /** Time after a failure until it is tried again. */
    private static final long RETRY = TimeUnit.SECONDS.toNanos(3);

    private final Watching.Source source;
    private final long first;
    private final Duration idle;
    private final Told told;
    private final Thread thread;
    private final CountDownLatch tried = new CountDownLatch(1);
    private volatile boolean ending;
    private @Nullable HostSource open;
    // what is told at the end; guarded by this
    private final List<Trouble> troubles = new ArrayList<>();
    private int readings;
    private long cpuNanos;
    private long slowestNanos;
    private Optional<HostSource.ClockOffset> clock = Optional.empty();

    private record Trouble(long nanos, String reason) {
    }

    /** Takes a reading with the instant of {@link System#nanoTime()} at which it was made. */
    interface Told {
        void take(long nanos, WatchReading reading);
    }

    /**
     * The stretch in which the hosts are at rest, from the first reading on: so many readings that it can be told what is usual there.
     *
     * @param from its beginning, by {@link System#nanoTime()}
     * @param until its end
     * @param period nanoseconds between two readings
     */
    private record Rest(long from, long until, long period) {
        private static final int READINGS = 14;
        private static final long MIN = TimeUnit.MILLISECONDS.toNanos(200);

        static Rest of(long from, Duration idle) {
            return new Rest(from, from + idle.toNanos(), Math.clamp(idle.toNanos() / READINGS, MIN, PERIOD));
        }

        /** When the next reading is due; after the stretch at whole seconds from its beginning. */
        long after(long due) {
            return due + period < until ? due + period : from + ((due - from) / PERIOD + 1) * PERIOD;
        }
    }

    SourceThread(Watching.Source source, long first, Duration idle, Told told) {
        this.source = source;
        this.first = first;
        this.idle = idle;
        this.told = told;
        thread = Thread.ofPlatform().name("kadrem-watch-" + source.name()).daemon().unstarted(this::work);
    }

    void start() {
        thread.start();
    }

    /** Waits until it was read for the first time, or that failed. */
    void awaitTried(long untilNanos) throws InterruptedException {
        tried.await(Math.max(0, untilNanos - System.nanoTime()), TimeUnit.NANOSECONDS);
    }

    /** A source that hangs in a system call is interrupted. */
    void end() {
        ending = true;
        thread.interrupt();
    }

    void join(long millis) {
        try {
            thread.join(millis);
        } catch (InterruptedException _) {
            Thread.currentThread().interrupt();
        }
    }

    private void work() {
        BackgroundThread.yieldToLoad();
        try {
            long due = first;
            Rest rest = null;
            while (!ending) {
                boolean read = readOnce();
                tried.countDown();
                long now = System.nanoTime();
                if (read && rest == null) {
                    // what it took to open it is no part of the rest
                    due = idle.isPositive() ? now : due;
                    rest = Rest.of(due, idle);
                }
                due = read && rest != null ? rest.after(due) : now + RETRY;
                while (rest != null && due < now) {
                    // what was missed is not made up for
                    due = rest.after(due);
                }
                while (!ending && System.nanoTime() < due) {
                    LockSupport.parkNanos(due - System.nanoTime());
                }
            }
        } finally {
            shut();
        }
    }

    private boolean readOnce() {
        long begun = System.nanoTime();
        long cpu = cpuOfThread();
        Optional<String> failure = Optional.empty();
        try {
            HostSource one = open;
            if (one == null) {
                one = source.opening().open();
                open = one;
            }
            List<WatchReading.Value> values = one.read();
            long nanos = System.nanoTime();
            told.take(nanos, new WatchReading(0, source.name(), values, ""));
            account(nanos - begun, cpuOfThread() - cpu, one.clock());
        } catch (SourceFailure cause) {
            failure = Optional.of(cause.reason());
        } catch (RuntimeException cause) {
            LOG.warn("the source {} broke down", source.name(), cause);
            failure = Optional.of("Kadrem cannot read it: " + cause);
        }
        failure.filter(_ -> !ending).ifPresent(this::trouble);
        return failure.isEmpty();
    }

    private static long cpuOfThread() {
        return ManagementFactory.getThreadMXBean().getCurrentThreadCpuTime();
    }

    private synchronized void account(long nanos, long cpu, Optional<HostSource.ClockOffset> found) {
        readings++;
        cpuNanos += cpu;
        slowestNanos = Math.max(slowestNanos, nanos);
        clock = found.or(() -> clock);
    }

    private void trouble(String reason) {
        shut();
        long nanos = System.nanoTime();
        told.take(nanos, new WatchReading(0, source.name(), List.of(), reason));
        synchronized (this) {
            if (troubles.size() < WatchedSource.MAX_TROUBLES) {
                troubles.add(new Trouble(nanos, reason));
            }
        }
    }

    private void shut() {
        HostSource one = open;
        open = null;
        if (one != null) {
            one.close();
        }
    }

    /** How it went so far. */
    synchronized WatchedSource watched(LongToDoubleFunction seconds) {
        return new WatchedSource(source.name(), source.kind(), source.where(), readings, cpuNanos / 1e6,
                slowestNanos / 1e6, number(clock.map(HostSource.ClockOffset::seconds)),
                number(clock.map(HostSource.ClockOffset::error)),
                troubles.stream().map(one -> new WatchedSource.Trouble(seconds.applyAsDouble(one.nanos()),
                        one.reason())).toList());
    }

    private static OptionalDouble number(Optional<Double> value) {
        return value.map(OptionalDouble::of).orElse(OptionalDouble.empty());
    }
}
