package kadrem.load.drive.http;

import java.io.IOException;
import java.net.ConnectException;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;

import javax.net.ssl.SSLException;

import io.netty.bootstrap.Bootstrap;
import io.netty.buffer.ByteBuf;
import io.netty.buffer.ByteBufUtil;
import io.netty.buffer.Unpooled;
import io.netty.channel.Channel;
import io.netty.channel.ChannelFuture;
import io.netty.channel.ChannelHandlerContext;
import io.netty.channel.ChannelInboundHandlerAdapter;
import io.netty.channel.ChannelInitializer;
import io.netty.handler.ssl.JdkSslContext;
import io.netty.handler.ssl.SslHandler;
import io.netty.util.concurrent.Future;
import io.netty.util.concurrent.Promise;
import kadrem.core.measure.FailureKind;
import kadrem.core.study.Address;
import kadrem.core.study.Call;
import kadrem.load.content.ResponseCheck;
import kadrem.load.content.ResponseView;
import kadrem.load.content.UnreadableContent;
import kadrem.load.drive.CallValues;
import kadrem.load.drive.Carrier;
import kadrem.load.drive.Secrets;
import org.jspecify.annotations.Nullable;

/** One keep-alive connection. Confined to its lane. */
final class HttpCarrier implements Carrier {
    /** Bytes of a message that are kept for an example. */
    private static final int MOST_TEXT = 4096;

    private final Bootstrap bootstrap;
    private final Optional<JdkSslContext> tls;
    private final Address address;
    private final RequestTemplate[] templates;
    private final Credentials credentials;
    private final Call[] calls;
    private final ResponseCheck[] checks;
    private final Secrets secrets;
    private final Listener listener;
    private final View view = new View();
    private final ResponseScanner scanner = new ResponseScanner();
    /** The beginning of a response that came in several reads. */
    private final ByteBuf earlier = Unpooled.buffer(0, MOST_TEXT);
    private ByteBuf current = Unpooled.EMPTY_BUFFER;
    /** The body of a response that a check looks into; made when the first such call is sent. */
    private @Nullable ByteBuf body;
    private @Nullable CallValues values;
    private int currentStart;
    private @Nullable Channel channel;
    private boolean busy;
    /** Whether this call has met a challenge already. */
    private boolean challenged;
    private boolean closed;
    private int call;
    private long bytesIn;
    /** Connects begun for calls; the last one counts. */
    private long attempts;

    HttpCarrier(Bootstrap bootstrap, Optional<JdkSslContext> tls, Address address, RequestTemplate[] templates,
            Call[] calls, ResponseCheck[] checks, Credentials credentials, Secrets secrets, Listener listener) {
        this.bootstrap = bootstrap;
        this.tls = tls;
        this.address = address;
        this.templates = templates;
        this.credentials = credentials;
        this.calls = calls;
        this.checks = checks;
        this.secrets = secrets;
        this.listener = listener;
    }

    @Override
    public void open(Runnable whenSettled) {
        connect().addListener(_ -> whenSettled.run());
    }

    @Override
    public void send(int callNumber, CallValues callValues) {
        busy = true;
        attempts++;
        call = callNumber;
        challenged = false;
        values = callValues;
        bytesIn = 0;
        earlier.clear();
        scanner.expect(calls[callNumber].method().equals("HEAD"), checks[callNumber].needsBody() ? bodyBuffer() : null);
        Channel open = channel;
        if (open != null && open.isActive()) {
            write(open, callValues);
            return;
        }
        whenConnected(made -> write(made, callValues));
    }

    /** Connects for the present call; a connect that outlasts its call is no business of the next one's. */
    private void whenConnected(Consumer<Channel> then) {
        long mine = ++attempts;
        connect().addListener(future -> {
            Channel made = channel;
            if (!busy || mine != attempts) {
                return;
            }
            if (future.isSuccess() && made != null) {
                then.accept(made);
            } else {
                fail(kindOf(future.cause()));
            }
        });
    }

    /** The future is done when the connection can carry a request: after the TLS handshake where there is one. */
    private Future<Channel> connect() {
        Promise<Channel> ready = bootstrap.config().group().next().newPromise();
        ChannelFuture connected = bootstrap.clone().handler(new ChannelInitializer<Channel>() {
            @Override
            protected void initChannel(Channel made) {
                tls.ifPresent(context -> made.pipeline().addLast("tls",
                        context.newHandler(made.alloc(), address.host(), address.port())));
                made.pipeline().addLast(new Handler());
            }
        }).connect();
        connected.addListener(future -> {
            if (!future.isSuccess()) {
                ready.setFailure(future.cause());
            } else if (connected.channel().pipeline().get("tls") instanceof SslHandler handshaking) {
                handshaking.handshakeFuture().addListener(done -> settle(ready, connected.channel(), done));
            } else {
                settle(ready, connected.channel(), future);
            }
        });
        return ready;
    }

    private void settle(Promise<Channel> ready, Channel made, Future<?> done) {
        if (done.isSuccess()) {
            adopt(made);
            ready.setSuccess(made);
        } else {
            made.close();
            ready.setFailure(done.cause());
        }
    }

    /** A connect that was given up may still succeed later; there is room for one connection only. */
    private void adopt(Channel made) {
        Channel open = channel;
        if (closed || open != null && open.isActive()) {
            made.close();
        } else {
            channel = made;
        }
    }

    private void write(Channel open, CallValues callValues) {
        ByteBuf request = templates[call].render(open.alloc(), callValues);
        int bytes = request.readableBytes();
        listener.sent(System.nanoTime(), bytes);
        open.writeAndFlush(request, open.voidPromise());
    }

    @Override
    public void abandon(FailureKind kind) {
        if (busy) {
            fail(kind);
        }
    }

    @Override
    public void close() {
        closed = true;
        busy = false;
        dropConnection();
    }

    private void dropConnection() {
        Channel open = channel;
        channel = null;
        if (open != null) {
            open.close();
        }
    }

    private void fail(FailureKind kind) {
        busy = false;
        dropConnection();
        listener.failed(System.nanoTime(), kind, scanner.status(), bytesIn, "");
    }

    private void whole() {
        if (scanner.status() == 401 && meetsChallenge()) {
            return;
        }
        busy = false;
        if (!scanner.keepsConnection()) {
            dropConnection();
        }
        long now = System.nanoTime();
        if (!calls[call].expected().status().contains(scanner.status())) {
            listener.failed(now, FailureKind.UNEXPECTED_STATUS, scanner.status(), bytesIn,
                    "status " + scanner.status() + ", and not " + calls[call].expected().status());
            return;
        }
        CallValues known = values;
        String wrong = known == null ? "" : checks[call].check(view, known.captured());
        if (wrong.isEmpty()) {
            listener.good(now, scanner.status(), bytesIn);
        } else {
            listener.failed(now, FailureKind.FAILED_EXPECTATION, scanner.status(), bytesIn, wrong);
        }
    }

    /** Sends the call once more where the answer is a challenge that can be met; its time goes on. */
    private boolean meetsChallenge() {
        credentials.refused();
        CallValues known = values;
        if (known == null || challenged || credentials.digest().isEmpty()) {
            return false;
        }
        Optional<DigestAnswer> answer = credentials.digest().get().answer(scanner.headers("WWW-Authenticate"),
                Integer.toHexString(System.identityHashCode(this)) + Integer.toHexString(call));
        if (answer.isEmpty()) {
            return false;
        }
        challenged = true;
        known.keepSession(answer.get());
        boolean kept = scanner.keepsConnection();
        scanner.expect(calls[call].method().equals("HEAD"), checks[call].needsBody() ? bodyBuffer() : null);
        earlier.clear();
        Channel open = channel;
        if (kept && open != null && open.isActive()) {
            open.writeAndFlush(templates[call].render(open.alloc(), known), open.voidPromise());
            return true;
        }
        dropConnection();
        whenConnected(made -> made.writeAndFlush(templates[call].render(made.alloc(), known), made.voidPromise()));
        return true;
    }

    private static FailureKind kindOf(@Nullable Throwable cause) {
        if (cause instanceof SSLException) {
            return FailureKind.TLS;
        }
        boolean refused = cause instanceof ConnectException && String.valueOf(cause.getMessage()).contains("refused");
        return refused ? FailureKind.REFUSED : FailureKind.NO_CONNECTION;
    }

    private ByteBuf bodyBuffer() {
        ByteBuf made = body;
        if (made == null) {
            made = Unpooled.buffer(0);
            body = made;
        }
        return made;
    }

    @Override
    public String requestText(int callNumber, CallValues callValues) {
        return templates[callNumber].shown(callValues, MOST_TEXT);
    }

    @Override
    public String responseText() {
        String first = earlier.toString(StandardCharsets.UTF_8);
        int more = Math.min(MOST_TEXT - earlier.readableBytes(), current.writerIndex() - currentStart);
        return secrets.mask(more <= 0 ? first : first + current.toString(currentStart, more, StandardCharsets.UTF_8));
    }

    /** The response that has just become whole. */
    private final class View implements ResponseView {
        @Override
        public List<String> headers(String name) {
            return scanner.headers(name);
        }

        @Override
        public byte[] body() throws UnreadableContent {
            ByteBuf kept = body;
            if (scanner.bodyTooLarge()) {
                throw new UnreadableContent("the body is larger than "
                        + ResponseScanner.MOST_KEPT_BODY / 1024 / 1024 + " MiB, too large to be looked into");
            }
            return kept == null ? new byte[0] : ByteBufUtil.getBytes(kept);
        }
    }

    /** Turns what the channel says into results, for as long as it is this carrier's channel. */
    private final class Handler extends ChannelInboundHandlerAdapter {
        @Override
        public void channelRead(ChannelHandlerContext context, Object message) {
            ByteBuf in = (ByteBuf) message;
            try {
                if (busy && context.channel() == channel) {
                    read(in);
                } else if (context.channel() == channel) {
                    dropConnection();
                }
            } finally {
                in.release();
            }
        }

        private void read(ByteBuf in) {
            bytesIn += in.readableBytes();
            current = in;
            currentStart = in.readerIndex();
            try {
                switch (scanner.feed(in)) {
                    case WHOLE -> whole();
                    case MALFORMED -> fail(FailureKind.MALFORMED);
                    case MORE -> keepForExample(in);
                }
            } finally {
                current = Unpooled.EMPTY_BUFFER;
                currentStart = 0;
            }
        }

        private void keepForExample(ByteBuf in) {
            int room = Math.min(MOST_TEXT - earlier.readableBytes(), in.writerIndex() - currentStart);
            if (room > 0) {
                earlier.writeBytes(in, currentStart, room);
            }
        }

        @Override
        public void channelInactive(ChannelHandlerContext context) {
            if (context.channel() != channel) {
                return;
            }
            channel = null;
            if (busy) {
                if (scanner.endsWithConnection()) {
                    whole();
                } else {
                    fail(FailureKind.CLOSED);
                }
            }
        }

        @Override
        public void exceptionCaught(ChannelHandlerContext context, Throwable cause) {
            if (context.channel() != channel) {
                return;
            }
            if (busy && cause instanceof IOException) {
                fail(FailureKind.RESET);
            } else if (busy) {
                fail(FailureKind.MALFORMED);
                org.slf4j.LoggerFactory.getLogger(HttpCarrier.class).warn("unexpected failure on a connection", cause);
            } else {
                dropConnection();
            }
        }
    }
}
