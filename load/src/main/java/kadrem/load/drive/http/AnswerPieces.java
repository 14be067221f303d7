package kadrem.load.drive.http;

import kadrem.load.drive.Carrier;

/** The times between the pieces of an answer that comes in several. Confined to a lane. */
final class AnswerPieces {
    private long last;
    private long longest;

    void begin() {
        last = 0;
        longest = 0;
    }

    /** A piece has come, after which there is more. */
    void piece(long nanos) {
        longest = last == 0 ? 0 : Math.max(longest, nanos - last);
        last = nanos;
    }

    /** The answer is whole. */
    void tell(long nanos, Carrier.Listener listener) {
        if (last != 0) {
            listener.pieces(Math.max(longest, nanos - last));
        }
    }
}
