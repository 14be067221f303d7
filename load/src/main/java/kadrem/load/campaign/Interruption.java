package kadrem.load.campaign;

import java.time.Duration;
import java.util.HashSet;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;

/** How the user's hands reach into a campaign: stop, skip, redo, hold. Any thread. */
final class Interruption {
    private volatile boolean stopping;
    private volatile Turn turn = Turn.GO_ON;
    private final Object waiting = new Object();
    /** Guarded by {@link #waiting}. */
    private boolean held;
    /** Runs under load now; more than one where candidates are measured together. */
    private final Set<MeasuredRun> underLoad = ConcurrentHashMap.newKeySet();
    /** Threads that launch or wait, and may be interrupted in that; guarded by itself. One that writes must not be. */
    private final Set<Thread> waiters = new HashSet<>();

    /** What is to be done with the runs under way. */
    enum Turn {
        GO_ON("stopped by hand"), SKIP("skipped by hand"), REDO("given up by hand, to be made again");

        private final String words;

        Turn(String words) {
            this.words = words;
        }

        String words() {
            return words;
        }
    }

    /** While it is open its thread may be interrupted, unless it writes. */
    final class Waiting implements AutoCloseable {
        private final Thread self = Thread.currentThread();

        private Waiting() throws InterruptedException {
            synchronized (waiters) {
                waiters.add(self);
            }
            if (isToEnd()) {
                close();
                throw new InterruptedException();
            }
        }

        /** Does what an interruption would spoil; one that comes meanwhile takes effect afterwards. */
        void uninterrupted(Runnable writing) {
            boolean interrupted = leave();
            writing.run();
            synchronized (waiters) {
                waiters.add(self);
            }
            if (interrupted || isToEnd()) {
                self.interrupt();
            }
        }

        private boolean leave() {
            synchronized (waiters) {
                waiters.remove(self);
                return Thread.interrupted();
            }
        }

        @Override
        public void close() {
            leave();
        }
    }

    /**
     * Begins something in which the calling thread may be interrupted.
     *
     * @throws InterruptedException if the runs under way are to end already
     */
    Waiting waiting() throws InterruptedException {
        return new Waiting();
    }

    boolean isStopping() {
        return stopping;
    }

    boolean isToEnd() {
        return stopping || turn != Turn.GO_ON;
    }

    Turn turn() {
        return turn;
    }

    /** The next runs begin; what was said of those before is done. */
    void begin() {
        turn = Turn.GO_ON;
    }

    /** No further run is begun; those under way go on. */
    void last() {
        stopping = true;
    }

    void stop() {
        stopping = true;
        hold(false);
        endRuns();
    }

    void skip() {
        turn = Turn.SKIP;
        endRuns();
    }

    void redo() {
        turn = Turn.REDO;
        endRuns();
    }

    void hold(boolean wait) {
        synchronized (waiting) {
            held = wait;
            waiting.notifyAll();
        }
    }

    private void endRuns() {
        underLoad.forEach(MeasuredRun::stop);
        synchronized (waiters) {
            waiters.forEach(Thread::interrupt);
        }
    }

    /** Runs the load, which ends early where the user says so. */
    MeasuredRun.Result run(MeasuredRun load) {
        underLoad.add(load);
        try {
            if (isToEnd()) {
                load.stop();
            }
            return load.run();
        } finally {
            underLoad.remove(load);
        }
    }

    /** The pause between two runs, and the wait that was asked for; there is no run to skip or to make again in it. */
    void pause(Duration pause) {
        for (boolean over = false; !over && !stopping;) {
            try (var _ = waiting()) {
                if (pause.isPositive()) {
                    Thread.sleep(pause);
                }
                synchronized (waiting) {
                    while (held && !stopping) {
                        waiting.wait();
                    }
                }
                over = true;
            } catch (InterruptedException _) {
                stopping |= turn == Turn.GO_ON;
                turn = Turn.GO_ON;
            }
        }
    }
}
