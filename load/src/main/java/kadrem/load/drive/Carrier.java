package kadrem.load.drive;

import kadrem.core.measure.FailureKind;
import kadrem.core.plan.LoadStream;

/**
 * One connection to a candidate that carries one call at a time. Everything here is called on the lane's thread, and
 * every result comes back on it.
 */
public interface Carrier {
    /** Opens the connection ahead of the first call, and runs {@code whenSettled} once, whether that went well or not. */
    void open(Runnable whenSettled);

    /**
     * Sends call number {@code call} of the workload with the values of {@code draw}. If there is no connection it is made
     * first. Exactly one of {@link Listener#good} and {@link Listener#failed} follows.
     */
    void send(int call, LoadStream.Draw draw);

    /** Gives the call under way up: the connection is closed and {@link Listener#failed} is called with {@code kind}. */
    void abandon(FailureKind kind);

    /** Closes the connection; no result follows. */
    void close();

    /** The request as sent, as text cut to a bound. */
    String requestText(int call, LoadStream.Draw draw);

    /** What has come of the response, as text cut to a bound; only valid inside a result. */
    String responseText();

    /** Who is told. Instants are of {@link System#nanoTime()}. */
    interface Listener {
        /** The bytes of the request were handed to the system. */
        void sent(long nanos, int bytes);

        void good(long nanos, int status, long bytes);

        /** @param status status of the answer, 0 where there was none */
        void failed(long nanos, FailureKind kind, int status, long bytes);
    }
}
