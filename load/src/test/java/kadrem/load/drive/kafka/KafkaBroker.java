package kadrem.load.drive.kafka;

import static org.assertj.core.api.Assertions.assertThat;
import java.io.OutputStream;
import java.io.PrintStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Properties;
import java.util.concurrent.TimeUnit;
import kadrem.fixtures.Ports;
import kadrem.load.drive.Certificate;
import kafka.server.KafkaConfig;
import kafka.server.KafkaRaftServer;
import kafka.tools.StorageTool;
import org.apache.kafka.clients.admin.Admin;
import org.apache.kafka.clients.admin.NewTopic;
import org.apache.kafka.common.Uuid;
import org.apache.kafka.common.utils.Time;

/** Apache Kafka's own broker in this process: one node, with a listener in the clear, one with TLS, one with sign-in, and one that leads elsewhere. */
public final class KafkaBroker implements AutoCloseable {
    final int plain = Ports.free();
    final int tls = Ports.free();
    final int signIn = Ports.free();
    final int elsewhere = Ports.free();
    private final KafkaRaftServer broker;

    /** @param folder gets certificates and the broker's log */
    public KafkaBroker(Path folder) throws Exception {
        Certificate.make(folder);
        Files.writeString(folder.resolve("server.pem"), Files.readString(folder.resolve("key.pem"))
                + Files.readString(folder.resolve("cert.pem")));
        int controller = Ports.free();
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
    }

    /** The port of the listener in the clear. */
    public int port() {
        return plain;
    }

    /** Makes topics. */
    public void make(NewTopic... topics) throws Exception {
        try (Admin admin = Admin.create(Map.of("bootstrap.servers", "127.0.0.1:" + plain))) {
            admin.createTopics(List.of(topics)).all().get(60, TimeUnit.SECONDS);
        }
    }

    @Override
    public void close() {
        broker.shutdown();
        broker.awaitShutdown();
    }
}
