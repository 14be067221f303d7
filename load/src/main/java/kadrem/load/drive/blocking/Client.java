package kadrem.load.drive.blocking;

import java.util.Optional;

import kadrem.load.drive.CallValues;
import kadrem.load.drive.Spent;

/**
 * What a protocol with a waiting client offers, prepared for one candidate and one workload.
 *
 * @param <R> a call made ready: its template with values filled in
 */
public interface Client<R> extends AutoCloseable {
    /** Makes call number {@code call} ready; on the lane's thread, so that nothing else is touched by the user's. */
    R ready(int call, CallValues values);

    /** What {@link #ready} would give, as text without secrets. */
    String shown(int call, CallValues values);

    /**
     * A user's own connection; on the user's thread.
     *
     * @throws CallFailure if there is none to be had
     */
    UserConnection<R> connect() throws CallFailure, InterruptedException;

    /** The word for a status that answers have. */
    String statusWord(int status);

    /** See {@link kadrem.load.drive.Driver#spent}. */
    default Optional<Spent> spent() {
        return Optional.empty();
    }

    @Override
    void close();

    /** A connection of one user, which makes one call at a time. */
    interface UserConnection<R> extends AutoCloseable {
        /** A further visit begins with the next call. */
        default void beginVisit() {
            // of interest to those that keep something during a visit
        }

        /**
         * Makes a call and waits for the whole of its answer.
         *
         * @param keeps whether the answer's content is looked into; if not, it only has to be received
         * @param marks told of instants on the way
         * @throws CallFailure if it is not good
         */
        Answer call(int call, R ready, boolean keeps, Marks marks) throws CallFailure, InterruptedException;

        /** Gives up the call under way, as far as the client can; from another thread. */
        void cancel();

        /** Whether it can be used for a further call after one that failed. */
        boolean isUsable();

        @Override
        void close();
    }

    /** Told of instants while a call goes on. */
    interface Marks {
        /** A part of an answer that comes in parts has come: its first row, a message of a stream. */
        void part();
    }

    /**
     * A whole answer.
     *
     * @param bytesOut on the wire; 0 where that is not told
     * @param bytesIn likewise
     * @param words what it is in a line, such as "3 rows"
     * @param contentType of the content, as HTTP names it
     * @param content empty where it was not to be kept
     */
    record Answer(int status, long bytesOut, long bytesIn, String words, String contentType, byte[] content) {
        public Answer withSizes(long out, long in) {
            return new Answer(status, out, in, words, contentType, content);
        }
    }
}
