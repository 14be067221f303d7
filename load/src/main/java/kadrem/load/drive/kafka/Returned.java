package kadrem.load.drive.kafka;

import java.nio.ByteBuffer;
import java.time.Duration;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.ThreadLocalRandom;
import java.util.concurrent.atomic.AtomicLong;

import org.apache.kafka.clients.consumer.ConsumerConfig;
import org.apache.kafka.clients.consumer.ConsumerRecord;
import org.apache.kafka.clients.consumer.KafkaConsumer;
import org.apache.kafka.common.KafkaException;
import org.apache.kafka.common.TopicPartition;
import org.apache.kafka.common.errors.UnknownTopicOrPartitionException;
import org.apache.kafka.common.errors.WakeupException;
import org.apache.kafka.common.header.Header;
import org.apache.kafka.common.serialization.ByteArrayDeserializer;

/**
 * Hears what comes back from topics, for all users of a run: one consumer on a thread of its own, which reads every partition from
 * its end on. A record is known again by a number in its header {@value #HEADER}.
 */
final class Returned implements AutoCloseable {
    static final String HEADER = "kadrem-record";
    private static final Duration WAIT = Duration.ofSeconds(1);
    private static final Duration LAST_WORDS = Duration.ofMillis(500);

    private final KafkaConsumer<byte[], byte[]> consumer;
    private final Duration limit;
    private final Map<Long, CompletableFuture<byte[]>> awaited = new ConcurrentHashMap<>();
    private final Map<String, CompletableFuture<Void>> topics = new ConcurrentHashMap<>();
    private final LinkedBlockingQueue<String> wanted = new LinkedBlockingQueue<>();
    private final AtomicLong numbers = new AtomicLong(ThreadLocalRandom.current().nextLong());
    private final Thread thread;
    private volatile boolean closed;

    /** A number for a record, and the record once it has come back. */
    record Awaited(long number, CompletableFuture<byte[]> record) {
        byte[] header() {
            return ByteBuffer.allocate(Long.BYTES).putLong(number).array();
        }
    }

    Returned(Map<String, Object> settings, Duration limit) {
        this.limit = limit;
        Map<String, Object> own = new HashMap<>(settings);
        own.put(ConsumerConfig.ENABLE_AUTO_COMMIT_CONFIG, false);
        own.put(ConsumerConfig.AUTO_OFFSET_RESET_CONFIG, "latest");
        consumer = new KafkaConsumer<>(own, new ByteArrayDeserializer(), new ByteArrayDeserializer());
        thread = Thread.ofPlatform().name("kadrem-returned").daemon().start(this::listen);
    }

    /** Done once records written to the topic from now on are heard. */
    CompletableFuture<Void> listenTo(String topic) {
        CompletableFuture<Void> known = topics.get(topic);
        if (known != null) {
            return known;
        }
        var fresh = new CompletableFuture<Void>();
        CompletableFuture<Void> there = topics.putIfAbsent(topic, fresh);
        if (there == null) {
            wanted.add(topic);
            consumer.wakeup();
        }
        return there == null ? fresh : there;
    }

    Awaited await() {
        var one = new Awaited(numbers.incrementAndGet(), new CompletableFuture<>());
        awaited.put(one.number(), one.record());
        return one;
    }

    void forget(Awaited one) {
        awaited.remove(one.number());
    }

    private void listen() {
        try (consumer) {
            while (!closed) {
                try {
                    String topic = consumer.assignment().isEmpty() ? wanted.take() : wanted.poll();
                    if (topic != null && !topic.isEmpty()) {
                        add(topic);
                    }
                    if (!closed && !consumer.assignment().isEmpty()) {
                        consumer.poll(WAIT).forEach(this::hear);
                    }
                } catch (WakeupException _) {
                    // there is a topic to be added, or an end
                }
            }
        } catch (InterruptedException _) {
            // closed before there was a topic
        } catch (KafkaException cause) {
            awaited.values().forEach(one -> one.completeExceptionally(cause));
            topics.values().forEach(one -> one.completeExceptionally(cause));
        }
    }

    private void add(String topic) {
        CompletableFuture<Void> ready = topics.computeIfAbsent(topic, _ -> new CompletableFuture<>());
        while (!ready.isDone()) {
            try {
                List<TopicPartition> partitions = new ArrayList<>(consumer.partitionsFor(topic, limit).stream()
                        .map(one -> new TopicPartition(topic, one.partition())).toList());
                if (partitions.isEmpty()) {
                    throw new UnknownTopicOrPartitionException("there is no topic " + topic);
                }
                Set<TopicPartition> all = new HashSet<>(consumer.assignment());
                all.addAll(partitions);
                consumer.assign(all);
                consumer.seekToEnd(partitions);
                // a position is where the end is now; without asking, it would be where the end is at the first poll
                partitions.forEach(one -> consumer.position(one, limit));
                ready.complete(null);
            } catch (WakeupException again) {
                if (closed) {
                    throw again;
                }
            } catch (KafkaException cause) {
                topics.remove(topic);
                ready.completeExceptionally(cause);
            }
        }
    }

    private void hear(ConsumerRecord<byte[], byte[]> record) {
        Header header = record.headers().lastHeader(HEADER);
        if (header != null && header.value().length == Long.BYTES) {
            CompletableFuture<byte[]> one = awaited.remove(ByteBuffer.wrap(header.value()).getLong());
            if (one != null) {
                one.complete(record.value() == null ? new byte[0] : record.value());
            }
        }
    }

    @Override
    public void close() {
        closed = true;
        // an interrupt would break off the client's own farewell
        wanted.add("");
        consumer.wakeup();
        try {
            thread.join(LAST_WORDS);
        } catch (InterruptedException _) {
            Thread.currentThread().interrupt();
        }
    }
}
