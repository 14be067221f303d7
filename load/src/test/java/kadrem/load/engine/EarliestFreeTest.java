package kadrem.load.engine;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Arrays;
import java.util.PriorityQueue;
import java.util.SplittableRandom;

import org.junit.jupiter.api.Test;

class EarliestFreeTest {
    /** Against the JDK's own heap. */
    @Test
    void theEarliestComesFirst() {
        var random = new SplittableRandom(5);
        var mine = new EarliestFree();
        var known = new PriorityQueue<Long>();
        for (int i = 0; i < 5_000; i++) {
            long at = random.nextLong(1_000);
            mine.add(at);
            known.add(at);
            if (random.nextInt(3) == 0) {
                assertThat(mine.take()).isEqualTo(known.poll());
            }
        }
        while (!known.isEmpty()) {
            assertThat(mine.take()).isEqualTo(known.poll());
        }
    }

    /**
     * A queue of c servers (Kendall 1953), first come first served: starts by this class are those of the recursion of Kiefer and
     * Wolfowitz (1955), which keeps the sorted vector of times at which servers are free.
     */
    @Test
    void startsAreThoseOfAQueueOfServers() {
        var random = new SplittableRandom(7);
        int servers = 3;
        var mine = new EarliestFree();
        long[] free = new long[servers];
        for (int i = 0; i < servers; i++) {
            mine.add(0);
        }
        long due = 0;
        for (int i = 0; i < 2_000; i++) {
            due += random.nextLong(100);
            long service = random.nextLong(260);
            Arrays.sort(free);
            long expected = Math.max(due, free[0]);
            free[0] = expected + service;
            long start = Math.max(due, mine.take());
            mine.add(start + service);
            assertThat(start).isEqualTo(expected);
        }
    }
}
