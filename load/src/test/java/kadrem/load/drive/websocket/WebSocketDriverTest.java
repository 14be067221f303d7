package kadrem.load.drive.websocket;

import static org.assertj.core.api.Assertions.assertThat;

import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;

import io.netty.bootstrap.ServerBootstrap;
import io.netty.channel.Channel;
import io.netty.channel.ChannelFutureListener;
import io.netty.channel.ChannelHandlerContext;
import io.netty.channel.ChannelInitializer;
import io.netty.channel.EventLoopGroup;
import io.netty.channel.MultiThreadIoEventLoopGroup;
import io.netty.channel.SimpleChannelInboundHandler;
import io.netty.channel.nio.NioIoHandler;
import io.netty.channel.socket.nio.NioServerSocketChannel;
import io.netty.handler.codec.http.DefaultFullHttpResponse;
import io.netty.handler.codec.http.FullHttpRequest;
import io.netty.handler.codec.http.HttpObjectAggregator;
import io.netty.handler.codec.http.HttpResponseStatus;
import io.netty.handler.codec.http.HttpServerCodec;
import io.netty.handler.codec.http.HttpVersion;
import io.netty.handler.codec.http.websocketx.TextWebSocketFrame;
import io.netty.handler.codec.http.websocketx.WebSocketServerProtocolHandler;
import io.netty.handler.codec.http.websocketx.extensions.compression.WebSocketServerCompressionHandler;
import io.netty.handler.ssl.SslContext;
import io.netty.handler.ssl.SslContextBuilder;
import kadrem.core.measure.FailureKind;
import kadrem.core.rehearsal.RehearsedCall;
import kadrem.core.study.Access;
import kadrem.core.study.Address;
import kadrem.core.study.Call;
import kadrem.core.study.SignIn;
import kadrem.core.study.Tls;
import kadrem.core.study.ValueList;
import kadrem.core.study.Visit;
import kadrem.core.study.Wire;
import kadrem.core.study.Workload;
import kadrem.load.drive.Certificate;
import kadrem.load.drive.Rehearsed;
import kadrem.load.engine.Load;
import kadrem.load.engine.LoadOrder;
import kadrem.load.net.Transport;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Netty's server side of the protocol, and a handshake written by hand from RFC 6455. */
class WebSocketDriverTest {
    private static final EventLoopGroup GROUP = new MultiThreadIoEventLoopGroup(2, NioIoHandler.newFactory());
    private static final AtomicInteger CONNECTIONS = new AtomicInteger();
    @TempDir
    static Path certificates;
    private static Channel server;
    private static Channel secure;

    @TempDir
    Path folder;

    @BeforeAll
    static void start() throws Exception {
        server = bound(Optional.empty());
        Certificate.make(certificates);
        secure = bound(Optional.of(SslContextBuilder.forServer(certificates.resolve("cert.pem").toFile(),
                certificates.resolve("key.pem").toFile()).build()));
    }

    private static Channel bound(Optional<SslContext> tls) throws InterruptedException {
        return new ServerBootstrap().group(GROUP).channel(NioServerSocketChannel.class)
                .childHandler(new ChannelInitializer<>() {
                    @Override
                    protected void initChannel(Channel made) {
                        CONNECTIONS.incrementAndGet();
                        tls.ifPresent(context -> made.pipeline().addLast(context.newHandler(made.alloc())));
                        made.pipeline().addLast(new HttpServerCodec(), new HttpObjectAggregator(65536),
                                new WebSocketServerCompressionHandler(1 << 20),
                                new WebSocketServerProtocolHandler("/live", null, true), new Echo(),
                                new NotFound());
                    }
                }).bind(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0)).sync().channel();
    }

    /** The answer to what is not asked of the path of the server's. */
    private static final class NotFound extends SimpleChannelInboundHandler<FullHttpRequest> {
        @Override
        protected void channelRead0(ChannelHandlerContext context, FullHttpRequest request) {
            context.writeAndFlush(new DefaultFullHttpResponse(HttpVersion.HTTP_1_1, HttpResponseStatus.NOT_FOUND))
                    .addListener(ChannelFutureListener.CLOSE);
        }
    }

    /** Says what it has heard, between two other messages; and says goodbye when asked to. */
    private static final class Echo extends SimpleChannelInboundHandler<TextWebSocketFrame> {
        @Override
        protected void channelRead0(ChannelHandlerContext context, TextWebSocketFrame frame) {
            if (frame.text().equals("bye")) {
                context.close();
                return;
            }
            context.write(new TextWebSocketFrame("{\"other\":1}"));
            context.write(new TextWebSocketFrame(frame.text()));
            context.writeAndFlush(new TextWebSocketFrame("{\"other\":2}"));
        }
    }

    @AfterAll
    static void stop() {
        server.close();
        secure.close();
        GROUP.shutdownGracefully(0, 1, TimeUnit.SECONDS);
    }

    private static Address live() {
        return Rehearsed.address("websocket",
                "ws://127.0.0.1:" + ((InetSocketAddress) server.localAddress()).getPort() + "/live");
    }

    private static Call call(String name, String... fields) {
        return Rehearsed.call("websocket", name, fields);
    }

    private RehearsedCall one(Address address, Access access, Call call) throws Exception {
        return Rehearsed.all(Rehearsed.order(address, access, Rehearsed.workload(call), folder)).getFirst();
    }

    @Test
    void theMessageThatIsMeantEndsTheCallAndOthersAreParts() throws Exception {
        for (String compress : List.of("false", "true")) {
            Access access = Access.with(Map.of("compress", List.of(compress)));
            RehearsedCall made = one(live(), access, call("c", "send", "{\"berth\":7}", "until", "\"berth\":7"));
            assertThat(Rehearsed.body(made)).as(made.detail()).isEqualTo("{\"berth\":7}");
        }
        var workload = new Workload(List.of(new ValueList.NumberRange("berth", 1, 2400)),
                List.of(new Visit("v", 1, List.of(call("c", "send", "{\"berth\":{{berth}}}", "until",
                        "\"berth\":{{berth}}}")))));
        Load load = Load.run(new LoadOrder(live(), Access.OPEN, workload, Load.arrivals(100, 100, 3), 7, 1),
                Transport.best());
        assertThat(load.figures.failedTotal()).as("%s", load.exchanges).isZero();
        assertThat(load.parts).isBetween(200L, 300L);
    }

    @Test
    void connectingAndPingingAreCallsOfTheirOwn() throws Exception {
        int before = CONNECTIONS.get();
        Load load = Load.run(new LoadOrder(live(), Access.OPEN,
                Rehearsed.workload(call("connect", "does", "connects anew"), call("ping", "does", "pings")),
                Load.arrivals(20, 40, 1), 7, 1), Transport.best());
        assertThat(load.figures.failedTotal()).as("%s", load.exchanges).isZero();
        assertThat(load.figures.good()).isEqualTo(40);
        assertThat(CONNECTIONS.get() - before).as("one ahead of the load, and one for each visit").isEqualTo(21);
    }

    @Test
    void overTlsMessagesPassWhereTheCertificateIsTrusted() throws Exception {
        Address address = Rehearsed.address("websocket",
                "wss://127.0.0.1:" + ((InetSocketAddress) secure.localAddress()).getPort() + "/live");
        Access trusting = new Access(new SignIn.None(), new Tls(true,
                Optional.of(certificates.resolve("cert.pem").toString()), Optional.empty(), Optional.empty()),
                Wire.USUAL, Map.of());
        Call asked = call("c", "send", "{\"berth\":7}", "until", "\"berth\":7");
        RehearsedCall made = one(address, trusting, asked);
        assertThat(Rehearsed.body(made)).as(made.detail()).isEqualTo("{\"berth\":7}");
        assertThat(one(address, Access.OPEN, asked).failure()).contains(FailureKind.TLS);
    }

    @Test
    void aServerThatClosesOrDoesNotKnowThePathIsAFailure() throws Exception {
        assertThat(one(live(), Access.OPEN, call("c", "send", "bye")).failure()).contains(FailureKind.CLOSED);
        Address other = Rehearsed.address("websocket",
                "ws://127.0.0.1:" + ((InetSocketAddress) server.localAddress()).getPort() + "/nothing");
        RehearsedCall made = one(other, Access.OPEN, call("c", "send", "x"));
        assertThat(made.failure()).isPresent();
        assertThat(made.detail()).contains("404");
    }

    /**
     * Source: RFC 6455, section 1.3: the key dGhlIHNhbXBsZSBub25jZQ== is accepted with s3pPLMBiTxaQ9kYGzzhZRbK+xOo=, and section
     * 5.7: a text frame "Hello" without a mask is 81 05 48 65 6c 6c 6f.
     */
    @Test
    void theHandshakeAndFramesAreThoseOfTheStandard() throws Exception {
        assertThat(accept("dGhlIHNhbXBsZSBub25jZQ==")).isEqualTo("s3pPLMBiTxaQ9kYGzzhZRbK+xOo=");
        try (var socket = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
            var sent = new java.util.concurrent.CompletableFuture<byte[]>();
            Thread.ofVirtual().start(() -> serve(socket, sent));
            RehearsedCall made = one(Rehearsed.address("websocket", "ws://127.0.0.1:" + socket.getLocalPort()),
                    Access.OPEN, call("c", "send", "Hello"));
            assertThat(Rehearsed.body(made)).as(made.detail()).isEqualTo("Hello");
            byte[] frame = sent.get(10, TimeUnit.SECONDS);
            assertThat(frame[0]).isEqualTo((byte) 0x81);
            assertThat(frame[1]).as("masked, five bytes").isEqualTo((byte) 0x85);
            for (int i = 0; i < 5; i++) {
                assertThat((char) (frame[6 + i] ^ frame[2 + i % 4])).isEqualTo("Hello".charAt(i));
            }
        }
    }

    private static String accept(String key) throws Exception {
        return Base64.getEncoder().encodeToString(MessageDigest.getInstance("SHA-1")
                .digest((key + "258EAFA5-E914-47DA-95CA-C5AB0DC85B11").getBytes(StandardCharsets.US_ASCII)));
    }

    private static void serve(ServerSocket socket, java.util.concurrent.CompletableFuture<byte[]> sent) {
        try (Socket client = socket.accept()) {
            var head = new StringBuilder();
            while (!head.toString().endsWith("\r\n\r\n")) {
                head.append((char) client.getInputStream().read());
            }
            String key = head.toString().lines().filter(line -> line.toLowerCase().startsWith("sec-websocket-key:"))
                    .findFirst().orElseThrow().split(":", 2)[1].strip();
            client.getOutputStream().write(("HTTP/1.1 101 Switching Protocols\r\nUpgrade: websocket\r\n"
                    + "Connection: Upgrade\r\nSec-WebSocket-Accept: " + accept(key) + "\r\n\r\n")
                    .getBytes(StandardCharsets.US_ASCII));
            sent.complete(client.getInputStream().readNBytes(11));
            client.getOutputStream().write(new byte[]{(byte) 0x81, 0x05, 0x48, 0x65, 0x6c, 0x6c, 0x6f});
            client.getInputStream().read();
        } catch (Exception cause) {
            sent.completeExceptionally(cause);
        }
    }
}
