package kadrem.load.drive.kafka;

import java.io.IOException;
import java.time.Duration;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import java.util.function.Function;
import java.util.stream.Collectors;

import kadrem.core.study.Access;
import kadrem.core.study.Wire;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.TlsContext;
import kadrem.load.content.UnusableCall;
import org.apache.kafka.clients.CommonClientConfigs;
import org.apache.kafka.clients.admin.Admin;
import org.apache.kafka.clients.admin.OffsetSpec;
import org.apache.kafka.clients.admin.RecordsToDelete;
import org.apache.kafka.clients.admin.TopicDescription;
import org.apache.kafka.common.KafkaException;
import org.apache.kafka.common.KafkaFuture;
import org.apache.kafka.common.TopicPartition;
import org.apache.kafka.common.config.SaslConfigs;
import org.apache.kafka.common.config.SslConfigs;

/** What is asked of a cluster beside the load, and how its clients are set. */
final class Cluster implements AutoCloseable {
    private final DriverOrder order;
    private final Admin admin;

    Cluster(DriverOrder order) throws UnusableCall {
        this.order = order;
        try {
            Greeting.expect(order);
        } catch (IOException cause) {
            throw new UnusableCall("the broker cannot be asked: " + cause.getMessage());
        }
        admin = Admin.create(settings(order));
    }

    /** The settings that all of Kafka's clients share. */
    static Map<String, Object> settings(DriverOrder order) throws UnusableCall {
        Map<String, Object> settings = new HashMap<>();
        Access access = order.access();
        boolean signsIn = !access.setting("user").isEmpty();
        int limit = limitMillis(order);
        settings.put(CommonClientConfigs.BOOTSTRAP_SERVERS_CONFIG, order.address().host() + ":" + order.address()
                .port());
        settings.put(CommonClientConfigs.CLIENT_ID_CONFIG, "kadrem");
        settings.put(CommonClientConfigs.REQUEST_TIMEOUT_MS_CONFIG, limit);
        settings.put(CommonClientConfigs.DEFAULT_API_TIMEOUT_MS_CONFIG, limit);
        settings.put(CommonClientConfigs.ENABLE_METRICS_PUSH_CONFIG, false);
        settings.put(CommonClientConfigs.SECURITY_PROTOCOL_CONFIG, (signsIn ? "SASL_" : "") + (order.address().secure()
                ? "SSL"
                : "PLAINTEXT"));
        if (signsIn) {
            String mechanism = access.setting("mechanism").isEmpty() ? "PLAIN" : access.setting("mechanism");
            settings.put(SaslConfigs.SASL_MECHANISM, mechanism);
            settings.put(SaslConfigs.SASL_JAAS_CONFIG, "org.apache.kafka.common.security." + (mechanism.equals("PLAIN")
                    ? "plain.PlainLoginModule"
                    : "scram.ScramLoginModule") + " required username=" + quoted(access.setting("user")) + " password="
                    + quoted(order.secrets().fill(access.setting("password"))) + ";");
        }
        if (order.address().secure()) {
            settings.put(SslConfigs.SSL_ENGINE_FACTORY_CLASS_CONFIG, StudyTls.class);
            settings.put(StudyTls.CONTEXT, TlsContext.of(access.tls(), Wire.USUAL, order.secrets().folder()).shared()
                    .context());
            settings.put(StudyTls.VERIFIES, access.tls().verify());
        }
        return settings;
    }

    /** A little less than the call's time, so that the client says why it has waited in vain. */
    static int limitMillis(DriverOrder order) {
        return Math.max(1, Math.toIntExact(order.timeout().toMillis() * 9 / 10));
    }

    /** As a value in the syntax of sign-in settings. */
    private static String quoted(String text) {
        return "\"" + text.replace("\\", "\\\\").replace("\"", "\\\"") + "\"";
    }

    private interface Question<T> {
        T answer() throws ExecutionException, InterruptedException, TimeoutException, IOException;
    }

    private <T> T asked(Question<T> question) throws IOException {
        try {
            return question.answer();
        } catch (ExecutionException cause) {
            throw new IOException(masked(Objects.requireNonNullElse(cause.getCause(), cause)), cause);
        } catch (TimeoutException cause) {
            throw new IOException("the broker does not answer", cause);
        } catch (InterruptedException cause) {
            Thread.currentThread().interrupt();
            throw new IOException("interrupted", cause);
        } catch (KafkaException cause) {
            throw new IOException(masked(cause), cause);
        }
    }

    private String masked(Throwable cause) {
        return order.secrets().mask(String.valueOf(cause.getMessage()));
    }

    private <T> T within(KafkaFuture<T> future) throws ExecutionException, InterruptedException, TimeoutException {
        return future.get(order.timeout().toMillis(), TimeUnit.MILLISECONDS);
    }

    List<String> topics() throws IOException {
        return asked(() -> within(admin.listTopics().names())).stream().sorted().toList();
    }

    /** What a cluster tells of itself, and of some of its topics, as far as they are there. */
    Map<String, String> about(Collection<String> topics) throws IOException {
        Map<String, String> told = new TreeMap<>();
        told.put("brokers", Integer.toString(asked(() -> within(admin.describeCluster().nodes())).size()));
        asked(() -> within(admin.describeFeatures().featureMetadata())).finalizedFeatures()
                .forEach((name, range) -> told.put(name, Short.toString(range.maxVersionLevel())));
        Collection<String> there = topics();
        Map<String, TopicDescription> descriptions = asked(() -> within(admin.describeTopics(topics.stream()
                .filter(there::contains).toList()).allTopicNames()));
        descriptions.forEach((name, topic) -> told.put("topic " + name, topic.partitions().size() + " partitions, "
                + topic.partitions().getFirst().replicas().size() + " copies"));
        return told;
    }

    private Map<TopicPartition, Long> offsets(String topic, OffsetSpec which) throws IOException {
        if (!topics().contains(topic)) {
            throw new IOException("there is no topic " + topic);
        }
        return asked(() -> {
            TopicDescription description = Objects.requireNonNull(
                    within(admin.describeTopics(List.of(topic)).allTopicNames()).get(topic), "it was asked for");
            Map<TopicPartition, OffsetSpec> wanted = description.partitions().stream().collect(Collectors.toMap(
                    one -> new TopicPartition(topic, one.partition()), _ -> which));
            return within(admin.listOffsets(wanted).all()).entrySet().stream().collect(Collectors.toMap(
                    Map.Entry::getKey, one -> one.getValue().offset()));
        });
    }

    private static long sum(Map<TopicPartition, Long> offsets) {
        return offsets.values().stream().mapToLong(Long::longValue).sum();
    }

    /** Records in a topic, over all of its partitions. */
    long count(String topic) throws IOException {
        return sum(offsets(topic, OffsetSpec.latest())) - sum(offsets(topic, OffsetSpec.earliest()));
    }

    /** Deletes the records of a topic; gives how many were ever written to it, 0 where it is not there yet. */
    long empty(String topic) throws IOException {
        if (!topics().contains(topic)) {
            return 0;
        }
        Map<TopicPartition, Long> ends = offsets(topic, OffsetSpec.latest());
        Function<Map.Entry<TopicPartition, Long>, RecordsToDelete> before = one -> RecordsToDelete.beforeOffset(one
                .getValue());
        asked(() -> within(admin.deleteRecords(ends.entrySet().stream().collect(Collectors.toMap(Map.Entry::getKey,
                before))).all()));
        return sum(ends);
    }

    @Override
    public void close() {
        admin.close(Duration.ZERO);
    }
}
