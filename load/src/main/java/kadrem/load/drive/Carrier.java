package kadrem.load.drive;

import kadrem.core.measure.FailureKind;

/**
 * One connection to a candidate that carries one call at a time. Everything here is called on the lane's thread, and
 * every result comes back on it.
 */
public interface Carrier {
    /** Opens the connection ahead of the first call, and runs {@code whenSettled} once, whether that went well or not. */
    void open(Runnable whenSettled);

    /**
     * Sends call number {@code call} of the workload with {@code values}. If there is no connection it is made
     * first. What the call captures is put into {@code values}. Exactly one of {@link Listener#good} and {@link Listener#failed} follows.
     */
    void send(int call, CallValues values);

    /** A user's next visit begins with the next call. */
    void beginVisit();

    /** Gives the call under way up: the connection is closed and {@link Listener#failed} is called with {@code kind}. */
    void abandon(FailureKind kind);

    /** Closes the connection; no result follows. */
    void close();

    /** Whether a thread of its own takes the instants, so that an answer never waits for the lane to read it. */
    default boolean timesBesideLane() {
        return false;
    }

    /** The request as sent, as text without secrets, cut to a bound. */
    String requestText(int call, CallValues values);

    /** What has come of the response, as text without secrets, cut to a bound; only valid inside a result. */
    String responseText();

    /** Who is told. Instants are of {@link System#nanoTime()}. */
    interface Listener {
        /** The bytes of the request were handed to the system. */
        void sent(long nanos, int bytes);

        /**
         * A connection was made for a call.
         *
         * @param handshakeNanos time of the TLS handshake; 0 without TLS
         */
        void connected(long connectNanos, long handshakeNanos);

        /** The first bytes of an answer have come; told only by a carrier that keeps answers. */
        default void arriving(long nanos) {
            // of interest where one exchange is looked at
        }

        /** A part of an answer that comes in parts has come: the first row, a message of a stream, an event. */
        default void part(long nanos) {
            // of interest where answers come in parts
        }

        /**
         * An answer came in pieces; told before it ends well.
         *
         * @param longestNanos longest time between two pieces that followed on each other
         */
        default void pieces(long longestNanos) {
            // of interest where it is counted
        }

        /** A call was looked into, of which the next answer asks for something else; told before it ends well. Hashes of what was asked and answered. */
        default void lookedInto(int asked, int answered) {
            // of interest where it is counted
        }

        void good(long nanos, int status, long bytes);

        /**
         * @param status status of the answer, 0 where there was none
         * @param detail what was expected and not found; empty where the kind says all
         */
        void failed(long nanos, FailureKind kind, int status, long bytes, String detail);
    }
}
