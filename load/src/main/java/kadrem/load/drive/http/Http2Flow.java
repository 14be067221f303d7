package kadrem.load.drive.http;

import java.util.ArrayDeque;

import io.netty.buffer.ByteBuf;
import io.netty.handler.codec.http2.Http2CodecUtil;
import io.netty.handler.codec.http2.Http2Error;
import io.netty.handler.codec.http2.Http2Exception;

/**
 * Flow control of a connection (RFC 9113, section 5.2): bodies of requests leave as far as the server has given room for them, and the
 * server is given room for what it answers. Confined to a lane.
 */
final class Http2Flow {
    /** Bytes that may be under way on a stream and on the connection, so that no answer of usual size waits for room. */
    static final int STREAM_ROOM = 1 << 20;
    static final int CONNECTION_ROOM = 1 << 24;

    private final Http2Frames out;
    /** Streams whose body waits for room. */
    private final ArrayDeque<Http2Stream> waiting = new ArrayDeque<>();
    private long room = Http2CodecUtil.DEFAULT_WINDOW_SIZE;
    private int firstRoom = Http2CodecUtil.DEFAULT_WINDOW_SIZE;
    /** Bytes that came on the connection since the server was last given room. */
    private int unreturned;

    Http2Flow(Http2Frames out) {
        this.out = out;
    }

    /** Sends the stream's body, now or when there is room for it. */
    void send(Http2Stream stream) {
        sendNow(stream);
        if (stream.body != null) {
            waiting.add(stream);
        }
    }

    /** The server gives the connection more room. */
    void room(int more) throws Http2Exception {
        room += more;
        if (room > Http2CodecUtil.MAX_INITIAL_WINDOW_SIZE) {
            throw Http2Exception.connectionError(Http2Error.FLOW_CONTROL_ERROR,
                    "the server gives the connection more room than there is");
        }
    }

    /** The server gives a stream more room. */
    void room(Http2Stream stream, int more) throws Http2Exception {
        stream.room += more;
        if (stream.room > Http2CodecUtil.MAX_INITIAL_WINDOW_SIZE) {
            throw Http2Exception.streamError(stream.id, Http2Error.FLOW_CONTROL_ERROR,
                    "the server gives the stream more room than there is");
        }
    }

    /** Room that a stream has when it is opened. */
    int firstRoom() {
        return firstRoom;
    }

    /** The server gives each stream another room to begin with, those that are open included. */
    void firstRoom(int first, Iterable<Http2Stream> open) {
        int more = first - firstRoom;
        firstRoom = first;
        open.forEach(stream -> stream.room += more);
    }

    /** Bytes of an answer have come. */
    void came(int bytes) throws Http2Exception {
        unreturned += bytes;
        if (unreturned > CONNECTION_ROOM) {
            throw Http2Exception.connectionError(Http2Error.FLOW_CONTROL_ERROR,
                    "the server sent more than the connection has room for");
        }
        if (unreturned > CONNECTION_ROOM / 2) {
            out.room(0, unreturned);
            unreturned = 0;
        }
    }

    /** They were of a stream that is open. */
    void came(Http2Stream stream, int bytes, boolean last) throws Http2Exception {
        stream.unreturned += bytes;
        if (stream.unreturned > STREAM_ROOM) {
            throw Http2Exception.streamError(stream.id, Http2Error.FLOW_CONTROL_ERROR,
                    "the server sent more than the stream has room for");
        }
        if (stream.unreturned > STREAM_ROOM / 2 && !last) {
            out.room(stream.id, stream.unreturned);
            stream.unreturned = 0;
        }
    }

    /** The connection is over. */
    void clear() {
        waiting.clear();
    }

    private void sendNow(Http2Stream stream) {
        ByteBuf body = stream.body;
        while (body != null) {
            long most = Math.min(Math.min(room, stream.room), out.mostPayload());
            int length = (int) Math.min(most, body.readableBytes());
            if (length <= 0) {
                return;
            }
            room -= length;
            stream.room -= length;
            boolean last = length == body.readableBytes();
            out.data(stream.id, body, length, last);
            if (last) {
                stream.discard();
                body = null;
            }
        }
    }

    /** Sends what there is room for now. */
    void sendWaiting() {
        for (int left = waiting.size(); left > 0; left--) {
            Http2Stream stream = waiting.remove();
            sendNow(stream);
            if (stream.body != null) {
                waiting.add(stream);
            }
        }
    }
}
