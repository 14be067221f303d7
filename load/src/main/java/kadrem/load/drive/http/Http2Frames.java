package kadrem.load.drive.http;

import io.netty.buffer.ByteBuf;
import io.netty.channel.Channel;
import io.netty.handler.codec.http2.DefaultHttp2HeadersEncoder;
import io.netty.handler.codec.http2.Http2CodecUtil;
import io.netty.handler.codec.http2.Http2Error;
import io.netty.handler.codec.http2.Http2Exception;
import io.netty.handler.codec.http2.Http2Flags;
import io.netty.handler.codec.http2.Http2FrameTypes;
import io.netty.handler.codec.http2.Http2Headers;
import io.netty.handler.codec.http2.Http2HeadersEncoder;
import io.netty.handler.codec.http2.Http2Settings;
import org.jspecify.annotations.Nullable;

/**
 * What is written to a connection of HTTP/2: frames in the order in which they were made (RFC 9113, sections 4.1 and 6), gathered in one
 * buffer until they are flushed. Confined to a lane.
 */
final class Http2Frames {
    static final int HEAD = Http2CodecUtil.FRAME_HEADER_LENGTH;
    private static final int FIRST_SIZE = 1024;
    private static final int SETTING = Short.BYTES + Integer.BYTES;

    private final Channel channel;
    private final Http2HeadersEncoder headers = new DefaultHttp2HeadersEncoder();
    private @Nullable ByteBuf out;
    private int mostPayload = Http2CodecUtil.DEFAULT_MAX_FRAME_SIZE;
    private boolean hasRequest;

    Http2Frames(Channel channel) {
        this.channel = channel;
    }

    private ByteBuf out() {
        ByteBuf made = out;
        if (made == null) {
            made = channel.alloc().directBuffer(FIRST_SIZE);
            out = made;
        }
        return made;
    }

    private ByteBuf frame(int length, byte type, int flags, int stream) {
        ByteBuf to = out();
        to.ensureWritable(HEAD + length);
        to.writeMedium(length).writeByte(type).writeByte(flags).writeInt(stream);
        return to;
    }

    /** The client's first bytes (RFC 9113, section 3.4), its settings, and room beyond the usual on the connection. */
    void greet(Http2Settings settings, int moreRoom) {
        out().writeBytes(Http2CodecUtil.connectionPrefaceBuf());
        ByteBuf to = frame(settings.size() * SETTING, Http2FrameTypes.SETTINGS, 0, 0);
        settings.entries().forEach(entry -> to.writeShort(entry.key()).writeInt(entry.value().intValue()));
        room(0, moreRoom);
    }

    /** Takes over what the server's settings say of what is written. Applies to what is written after this. */
    void obey(Http2Settings settings) throws Http2Exception {
        Integer most = settings.maxFrameSize();
        if (most != null) {
            mostPayload = most;
        }
        Long table = settings.headerTableSize();
        if (table != null) {
            headers.configuration().maxHeaderTableSize(Math.min(table, Http2CodecUtil.DEFAULT_HEADER_TABLE_SIZE));
        }
    }

    /** Largest payload of a frame that the server takes, in bytes. */
    int mostPayload() {
        return mostPayload;
    }

    void settingsTaken() {
        frame(0, Http2FrameTypes.SETTINGS, Http2Flags.ACK, 0);
    }

    void pong(long content) {
        frame(Long.BYTES, Http2FrameTypes.PING, Http2Flags.ACK, 0).writeLong(content);
    }

    /** Gives the server room for more bytes on a stream; on the connection where it is 0. */
    void room(int stream, int bytes) {
        frame(Integer.BYTES, Http2FrameTypes.WINDOW_UPDATE, 0, stream).writeInt(bytes);
    }

    void reset(int stream, Http2Error why) {
        frame(Integer.BYTES, Http2FrameTypes.RST_STREAM, 0, stream).writeInt((int) why.code());
    }

    void goAway(Http2Error why) {
        // no stream of the server's was taken
        frame(2 * Integer.BYTES, Http2FrameTypes.GO_AWAY, 0, 0).writeInt(0).writeInt((int) why.code());
    }

    /**
     * The head of a request.
     *
     * @return its bytes on the wire
     */
    int headers(int stream, Http2Headers head, boolean last) {
        hasRequest = true;
        ByteBuf to = out();
        int start = to.writerIndex();
        int flags = last ? Http2Flags.END_STREAM : 0;
        to.ensureWritable(HEAD).writerIndex(start + HEAD);
        try {
            headers.encodeHeaders(stream, head, to);
        } catch (Http2Exception impossible) {
            throw new IllegalStateException("a head of any size may be sent", impossible);
        }
        int length = to.writerIndex() - start - HEAD;
        if (length > mostPayload) {
            ByteBuf block = to.copy(start + HEAD, length);
            to.writerIndex(start);
            try {
                split(stream, block, flags);
            } finally {
                block.release();
            }
        } else {
            to.setMedium(start, length).setByte(start + 3, Http2FrameTypes.HEADERS)
                    .setByte(start + 4, flags | Http2Flags.END_HEADERS).setInt(start + 5, stream);
        }
        return to.writerIndex() - start;
    }

    /** A head that is too large for one frame (RFC 9113, section 6.10). */
    private void split(int stream, ByteBuf block, int flags) {
        byte type = Http2FrameTypes.HEADERS;
        int more = flags;
        while (block.isReadable()) {
            int length = Math.min(block.readableBytes(), mostPayload);
            int end = length == block.readableBytes() ? Http2Flags.END_HEADERS : 0;
            frame(length, type, more | end, stream).writeBytes(block, length);
            type = Http2FrameTypes.CONTINUATION;
            more = 0;
        }
    }

    /** The next bytes of a body, in one frame. */
    void data(int stream, ByteBuf body, int length, boolean last) {
        frame(length, Http2FrameTypes.DATA, last ? Http2Flags.END_STREAM : 0, stream).writeBytes(body, length);
    }

    /** Whether the head of a request has not been flushed yet. */
    boolean hasRequest() {
        return hasRequest;
    }

    /** Hands what was written to the system. */
    void flush() {
        ByteBuf written = out;
        out = null;
        hasRequest = false;
        if (written != null) {
            channel.writeAndFlush(written, channel.voidPromise());
        }
    }

    /** Lets go of what was not flushed. */
    void discard() {
        ByteBuf written = out;
        out = null;
        if (written != null) {
            written.release();
        }
    }
}
