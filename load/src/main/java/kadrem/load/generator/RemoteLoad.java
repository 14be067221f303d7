package kadrem.load.generator;

import java.io.IOException;
import java.util.List;
import java.util.Objects;
import java.util.OptionalLong;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import java.util.concurrent.atomic.AtomicReference;

import kadrem.core.measure.LatencySummary;
import kadrem.core.measure.SecondTally;
import kadrem.load.content.UnusableCall;
import kadrem.load.engine.GeneratorUsage;
import kadrem.load.engine.LoadListener;
import kadrem.load.engine.LoadOrder;
import kadrem.load.engine.LoadResult;
import kadrem.load.engine.LoadSession;
import kadrem.load.engine.Recorder;

/** A load that another process makes, seen from here. */
final class RemoteLoad implements LoadSession {
    /** Opening connections and making first parts may take so long. */
    private static final long PREPARING_SECONDS = 120;
    private static final long USAGE_MILLIS = 500;
    private static final long CLOSING_SECONDS = 8;
    /** A process that was told to end its load and has not after this time is ended itself. */
    private static final long STOPPING_SECONDS = 30;

    private final int session;
    private final GeneratorProcess process;
    private final Recorder recorder;
    private final CompletableFuture<Message.Prepared> prepared = new CompletableFuture<>();
    private final CompletableFuture<Message.Ended> ended = new CompletableFuture<>();
    private final AtomicReference<CompletableFuture<GeneratorUsage>> asked = new AtomicReference<>(
            new CompletableFuture<>());
    private final CompletableFuture<Void> closed = new CompletableFuture<>();
    private volatile GeneratorUsage known = GeneratorUsage.NONE;

    RemoteLoad(int session, GeneratorProcess process, LoadOrder order, LoadListener listener) {
        this.session = session;
        this.process = process;
        recorder = new Recorder(1, order.workload().calls().size(), listener);
        recorder.start();
    }

    /** Waits until its connections are open. */
    void awaitPrepared() throws UnusableCall {
        try {
            prepared.get(PREPARING_SECONDS, TimeUnit.SECONDS);
        } catch (ExecutionException failure) {
            close();
            if (failure.getCause() instanceof UnusableCall unusable) {
                throw unusable;
            }
            throw broken(failure);
        } catch (TimeoutException _) {
            close();
            throw new IllegalStateException("the connections could not be opened within " + PREPARING_SECONDS + " s");
        } catch (InterruptedException _) {
            close();
            Thread.currentThread().interrupt();
            throw new IllegalStateException("given up before the connections were open");
        }
    }

    /** Takes what the process tells; on the thread that reads it. */
    void take(Message message) {
        switch (message) {
            case Message.Prepared done -> prepared.complete(done);
            case Message.Unusable why -> prepared.completeExceptionally(new UnusableCall(why.reason()));
            case Message.Broken why -> breakDown(why.reason());
            case Message.Kept kept -> recorder.deliver(kept.exchange());
            case Message.Used used -> {
                known = used.usage();
                asked.get().complete(used.usage());
            }
            case Message.Ended end -> ended.complete(end);
            case Message.Closed _ -> closed.complete(null);
            default -> {
                // orders go the other way
            }
        }
    }

    /** Takes a second; on the thread that reads it. */
    void take(Frames.Frame second) throws IOException {
        SecondTally tally = recorder.take();
        TallyFrame.read(second.bytes(), Integer.BYTES, tally);
        recorder.deliver(0, tally, false);
    }

    /** The process has gone, or its load broke down. */
    void breakDown(String reason) {
        var failure = new IllegalStateException("the process of the load broke down: " + reason);
        prepared.completeExceptionally(failure);
        ended.completeExceptionally(failure);
        closed.complete(null);
    }

    @Override
    public void begin(long startNanos) {
        process.tell(new Message.Begin(session, startNanos));
    }

    @Override
    public void record(Runnable task) {
        recorder.deliver(task);
    }

    @Override
    public void stop() {
        process.tell(new Message.Stop(session));
        if (!ended.isDone()) {
            CompletableFuture.delayedExecutor(STOPPING_SECONDS, TimeUnit.SECONDS).execute(() -> {
                if (!ended.isDone()) {
                    process.end("it did not end its load within " + STOPPING_SECONDS + " s");
                }
            });
        }
    }

    @Override
    public void await() {
        try {
            ended.join();
        } catch (CompletionException failure) {
            throw broken(failure);
        }
    }

    @Override
    public LoadResult result() {
        recorder.finish();
        return ended.join().result().plusLost(recorder.lost());
    }

    @Override
    public String arrangement() {
        return prepared.join().arrangement();
    }

    /** Processors that its lanes have for themselves. */
    List<Integer> processors() {
        return prepared.isDone() && !prepared.isCompletedExceptionally() ? prepared.join().processors() : List.of();
    }

    @Override
    public GeneratorUsage usage() {
        if (ended.isCompletedExceptionally()) {
            return known;
        }
        var answer = new CompletableFuture<GeneratorUsage>();
        asked.set(answer);
        process.tell(new Message.AskUsage(session));
        try {
            return answer.get(USAGE_MILLIS, TimeUnit.MILLISECONDS);
        } catch (TimeoutException | ExecutionException _) {
            return known;
        } catch (InterruptedException _) {
            Thread.currentThread().interrupt();
            return known;
        }
    }

    @Override
    public OptionalLong process() {
        return process.pid();
    }

    @Override
    public LatencySummary collectorPauses() {
        return ended.isDone() && !ended.isCompletedExceptionally()
                ? ended.join().collectorPauses()
                : LatencySummary.EMPTY;
    }

    @Override
    public void close() {
        process.tell(new Message.Close(session));
        try {
            closed.get(CLOSING_SECONDS, TimeUnit.SECONDS);
        } catch (ExecutionException | TimeoutException _) {
            // then the next session may find fewer processors
        } catch (InterruptedException _) {
            Thread.currentThread().interrupt();
        }
        process.forget(session);
        recorder.finish();
    }

    /** What broke in the other process, without what only carried it here. */
    private static IllegalStateException broken(Exception failure) {
        Throwable cause = Objects.requireNonNullElse(failure.getCause(), failure);
        return new IllegalStateException(String.valueOf(cause.getMessage()), cause);
    }
}
