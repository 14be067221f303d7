package kadrem.standins.broker;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.concurrent.TimeUnit;

import org.apache.kafka.clients.admin.Admin;
import org.apache.kafka.clients.admin.NewTopic;
import org.apache.kafka.clients.admin.RecordsToDelete;
import org.apache.kafka.clients.consumer.ConsumerRecord;
import org.apache.kafka.clients.consumer.KafkaConsumer;
import org.apache.kafka.clients.consumer.OffsetOutOfRangeException;
import org.apache.kafka.clients.producer.KafkaProducer;
import org.apache.kafka.clients.producer.ProducerRecord;
import org.apache.kafka.common.TopicPartition;
import org.apache.kafka.common.errors.InvalidTopicException;
import org.apache.kafka.common.errors.TopicExistsException;
import org.apache.kafka.common.errors.UnsupportedVersionException;
import org.apache.kafka.common.serialization.StringDeserializer;
import org.apache.kafka.common.serialization.StringSerializer;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** The journal against Kafka's own client. */
class JournalServiceTest {
    private static final int SECONDS = 30;
    private JournalService service;

    @BeforeEach
    void start() throws Exception {
        service = JournalService.on(0);
    }

    @AfterEach
    void stop() throws Exception {
        service.close();
    }

    private Map<String, Object> settings(Map<String, Object> more) {
        var all = new java.util.HashMap<String, Object>(more);
        all.put("bootstrap.servers", "127.0.0.1:" + service.port());
        all.put("enable.metrics.push", false);
        all.put("default.api.timeout.ms", SECONDS * 1000);
        all.put("auto.offset.reset", "none");
        return all;
    }

    private KafkaProducer<String, String> producer(Map<String, Object> more) {
        return new KafkaProducer<>(settings(more), new StringSerializer(), new StringSerializer());
    }

    private KafkaConsumer<String, String> consumer() {
        return new KafkaConsumer<>(settings(Map.of()), new StringDeserializer(), new StringDeserializer());
    }

    private Admin admin() {
        return Admin.create(settings(Map.of()));
    }

    private static List<ConsumerRecord<String, String>> read(KafkaConsumer<String, String> consumer, int number) {
        var read = new ArrayList<ConsumerRecord<String, String>>();
        long until = System.nanoTime() + TimeUnit.SECONDS.toNanos(SECONDS);
        while (read.size() < number && System.nanoTime() < until) {
            consumer.poll(Duration.ofMillis(200)).forEach(read::add);
        }
        return read;
    }

    private static Collection<TopicPartition> partitions(KafkaConsumer<String, String> consumer, String topic) {
        return consumer.partitionsFor(topic).stream().map(one -> new TopicPartition(topic, one.partition())).toList();
    }

    @ParameterizedTest
    @CsvSource({"none, all", "gzip, all", "lz4, 1", "none, 0"})
    void recordsAreReadAsTheyWereWritten(String compression, String acks) throws Exception {
        try (var producer = producer(Map.of("compression.type", compression, "acks", acks, "linger.ms", 5));
                var consumer = consumer()) {
            consumer.assign(partitions(consumer, "arrivals"));
            consumer.seekToBeginning(consumer.assignment());
            consumer.assignment().forEach(consumer::position);
            for (int i = 0; i < 500; i++) {
                producer.send(new ProducerRecord<>("arrivals", "vessel " + i, "Möwe " + i));
            }
            producer.flush();
            List<ConsumerRecord<String, String>> read = read(consumer, 500);
            assertThat(read).extracting(ConsumerRecord::value).hasSize(500).doesNotHaveDuplicates()
                    .allMatch(value -> value.startsWith("Möwe "));
            assertThat(read).allMatch(one -> one.value().substring(5).equals(one.key().substring(7)));
            for (TopicPartition partition : consumer.assignment()) {
                assertThat(read.stream().filter(one -> one.partition() == partition.partition())
                        .map(ConsumerRecord::offset)).as("in the order of their offsets").isSorted();
            }
        }
    }

    @Test
    void whoeverReadsAtTheEndIsToldAtOnceOfWhatIsWritten() throws Exception {
        try (var producer = producer(Map.of()); var consumer = consumer()) {
            consumer.assign(partitions(consumer, "arrivals"));
            consumer.seekToEnd(consumer.assignment());
            consumer.assignment().forEach(consumer::position);
            producer.send(new ProducerRecord<>("arrivals", "Tern")).get(SECONDS, TimeUnit.SECONDS);
            assertThat(read(consumer, 1)).extracting(ConsumerRecord::value).containsExactly("Tern");
        }
    }

    @Test
    void topicsAreMadeToldAndEmptied() throws Exception {
        try (Admin admin = admin(); var producer = producer(Map.of()); var consumer = consumer()) {
            admin.createTopics(List.of(new NewTopic("berths", 2, (short) 1))).all().get(SECONDS, TimeUnit.SECONDS);
            assertThatThrownBy(() -> admin.createTopics(List.of(new NewTopic("berths", 2, (short) 1))).all()
                    .get(SECONDS, TimeUnit.SECONDS)).hasCauseInstanceOf(TopicExistsException.class);
            assertThat(admin.listTopics().names().get(SECONDS, TimeUnit.SECONDS)).containsExactly("berths");
            assertThat(admin.describeTopics(List.of("berths")).allTopicNames().get(SECONDS, TimeUnit.SECONDS)
                    .get("berths").partitions()).hasSize(2);
            assertThat(admin.describeCluster().nodes().get(SECONDS, TimeUnit.SECONDS)).hasSize(1);
            var partition = new TopicPartition("berths", 1);
            for (int i = 0; i < 5; i++) {
                assertThat(producer.send(new ProducerRecord<>("berths", 1, "", "v" + i)).get(SECONDS, TimeUnit.SECONDS)
                        .offset()).isEqualTo(i);
            }
            admin.deleteRecords(Map.of(partition, RecordsToDelete.beforeOffset(3))).all().get(SECONDS,
                    TimeUnit.SECONDS);
            assertThat(consumer.beginningOffsets(List.of(partition))).containsEntry(partition, 3L);
            assertThat(consumer.endOffsets(List.of(partition))).containsEntry(partition, 5L);
            consumer.assign(List.of(partition));
            consumer.seek(partition, 3);
            assertThat(read(consumer, 2)).extracting(ConsumerRecord::value).containsExactly("v3", "v4");
            consumer.seek(partition, 1);
            assertThatThrownBy(() -> read(consumer, 1)).isInstanceOf(OffsetOutOfRangeException.class);
        }
    }

    @Test
    void namesThatCannotBeAndWhatIsNotSpokenAreTold() {
        try (var producer = producer(Map.of("max.block.ms", SECONDS * 1000))) {
            assertThatThrownBy(() -> producer.send(new ProducerRecord<>("north mole", "x")).get(SECONDS,
                    TimeUnit.SECONDS)).hasCauseInstanceOf(InvalidTopicException.class);
        }
        try (Admin admin = admin()) {
            assertThatThrownBy(() -> admin.listTransactions().all().get(SECONDS, TimeUnit.SECONDS))
                    .hasCauseInstanceOf(UnsupportedVersionException.class);
        }
    }

    @Test
    void nothingIsKeptOfAMalformedRequestButItsClientGoes() throws Exception {
        try (var socket = new java.net.Socket("127.0.0.1", service.port())) {
            socket.getOutputStream().write("GET / HTTP/1.1\r\n\r\n".getBytes(StandardCharsets.US_ASCII));
            assertThat(socket.getInputStream().readAllBytes()).isEmpty();
        }
    }
}
