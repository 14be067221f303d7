package kadrem.load.drive.http;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;

import io.netty.buffer.ByteBuf;
import io.netty.buffer.ByteBufUtil;
import io.netty.buffer.Unpooled;
import io.netty.channel.ChannelHandler;
import io.netty.channel.ChannelHandlerContext;
import io.netty.channel.ChannelInboundHandlerAdapter;
import io.netty.handler.codec.http2.DefaultHttp2DataFrame;
import io.netty.handler.codec.http2.DefaultHttp2Headers;
import io.netty.handler.codec.http2.DefaultHttp2HeadersFrame;
import io.netty.handler.codec.http2.DefaultHttp2ResetFrame;
import io.netty.handler.codec.http2.Http2DataFrame;
import io.netty.handler.codec.http2.Http2Error;
import io.netty.handler.codec.http2.Http2Headers;
import io.netty.handler.codec.http2.Http2HeadersFrame;
import io.netty.handler.codec.http2.Http2ResetFrame;
import io.netty.handler.codec.http2.Http2StreamChannel;
import io.netty.util.ReferenceCountUtil;
import kadrem.core.measure.FailureKind;
import kadrem.core.study.Wire;
import kadrem.load.content.ResponseCheck;
import kadrem.load.content.ResponseView;
import kadrem.load.content.UnreadableContent;
import kadrem.load.drive.CallValues;
import kadrem.load.drive.InspectableCarrier;
import org.jspecify.annotations.Nullable;

/** Calls of HTTP/2, one at a time, each a stream of a connection that may be shared. Confined to its lane. */
final class Http2Carrier implements InspectableCarrier {
    /** Headers that belong to a connection of HTTP/1.1 (RFC 9113, section 8.2.2), and what has a field of its own. */
    private static final Set<String> LEFT_OUT = Set.of("host", "connection", "keep-alive", "proxy-connection",
            "transfer-encoding", "upgrade");

    private final HttpParts parts;
    private final Http2Connection connection;
    private final CallInHand hand;
    private final Listener listener;
    private final View view = new View();
    private final ByteBuf body = Unpooled.buffer(0);
    private final boolean ownConnection;
    private @Nullable Http2StreamChannel stream;
    private @Nullable Http2Headers answer;
    private int status;
    private boolean keepsBody;
    private boolean bodyTooLarge;
    private boolean keepsAll;
    private boolean busy;
    private boolean again;
    private long bytesIn;
    private long calls;

    Http2Carrier(HttpParts parts, Http2Connection connection, ResponseCheck[] checks, Listener listener) {
        this.parts = parts;
        this.connection = connection;
        this.listener = listener;
        hand = new CallInHand(parts, checks);
        ownConnection = parts.wire().reuse() != Wire.Reuse.KEEP;
    }

    @Override
    public void open(Runnable whenSettled) {
        if (ownConnection) {
            whenSettled.run();
        } else {
            connection.open(whenSettled);
        }
    }

    @Override
    public void beginVisit() {
        if (ownConnection) {
            connection.drop();
        }
    }

    @Override
    public void send(int callNumber, CallValues callValues) {
        busy = true;
        again = false;
        bytesIn = 0;
        hand.begin(callNumber, callValues);
        request();
    }

    private void request() {
        calls++;
        stream = null;
        answer = null;
        status = 0;
        body.clear();
        bodyTooLarge = false;
        keepsBody = keepsAll || hand.needsBody();
        connection.send(this);
    }

    /** Tells the requests of this carrier apart. */
    long callId() {
        return calls;
    }

    ChannelHandler newHandler() {
        return new Handler(calls);
    }

    void connected(long connectNanos, long handshakeNanos) {
        listener.connected(connectNanos, handshakeNanos);
    }

    /** Writes the request on its stream. It is rendered as HTTP/1.1 writes it and taken apart from there. */
    void writeTo(Http2StreamChannel opened) {
        if (!busy) {
            opened.close();
            return;
        }
        stream = opened;
        ByteBuf text = hand.request(opened.alloc());
        try {
            int end = text.readableBytes();
            int head = endOfHead(text);
            Http2Headers headers = headers(text.toString(text.readerIndex(), head, StandardCharsets.UTF_8));
            boolean hasBody = end > head;
            if (!again) {
                listener.sent(System.nanoTime(), end);
            }
            opened.write(new DefaultHttp2HeadersFrame(headers, !hasBody));
            if (hasBody) {
                opened.write(new DefaultHttp2DataFrame(
                        text.retainedSlice(text.readerIndex() + head, end - head), true));
            }
            opened.flush();
        } finally {
            text.release();
        }
    }

    private static int endOfHead(ByteBuf text) {
        for (int i = text.readerIndex(); i + 3 < text.writerIndex(); i++) {
            if (text.getByte(i) == '\r' && text.getByte(i + 2) == '\r' && text.getByte(i + 3) == '\n') {
                return i + 4 - text.readerIndex();
            }
        }
        return text.readableBytes();
    }

    private Http2Headers headers(String head) {
        String[] lines = head.split("\r\n");
        String[] first = lines[0].split(" ", 3);
        var headers = new DefaultHttp2Headers(false);
        headers.method(first[0]).scheme(parts.address().secure() ? "https" : "http")
                .authority(parts.address().authority()).path(first[1]);
        for (int i = 1; i < lines.length; i++) {
            int colon = lines[i].indexOf(':');
            String name = lines[i].substring(0, colon).toLowerCase(Locale.ROOT);
            if (!LEFT_OUT.contains(name)) {
                headers.add(name, lines[i].substring(colon + 1).strip());
            }
        }
        return headers;
    }

    @Override
    public void abandon(FailureKind kind) {
        if (busy) {
            busy = false;
            calls++;
            connection.forget(this);
            Http2StreamChannel open = stream;
            stream = null;
            if (open != null && open.isActive()) {
                open.writeAndFlush(new DefaultHttp2ResetFrame(Http2Error.CANCEL));
            }
            failed(kind, "");
        }
    }

    @Override
    public void close() {
        busy = false;
        calls++;
        connection.close();
    }

    /** The stream or its connection has broken before the answer was whole. */
    void broken(FailureKind kind, String detail) {
        if (busy) {
            busy = false;
            stream = null;
            failed(kind, detail);
        }
    }

    private void failed(FailureKind kind, String detail) {
        listener.failed(System.nanoTime(), kind, status, bytesIn, detail);
    }

    private void whole() {
        stream = null;
        if (parts.wire().reuse() == Wire.Reuse.PER_CALL) {
            connection.drop();
        }
        if (busy && hand.goesOn(view, status)) {
            again = true;
            request();
        } else if (busy) {
            busy = false;
            long now = System.nanoTime();
            Optional<FailureKind> failure = hand.failure();
            if (failure.isEmpty()) {
                listener.good(now, status, bytesIn);
            } else {
                listener.failed(now, failure.get(), status, bytesIn, hand.detail());
            }
        }
    }

    @Override
    public String requestText(int callNumber, CallValues callValues) {
        return hand.shown(callNumber, callValues, HttpCarrier.MOST_TEXT);
    }

    @Override
    public String requestText(int callNumber, CallValues callValues, int mostBytes) {
        return hand.shown(callNumber, callValues, mostBytes);
    }

    @Override
    public String responseText() {
        int shown = Math.min(body.readableBytes(), HttpCarrier.MOST_TEXT);
        return parts.secrets().mask(head() + body.toString(body.readerIndex(), shown, StandardCharsets.UTF_8));
    }

    @Override
    public void keepAnswers() {
        keepsAll = true;
    }

    @Override
    public String head() {
        Http2Headers known = answer;
        if (known == null) {
            return "";
        }
        var text = new StringBuilder("HTTP/2 ").append(status).append("\r\n");
        known.forEach(header -> {
            if (header.getKey().length() > 0 && header.getKey().charAt(0) != ':') {
                text.append(header.getKey()).append(": ").append(header.getValue()).append("\r\n");
            }
        });
        return text.append("\r\n").toString();
    }

    @Override
    public byte[] answerBody() {
        return ByteBufUtil.getBytes(body);
    }

    /** The answer that has just become whole. */
    private final class View implements ResponseView {
        @Override
        public List<String> headers(String name) {
            var values = new ArrayList<String>();
            Http2Headers known = answer;
            if (known != null) {
                known.getAll(name.toLowerCase(Locale.ROOT)).forEach(value -> values.add(value.toString()));
            }
            return values;
        }

        @Override
        public byte[] body() throws UnreadableContent {
            if (bodyTooLarge) {
                throw new UnreadableContent("the body is larger than "
                        + ResponseScanner.MOST_KEPT_BODY / 1024 / 1024 + " MiB, too large to be looked into");
            }
            return answerBody();
        }
    }

    /** The frames of one stream. */
    private final class Handler extends ChannelInboundHandlerAdapter {
        private final long mine;

        Handler(long mine) {
            this.mine = mine;
        }

        private boolean isNow() {
            return busy && mine == calls;
        }

        @Override
        public void channelRead(ChannelHandlerContext context, Object message) {
            try {
                if (isNow()) {
                    frame(message);
                }
            } finally {
                ReferenceCountUtil.release(message);
            }
        }

        private void frame(Object message) {
            switch (message) {
                case Http2HeadersFrame headers -> take(headers);
                case Http2DataFrame data -> take(data);
                default -> {
                    // priorities, window updates and what is unknown say nothing of the answer
                }
            }
        }

        /** Resets come as events, past the reading of what came before them. */
        @Override
        public void userEventTriggered(ChannelHandlerContext context, Object event) {
            if (event instanceof Http2ResetFrame reset && isNow()) {
                broken(FailureKind.RESET, "the stream was reset with code " + reset.errorCode());
            }
            ReferenceCountUtil.release(event);
        }

        private void take(Http2HeadersFrame frame) {
            CharSequence code = frame.headers().status();
            if (code == null) {
                // trailers
                if (frame.isEndStream()) {
                    whole();
                }
                return;
            }
            int found = code.toString().matches("[1-5]\\d\\d") ? Integer.parseInt(code.toString()) : 0;
            if (found == 0) {
                broken(FailureKind.MALFORMED, "the status is " + code);
            } else if (found >= 200) {
                status = found;
                answer = frame.headers();
                frame.headers().forEach(header -> bytesIn += header.getKey().length() + header.getValue().length());
                if (frame.isEndStream()) {
                    whole();
                }
            }
        }

        private void take(Http2DataFrame frame) {
            int length = frame.content().readableBytes();
            bytesIn += length;
            if (keepsBody && !bodyTooLarge) {
                if (body.readableBytes() + (long) length > ResponseScanner.MOST_KEPT_BODY) {
                    bodyTooLarge = true;
                } else {
                    body.writeBytes(frame.content());
                }
            }
            if (frame.isEndStream()) {
                whole();
            }
        }

        @Override
        public void channelInactive(ChannelHandlerContext context) {
            if (isNow()) {
                broken(FailureKind.CLOSED, "");
            }
        }

        @Override
        public void exceptionCaught(ChannelHandlerContext context, Throwable cause) {
            if (isNow()) {
                broken(FailureKind.MALFORMED, String.valueOf(cause.getMessage()));
            }
            context.close();
        }
    }
}
