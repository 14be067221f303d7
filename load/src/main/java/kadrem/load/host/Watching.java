package kadrem.load.host;

import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;
import java.util.function.Consumer;

import kadrem.core.measure.WatchReading;
import kadrem.core.measure.WatchedSource;

/**
 * Reads sources once a second, closer together while the hosts are at rest, each on a thread of its own, so that one that hangs or fails
 * holds nothing up:
 *
 * <pre>
 * try (Watching watching = Watching.begin(sources, idle)) {
 *     watching.rest(idle);                            // the idle stretch, from when each source was read once
 *     watching.on(startNanos, 0, reading -> ...);     // readings so far, and those to come, on the run's clock
 *     ...
 *     List&lt;WatchedSource&gt; how = watching.end();
 * }
 * </pre>
 */
public final class Watching implements AutoCloseable {
    private static final long JOIN_MILLIS = 2_000;
    private static final long OPENING_SECONDS = 10;

    private final List<SourceThread> threads = new ArrayList<>();
    private final Object lock = new Object();
    /** Readings from before the run's clock began; their instant is one of {@link System#nanoTime()}. */
    private final List<Early> early = new ArrayList<>();
    private Clocked clocked = new Clocked(0, 0, _ -> {
    });
    private boolean started;

    /** A source by its description. */
    public record Source(String name, String kind, String where, HostSource.Opening opening) {
    }

    private record Early(long nanos, WatchReading reading) {
    }

    private record Clocked(long startNanos, double plusSeconds, Consumer<WatchReading> told) {
        double seconds(long nanos) {
            return (nanos - startNanos) / (double) TimeUnit.SECONDS.toNanos(1) + plusSeconds;
        }

        void tell(long nanos, WatchReading reading) {
            told.accept(reading.later(seconds(nanos)));
        }
    }

    private Watching() {
    }

    /**
     * Begins to read.
     *
     * @param idle how long the hosts are at rest from now on
     */
    public static Watching begin(List<Source> sources, Duration idle) {
        var watching = new Watching();
        long first = System.nanoTime();
        for (Source source : sources) {
            watching.threads.add(new SourceThread(source, first, idle, watching::take));
        }
        watching.threads.forEach(SourceThread::start);
        return watching;
    }

    /**
     * Lets the hosts rest: waits until each source was read or failed, but for {@value #OPENING_SECONDS} s at most, and then the stretch.
     *
     * @throws InterruptedException if the thread was interrupted
     */
    public void rest(Duration idle) throws InterruptedException {
        if (idle.isPositive()) {
            long until = System.nanoTime() + TimeUnit.SECONDS.toNanos(OPENING_SECONDS);
            for (SourceThread thread : threads) {
                thread.awaitTried(until);
            }
            Thread.sleep(idle);
        }
    }

    private void take(long nanos, WatchReading reading) {
        synchronized (lock) {
            if (started) {
                clocked.tell(nanos, reading);
            } else {
                early.add(new Early(nanos, reading));
            }
        }
    }

    /**
     * Gives the run's clock, and whom to tell from now on; what was read before is told at once, with negative instants.
     * May be called again when a further load of the same run begins.
     *
     * @param startNanos instant of {@link System#nanoTime()} that is {@code plusSeconds} on the run's clock
     * @param told called on the sources' threads, one at a time
     */
    public void on(long startNanos, double plusSeconds, Consumer<WatchReading> told) {
        synchronized (lock) {
            clocked = new Clocked(startNanos, plusSeconds, told);
            started = true;
            early.forEach(one -> clocked.tell(one.nanos(), one.reading()));
            early.clear();
        }
    }

    /** Readings are told to nobody until {@link #on} is called again, which tells them. */
    public void off() {
        synchronized (lock) {
            started = false;
        }
    }

    /** Ends the reading and tells how it went. */
    public List<WatchedSource> end() {
        close();
        synchronized (lock) {
            return threads.stream().map(thread -> thread.watched(clocked::seconds)).toList();
        }
    }

    @Override
    public void close() {
        threads.forEach(SourceThread::end);
        for (SourceThread thread : threads) {
            thread.join(JOIN_MILLIS);
        }
    }
}
