package kadrem.load.drive.blocking;

import java.util.Arrays;
import java.util.List;
import java.util.concurrent.Executor;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.RejectedExecutionException;
import java.util.function.Consumer;
import java.util.stream.Stream;

import kadrem.core.measure.FailureKind;
import org.jspecify.annotations.Nullable;
import org.slf4j.LoggerFactory;

/**
 * One user's virtual thread with its connection, which makes the calls that the lane puts to it, one at a time. Instants are
 * taken on this thread, so that the way back to the lane counts for no answer.
 */
final class UserThread<R> {
    private static final List<String> PLATFORM = List.of("java.", "javax.", "jdk.", "sun.");

    private final Client<R> client;
    private final Executor lane;
    private final LinkedBlockingQueue<Task> tasks = new LinkedBlockingQueue<>();
    private final Thread thread;
    private volatile Client.@Nullable UserConnection<R> connection;
    private volatile boolean dismissed;

    /** What the thread is to do next. */
    private interface Task {
        void run() throws InterruptedException;
    }

    /**
     * What came of a call.
     *
     * @param connectNanos time to connect; 0 where there was a connection
     * @param sentNanos when the call went out; 0 where it did not
     * @param partNanos when each part of the answer had come, where it came in parts
     */
    record Outcome(long connectNanos, long sentNanos, long[] partNanos, long endNanos,
            Client.@Nullable Answer answer, @Nullable CallFailure failure) {
    }

    /** @param lane where results are told */
    UserThread(Client<R> client, Executor lane) {
        this.client = client;
        this.lane = lane;
        thread = Thread.ofVirtual().name("kadrem-user").start(this::work);
    }

    private void work() {
        try {
            while (!dismissed) {
                tasks.take().run();
            }
        } catch (InterruptedException _) {
            // dismissed
        } finally {
            drop();
        }
    }

    private void drop() {
        Client.UserConnection<R> open = connection;
        connection = null;
        if (open != null) {
            open.close();
        }
    }

    /** Connects ahead of the first call, and runs {@code whenSettled} on the lane, whether that went well or not. */
    void open(Runnable whenSettled) {
        tasks.add(() -> {
            try {
                connection();
            } catch (CallFailure _) {
                // the first call tries again and tells
            } finally {
                tell(whenSettled);
            }
        });
    }

    /** A lane that has ended takes no results any more. */
    private void tell(Runnable result) {
        try {
            lane.execute(result);
        } catch (RejectedExecutionException _) {
            dismissed = true;
        }
    }

    private Client.UserConnection<R> connection() throws CallFailure, InterruptedException {
        Client.UserConnection<R> open = connection;
        if (open == null) {
            open = client.connect();
            connection = open;
        }
        return open;
    }

    /** Makes a call, and tells what came of it on the lane. */
    void call(int call, R ready, boolean keeps, boolean visitBegins, Consumer<Outcome> result) {
        tasks.add(() -> {
            Outcome outcome = exchange(call, ready, keeps, visitBegins);
            tell(() -> result.accept(outcome));
        });
    }

    private Outcome exchange(int call, R ready, boolean keeps, boolean visitBegins) throws InterruptedException {
        long begun = System.nanoTime();
        long connect = 0;
        long sent = 0;
        var parts = new Parts();
        try {
            boolean made = connection == null;
            Client.UserConnection<R> open = connection();
            sent = System.nanoTime();
            connect = made ? sent - begun : 0;
            if (visitBegins) {
                open.beginVisit();
            }
            Client.Answer answer = open.call(call, ready, keeps, parts);
            return new Outcome(connect, sent, parts.taken(), System.nanoTime(), answer, null);
        } catch (CallFailure failure) {
            long end = System.nanoTime();
            Client.UserConnection<R> used = connection;
            if (used != null && !used.isUsable()) {
                drop();
            }
            return new Outcome(connect, sent, parts.taken(), end, null, failure);
        } catch (RuntimeException | Error unforeseen) {
            LoggerFactory.getLogger(UserThread.class).warn("a client failed in a way that it does not tell",
                    unforeseen);
            long end = System.nanoTime();
            drop();
            return new Outcome(connect, sent, parts.taken(), end, null,
                    new CallFailure(kind(unforeseen), 0, String.valueOf(unforeseen)));
        }
    }

    /** A library that breaks within itself breaks on what came; what breaks in Kadrem is Kadrem's. */
    private static FailureKind kind(Throwable unforeseen) {
        boolean inLibrary = Stream.of(unforeseen.getStackTrace()).map(StackTraceElement::getClassName)
                .filter(name -> PLATFORM.stream().noneMatch(name::startsWith)).findFirst()
                .filter(name -> !name.startsWith("kadrem.")).isPresent();
        return inLibrary && !(unforeseen instanceof VirtualMachineError)
                ? FailureKind.MALFORMED
                : FailureKind.GENERATOR;
    }

    /** Gives up what is under way and ends; from the lane's thread, which does not wait for it. */
    void dismiss() {
        dismissed = true;
        Client.UserConnection<R> open = connection;
        if (open == null) {
            thread.interrupt();
        } else {
            // an interrupt would close the files of a store in this process; cancelling may itself wait for the network, and must not
            // wait for a statement of a database in this process that holds a thread which carries virtual ones
            Thread.ofPlatform().daemon().name("kadrem-cancel").start(open::cancel);
            tasks.add(() -> {
            });
        }
    }

    /** Confined to the user's thread. */
    private static final class Parts implements Client.Marks {
        private static final int MAX = 100_000;
        private static final long[] NONE = {};

        private long[] instants = NONE;
        private int count;

        @Override
        public void part() {
            if (count == instants.length && count < MAX) {
                instants = Arrays.copyOf(instants, Math.min(MAX, Math.max(4, 2 * count)));
            }
            if (count < MAX) {
                instants[count++] = System.nanoTime();
            }
        }

        long[] taken() {
            return count == 0 ? NONE : Arrays.copyOf(instants, count);
        }
    }
}
