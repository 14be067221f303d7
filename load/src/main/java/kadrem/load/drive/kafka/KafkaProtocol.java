package kadrem.load.drive.kafka;

import java.io.IOException;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

import kadrem.core.study.Address;
import kadrem.core.study.Call;
import kadrem.core.study.grammar.Field;
import kadrem.core.study.Form;
import kadrem.core.study.Workload;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.Offer;
import kadrem.load.content.UnusableCall;
import kadrem.load.drive.blocking.BlockingProtocol;
import kadrem.load.drive.blocking.Client;

/** Records written to a topic of a broker or a cluster, and how long they take to come back. */
public final class KafkaProtocol implements BlockingProtocol {
    public static final String ID = "kafka";
    static final String OWN_PRODUCERS = "one for each user";
    private static final int PORT = 9092;
    private static final int TLS_PORT = 9093;
    private static final int MAX_LINGER = 60_000;

    @Override
    public String id() {
        return ID;
    }

    @Override
    public String words() {
        return "Kafka";
    }

    @Override
    public String exampleAddress() {
        return "kafka://127.0.0.1:9092";
    }

    @Override
    public Optional<Address> address(String text) {
        return Address.ofHost(text, ID, "kafka", "kafkas", text.startsWith("kafkas:") ? TLS_PORT : PORT)
                .filter(address -> address.basePath().isEmpty());
    }

    @Override
    public List<Field> fields() {
        return List.of(Field.line("topic", "topic", "arrivals").needed().asked(),
                Field.line("key", "key", "{{berth}}"),
                Field.json("payload", "record", "{\"vessel\": \"Visitor {{vessel}}\"}"),
                Field.choice("ends", "the call ends", "when it is confirmed", "when it has come back"));
    }

    @Override
    public List<Field> settings() {
        return List.of(Field.choice("acks", "confirmed by", "all", "1", "0"),
                Field.choice("compression", "compression", "none", "gzip", "snappy", "lz4", "zstd"),
                Field.line("linger", "milliseconds that a record waits for others", "0"),
                Field.choice("producers", "producers", "one for all users", OWN_PRODUCERS),
                Field.line("user", "user", "harbour"),
                Field.secret("password", "password", "\"{{env:BROKER_PASSWORD}}\""),
                Field.choice("mechanism", "sign-in by", "PLAIN", "SCRAM-SHA-256", "SCRAM-SHA-512"));
    }

    @Override
    public Optional<String> objection(Form form) {
        String fixed = form.text("topic").replaceAll("\\{\\{[^}]*}}", "x").strip();
        return fixed.matches("[a-zA-Z0-9._-]{1,249}")
                ? Optional.empty()
                : Optional.of("has the topic \"" + form.text("topic")
                        + "\"; a topic's name has letters, digits, dots, underscores and hyphens only");
    }

    @Override
    public Optional<String> objection(Address address, Map<String, List<String>> settings) {
        String linger = String.join("", settings.getOrDefault("linger", List.of()));
        if (!linger.isBlank() && (!linger.matches("\\d{1,5}") || Integer.parseInt(linger) > MAX_LINGER)) {
            return Optional.of("has the linger \"" + linger + "\"; write milliseconds from 0 to " + MAX_LINGER);
        }
        return settings.containsKey("password") && !settings.containsKey("user")
                ? Optional.of("has a password and no user")
                : Optional.empty();
    }

    @Override
    public Client<?> client(DriverOrder order) throws UnusableCall {
        return new KafkaClient(order);
    }

    @Override
    public List<Offer> offers(DriverOrder order, String field) throws UnusableCall {
        try (var cluster = new Cluster(order)) {
            return Offer.of(cluster.topics());
        } catch (IOException cause) {
            throw new UnusableCall(String.valueOf(cause.getMessage()));
        }
    }

    @Override
    public String ask(DriverOrder order, String words) throws IOException, UnusableCall {
        String[] parts = words.strip().split("\\s+");
        try (var cluster = new Cluster(order)) {
            if (parts.length == 2 && parts[0].equals("count")) {
                return Long.toString(cluster.count(parts[1]));
            }
            if (parts.length == 2 && parts[0].equals("empty")) {
                return "records before " + cluster.empty(parts[1]);
            }
            throw new IOException("\"" + words + "\" is not understood; write count TOPIC or empty TOPIC");
        }
    }

    @Override
    public Map<String, String> fingerprint(DriverOrder order, Questions questions) throws IOException, UnusableCall {
        try (var cluster = new Cluster(order)) {
            return cluster.about(fixedTopics(order.workload()));
        }
    }

    /** The topics that do not depend on values. */
    private static Set<String> fixedTopics(Workload workload) {
        return workload.calls().stream().flatMap(call -> call.form(ID).stream()).map(form -> form.text("topic").strip())
                .filter(topic -> Call.split(topic).size() == 1)
                .collect(Collectors.toCollection(LinkedHashSet::new));
    }
}
