package kadrem.load.drive.http;

import java.util.List;

import io.netty.buffer.ByteBuf;
import io.netty.channel.Channel;
import io.netty.channel.ChannelHandlerContext;
import io.netty.handler.codec.ByteToMessageDecoder;
import io.netty.handler.codec.http2.DefaultHttp2FrameReader;
import io.netty.handler.codec.http2.DefaultHttp2HeadersDecoder;
import io.netty.handler.codec.http2.Http2CodecUtil;
import io.netty.handler.codec.http2.Http2Error;
import io.netty.handler.codec.http2.Http2Exception;
import io.netty.handler.codec.http2.Http2Flags;
import io.netty.handler.codec.http2.Http2FrameAdapter;
import io.netty.handler.codec.http2.Http2FrameReader;
import io.netty.handler.codec.http2.Http2FrameTypes;
import io.netty.handler.codec.http2.Http2Headers;
import io.netty.handler.codec.http2.Http2Settings;
import io.netty.util.collection.IntObjectHashMap;
import kadrem.core.measure.FailureKind;
import kadrem.load.drive.Failures;
import org.jspecify.annotations.Nullable;
import org.slf4j.LoggerFactory;

/**
 * The client's side of one connection of HTTP/2 (RFC 9113): its streams, their flow control, and what the two sides agree on; one file,
 * since frames of a connection come in one order and change one state. Frames are read and heads are packed by Netty. Confined to a lane.
 */
final class Http2Streams extends ByteToMessageDecoder {
    private static final Http2Settings OURS = new Http2Settings().pushEnabled(false)
            .initialWindowSize(Http2Flow.STREAM_ROOM)
            .maxHeaderListSize(ResponseScanner.MAX_HEAD_BYTES);

    private final Http2Owner owner;
    private final Channel channel;
    private final Http2Frames out;
    private final Http2FrameReader reader = new DefaultHttp2FrameReader(
            new DefaultHttp2HeadersDecoder(true, ResponseScanner.MAX_HEAD_BYTES));
    private final Frames frames = new Frames();
    private final IntObjectHashMap<Http2Stream> streams = new IntObjectHashMap<>();
    private final Http2Flow flow;
    /** The stream of the frame that is being read; null where it has none, or one that is over. */
    private @Nullable Http2Stream reading;
    private int next = 1;
    private long mostStreams = Long.MAX_VALUE;
    private boolean hasSettings;
    /** Whether the server takes no further streams. */
    private boolean ending;
    private boolean broken;

    Http2Streams(Http2Owner owner, Channel channel) {
        this.owner = owner;
        this.channel = channel;
        out = new Http2Frames(channel);
        flow = new Http2Flow(out);
    }

    @Override
    public void channelActive(ChannelHandlerContext context) {
        out.greet(OURS, Http2Flow.CONNECTION_ROOM - Http2CodecUtil.DEFAULT_WINDOW_SIZE);
        out.flush();
        context.fireChannelActive();
    }

    boolean hasSettings() {
        return hasSettings;
    }

    Channel channel() {
        return channel;
    }

    /** Whether the server lets another stream be opened now. */
    boolean hasRoom() {
        return streams.size() < mostStreams;
    }

    /**
     * Writes a request on a stream of its own; it leaves with {@link #flush()}.
     *
     * @param body is released; empty where there is none
     * @return null where the connection has no more streams
     */
    @Nullable
    Http2Stream write(Http2Carrier carrier, Http2Headers head, ByteBuf body) {
        if (next < 0 || ending) {
            body.release();
            ending = true;
            owner.ending(this);
            return null;
        }
        var stream = new Http2Stream(next, carrier, flow.firstRoom());
        next += 2;
        streams.put(stream.id, stream);
        int length = body.readableBytes();
        stream.bytesOut = out.headers(stream.id, head, length == 0);
        if (length == 0) {
            body.release();
            return stream;
        }
        int most = out.mostPayload();
        stream.bytesOut += length + (length + most - 1) / most * Http2Frames.HEAD;
        stream.body = body;
        flow.send(stream);
        return stream;
    }

    /** Hands what was written to the system. */
    void flush() {
        out.flush();
    }

    /** Gives a stream up; the server is told. */
    void cancel(Http2Stream stream) {
        if (forget(stream)) {
            out.reset(stream.id, Http2Error.CANCEL);
            out.flush();
            owner.roomMade();
        }
    }

    /** The client says that it goes, before the connection is closed (RFC 9113, section 5.4.1). */
    void goodbye() {
        if (channel.isActive() && hasSettings && !broken) {
            out.goAway(Http2Error.NO_ERROR);
            out.flush();
        }
    }

    private boolean forget(Http2Stream stream) {
        boolean was = streams.remove(stream.id) == stream;
        stream.discard();
        if (ending && streams.isEmpty()) {
            goodbye();
            channel.close();
        }
        return was;
    }

    private void malformed(Http2Stream stream, String detail) {
        if (forget(stream)) {
            out.reset(stream.id, Http2Error.PROTOCOL_ERROR);
            stream.carrier.broken(FailureKind.MALFORMED, detail);
            owner.roomMade();
        }
    }

    /** The last frame of an answer has come. */
    private void answered(Http2Stream stream) {
        if (stream.discard()) {
            // the rest of the request is not wanted (RFC 9113, section 8.1)
            out.reset(stream.id, Http2Error.CANCEL);
        }
        forget(stream);
        stream.carrier.whole();
        owner.roomMade();
    }

    @Override
    protected void decode(ChannelHandlerContext context, ByteBuf in, List<Object> none) {
        int end = in.writerIndex();
        try {
            while (!broken && in.readableBytes() >= Http2Frames.HEAD) {
                int from = in.readerIndex();
                int length = Http2Frames.HEAD + in.getUnsignedMedium(from);
                boolean tooLarge = length > Http2Frames.HEAD + Http2CodecUtil.DEFAULT_MAX_FRAME_SIZE;
                if (in.readableBytes() < length && !tooLarge) {
                    return;
                }
                // the reader sees one frame at a time
                in.writerIndex(tooLarge ? end : from + length);
                frame(context, in, length);
                in.readerIndex(in.writerIndex()).writerIndex(end);
            }
        } finally {
            in.writerIndex(end);
        }
        if (broken) {
            in.skipBytes(in.readableBytes());
        }
    }

    private void frame(ChannelHandlerContext context, ByteBuf in, int length) {
        int start = in.readerIndex();
        int id = in.getInt(start + 5) & Integer.MAX_VALUE;
        Http2Stream stream = id == 0 ? null : streams.get(id);
        if (stream != null) {
            stream.bytesIn += length;
        }
        reading = stream;
        try {
            byte type = in.getByte(start + 3);
            boolean settings = type == Http2FrameTypes.SETTINGS && (in.getByte(start + 4) & Http2Flags.ACK) == 0;
            if (!hasSettings && !settings) {
                throw Http2Exception.connectionError(Http2Error.PROTOCOL_ERROR,
                        "the server did not begin with its settings");
            }
            if (id != 0 && type != Http2FrameTypes.PRIORITY && (id >= next && next > 0 || id % 2 == 0)) {
                throw Http2Exception.connectionError(Http2Error.PROTOCOL_ERROR,
                        "a frame came on stream %d, which was never opened", id);
            }
            reader.readFrame(context, in, frames);
        } catch (Http2Exception.StreamException wrong) {
            Http2Stream one = streams.get(wrong.streamId());
            if (one != null) {
                malformed(one, String.valueOf(wrong.getMessage()));
            }
        } catch (Http2Exception wrong) {
            fail(wrong.error(), FailureKind.MALFORMED, String.valueOf(wrong.getMessage()));
        } finally {
            reading = null;
        }
    }

    @Override
    public void channelReadComplete(ChannelHandlerContext context) throws Exception {
        // a request goes when its carrier says so, and takes with it what stands before it
        if (!out.hasRequest()) {
            out.flush();
        }
        super.channelReadComplete(context);
    }

    /** The connection cannot go on; the server is told why, and the calls on it fail. */
    private void fail(Http2Error error, FailureKind kind, String detail) {
        if (!broken) {
            broken = true;
            out.goAway(error);
            out.flush();
            channel.close();
            over(kind, detail);
        }
    }

    private void over(FailureKind kind, String detail) {
        broken = true;
        owner.over(this, kind, detail);
        List<Http2Stream> open = List.copyOf(streams.values());
        streams.clear();
        flow.clear();
        open.forEach(Http2Stream::discard);
        open.forEach(stream -> stream.carrier.broken(kind, detail));
    }

    @Override
    public void channelInactive(ChannelHandlerContext context) throws Exception {
        // what has come is read first
        super.channelInactive(context);
        over(FailureKind.CLOSED, "");
        out.discard();
        reader.close();
    }

    @Override
    public void exceptionCaught(ChannelHandlerContext context, Throwable cause) {
        FailureKind kind = Failures.kindOf(cause.getCause() instanceof RuntimeException own ? own : cause, false);
        if (kind == FailureKind.GENERATOR) {
            LoggerFactory.getLogger(Http2Streams.class).warn("unexpected failure on a connection", cause);
        }
        fail(Http2Error.INTERNAL_ERROR, kind, "");
    }

    /** What comes on the connection. */
    private final class Frames extends Http2FrameAdapter {
        @Override
        public void onHeadersRead(ChannelHandlerContext context, int id, Http2Headers head, int padding,
                boolean last) {
            Http2Stream stream = reading;
            if (stream == null) {
                return;
            }
            if (stream.answered) {
                if (last) {
                    answered(stream);
                } else {
                    malformed(stream, "a second head follows the answer's");
                }
                return;
            }
            int status = Http2Carrier.status(head.status());
            if (status == 0) {
                malformed(stream, "the status is " + head.status());
            } else if (status >= 200) {
                stream.answered = true;
                stream.carrier.head(status, head);
                if (last) {
                    answered(stream);
                }
            } else if (last) {
                malformed(stream, "the answer ends with status " + status);
            }
        }

        @Override
        public void onHeadersRead(ChannelHandlerContext context, int id, Http2Headers head, int dependency,
                short weight, boolean exclusive, int padding, boolean last) {
            onHeadersRead(context, id, head, padding, last);
        }

        @Override
        public int onDataRead(ChannelHandlerContext context, int id, ByteBuf data, int padding, boolean last)
                throws Http2Exception {
            int bytes = data.readableBytes() + padding;
            flow.came(bytes);
            Http2Stream stream = reading;
            if (stream != null) {
                data(stream, data, bytes, last);
            }
            return bytes;
        }

        private void data(Http2Stream stream, ByteBuf data, int bytes, boolean last) throws Http2Exception {
            if (!stream.answered) {
                malformed(stream, "a body comes before the head");
                return;
            }
            flow.came(stream, bytes, last);
            stream.carrier.data(data);
            if (last) {
                answered(stream);
            }
        }

        @Override
        public void onRstStreamRead(ChannelHandlerContext context, int id, long code) {
            Http2Stream stream = reading;
            if (stream != null && forget(stream)) {
                stream.carrier.broken(FailureKind.RESET, "the stream was reset with code " + code);
                owner.roomMade();
            }
        }

        @Override
        public void onSettingsRead(ChannelHandlerContext context, Http2Settings settings) throws Http2Exception {
            Long most = settings.maxConcurrentStreams();
            if (most != null) {
                mostStreams = most;
            }
            Integer first = settings.initialWindowSize();
            if (first != null) {
                flow.firstRoom(first, streams.values());
            }
            out.settingsTaken();
            out.obey(settings);
            flow.sendWaiting();
            if (!hasSettings) {
                hasSettings = true;
                owner.greeted(Http2Streams.this);
            } else {
                owner.roomMade();
            }
        }

        @Override
        public void onPingRead(ChannelHandlerContext context, long content) {
            out.pong(content);
        }

        @Override
        public void onWindowUpdateRead(ChannelHandlerContext context, int id, int more) throws Http2Exception {
            if (id == 0) {
                flow.room(more);
            } else if (reading != null) {
                flow.room(reading, more);
            }
            flow.sendWaiting();
        }

        @Override
        public void onGoAwayRead(ChannelHandlerContext context, int last, long code, ByteBuf debug) {
            boolean idle = streams.isEmpty();
            ending = true;
            owner.ending(Http2Streams.this);
            if (idle) {
                channel.close();
            }
            // what lies above was not looked at by the server (RFC 9113, section 6.8)
            for (Http2Stream stream : List.copyOf(streams.values())) {
                if (stream.id > last && forget(stream)) {
                    stream.carrier.broken(FailureKind.CLOSED, "the server goes away with code " + code);
                }
            }
        }

        @Override
        public void onPushPromiseRead(ChannelHandlerContext context, int id, int promised, Http2Headers head,
                int padding) throws Http2Exception {
            throw Http2Exception.connectionError(Http2Error.PROTOCOL_ERROR, "the server pushes, which it may not");
        }
    }
}
