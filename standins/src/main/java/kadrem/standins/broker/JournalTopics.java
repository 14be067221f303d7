package kadrem.standins.broker;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentSkipListMap;
import java.util.stream.Stream;

import org.apache.kafka.common.Uuid;
import org.apache.kafka.common.errors.InvalidTopicException;
import org.apache.kafka.common.internals.Topic;

/** The topics of the journal. Whoever reads waits here for whoever writes. */
final class JournalTopics {
    private static final int USUAL_PARTITIONS = 3;
    private static final int MAX_PARTITIONS = 64;

    private final Map<String, Entry> topics = new ConcurrentSkipListMap<>();
    private long writings;

    /** A topic. */
    record Entry(String name, Uuid id, List<PartitionLog> partitions) {
    }

    /**
     * A topic that is there, or is made.
     *
     * @param partitions 0 or less for the usual number
     * @throws InvalidTopicException if a topic cannot have this name
     */
    Entry make(String name, int partitions) {
        Topic.validate(name);
        int number = partitions <= 0 ? USUAL_PARTITIONS : Math.min(partitions, MAX_PARTITIONS);
        return topics.computeIfAbsent(name, _ -> new Entry(name, Uuid.randomUuid(),
                Stream.generate(PartitionLog::new).limit(number).toList()));
    }

    Optional<Entry> find(String name) {
        return Optional.ofNullable(topics.get(name));
    }

    Stream<Entry> all() {
        return topics.values().stream();
    }

    Optional<PartitionLog> partition(String topic, int number) {
        return find(topic).filter(found -> number >= 0 && number < found.partitions().size())
                .map(found -> found.partitions().get(number));
    }

    /** How often was written so far. */
    synchronized long writings() {
        return writings;
    }

    synchronized void written() {
        writings++;
        notifyAll();
    }

    /** Waits until something more was written, at the longest until an instant of {@link System#nanoTime}. */
    synchronized void awaitWriting(long known, long untilNanos) throws InterruptedException {
        long left = untilNanos - System.nanoTime();
        while (writings == known && left > 0) {
            java.util.concurrent.TimeUnit.NANOSECONDS.timedWait(this, left);
            left = untilNanos - System.nanoTime();
        }
    }
}
