package kadrem.load.engine;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.Mockito.mock;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.SplittableRandom;

import kadrem.load.drive.Carrier;
import org.junit.jupiter.api.Test;

class DueQueueTest {
    private record Entry(Seat seat, long due) {
    }

    private static Seat seat(int number) {
        Lane lane = mock(Lane.class);
        org.mockito.Mockito.when(lane.newCarrier(org.mockito.ArgumentMatchers.any())).thenReturn(mock(Carrier.class));
        return new Seat(lane, number, new CompiledLoad(new LoadOrder(
                new kadrem.core.study.Address("127.0.0.1", 1, ""), Load.one("/x"), Load.open(1, 1, 0, 1), 1, 1)));
    }

    @Test
    void theEarliestComesFirstAndOfEqualOnesTheOneThatWaitedFirst() {
        var queue = new DueQueue();
        List<Entry> all = new ArrayList<>();
        var random = new SplittableRandom(3);
        for (int i = 0; i < 300; i++) {
            var entry = new Entry(seat(i), random.nextLong(40));
            all.add(entry);
            queue.add(entry.seat(), entry.due());
        }
        all.sort(Comparator.comparingLong(Entry::due));
        for (Entry entry : all) {
            assertThat(queue.next()).isEqualTo(entry.due());
            assertThat(queue.take()).isSameAs(entry.seat());
        }
        assertThat(queue.isEmpty()).isTrue();
        assertThat(queue.next()).isEqualTo(Long.MAX_VALUE);
    }
}
