package kadrem.load.engine;

import java.util.Arrays;

/**
 * When connections would have been free with every send on time: a queue of c servers whose service times are those that were
 * measured (Kendall 1953, G/G/c, first come first served). An arrival that waits for the earliest of them would have started at
 * the later of its due instant and that. A connection that is still held counts as held until it is free. A binary heap of
 * instants that makes no objects; confined to a lane.
 */
final class EarliestFree {
    private long[] heap = new long[64];
    private int size;

    /** A connection is free that would have been so at {@code nanos}. */
    void add(long nanos) {
        if (size == heap.length) {
            heap = Arrays.copyOf(heap, 2 * size);
        }
        int at = size++;
        while (at > 0 && heap[(at - 1) / 2] > nanos) {
            heap[at] = heap[(at - 1) / 2];
            at = (at - 1) / 2;
        }
        heap[at] = nanos;
    }

    /** Takes the connection that would have been free first. */
    long take() {
        long first = heap[0];
        long last = heap[--size];
        int at = 0;
        while (2 * at + 1 < size) {
            int child = 2 * at + 1;
            if (child + 1 < size && heap[child + 1] < heap[child]) {
                child++;
            }
            if (heap[child] >= last) {
                break;
            }
            heap[at] = heap[child];
            at = child;
        }
        heap[at] = last;
        return first;
    }
}
