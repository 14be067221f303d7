package kadrem.load.drive.http;

import java.util.ArrayDeque;

import io.netty.buffer.ByteBuf;
import io.netty.handler.codec.http2.Http2CodecUtil;
import io.netty.handler.codec.http2.Http2Error;
import io.netty.handler.codec.http2.Http2Exception;

/** Bodies of requests on their way, as far as the server has given room for them (RFC 9113, section 5.2). Confined to a lane. */
final class Http2Bodies {
    private final Http2Frames out;
    /** Streams whose body waits for room. */
    private final ArrayDeque<Http2Stream> waiting = new ArrayDeque<>();
    private long room = Http2CodecUtil.DEFAULT_WINDOW_SIZE;

    Http2Bodies(Http2Frames out) {
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
