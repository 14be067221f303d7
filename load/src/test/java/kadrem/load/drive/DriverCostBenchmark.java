package kadrem.load.drive;

import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Map;

import io.grpc.ManagedChannel;
import io.grpc.netty.NettyChannelBuilder;
import io.grpc.netty.NettyServerBuilder;
import io.grpc.protobuf.services.ProtoReflectionServiceV1;
import io.grpc.stub.StreamObserver;
import io.netty.bootstrap.ServerBootstrap;
import io.netty.buffer.Unpooled;
import io.netty.channel.Channel;
import io.netty.channel.ChannelHandlerContext;
import io.netty.channel.ChannelInitializer;
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
import kadrem.core.study.Access;
import kadrem.core.study.Address;
import kadrem.core.study.Call;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.ThinkTime;
import kadrem.core.study.Workload;
import kadrem.load.drive.amqp.AmqpBroker;
import kadrem.load.drive.kafka.KafkaBroker;
import kadrem.load.engine.Load;
import kadrem.load.engine.LoadOrder;
import kadrem.load.net.Transport;
import kadrem.rpc.BerthBoardGrpc;
import kadrem.rpc.BerthReply;
import kadrem.rpc.BerthRequest;
import kadrem.standins.berths.StoreService;
import kadrem.standins.broker.BrokerService;
import org.HdrHistogram.Histogram;
import org.apache.kafka.clients.admin.NewTopic;

/**
 * What Kadrem itself costs with each driver: empty calls to servers in the same process that do as little as they can, by one user and
 * by sixteen, beside plain sockets that send and wait in a loop. Servers and driver share the processors, so that a rate is of both.
 */
public final class DriverCostBenchmark {
    private static final int USERS = 16;
    private static final int WARM_SECONDS = 6;
    private static final int SECONDS = 4;
    private static final byte[] LINE = "tide\n".getBytes(StandardCharsets.US_ASCII);

    private DriverCostBenchmark() {
    }

    public static void main(String[] arguments) throws Exception {
        System.out.println("call to a null server        p50 of one user    calls/s of " + USERS);
        try (ServerSocket echo = echo()) {
            plain("plain sockets (reference)", echo.getLocalPort());
            driver("bytes, TCP", Rehearsed.address("bytes", "tcp://127.0.0.1:" + echo.getLocalPort()),
                    Rehearsed.call("bytes", "c", "send", "tide\\n"));
        }
        var group = new MultiThreadIoEventLoopGroup(1, NioIoHandler.newFactory());
        Channel web = new ServerBootstrap().group(group).channel(NioServerSocketChannel.class)
                .childHandler(new ChannelInitializer<>() {
                    @Override
                    protected void initChannel(Channel made) {
                        made.pipeline().addLast(new HttpServerCodec(), new HttpObjectAggregator(65536),
                                new WebSocketServerProtocolHandler("/live"), new Nothing(), new Echo());
                    }
                }).bind(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0)).sync().channel();
        int port = ((InetSocketAddress) web.localAddress()).getPort();
        driver("HTTP/1.1", new Address("127.0.0.1", port, ""), Call.of("c", "GET", "/x"));
        driver("GraphQL", Rehearsed.address("graphql", "http://127.0.0.1:" + port),
                Rehearsed.call("graphql", "c", "query", "{x}", "errors", "accepted"));
        driver("WebSocket", Rehearsed.address("websocket", "ws://127.0.0.1:" + port + "/live"),
                Rehearsed.call("websocket", "c", "send", "tide"));
        var grpc = NettyServerBuilder.forAddress(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0))
                .directExecutor().addService(new BerthBoardGrpc.BerthBoardImplBase() {
                    @Override
                    public void getBerth(BerthRequest asked, StreamObserver<BerthReply> answer) {
                        answer.onNext(BerthReply.getDefaultInstance());
                        answer.onCompleted();
                    }
                }).addService(ProtoReflectionServiceV1.newInstance()).build().start();
        ManagedChannel channel = NettyChannelBuilder.forAddress("127.0.0.1", grpc.getPort()).usePlaintext()
                .directExecutor()
                .build();
        var stub = BerthBoardGrpc.newBlockingStub(channel);
        var times = new Histogram(3);
        for (int round = 0; round < 2; round++) {
            times.reset();
            long end = System.nanoTime() + WARM_SECONDS * 1_000_000_000L;
            while (System.nanoTime() < end) {
                long begun = System.nanoTime();
                stub.getBerth(BerthRequest.getDefaultInstance());
                times.recordValue(System.nanoTime() - begun);
            }
        }
        tell("grpc-java's own stub (reference)", times, times.getTotalCount() / (double) WARM_SECONDS);
        channel.shutdownNow();
        driver("gRPC", Rehearsed.address("grpc", "grpc://127.0.0.1:" + grpc.getPort()),
                Rehearsed.call("grpc", "c", "method", "harbour.BerthBoard/GetBerth"));
        grpc.shutdownNow();
        try (StoreService store = StoreService.on(0)) {
            driver("RESP", Rehearsed.address("resp", "redis://127.0.0.1:" + store.port()),
                    Rehearsed.call("resp", "c", "commands", "PING"));
        }
        driver("SQL, H2 in this process", Rehearsed.address("sql", "jdbc:h2:mem:cost;DB_CLOSE_DELAY=-1"),
                Rehearsed.call("sql", "c", "statement", "select 1"));
        driver("SQL, SQLite in this process", Rehearsed.address("sql", "jdbc:sqlite::memory:"),
                Rehearsed.call("sql", "c", "statement", "select 1"));
        brokers();
        driver("program", Rehearsed.address("command", "command:/"),
                Rehearsed.call("command", "c", "command", "/bin/true"));
        web.close();
        group.shutdownGracefully();
        System.exit(0);
    }

    /** These do more than nothing; what they and Kadrem cost together is told for an acknowledged message. */
    private static void brokers() throws Exception {
        Path folder = Files.createTempDirectory("kadrem-cost");
        try (BrokerService mqtt = BrokerService.on(0)) {
            driver("MQTT 3.1.1, quality 1, Moquette", Rehearsed.address("mqtt", "mqtt://127.0.0.1:" + mqtt.port()),
                    Access.with(Map.of("version", List.of("3"))),
                    Rehearsed.call("mqtt", "c", "topic", "tide", "payload", "tide", "qos", "1"));
        }
        try (var amqp = new AmqpBroker(folder)) {
            driver("AMQP, confirmed, Broker-J",
                    Rehearsed.address("amqp", "amqp://127.0.0.1:" + amqp.port() + "/default"),
                    Rehearsed.call("amqp", "c", "exchange", "amq.topic", "key", "tide", "payload", "tide"));
        }
        try (var kafka = new KafkaBroker(folder)) {
            kafka.make(new NewTopic("tide", 1, (short) 1));
            Address address = Rehearsed.address("kafka", "kafka://127.0.0.1:" + kafka.port());
            driver("Kafka, confirmed, Kafka's broker", address,
                    Rehearsed.call("kafka", "c", "topic", "tide", "payload", "tide"));
            driver("Kafka, back again", address, Rehearsed.call("kafka", "c", "topic", "tide", "payload", "tide",
                    "ends", "when it has come back"));
        }
    }

    private static void driver(String name, Address address, Call call) {
        driver(name, address, Access.OPEN, call);
    }

    private static void driver(String name, Address address, Access access, Call call) {
        Workload workload = Rehearsed.workload(call);
        run(address, access, workload, USERS, WARM_SECONDS);
        Load one = run(address, access, workload, 1, SECONDS);
        Load many = run(address, access, workload, USERS, SECONDS);
        tell(name, one.service, many.figures.good() / (double) SECONDS);
        if (many.figures.failedTotal() > 0) {
            System.out.println("  " + many.figures.failed() + " " + many.exchanges.getFirst().detail());
        }
    }

    private static Load run(Address address, Access access, Workload workload, int users, int seconds) {
        var load = new LoadProfile.Closed(users, ThinkTime.NONE, Duration.ZERO, Duration.ofSeconds(seconds),
                Duration.ofSeconds(5));
        return Load.run(new LoadOrder(address, access, workload, load, 7, 1), Transport.best());
    }

    private static void tell(String name, Histogram service, double rate) {
        System.out.printf(Locale.ROOT, "%-30s %8.1f us %15.0f%n", name, service.getValueAtPercentile(50) / 1000.0,
                rate);
    }

    private static ServerSocket echo() throws IOException {
        var server = new ServerSocket(0, 50, InetAddress.getLoopbackAddress());
        Thread.ofVirtual().start(() -> {
            try {
                while (true) {
                    Socket client = server.accept();
                    client.setTcpNoDelay(true);
                    Thread.ofPlatform().daemon().start(() -> {
                        try (client) {
                            client.getInputStream().transferTo(client.getOutputStream());
                        } catch (IOException _) {
                            // the client is gone
                        }
                    });
                }
            } catch (IOException _) {
                // closed
            }
        });
        return server;
    }

    private static void plain(String name, int port) throws Exception {
        loop(port, USERS, WARM_SECONDS);
        Histogram one = loop(port, 1, SECONDS);
        tell(name, one, loop(port, USERS, SECONDS).getTotalCount() / (double) SECONDS);
    }

    private static Histogram loop(int port, int users, int seconds) throws Exception {
        var all = new Histogram(3);
        long end = System.nanoTime() + seconds * 1_000_000_000L;
        var threads = new Thread[users];
        for (int i = 0; i < users; i++) {
            threads[i] = Thread.ofPlatform().start(() -> {
                var mine = new Histogram(3);
                byte[] back = new byte[LINE.length];
                try (var socket = new Socket("127.0.0.1", port)) {
                    socket.setTcpNoDelay(true);
                    while (System.nanoTime() < end) {
                        long begun = System.nanoTime();
                        socket.getOutputStream().write(LINE);
                        int read = socket.getInputStream().readNBytes(back, 0, back.length);
                        if (read != back.length || !Arrays.equals(back, LINE)) {
                            throw new IllegalStateException("no echo");
                        }
                        mine.recordValue(System.nanoTime() - begun);
                    }
                } catch (IOException cause) {
                    throw new java.io.UncheckedIOException(cause);
                }
                synchronized (all) {
                    all.add(mine);
                }
            });
        }
        for (Thread thread : threads) {
            thread.join();
        }
        return all;
    }

    /** Answers requests of HTTP with nothing. */
    private static final class Nothing extends SimpleChannelInboundHandler<FullHttpRequest> {
        @Override
        protected void channelRead0(ChannelHandlerContext context, FullHttpRequest request) {
            var answer = new DefaultFullHttpResponse(HttpVersion.HTTP_1_1, HttpResponseStatus.OK,
                    Unpooled.wrappedBuffer("{}".getBytes(StandardCharsets.US_ASCII)));
            answer.headers().set("Content-Length", 2).set("Content-Type", "application/json");
            context.writeAndFlush(answer);
        }
    }

    /** Says what it has heard. */
    private static final class Echo extends SimpleChannelInboundHandler<TextWebSocketFrame> {
        @Override
        protected void channelRead0(ChannelHandlerContext context, TextWebSocketFrame frame) {
            context.writeAndFlush(frame.retain());
        }
    }
}
