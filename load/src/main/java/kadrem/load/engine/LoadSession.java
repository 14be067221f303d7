package kadrem.load.engine;

import java.util.OptionalLong;

import kadrem.core.measure.LatencySummary;

/**
 * A load whose connections are open, wherever it is made: in this process or in another. It begins once, ends by itself or is
 * stopped, and leaves a result; what it records meanwhile goes to its {@link LoadListener}, second by second.
 *
 * <pre>
 * LoadSession load = maker.prepare(order, secrets, listener); // connections are opened, first parts made
 * load.begin(System.nanoTime() + 200_000_000); // the instant from which everything is due
 * load.await();
 * LoadResult result = load.result();
 * </pre>
 *
 * {@link #stop()} may be called by any thread at any time.
 */
public interface LoadSession extends AutoCloseable {
    /** @param startNanos instant of {@link System#nanoTime()}, in the near future, from which everything is due */
    void begin(long startNanos);

    /** Runs {@code task} on the recording thread, in its place among what is recorded; any thread. */
    void record(Runnable task);

    /** Ends the load at once; {@link #result()} is then marked as stopped. */
    void stop();

    /**
     * Waits for the end of the load. What is recorded before {@link #result()} still finds its place.
     *
     * @throws IllegalStateException if the load broke down, which is no fault of the candidate
     */
    void await();

    /** Ends the recording of a load that has ended. */
    LoadResult result();

    /** How the lanes wait and which processors are theirs, as in "never sleeping, on processor 3 of its own". */
    String arrangement();

    /** What making the load has cost so far; any thread. */
    GeneratorUsage usage();

    /** Id of the process that makes the load, where that is not this one. */
    OptionalLong process();

    /** Pauses of the collector in the process that makes the load, since the session was prepared. */
    LatencySummary collectorPauses();

    @Override
    void close();
}
