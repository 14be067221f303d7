package kadrem.load.campaign;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.Mockito.mock;

import java.io.IOException;
import java.io.InputStream;
import java.net.DatagramPacket;
import java.net.DatagramSocket;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.Executors;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicLong;

import com.hivemq.client.mqtt.datatypes.MqttQos;
import com.hivemq.client.mqtt.mqtt3.Mqtt3BlockingClient;
import com.hivemq.client.mqtt.mqtt3.Mqtt3Client;
import com.rabbitmq.client.ConnectionFactory;
import com.sun.net.httpserver.HttpServer;
import io.grpc.netty.NettyServerBuilder;
import io.grpc.protobuf.services.ProtoReflectionServiceV1;
import io.grpc.stub.StreamObserver;
import io.netty.bootstrap.ServerBootstrap;
import io.netty.channel.Channel;
import io.netty.channel.ChannelHandlerContext;
import io.netty.channel.ChannelInitializer;
import io.netty.channel.MultiThreadIoEventLoopGroup;
import io.netty.channel.SimpleChannelInboundHandler;
import io.netty.channel.nio.NioIoHandler;
import io.netty.channel.socket.nio.NioServerSocketChannel;
import io.netty.handler.codec.http.HttpObjectAggregator;
import io.netty.handler.codec.http.HttpServerCodec;
import io.netty.handler.codec.http.websocketx.TextWebSocketFrame;
import io.netty.handler.codec.http.websocketx.WebSocketServerProtocolHandler;
import kadrem.core.measure.RunOutcome;
import kadrem.core.measure.RunRecord;
import kadrem.core.study.Access;
import kadrem.core.study.Address;
import kadrem.core.study.Call;
import kadrem.core.study.Candidate;
import kadrem.core.study.Form;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Metric;
import kadrem.core.study.Plan;
import kadrem.core.study.Question;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Visit;
import kadrem.core.study.Wire;
import kadrem.core.study.Workload;
import kadrem.load.drive.Rehearsed;
import kadrem.load.drive.amqp.AmqpBroker;
import kadrem.load.drive.kafka.KafkaBroker;
import kadrem.load.engine.Http2TestServer;
import kadrem.load.engine.Quiet;
import kadrem.load.gate.Allow;
import kadrem.load.generator.LocalLoad;
import kadrem.rpc.BerthBoardGrpc;
import kadrem.rpc.BerthReply;
import kadrem.rpc.BerthRequest;
import kadrem.standins.berths.StoreService;
import kadrem.standins.broker.BrokerService;
import org.apache.kafka.clients.admin.Admin;
import org.apache.kafka.clients.admin.NewTopic;
import org.apache.kafka.clients.admin.OffsetSpec;
import org.apache.kafka.common.TopicPartition;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.condition.DisabledOnOs;
import org.junit.jupiter.api.condition.OS;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.api.parallel.Execution;
import org.junit.jupiter.api.parallel.ExecutionMode;

/** No call reaches a candidate that the study did not ask for and the record does not count. */
@Timeout(120)
@Execution(ExecutionMode.CONCURRENT)
class NothingUnaskedTest {
    private static final int ROUNDS = 2;

    @TempDir
    private Path folder;
    private final MemoryStore store = new MemoryStore();

    /** Calls that the record says were sent, in a campaign of some rounds that warms the generator up before. */
    private long measured(Address address, Call call, LoadProfile load) throws IOException {
        return measured(address, Access.OPEN, call, load);
    }

    private long measured(Address address, Access access, Call call, LoadProfile load) throws IOException {
        var candidate = new Candidate("a", "a", address, Optional.empty(), "", Optional.empty(), Optional.empty(),
                access);
        var study = new MeasuredStudy("s", new Question("?", "a", 0.05, List.of(new Question.Decider(Metric.P50, 0.1))),
                List.of(candidate), new Workload(List.of(), List.of(new Visit("v", 1, List.of(call)))), load,
                new Plan(ROUNDS, 3, Duration.ZERO)).withJudgement(Quiet.notAskedFor());
        Allow.all(study, folder);
        var campaign = new Campaign(study, folder, "kadrem", LocalLoad.MAKER, store, Clock.systemUTC(),
                mock(CampaignListener.class));
        campaign.warmUp(Optional.empty(), true);
        List<RunRecord> made = campaign.run(ROUNDS);
        assertThat(made).hasSize(ROUNDS).allMatch(run -> run.outcome() == RunOutcome.COMPLETE);
        return store.summaries.values().stream().flatMap(List::stream).mapToLong(second -> second.sent()).sum();
    }

    /** As above, of a load that is the same for all: what the record says must be what a count elsewhere says. */
    private void same(Address address, Access access, Call call, Counted counted) throws Exception {
        long sent = measured(address, access, call, closed());
        assertThat(sent).isGreaterThan(10);
        assertThat(counted.count()).isEqualTo(sent);
    }

    /** What somebody else than Kadrem counted. */
    private interface Counted {
        long count() throws Exception;
    }

    private static LoadProfile open() {
        return new LoadProfile.Open(50, LoadProfile.Spacing.CONSTANT, 4, Duration.ofSeconds(1), Duration.ofSeconds(1),
                Duration.ofSeconds(5));
    }

    private static LoadProfile closed() {
        return new LoadProfile.Closed(3, Duration.ofMillis(20), Duration.ofSeconds(1), Duration.ofSeconds(1),
                Duration.ofSeconds(5));
    }

    @Test
    void anHttpServerCountsWhatTheRecordCounts() throws IOException {
        var counted = new AtomicLong();
        try (var listener = new ServerSocket(0, 64, InetAddress.getLoopbackAddress())) {
            Thread.ofVirtual().start(() -> {
                while (!listener.isClosed()) {
                    try {
                        Socket socket = listener.accept();
                        Thread.ofVirtual().start(() -> answer(socket, counted));
                    } catch (IOException _) {
                        return;
                    }
                }
            });
            long sent = measured(new Address("127.0.0.1", listener.getLocalPort(), ""),
                    Call.of("look", "GET", "/berths/7"), open());
            assertThat(sent).isEqualTo(ROUNDS * 100);
            assertThat(counted.get()).isEqualTo(sent);
        }
    }

    private static void answer(Socket socket, AtomicLong counted) {
        try (socket) {
            InputStream in = socket.getInputStream();
            var head = new StringBuilder();
            for (int b = in.read(); b >= 0; b = in.read()) {
                head.append((char) b);
                if (head.toString().endsWith("\r\n\r\n")) {
                    if (head.toString().startsWith("GET /berths/7 ")) {
                        counted.incrementAndGet();
                    }
                    head.setLength(0);
                    socket.getOutputStream().write(
                            "HTTP/1.1 200 OK\r\nContent-Length: 2\r\n\r\nok".getBytes(StandardCharsets.US_ASCII));
                }
            }
        } catch (IOException _) {
            // the test is over
        }
    }

    @Test
    void aStoreCountsWhatTheRecordCounts() throws Exception {
        try (StoreService stand = StoreService.on(0)) {
            Address address = Rehearsed.address("resp", "redis://127.0.0.1:" + stand.port() + "/0");
            Call call = Call.of("count", "GET", "").with(Form.of("resp", Map.of("commands", List.of("INCR asked"))))
                    .in("resp");
            long sent = measured(address, call, closed());
            Call last = Call.of("how-many", "GET", "").with(Form.of("resp", Map.of("commands", List.of("GET asked"))))
                    .in("resp");
            String counted = Rehearsed.body(
                    Rehearsed.all(Rehearsed.order(address, Access.OPEN, Rehearsed.workload(last), folder)).getFirst());
            assertThat(sent).isGreaterThan(50);
            assertThat(counted.replaceAll("\\D", "")).isEqualTo(Long.toString(sent));
        }
    }

    @Test
    void aDatabaseCountsWhatTheRecordCounts() throws Exception {
        String at = "jdbc:h2:mem:unasked;DB_CLOSE_DELAY=-1";
        Address address = Rehearsed.address("sql", at);
        try (var connection = java.sql.DriverManager.getConnection(at);
                var statement = connection.createStatement()) {
            statement.execute("create table asked (id identity)");
            Call call = Call.of("insert", "GET", "")
                    .with(Form.of("sql", Map.of("statement", List.of("insert into asked default values")))).in("sql");
            long sent = measured(address, call, closed());
            try (var rows = statement.executeQuery("select count(*) from asked")) {
                rows.next();
                assertThat(sent).isGreaterThan(50);
                assertThat(rows.getLong(1)).isEqualTo(sent);
            }
        }
    }

    @Test
    void aServerOfHttp2CountsWhatTheRecordCounts() throws Exception {
        var asked = new AtomicLong();
        try (var server = new Http2TestServer(Optional.empty(), 100, (request, _, stream) -> {
            asked.addAndGet("/berths/7".contentEquals(request.path()) ? 1 : 0);
            Http2TestServer.ok(stream, "ok");
        })) {
            same(new Address("127.0.0.1", server.port(), ""),
                    Access.over(Wire.USUAL.withProtocol(Wire.Protocol.HTTP_2, 8)), Call.of("look", "GET", "/berths/7"),
                    asked::get);
        }
    }

    /** Queries and streams of events, which travel over HTTP, to the JDK's server. */
    @Test
    void queriesAndStreamsOfEventsAreCounted() throws Exception {
        var asked = new AtomicLong();
        HttpServer server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 64);
        server.setExecutor(Executors.newCachedThreadPool());
        server.createContext("/", exchange -> {
            boolean query = exchange.getRequestURI().getPath().equals("/graphql");
            asked.incrementAndGet();
            exchange.getRequestBody().readAllBytes();
            exchange.getResponseHeaders().set("Content-Type", query ? "application/json" : "text/event-stream");
            exchange.sendResponseHeaders(200, 0);
            try (var out = exchange.getResponseBody()) {
                out.write((query ? "{\"data\": {}}" : "data: 1\n\n").getBytes(StandardCharsets.UTF_8));
            }
        });
        server.start();
        String at = "127.0.0.1:" + server.getAddress().getPort();
        try {
            same(Rehearsed.address("events", "http://" + at), Access.OPEN,
                    Rehearsed.call("events", "live", "path", "/live", "events", "1"), () -> asked.getAndSet(0));
            store.summaries.clear();
            store.records.clear();
            same(Rehearsed.address("graphql", "http://" + at + "/graphql"), Access.OPEN,
                    Rehearsed.call("graphql", "all", "query", "{ berths { id } }"), () -> asked.getAndSet(0));
        } finally {
            server.stop(0);
        }
    }

    @Test
    void messagesOfAWebSocketAreCounted() throws Exception {
        var heard = new AtomicLong();
        var group = new MultiThreadIoEventLoopGroup(1, NioIoHandler.newFactory());
        Channel server = new ServerBootstrap().group(group).channel(NioServerSocketChannel.class)
                .childHandler(new ChannelInitializer<>() {
                    @Override
                    protected void initChannel(Channel made) {
                        made.pipeline().addLast(new HttpServerCodec(), new HttpObjectAggregator(65536),
                                new WebSocketServerProtocolHandler("/live"),
                                new SimpleChannelInboundHandler<TextWebSocketFrame>() {
                                    @Override
                                    protected void channelRead0(ChannelHandlerContext context,
                                            TextWebSocketFrame frame) {
                                        heard.incrementAndGet();
                                        context.writeAndFlush(frame.retain());
                                    }
                                });
                    }
                }).bind(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0)).sync().channel();
        try {
            same(Rehearsed.address("websocket",
                    "ws://127.0.0.1:" + ((InetSocketAddress) server.localAddress()).getPort() + "/live"), Access.OPEN,
                    Rehearsed.call("websocket", "ask", "send", "tide"), heard::get);
        } finally {
            server.close();
            group.shutdownGracefully(0, 1, TimeUnit.SECONDS);
        }
    }

    @Test
    void aServiceOfGrpcCountsWhatTheRecordCounts() throws Exception {
        var asked = new AtomicLong();
        var server = NettyServerBuilder.forAddress(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0))
                .addService(new BerthBoardGrpc.BerthBoardImplBase() {
                    @Override
                    public void getBerth(BerthRequest request, StreamObserver<BerthReply> answer) {
                        asked.incrementAndGet();
                        answer.onNext(BerthReply.getDefaultInstance());
                        answer.onCompleted();
                    }
                }).addService(ProtoReflectionServiceV1.newInstance()).build().start();
        try {
            same(Rehearsed.address("grpc", "grpc://127.0.0.1:" + server.getPort()), Access.OPEN,
                    Rehearsed.call("grpc", "find", "method", "harbour.BerthBoard/GetBerth"), asked::get);
        } finally {
            server.shutdownNow();
        }
    }

    /** Lines over TCP, each of which is answered, and datagrams. */
    @Test
    void linesAndDatagramsAreCounted() throws Exception {
        var lines = new AtomicLong();
        try (var listener = new ServerSocket(0, 64, InetAddress.getLoopbackAddress());
                var datagrams = new DatagramSocket(0, InetAddress.getLoopbackAddress())) {
            Thread.ofVirtual().start(() -> {
                while (!listener.isClosed()) {
                    try {
                        Socket socket = listener.accept();
                        Thread.ofVirtual().start(() -> answerLines(socket, lines));
                    } catch (IOException _) {
                        return;
                    }
                }
            });
            same(Rehearsed.address("bytes", "tcp://127.0.0.1:" + listener.getLocalPort()), Access.OPEN,
                    Rehearsed.call("bytes", "ask", "send", "tide\\n"), lines::get);
            store.summaries.clear();
            store.records.clear();
            var received = new AtomicLong();
            Thread.ofVirtual().start(() -> {
                var packet = new DatagramPacket(new byte[100], 100);
                while (!datagrams.isClosed()) {
                    try {
                        datagrams.receive(packet);
                        received.incrementAndGet();
                        datagrams.send(packet);
                    } catch (IOException _) {
                        return;
                    }
                }
            });
            same(Rehearsed.address("bytes", "udp://127.0.0.1:" + datagrams.getLocalPort()), Access.OPEN,
                    Rehearsed.call("bytes", "ask", "send", "tide"), received::get);
        }
    }

    private static void answerLines(Socket socket, AtomicLong counted) {
        try (socket) {
            InputStream in = socket.getInputStream();
            for (int b = in.read(); b >= 0; b = in.read()) {
                if (b == '\n') {
                    counted.incrementAndGet();
                    socket.getOutputStream().write('\n');
                }
            }
        } catch (IOException _) {
            // the test is over
        }
    }

    @Test
    @DisabledOnOs(OS.WINDOWS)
    void startsOfAProgramAreCounted() throws Exception {
        Path counted = folder.resolve("counted");
        same(Rehearsed.address("command", "command:" + folder), Access.OPEN,
                Rehearsed.call("command", "run", "command", "sh", "command", "-c", "command", "echo x >> counted"),
                () -> Files.readAllLines(counted).size());
    }

    @Test
    void messagesThatABrokerOfMqttPassesOnAreCounted() throws Exception {
        var heard = new AtomicLong();
        try (BrokerService broker = BrokerService.on(0)) {
            Mqtt3BlockingClient listener = Mqtt3Client.builder().identifier("counts").serverHost("127.0.0.1")
                    .serverPort(broker.port()).buildBlocking();
            listener.connect();
            listener.toAsync().subscribeWith().topicFilter("arrivals").qos(MqttQos.AT_LEAST_ONCE)
                    .callback(_ -> heard.incrementAndGet()).send().get(10, TimeUnit.SECONDS);
            same(Rehearsed.address("mqtt", "mqtt://127.0.0.1:" + broker.port()),
                    Access.with(Map.of("version", List.of("3"))),
                    Rehearsed.call("mqtt", "publish", "topic", "arrivals", "payload", "Tern", "qos", "1"),
                    () -> settled(heard));
            listener.disconnect();
        }
    }

    /** A count that comes by another way, once it no longer grows. */
    private static long settled(AtomicLong heard) throws InterruptedException {
        long before = -1;
        while (before != heard.get()) {
            before = heard.get();
            TimeUnit.MILLISECONDS.sleep(500);
        }
        return before;
    }

    @Test
    void messagesInAQueueOfAmqpAreCounted() throws Exception {
        try (var broker = new AmqpBroker(folder)) {
            var factory = new ConnectionFactory();
            factory.setPort(broker.port());
            factory.setVirtualHost("default");
            try (var connection = factory.newConnection();
                    var channel = connection.createChannel()) {
                String queue = channel.queueDeclare("counted", false, false, false, null).getQueue();
                channel.queueBind(queue, "amq.topic", "arrivals");
                same(Rehearsed.address("amqp", "amqp://127.0.0.1:" + broker.port() + "/default"), Access.OPEN, Rehearsed
                        .call("amqp", "publish", "exchange", "amq.topic", "key", "arrivals", "payload", "Tern"),
                        () -> channel.messageCount(queue));
            }
        }
    }

    @Test
    void recordsInATopicOfKafkaAreCounted() throws Exception {
        try (var broker = new KafkaBroker(folder)) {
            broker.make(new NewTopic("arrivals", 1, (short) 1));
            var partition = new TopicPartition("arrivals", 0);
            try (Admin admin = Admin.create(Map.of("bootstrap.servers", "127.0.0.1:" + broker.port()))) {
                same(Rehearsed.address("kafka", "kafka://127.0.0.1:" + broker.port()), Access.OPEN,
                        Rehearsed.call("kafka", "write", "topic", "arrivals", "payload", "Tern"),
                        () -> admin.listOffsets(Map.of(partition, OffsetSpec.latest())).partitionResult(partition)
                                .get(10, TimeUnit.SECONDS).offset());
            }
        }
    }
}
