package kadrem.load.drive.http;

import io.netty.buffer.ByteBuf;
import org.jspecify.annotations.Nullable;

/** A stream of a connection of HTTP/2, which carries one request and its answer (RFC 9113, section 5). Confined to a lane. */
final class Http2Stream {
    final int id;
    final Http2Carrier carrier;
    /** Bytes of a body that the server still takes on it; below 0 where it has lowered what it takes. */
    long room;
    /** What waits for room; null where the request has left. */
    @Nullable
    ByteBuf body;
    /** Bytes that came since the server was last given room. */
    int unreturned;
    /** Whether the head of the final answer has come. */
    boolean answered;
    /** Bytes of the request on the wire, heads of frames among them. */
    int bytesOut;
    /** Bytes of the answer so far, heads of frames among them. */
    long bytesIn;

    Http2Stream(int id, Http2Carrier carrier, long room) {
        this.id = id;
        this.carrier = carrier;
        this.room = room;
    }

    /** Lets go of what would still have been sent. Returns whether there was any. */
    boolean discard() {
        ByteBuf rest = body;
        body = null;
        if (rest != null) {
            rest.release();
        }
        return rest != null;
    }
}
