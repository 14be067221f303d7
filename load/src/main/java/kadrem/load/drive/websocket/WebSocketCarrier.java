package kadrem.load.drive.websocket;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

import com.google.re2j.Pattern;
import io.netty.buffer.Unpooled;
import io.netty.channel.Channel;
import io.netty.channel.ChannelHandlerContext;
import io.netty.channel.SimpleChannelInboundHandler;
import io.netty.handler.codec.http.DefaultHttpHeaders;
import io.netty.handler.codec.http.HttpClientCodec;
import io.netty.handler.codec.http.HttpHeaders;
import io.netty.handler.codec.http.HttpObjectAggregator;
import io.netty.handler.codec.http.websocketx.BinaryWebSocketFrame;
import io.netty.handler.codec.http.websocketx.CloseWebSocketFrame;
import io.netty.handler.codec.http.websocketx.PingWebSocketFrame;
import io.netty.handler.codec.http.websocketx.PongWebSocketFrame;
import io.netty.handler.codec.http.websocketx.TextWebSocketFrame;
import io.netty.handler.codec.http.websocketx.WebSocketClientHandshakerFactory;
import io.netty.handler.codec.http.websocketx.WebSocketClientProtocolHandler;
import io.netty.handler.codec.http.websocketx.WebSocketFrame;
import io.netty.handler.codec.http.websocketx.WebSocketFrameAggregator;
import io.netty.handler.codec.http.websocketx.WebSocketVersion;
import io.netty.handler.codec.http.websocketx.extensions.compression.WebSocketClientCompressionHandler;
import kadrem.core.measure.FailureKind;
import kadrem.core.plan.LoadStream;
import kadrem.core.study.Workload;
import kadrem.load.content.ResponseCheck;
import kadrem.load.content.ResponseView;
import kadrem.load.drive.CallValues;
import kadrem.load.drive.Failures;
import kadrem.load.drive.InspectableCarrier;
import kadrem.load.drive.Link;
import kadrem.load.drive.Connector;
import org.jspecify.annotations.Nullable;

/**
 * One user's connection and the call under way on it; one file, since it is one state machine. Confined to its lane.
 */
final class WebSocketCarrier implements InspectableCarrier {
    private static final int GOOD = 1;
    private static final int MAX_TEXT = 4096;
    private static final int MAX_MESSAGE = 16 * 1024 * 1024;
    private static final int MAX_HANDSHAKE = 64 * 1024;

    /** Of a connection that is made ahead of all calls, whose handshake holds no values. */
    private static final CallValues NO_VALUES = new CallValues(
            new LoadStream(new Workload(List.of(), List.of()), 0, 0).newDraw(), 0);

    private final WebSocketDriver driver;
    private final Link link;
    private final ResponseCheck[] checks;
    private final Listener listener;
    private final List<String> messages = new ArrayList<>();
    /** Whether the server has taken the handshake, of which it may be told before the connection counts as made. */
    private boolean shaken;
    private boolean keepsAll;
    private boolean busy;
    private int call;
    private @Nullable CallValues values;
    private Optional<Pattern> until = Optional.empty();
    private int due;
    private long bytesIn;
    private String head = "";

    WebSocketCarrier(WebSocketDriver driver, Connector opening, ResponseCheck[] checks, Listener listener) {
        this.driver = driver;
        this.checks = checks;
        this.listener = listener;
        link = new Link(opening, new Link.Use() {
            @Override
            public void addHandlers(Channel made) {
                WebSocketCarrier.this.addHandlers(made);
            }

            @Override
            public boolean greet(Channel made) {
                return shaken;
            }

            @Override
            public void ready(Channel made) {
                // those who waited know
            }

            @Override
            public void failed(FailureKind kind, String detail) {
                fail(kind, detail);
            }
        });
    }

    private boolean isOpen() {
        return link.usable() != null;
    }

    @Override
    public void open(Runnable whenSettled) {
        if (values == null && driver.variesByUser()) {
            whenSettled.run();
        } else {
            link.open(whenSettled);
        }
    }

    private HttpHeaders headers() {
        var headers = new DefaultHttpHeaders();
        CallValues known = values;
        for (WebSocketDriver.Header header : driver.exchanges().get(call).headers()) {
            headers.add(header.name(), header.value().fill(known == null ? NO_VALUES : known));
        }
        driver.credentials().value().ifPresent(value -> headers.set(driver.credentials().header(),
                new String(value.get(), StandardCharsets.US_ASCII)));
        return headers;
    }

    private void addHandlers(Channel made) {
        String subprotocol = driver.order().access().setting("subprotocol");
        boolean compresses = driver.order().access().setting("compress").equals("true");
        var handshaker = WebSocketClientHandshakerFactory.newHandshaker(driver.address(), WebSocketVersion.V13,
                subprotocol.isEmpty() ? null : subprotocol, compresses, headers(), MAX_MESSAGE);
        shaken = false;
        made.pipeline().addLast(new HttpClientCodec(), new HttpObjectAggregator(MAX_HANDSHAKE));
        if (compresses) {
            made.pipeline().addLast(new WebSocketClientCompressionHandler(MAX_MESSAGE));
        }
        made.pipeline().addLast(new WebSocketClientProtocolHandler(handshaker, false, false),
                new WebSocketFrameAggregator(MAX_MESSAGE), new Handler());
    }

    @Override
    public void beginVisit() {
        // the connection is kept from visit to visit
    }

    @Override
    public void send(int callNumber, CallValues callValues) {
        busy = true;
        call = callNumber;
        values = callValues;
        messages.clear();
        bytesIn = 0;
        head = "";
        WebSocketDriver.Exchange exchange = driver.exchanges().get(callNumber);
        until = exchange.until().apply(callValues);
        due = exchange.messages();
        if (exchange.does() == WebSocketDriver.Does.CONNECTS) {
            link.drop();
            listener.sent(System.nanoTime(), 0);
            open(() -> {
                if (busy && isOpen()) {
                    listener.connected(link.connectNanos(), link.handshakeNanos());
                    end("connected");
                }
            });
        } else if (isOpen()) {
            write(exchange);
        } else {
            open(() -> {
                if (busy && isOpen()) {
                    listener.connected(link.connectNanos(), link.handshakeNanos());
                    write(exchange);
                }
            });
        }
    }

    private void write(WebSocketDriver.Exchange exchange) {
        Channel open = link.usable();
        CallValues mine = values;
        if (open == null || mine == null) {
            return;
        }
        switch (exchange.does()) {
            case PINGS -> {
                listener.sent(System.nanoTime(), 0);
                open.writeAndFlush(new PingWebSocketFrame(Unpooled.EMPTY_BUFFER), open.voidPromise());
            }
            case SENDS -> {
                byte[] text = exchange.send().fill(mine).getBytes(StandardCharsets.UTF_8);
                listener.sent(System.nanoTime(), text.length);
                open.writeAndFlush(new TextWebSocketFrame(Unpooled.wrappedBuffer(text)), open.voidPromise());
            }
            default -> listener.sent(System.nanoTime(), 0);
        }
    }

    private void received(WebSocketFrame frame) {
        boolean pings = driver.exchanges().get(call).does() == WebSocketDriver.Does.PINGS;
        if (frame instanceof PongWebSocketFrame) {
            if (busy && pings) {
                end("pong");
            }
        } else if (frame instanceof CloseWebSocketFrame closing) {
            String why = closing.statusCode() < 0 ? "" : closing.statusCode() + " " + closing.reasonText();
            link.lost(FailureKind.CLOSED, why.strip());
        } else if (busy && !pings && (frame instanceof TextWebSocketFrame || frame instanceof BinaryWebSocketFrame)) {
            message(frame.content().toString(StandardCharsets.UTF_8), frame.content().readableBytes());
        } else if (frame instanceof PingWebSocketFrame ping) {
            Channel open = link.usable();
            if (open != null) {
                open.writeAndFlush(new PongWebSocketFrame(ping.content().retain()), open.voidPromise());
            }
        }
    }

    private void message(String text, int size) {
        bytesIn += size;
        listener.part(System.nanoTime());
        boolean counts = until.isEmpty() || until.get().matcher(text).find();
        if (counts) {
            if (keepsAll || checks[call].needsBody()) {
                messages.add(text);
            }
            if (--due == 0) {
                end(driver.exchanges().get(call).messages() + " messages");
            }
        }
    }

    private void end(String words) {
        busy = false;
        link.answered();
        head = words + "\n";
        CallValues mine = values;
        String wrong = mine == null ? "" : checks[call].check(new View(body()), mine.captured());
        if (wrong.isEmpty()) {
            listener.good(System.nanoTime(), GOOD, bytesIn);
        } else {
            listener.failed(System.nanoTime(), FailureKind.FAILED_EXPECTATION, GOOD, bytesIn, wrong);
        }
    }

    private byte[] body() {
        String text = messages.size() == 1 ? messages.getFirst() : messages.isEmpty() ? "" : messages.toString();
        return text.getBytes(StandardCharsets.UTF_8);
    }

    private void fail(FailureKind kind, String detail) {
        if (busy) {
            busy = false;
            head = detail + "\n";
            listener.failed(System.nanoTime(), kind, 0, bytesIn, driver.order().secrets().mask(detail));
        }
    }

    @Override
    public void abandon(FailureKind kind) {
        if (busy) {
            // what still comes would be taken for the next call's
            link.drop();
            fail(kind, "");
        }
    }

    @Override
    public void close() {
        busy = false;
        link.close();
    }

    @Override
    public String requestText(int callNumber, CallValues callValues) {
        return requestText(callNumber, callValues, MAX_TEXT);
    }

    @Override
    public String requestText(int callNumber, CallValues callValues, int mostBytes) {
        WebSocketDriver.Exchange exchange = driver.exchanges().get(callNumber);
        String shown = switch (exchange.does()) {
            case CONNECTS -> "connect to " + driver.address();
            case PINGS -> "ping";
            case WAITS -> "(nothing is sent)";
            case SENDS -> exchange.send().shown(callValues);
        };
        String masked = driver.order().secrets().mask(shown);
        return masked.length() > mostBytes ? masked.substring(0, mostBytes) : masked;
    }

    @Override
    public String responseText() {
        String text = head + "\n" + new String(body(), StandardCharsets.UTF_8);
        return driver.order().secrets().mask(text.length() > MAX_TEXT ? text.substring(0, MAX_TEXT) : text);
    }

    @Override
    public void keepAnswers() {
        keepsAll = true;
    }

    @Override
    public String head() {
        String text = messages.isEmpty() ? "" : messages.getFirst().stripLeading();
        return head + "Content-Type: " + (text.startsWith("{") || text.startsWith("[")
                ? "application/json"
                : "text/plain") + "\n";
    }

    @Override
    public byte[] answerBody() {
        return body();
    }

    /** Messages as a check sees them. */
    private record View(byte[] body) implements ResponseView {
        @Override
        public List<String> headers(String name) {
            return List.of();
        }
    }

    /** For as long as it is this connection's channel. */
    private final class Handler extends SimpleChannelInboundHandler<WebSocketFrame> {
        @Override
        protected void channelRead0(ChannelHandlerContext context, WebSocketFrame frame) {
            if (link.isOf(context.channel())) {
                received(frame);
            }
        }

        @Override
        public void userEventTriggered(ChannelHandlerContext context, Object event) {
            if (event == WebSocketClientProtocolHandler.ClientHandshakeStateEvent.HANDSHAKE_COMPLETE) {
                shaken = true;
                if (link.isOf(context.channel())) {
                    link.ready();
                }
            }
        }

        @Override
        public void channelInactive(ChannelHandlerContext context) {
            if (link.isOf(context.channel())) {
                link.lost(FailureKind.CLOSED, "");
            }
        }

        @Override
        public void exceptionCaught(ChannelHandlerContext context, Throwable cause) {
            if (link.isOf(context.channel())) {
                link.lost(Failures.kindOf(cause, false),
                        (link.isReady() ? "" : "no handshake: ") + cause.getMessage());
            }
        }
    }
}
