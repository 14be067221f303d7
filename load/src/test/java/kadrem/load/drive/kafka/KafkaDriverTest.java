package kadrem.load.drive.kafka;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.io.OutputStream;
import java.io.PrintStream;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Properties;
import java.util.concurrent.TimeUnit;

import kadrem.core.measure.FailureKind;
import kadrem.core.rehearsal.RehearsedCall;
import kadrem.core.study.Access;
import kadrem.core.study.Address;
import kadrem.core.study.Call;
import kadrem.core.study.Form;
import kadrem.core.study.SignIn;
import kadrem.core.study.Tls;
import kadrem.core.study.ValueList;
import kadrem.core.study.Visit;
import kadrem.core.study.Wire;
import kadrem.core.study.Workload;
import kadrem.load.drive.Certificate;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.Rehearsed;
import kadrem.load.engine.Load;
import kadrem.load.engine.LoadOrder;
import kadrem.load.engine.Transport;
import kafka.server.KafkaConfig;
import kafka.server.KafkaRaftServer;
import kafka.tools.StorageTool;
import org.apache.kafka.clients.admin.Admin;
import org.apache.kafka.clients.admin.NewTopic;
import org.apache.kafka.common.Uuid;
import org.apache.kafka.common.utils.Time;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Records through Apache Kafka's own broker, in this process. */
class KafkaDriverTest {
    @TempDir
    static Path folder;
    private static int plain;
    private static int tls;
    private static int signIn;
    private static int elsewhere;
    private static KafkaRaftServer broker;

    @BeforeAll
    static void start() throws Exception {
        Certificate.make(folder);
        Files.writeString(folder.resolve("server.pem"), Files.readString(folder.resolve("key.pem"))
                + Files.readString(folder.resolve("cert.pem")));
        plain = free();
        tls = free();
        signIn = free();
        elsewhere = free();
        int controller = free();
        var properties = new Properties();
        properties.putAll(Map.ofEntries(
                Map.entry("process.roles", "broker,controller"),
                Map.entry("node.id", "1"),
                Map.entry("controller.quorum.voters", "1@127.0.0.1:" + controller),
                Map.entry("controller.listener.names", "CONTROLLER"),
                Map.entry("inter.broker.listener.name", "PLAIN"),
                Map.entry("listener.security.protocol.map",
                        "CONTROLLER:PLAINTEXT,PLAIN:PLAINTEXT,TLS:SSL,SIGNIN:SASL_PLAINTEXT,ELSEWHERE:PLAINTEXT"),
                Map.entry("listeners", "CONTROLLER://127.0.0.1:" + controller + ",PLAIN://127.0.0.1:" + plain
                        + ",TLS://127.0.0.1:" + tls + ",SIGNIN://127.0.0.1:" + signIn + ",ELSEWHERE://127.0.0.1:"
                        + elsewhere),
                Map.entry("advertised.listeners", "PLAIN://127.0.0.1:" + plain + ",TLS://127.0.0.1:" + tls
                        + ",SIGNIN://127.0.0.1:" + signIn + ",ELSEWHERE://harbour.invalid:9092"),
                Map.entry("listener.name.tls.ssl.keystore.type", "PEM"),
                Map.entry("listener.name.tls.ssl.keystore.location", folder.resolve("server.pem").toString()),
                Map.entry("listener.name.signin.sasl.enabled.mechanisms", "PLAIN"),
                Map.entry("listener.name.signin.plain.sasl.jaas.config",
                        "org.apache.kafka.common.security.plain.PlainLoginModule required user_harbour=\"tok-31415\";"),
                Map.entry("auto.create.topics.enable", "false"),
                Map.entry("offsets.topic.replication.factor", "1"),
                Map.entry("log.dirs", folder.resolve("log").toString())));
        Path file = folder.resolve("broker.properties");
        try (var out = Files.newOutputStream(file)) {
            properties.store(out, null);
        }
        assertThat(StorageTool.execute(new String[]{"format", "--cluster-id", Uuid.randomUuid().toString(),
                "--config", file.toString()}, new PrintStream(OutputStream.nullOutputStream()))).isZero();
        broker = new KafkaRaftServer(new KafkaConfig(properties), Time.SYSTEM);
        broker.startup();
        try (Admin admin = Admin.create(Map.of("bootstrap.servers", "127.0.0.1:" + plain))) {
            admin.createTopics(List.of(new NewTopic("arrivals", 2, (short) 1), new NewTopic("departures-7", 1,
                    (short) 1))).all().get(60, TimeUnit.SECONDS);
        }
    }

    @AfterAll
    static void stop() {
        broker.shutdown();
        broker.awaitShutdown();
    }

    private static int free() throws IOException {
        try (var socket = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
            return socket.getLocalPort();
        }
    }

    private static Address at(int port) {
        return Rehearsed.address("kafka", "kafka://127.0.0.1:" + port);
    }

    private static DriverOrder order(Address address, Access access, Workload workload) {
        return Rehearsed.order(address, access, workload, folder);
    }

    private static RehearsedCall one(Address address, Access access, Call call) throws Exception {
        return Rehearsed.all(order(address, access, Rehearsed.workload(call))).getFirst();
    }

    private static Call write(String topic) {
        return Rehearsed.call("kafka", "write", "topic", topic, "key", "7", "payload", "{\"vessel\": \"Tern\"}");
    }

    @ParameterizedTest
    @CsvSource({"all, one for all users", "1, one for each user"})
    void everyRecordComesBack(String acks, String producers) throws Exception {
        Call call = Rehearsed.call("kafka", "round", "topic", "arrivals", "key", "{{berth}}", "payload",
                "{\"vessel\": \"Tern {{berth}}\"}", "ends", "when it has come back");
        Access access = Access.with(Map.of("acks", List.of(acks), "producers", List.of(producers)));
        var workload = new Workload(List.of(new ValueList.NumberRange("berth", 1, 20)),
                List.of(new Visit("v", 1, List.of(call))));
        RehearsedCall made = Rehearsed.all(order(at(plain), access, workload)).getFirst();
        assertThat(made.failure()).as(made.detail()).isEmpty();
        assertThat(Rehearsed.body(made)).startsWith("{\"vessel\": \"Tern ");
        assertThat(made.statusWord()).isEqualTo("written and received");
        long before = count("arrivals");
        Load load = Load.run(new LoadOrder(at(plain), access, workload, Load.arrivals(60, 60, 2), 7, 1),
                Transport.best());
        assertThat(load.figures.failedTotal()).as("%s", load.exchanges).isZero();
        assertThat(load.figures.good()).isEqualTo(60);
        assertThat(load.parts).isEqualTo(60);
        assertThat(count("arrivals") - before).isEqualTo(60);
    }

    private static long count(String topic) throws Exception {
        return Long.parseLong(new KafkaProtocol().ask(order(at(plain), Access.OPEN, Rehearsed.workload()),
                "count " + topic));
    }

    @Test
    void aTopicNamedByAValueIsHeardToo() throws Exception {
        Call call = Rehearsed.call("kafka", "round", "topic", "departures-{{berth}}", "payload", "Tern", "ends",
                "when it has come back");
        var workload = new Workload(List.of(new ValueList.NumberRange("berth", 7, 7)),
                List.of(new Visit("v", 1, List.of(call))));
        RehearsedCall made = Rehearsed.all(order(at(plain), Access.OPEN, workload)).getFirst();
        assertThat(made.failure()).as(made.detail()).isEmpty();
        assertThat(Rehearsed.body(made)).isEqualTo("Tern");
    }

    @Test
    void aClusterTellsOfItselfAndItsTopicsCanBeEmptied() throws Exception {
        assertThat(one(at(plain), Access.OPEN, write("arrivals")).statusWord()).isEqualTo("confirmed");
        var protocol = new KafkaProtocol();
        DriverOrder order = order(at(plain), Access.OPEN, Rehearsed.workload(write("arrivals")));
        assertThat(protocol.fingerprint(order)).containsEntry("brokers", "1")
                .containsEntry("topic arrivals", "2 partitions, 1 copies").containsKey("metadata.version");
        assertThat(protocol.offers(order, "topic")).contains("arrivals", "departures-7");
        assertThat(count("arrivals")).isPositive();
        assertThat(protocol.ask(order, "empty arrivals")).startsWith("records before ");
        assertThat(count("arrivals")).isZero();
        assertThatThrownBy(() -> protocol.ask(order, "drop arrivals")).hasMessageContaining("count TOPIC");
    }

    /** UNKNOWN_TOPIC_OR_PARTITION is error code 3: Apache Kafka, protocol guide, "Error Codes". */
    @Test
    void aTopicThatIsNotThereIsToldByTheProtocolsCode() throws Exception {
        var order = new DriverOrder(at(plain), Access.OPEN, Rehearsed.workload(write("nowhere")),
                java.time.Duration.ofSeconds(2), order(at(plain), Access.OPEN, Rehearsed.workload()).secrets(),
                Transport.best());
        RehearsedCall made = Rehearsed.all(order).getFirst();
        assertThat(made.failure()).as(made.detail()).contains(FailureKind.UNEXPECTED_STATUS);
        assertThat(made.status()).isEqualTo(1003);
        assertThat(made.detail()).contains("UNKNOWN_TOPIC_OR_PARTITION");
    }

    @Test
    void overTlsTheStudysOwnAuthorityHolds() throws Exception {
        Address secure = Rehearsed.address("kafka", "kafkas://127.0.0.1:" + tls);
        Access trusting = new Access(new SignIn.None(), new Tls(true, Optional.of("cert.pem"), Optional.empty(),
                Optional.empty()), Wire.USUAL, Map.of());
        RehearsedCall made = one(secure, trusting, write("arrivals"));
        assertThat(made.failure()).as(made.detail()).isEmpty();
        assertThat(one(secure, Access.OPEN, write("arrivals")).failure()).contains(FailureKind.TLS);
    }

    @Test
    void whoeverSignsInWronglyIsToldWithoutTheSecret() throws Exception {
        Access right = Access.with(Map.of("user", List.of("harbour"), "password", List.of("{{env:BERTH_TOKEN}}")));
        RehearsedCall made = one(at(signIn), right, write("arrivals"));
        assertThat(made.failure()).as(made.detail()).isEmpty();
        Access wrong = Access.with(Map.of("user", List.of("nobody"), "password", List.of("{{env:BERTH_TOKEN}}")));
        RehearsedCall refused = one(at(signIn), wrong, write("arrivals"));
        assertThat(refused.failure()).as(refused.detail()).contains(FailureKind.NO_CONNECTION);
        assertThat(refused.detail()).doesNotContain("tok-31415");
    }

    @Test
    void loadIsNotLedToAnotherHost() throws Exception {
        RehearsedCall made = one(at(elsewhere), Access.OPEN, write("arrivals"));
        assertThat(made.failure()).as(made.detail()).contains(FailureKind.REDIRECTS);
        assertThat(made.detail()).contains("harbour.invalid:9092").contains("advertise");
        assertThat(one(at(free()), Access.OPEN, write("arrivals")).failure()).contains(FailureKind.REFUSED);
    }

    @Test
    void whatCannotBeATopicOrASettingIsToldBefore() {
        var protocol = new KafkaProtocol();
        assertThat(protocol.objection(Form.of("kafka", Map.of("topic", List.of("arrivals of today"))))).isPresent();
        assertThat(protocol.objection(Form.of("kafka", Map.of("topic", List.of("arrivals-{{berth}}"))))).isEmpty();
        assertThat(protocol.objection(at(9092), Map.of("linger", List.of("a while")))).isPresent();
        assertThat(protocol.objection(at(9092), Map.of("linger", List.of("5")))).isEmpty();
        assertThat(protocol.objection(at(9092), Map.of("password", List.of("{{env:X}}")))).isPresent();
    }
}
