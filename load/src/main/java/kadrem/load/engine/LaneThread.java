package kadrem.load.engine;

import java.util.Arrays;
import java.util.BitSet;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import java.util.function.Function;

import io.netty.channel.ManualIoEventLoop;
import io.netty.util.concurrent.FastThreadLocalThread;
import kadrem.core.study.Pacing;
import kadrem.load.host.NativeThread;
import kadrem.load.net.LaneLoop;
import kadrem.load.net.Transport;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** The thread of a lane: it drives the lane's loop by hand, turn after turn, and sleeps only as its pacing allows. */
final class LaneThread {
    private static final Logger LOG = LoggerFactory.getLogger(LaneThread.class);
    private static final long IDLE_NANOS = TimeUnit.MILLISECONDS.toNanos(100);
    private static final long CLOSING_NANOS = TimeUnit.SECONDS.toNanos(3);
    private static final int WAKINGS = 24;
    private static final long WAKING_NANOS = 50_000;
    private static final long MIN_WAKE_NANOS = 20_000;
    private static final long MAX_WAKE_NANOS = 150_000;
    /** A processor given away for longer was given to somebody who does more than answer a call. */
    private static final long LONG_GIVEN_NANOS = 300_000;
    /** After that it is given away only once in so many times as long. */
    private static final int KEEPS_TIMES = 5;

    private final Pacing pacing;
    private final BitSet processors;
    private final Function<Parts, Lane> maker;
    private final ManualIoEventLoop loop;
    private final Thread thread;
    private final CompletableFuture<Void> opened = new CompletableFuture<>();
    private final CompletableFuture<Void> finished = new CompletableFuture<>();
    /** Whether the system lets it go before others; written by the lane's thread before {@link #opened} is done. */
    private volatile boolean first;
    /** Until when the processor is not given away; of the lane's thread. */
    private long keepsUntil;
    private volatile boolean closing;
    private volatile boolean stopping;
    /** Written by the lane's thread before {@link #opened} is done. */
    private volatile Lane lane;

    /** What a lane is made on. */
    record Parts(LaneLoop loop, Lane.Poll poll, TurnWatch turns) {
    }

    /**
     * @param processors on which it stays; empty for any
     * @param maker makes the lane, on its thread
     */
    @SuppressWarnings("NullAway.Init")
    LaneThread(int number, Transport transport, Pacing pacing, BitSet processors, Function<Parts, Lane> maker) {
        this.pacing = pacing;
        this.processors = processors;
        this.maker = maker;
        // a thread of the kind for which Netty keeps used objects
        thread = new FastThreadLocalThread(this::work, "kadrem-lane-" + number);
        thread.setDaemon(true);
        loop = new ManualIoEventLoop(thread, transport.handlers());
    }

    /** Starts it; the future is done when the lane's connections are open and what is made ahead of the load is done. */
    CompletableFuture<Void> start() {
        thread.start();
        return opened;
    }

    CompletableFuture<Void> finished() {
        return finished;
    }

    /** The lane; only after {@link #start()}'s future, and only what it leaves behind once it is finished. */
    Lane lane() {
        return lane;
    }

    long threadId() {
        return thread.threadId();
    }

    /** Whether it goes before other threads on its processor; only after {@link #start()}'s future. */
    boolean isFirst() {
        return first;
    }

    void begin(long startNanos) {
        loop.execute(() -> lane.begin(startNanos));
    }

    /** Ends the lane at once; any thread. */
    void stop() {
        stopping = true;
        if (!closing) {
            loop.execute(() -> {
                if (lane != null) {
                    lane.stop();
                }
            });
        }
    }

    private void work() {
        try (TurnWatch turns = TurnWatch.ofThisThread()) {
            NativeThread.wakeExactly();
            if (!processors.isEmpty()) {
                if (!NativeThread.stayOn(0, processors)) {
                    LOG.warn("a lane could not be kept on processor {}", processors);
                }
                first = NativeThread.goFirst(0);
            }
            long wakesWithin = wakesWithin();
            Lane made = maker.apply(new Parts(new LaneLoop(loop), this::poll, turns));
            lane = made;
            made.finished().whenComplete((_, _) -> finished.complete(null));
            made.open().whenComplete((_, failure) -> {
                if (failure == null) {
                    opened.complete(null);
                } else {
                    opened.completeExceptionally(failure);
                }
            });
            if (stopping) {
                made.stop();
            }
            while (!closing) {
                made.turn();
                if (made.isEnded()) {
                    loop.run(IDLE_NANOS);
                } else {
                    made.poll(Sleep.of(pacing, made, System.nanoTime(), wakesWithin));
                }
            }
            if (!made.isEnded()) {
                made.stop();
            }
        } catch (RuntimeException | Error fault) {
            LOG.error("a lane broke down", fault);
            opened.completeExceptionally(fault);
            finished.completeExceptionally(fault);
        } finally {
            shutDown();
        }
    }

    private void poll(long waitNanos) {
        if (waitNanos > 0) {
            loop.run(waitNanos);
        } else if (loop.runNow() == 0) {
            giveWay();
        }
    }

    /**
     * Lets whoever was put on this processor run, which may be the candidate and would otherwise wait for milliseconds. Who has more to do than
     * to answer a call keeps the processor for a whole slice; he gets it for a part of the time, or the lane would come to nothing.
     */
    @SuppressWarnings("ThreadPriorityCheck")
    private void giveWay() {
        long before = System.nanoTime();
        if (before < keepsUntil) {
            return;
        }
        Thread.yield();
        long took = System.nanoTime() - before;
        if (took > LONG_GIVEN_NANOS) {
            keepsUntil = before + took * KEEPS_TIMES;
        }
    }

    /** How much too late the system wakes this thread, nine times in ten. */
    private long wakesWithin() {
        var late = new long[WAKINGS];
        for (int i = 0; i < WAKINGS; i++) {
            long before = System.nanoTime();
            loop.run(WAKING_NANOS);
            late[i] = System.nanoTime() - before - WAKING_NANOS;
        }
        Arrays.sort(late);
        return Math.clamp(late[WAKINGS * 9 / 10], MIN_WAKE_NANOS, MAX_WAKE_NANOS);
    }

    private void shutDown() {
        long until = System.nanoTime() + CLOSING_NANOS;
        loop.shutdownGracefully(0, 1, TimeUnit.SECONDS);
        while (!loop.isTerminated() && System.nanoTime() < until) {
            loop.run(TimeUnit.MILLISECONDS.toNanos(5));
        }
    }

    /** Ends the thread and waits for it. */
    void close() {
        if (thread.getState() == Thread.State.NEW) {
            return;
        }
        closing = true;
        loop.wakeup();
        try {
            thread.join(TimeUnit.NANOSECONDS.toMillis(2 * CLOSING_NANOS));
        } catch (InterruptedException _) {
            Thread.currentThread().interrupt();
        }
    }
}
