package kadrem.load.engine;

import java.util.Arrays;
import java.util.Objects;

import org.jspecify.annotations.Nullable;

/**
 * Seats, or whatever else, that wait for an instant, the earliest first, of equal ones the one that came first. A binary heap that makes no objects.
 * Confined to a lane.
 */
final class DueQueue<T> {
    private long[] due = new long[64];
    private long[] order = new long[64];
    private @Nullable Object[] waiting = new @Nullable Object[64];
    private int size;
    private long added;

    /** The earliest instant; {@link Long#MAX_VALUE} where nobody waits. */
    long next() {
        return size == 0 ? Long.MAX_VALUE : due[0];
    }

    boolean isEmpty() {
        return size == 0;
    }

    void add(T one, long dueNanos) {
        if (size == due.length) {
            due = Arrays.copyOf(due, 2 * size);
            order = Arrays.copyOf(order, 2 * size);
            waiting = Arrays.copyOf(waiting, 2 * size);
        }
        int at = size++;
        long number = added++;
        while (at > 0) {
            int parent = (at - 1) / 2;
            if (due[parent] <= dueNanos) {
                break;
            }
            move(parent, at);
            at = parent;
        }
        put(at, dueNanos, number, one);
    }

    /** Takes the earliest out. */
    @SuppressWarnings("unchecked")
    T take() {
        T first = (T) Objects.requireNonNull(waiting[0]);
        size--;
        Object last = waiting[size];
        waiting[size] = null;
        if (size > 0) {
            sink(due[size], order[size], last);
        }
        return first;
    }

    private void sink(long dueNanos, long number, @Nullable Object one) {
        int at = 0;
        while (2 * at + 1 < size) {
            int child = 2 * at + 1;
            if (child + 1 < size && isBefore(child + 1, due[child], order[child])) {
                child++;
            }
            if (!isBefore(child, dueNanos, number)) {
                break;
            }
            move(child, at);
            at = child;
        }
        put(at, dueNanos, number, one);
    }

    private boolean isBefore(int at, long dueNanos, long number) {
        return due[at] < dueNanos || due[at] == dueNanos && order[at] < number;
    }

    private void move(int from, int to) {
        put(to, due[from], order[from], waiting[from]);
    }

    private void put(int at, long dueNanos, long number, @Nullable Object one) {
        due[at] = dueNanos;
        order[at] = number;
        waiting[at] = one;
    }
}
