package kadrem.load.engine;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.SplittableRandom;

import org.junit.jupiter.api.Test;

class DueQueueTest {
    private record Entry(int number, long due) {
    }

    @Test
    void theEarliestComesFirstAndOfEqualOnesTheOneThatWaitedFirst() {
        var queue = new DueQueue<Entry>();
        List<Entry> all = new ArrayList<>();
        var random = new SplittableRandom(3);
        for (int i = 0; i < 300; i++) {
            var entry = new Entry(i, random.nextLong(40));
            all.add(entry);
            queue.add(entry, entry.due());
        }
        all.sort(Comparator.comparingLong(Entry::due).thenComparing(Entry::number));
        for (Entry entry : all) {
            assertThat(queue.next()).isEqualTo(entry.due());
            assertThat(queue.take()).isSameAs(entry);
        }
        assertThat(queue.isEmpty()).isTrue();
        assertThat(queue.next()).isEqualTo(Long.MAX_VALUE);
    }
}
