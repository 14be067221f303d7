package kadrem.load.drive.http;

import java.util.ArrayDeque;
import java.util.List;

import io.netty.buffer.ByteBuf;
import io.netty.channel.Channel;
import io.netty.channel.ChannelHandlerContext;
import io.netty.handler.codec.http2.AbstractHttp2ConnectionHandlerBuilder;
import io.netty.handler.codec.http2.Http2ConnectionAdapter;
import io.netty.handler.codec.http2.Http2ConnectionDecoder;
import io.netty.handler.codec.http2.Http2ConnectionEncoder;
import io.netty.handler.codec.http2.Http2ConnectionHandler;
import io.netty.handler.codec.http2.Http2Error;
import io.netty.handler.codec.http2.Http2Exception;
import io.netty.handler.codec.http2.Http2FrameAdapter;
import io.netty.handler.codec.http2.Http2Headers;
import io.netty.handler.codec.http2.Http2Settings;
import io.netty.handler.codec.http2.Http2Stream;
import io.netty.util.collection.IntObjectHashMap;
import kadrem.core.measure.FailureKind;
import kadrem.load.drive.Link;
import kadrem.load.drive.Opening;
import org.jspecify.annotations.Nullable;

/**
 * A connection of HTTP/2 (RFC 9113) with the carriers that share it, each call a stream of its own. After a GOAWAY later
 * calls go over a new connection, while streams that the server still answers go on. Confined to a lane.
 */
final class Http2Connection {
    /** Received bytes that may be under way on a stream, so that no answer of usual size waits for room. */
    private static final int WINDOW = 1 << 20;

    private final Link link;
    private final ArrayDeque<Http2Carrier> pending = new ArrayDeque<>();
    /** Streams of the connection that is made or being made; null where later calls need another. */
    private @Nullable Streams current;

    Http2Connection(Opening opening) {
        link = new Link(opening, new Link.Use() {
            @Override
            public void addHandlers(Channel made) {
                var counter = new FrameCounter();
                Streams streams = new Builder(counter).made();
                current = streams;
                made.pipeline().addLast(counter, streams);
            }

            @Override
            public boolean greet(Channel made) {
                // calls may follow when the server has sent its settings (RFC 9113, section 3.4)
                Streams streams = current;
                return streams != null && streams.hasSettings;
            }

            @Override
            public void ready(Channel made) {
                boolean first = true;
                for (Http2Carrier carrier : take()) {
                    if (first) {
                        carrier.connected(link.connectNanos(), link.handshakeNanos());
                        first = false;
                    }
                    send(carrier);
                }
            }

            @Override
            public void failed(FailureKind kind, String detail) {
                take().forEach(carrier -> carrier.broken(kind, detail));
            }
        });
    }

    void open(Runnable whenSettled) {
        link.open(whenSettled);
    }

    /** Has the carrier write its request, on a connection that is made first where there is none. */
    void send(Http2Carrier carrier) {
        Streams open = current;
        if (open != null && link.usable() != null) {
            carrier.writeTo(open);
        } else {
            pending.add(carrier);
            link.connect();
        }
    }

    private List<Http2Carrier> take() {
        List<Http2Carrier> taken = List.copyOf(pending);
        pending.clear();
        return taken;
    }

    /** Forgets a carrier whose call is given up before it had a stream. */
    void forget(Http2Carrier carrier) {
        if (pending.remove(carrier) && pending.isEmpty()) {
            link.giveUpUnlessAwaited();
        }
    }

    void drop() {
        link.drop();
    }

    void close() {
        pending.clear();
        link.close();
    }

    /** Makes the handler of a connection, with the frames that it reads told to itself. */
    private final class Builder extends AbstractHttp2ConnectionHandlerBuilder<Streams, Builder> {
        private final FrameCounter counter;
        private final Frames frames = new Frames();

        Builder(FrameCounter counter) {
            this.counter = counter;
        }

        Streams made() {
            server(false);
            encoderEnforceMaxConcurrentStreams(true);
            initialSettings(Http2Settings.defaultSettings().pushEnabled(false).initialWindowSize(WINDOW));
            frameListener(frames);
            Streams made = super.build();
            frames.streams = made;
            return made;
        }

        @Override
        protected Streams build(Http2ConnectionDecoder decoder, Http2ConnectionEncoder encoder,
                Http2Settings settings) {
            return new Streams(decoder, encoder, settings, counter);
        }
    }

    /** One connection's streams, with the carriers whose calls are on them. */
    final class Streams extends Http2ConnectionHandler {
        private final IntObjectHashMap<Http2Carrier> carriers = new IntObjectHashMap<>();
        private final FrameCounter counter;
        private @Nullable ChannelHandlerContext context;
        private boolean hasSettings;

        Streams(Http2ConnectionDecoder decoder, Http2ConnectionEncoder encoder, Http2Settings settings,
                FrameCounter counter) {
            super(decoder, encoder, settings);
            this.counter = counter;
            connection().addListener(new Http2ConnectionAdapter() {
                @Override
                public void onStreamClosed(Http2Stream stream) {
                    fail(stream.id(), FailureKind.CLOSED, "");
                }
            });
        }

        @Override
        public void handlerAdded(ChannelHandlerContext added) throws Exception {
            context = added;
            super.handlerAdded(added);
        }

        private ChannelHandlerContext context() {
            ChannelHandlerContext known = context;
            if (known == null) {
                throw new IllegalStateException("the connection is not made yet");
            }
            return known;
        }

        private boolean isCurrent() {
            return link.isOf(context().channel());
        }

        /**
         * Writes a request on a stream of its own; it leaves with {@link #flush()}.
         *
         * @param body released when it has left; empty where there is none
         * @return the stream; 0 where the connection has no more, and closes
         */
        int write(Http2Carrier carrier, Http2Headers headers, ByteBuf body) {
            int stream = connection().local().incrementAndGetNextStreamId();
            if (stream <= 0) {
                body.release();
                if (isCurrent()) {
                    link.leave();
                }
                return 0;
            }
            carriers.put(stream, carrier);
            boolean hasBody = body.isReadable();
            encoder().writeHeaders(context(), stream, headers, 0, !hasBody, context().newPromise())
                    .addListener(written -> {
                        if (!written.isSuccess()) {
                            fail(stream, FailureKind.NO_CONNECTION, "no stream could be opened");
                        }
                    });
            if (hasBody) {
                encoder().writeData(context(), stream, body, 0, true, context().newPromise());
            } else {
                body.release();
            }
            return stream;
        }

        void flush() {
            // with what the flow control has held back
            flush(context());
        }

        /** Bytes that have left on a stream since this was last asked. */
        int bytesOut(int stream) {
            return counter.takeOut(stream);
        }

        /** Bytes that have come on a stream that is over. */
        long bytesIn(int stream) {
            return counter.endIn(stream);
        }

        /** Gives a stream up. */
        void cancel(int stream) {
            carriers.remove(stream);
            if (context().channel().isActive() && connection().streamMayHaveExisted(stream)) {
                encoder().writeRstStream(context(), stream, Http2Error.CANCEL.code(), context().newPromise());
                flush();
            }
        }

        private void fail(int stream, FailureKind kind, String detail) {
            Http2Carrier carrier = carriers.remove(stream);
            if (carrier != null) {
                carrier.broken(kind, detail);
            }
        }

        @Override
        public void channelInactive(ChannelHandlerContext inactive) throws Exception {
            if (isCurrent() && link.isReady()) {
                link.drop();
            } else if (isCurrent()) {
                link.lost(FailureKind.CLOSED, "the server closed before it had sent its settings");
            }
            super.channelInactive(inactive);
        }

        @Override
        protected void onConnectionError(ChannelHandlerContext broken, boolean outbound, Throwable cause,
                @Nullable Http2Exception http2) {
            List<Http2Carrier> asked = List.copyOf(carriers.values());
            carriers.clear();
            if (isCurrent() && link.isReady()) {
                link.leave();
            } else if (isCurrent()) {
                link.lost(FailureKind.MALFORMED, String.valueOf(cause.getMessage()));
            }
            asked.forEach(carrier -> carrier.broken(FailureKind.MALFORMED, String.valueOf(cause.getMessage())));
            super.onConnectionError(broken, outbound, cause, http2);
        }

        @Override
        protected void onStreamError(ChannelHandlerContext broken, boolean outbound, Throwable cause,
                Http2Exception.StreamException http2) {
            fail(http2.streamId(), FailureKind.MALFORMED, String.valueOf(http2.getMessage()));
            super.onStreamError(broken, outbound, cause, http2);
        }
    }

    /** What comes on the streams. */
    private final class Frames extends Http2FrameAdapter {
        private @Nullable Streams streams;

        private @Nullable Http2Carrier carrier(int stream, boolean last) {
            Streams mine = streams;
            return mine == null ? null : last ? mine.carriers.remove(stream) : mine.carriers.get(stream);
        }

        @Override
        public void onHeadersRead(ChannelHandlerContext context, int stream, Http2Headers headers, int padding,
                boolean last) {
            Http2Carrier carrier = carrier(stream, last);
            if (carrier != null) {
                carrier.headers(headers, last);
            }
        }

        @Override
        public void onHeadersRead(ChannelHandlerContext context, int stream, Http2Headers headers, int dependency,
                short weight, boolean exclusive, int padding, boolean last) {
            onHeadersRead(context, stream, headers, padding, last);
        }

        @Override
        public int onDataRead(ChannelHandlerContext context, int stream, ByteBuf data, int padding, boolean last) {
            int bytes = data.readableBytes() + padding;
            Http2Carrier carrier = carrier(stream, last);
            if (carrier != null) {
                carrier.data(data, last);
            }
            return bytes;
        }

        @Override
        public void onRstStreamRead(ChannelHandlerContext context, int stream, long code) {
            Streams mine = streams;
            if (mine != null) {
                mine.fail(stream, FailureKind.RESET, "the stream was reset with code " + code);
            }
        }

        @Override
        public void onSettingsRead(ChannelHandlerContext context, Http2Settings settings) {
            Streams mine = streams;
            if (mine != null && !mine.hasSettings) {
                mine.hasSettings = true;
                if (mine.isCurrent()) {
                    link.ready();
                }
            }
        }

        @Override
        public void onGoAwayRead(ChannelHandlerContext context, int lastStream, long code, ByteBuf debug) {
            if (link.isOf(context.channel())) {
                // the streams that are answered still end by themselves; the server closes when they have
                link.leave();
            }
        }
    }
}
