package kadrem.desk.look;

import java.time.Duration;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import java.util.function.Consumer;

import javafx.application.Platform;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * The one way to do work off the interface thread: the work is done elsewhere, and what came of it is taken on the interface thread.
 */
public final class Background implements AutoCloseable {
    /** Each piece of work on a thread of its own, at once. */
    public static final Background AT_ONCE = new Background(Executors.newVirtualThreadPerTaskExecutor());
    private static final Logger LOG = LoggerFactory.getLogger(Background.class);

    private final ExecutorService threads;

    private Background(ExecutorService threads) {
        this.threads = threads;
    }

    /** One thread of that name, which does one piece after the other. */
    public static Background inOrder(String name) {
        return new Background(Executors.newSingleThreadExecutor(Thread.ofPlatform().name(name).daemon().factory()));
    }

    /** Work that may fail. */
    @FunctionalInterface
    public interface Work<T> {
        T run() throws Exception;
    }

    /** Work of which nothing comes. */
    @FunctionalInterface
    public interface Deed {
        void run() throws Exception;
    }

    /** A clock that goes on until it is closed. */
    public interface Clock extends AutoCloseable {
        @Override
        void close();
    }

    /** Work under way. Any thread. */
    public static final class Running {
        private final CountDownLatch done = new CountDownLatch(1);
        private @Nullable Thread thread;
        private boolean stopped;

        private Running() {
        }

        private synchronized void begins() {
            thread = Thread.currentThread();
            if (stopped) {
                thread.interrupt();
            }
        }

        private void ends() {
            synchronized (this) {
                thread = null;
            }
            done.countDown();
        }

        /** Interrupts it. */
        public synchronized void stop() {
            stopped = true;
            if (thread != null) {
                thread.interrupt();
            }
        }

        /** Waits for its end, but no longer than that. */
        public void await(Duration atMost) {
            try {
                if (!done.await(atMost.toMillis(), TimeUnit.MILLISECONDS)) {
                    LOG.warn("work in the background goes on after {} s", atMost.toSeconds());
                }
            } catch (InterruptedException _) {
                Thread.currentThread().interrupt();
            }
        }
    }

    /**
     * Does some work.
     *
     * @param then given, on the interface thread, what came of it
     * @param failed given there why nothing did; an {@link Error} as the cause of an {@link ExecutionException}
     */
    public <T> Running run(Work<T> work, Consumer<? super T> then, Consumer<? super Exception> failed) {
        var running = new Running();
        if (threads.isShutdown()) {
            // the window was closed meanwhile
            running.ends();
            return running;
        }
        threads.execute(() -> {
            running.begins();
            try {
                T made = work.run();
                Platform.runLater(() -> then.accept(made));
            } catch (Exception cause) {
                LOG.debug("work in the background", cause);
                Platform.runLater(() -> failed.accept(cause));
            } catch (Error cause) {
                // of a library that is lacking or broken: nobody may wait for what never comes
                LOG.error("work in the background broke down", cause);
                Platform.runLater(() -> failed.accept(new ExecutionException(cause)));
            } finally {
                running.ends();
            }
        });
        return running;
    }

    /** Does something of which nobody needs to hear; a failure goes into the log. */
    public void run(Deed deed) {
        run(() -> {
            deed.run();
            return "";
        }, _ -> {
        }, cause -> LOG.error("work in the background broke down", cause));
    }

    /**
     * Has something looked at now and then on the interface thread, until it is closed. It is no animation, which would have the window
     * pulse sixty times a second.
     */
    public static Clock every(Duration interval, Runnable look) {
        ScheduledExecutorService clock = Executors
                .newSingleThreadScheduledExecutor(Thread.ofPlatform().name("kadrem-clock").daemon().factory());
        clock.scheduleAtFixedRate(() -> Platform.runLater(look), interval.toMillis(), interval.toMillis(),
                TimeUnit.MILLISECONDS);
        return clock::shutdownNow;
    }

    /** Ends when what was begun is done. */
    @Override
    public void close() {
        threads.close();
    }
}
