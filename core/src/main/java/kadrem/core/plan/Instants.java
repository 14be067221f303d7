package kadrem.core.plan;

import java.lang.foreign.MemorySegment;
import java.lang.foreign.ValueLayout;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.util.Arrays;
import java.util.List;

/**
 * The arrivals of a timeline as a run takes them: when each is due, which visit it makes, and which rows of value lists it sends. They lie
 * in memory that a file is mapped to, as numbers of eight bytes, lowest byte first: a head of {@value #MARK} in ASCII, the number of
 * arrivals, the number of value lists of which rows are told, and their numbers in the workload; then for each arrival its instant in
 * nanoseconds from the beginning, its visit and its rows, each {@value #DRAWN} where it is drawn as in any load. Any thread may ask.
 */
public final class Instants {
    /** What is drawn by the seed. */
    public static final long DRAWN = -1;
    private static final String MARK = "KADREMT1";
    private static final int HEAD = 3;
    private static final ValueLayout.OfLong NUMBER = ValueLayout.JAVA_LONG_UNALIGNED
            .withOrder(ByteOrder.LITTLE_ENDIAN);

    private final MemorySegment memory;
    private final long count;
    /** Of a value list of the workload, the place of its row in each arrival. */
    private final int[] places;
    private final long begin;
    private final long size;

    private Instants(MemorySegment memory, long count, int[] lists) {
        this.memory = memory;
        this.count = count;
        places = new int[Arrays.stream(lists).max().orElse(-1) + 1];
        for (int i = 0; i < lists.length; i++) {
            places[lists[i]] = 2 + i;
        }
        begin = (HEAD + (long) lists.length) * Long.BYTES;
        size = (2L + lists.length) * Long.BYTES;
    }

    /** @throws IllegalArgumentException if the memory holds something else */
    public static Instants in(MemorySegment memory) {
        if (memory.byteSize() < HEAD * Long.BYTES || number(memory, 0) != mark()) {
            throw new IllegalArgumentException("these are no arrivals of a timeline");
        }
        long count = number(memory, 1);
        long lists = number(memory, 2);
        if (count < 0 || lists < 0 || lists > memory.byteSize() / Long.BYTES
                || memory.byteSize() != (HEAD + lists + count * (2 + lists)) * Long.BYTES) {
            throw new IllegalArgumentException("the arrivals of a timeline are cut off");
        }
        var numbers = new int[(int) lists];
        for (int i = 0; i < numbers.length; i++) {
            numbers[i] = (int) number(memory, HEAD + i);
        }
        return new Instants(memory, count, numbers);
    }

    /** The head of a file. */
    public static ByteBuffer head(long count, List<Integer> lists) {
        ByteBuffer head = room(HEAD + lists.size()).putLong(mark()).putLong(count).putLong(lists.size());
        lists.forEach(head::putLong);
        return head.flip();
    }

    /** Room for the numbers of one arrival: its instant, its visit, its rows. */
    public static ByteBuffer room(int numbers) {
        return ByteBuffer.allocate(numbers * Long.BYTES).order(ByteOrder.LITTLE_ENDIAN);
    }

    private static long mark() {
        return ByteBuffer.wrap(MARK.getBytes(java.nio.charset.StandardCharsets.US_ASCII))
                .order(ByteOrder.LITTLE_ENDIAN).getLong();
    }

    private static long number(MemorySegment memory, long index) {
        return memory.get(NUMBER, index * Long.BYTES);
    }

    public long count() {
        return count;
    }

    private long number(long arrival, int place) {
        return memory.get(NUMBER, begin + arrival * size + place * (long) Long.BYTES);
    }

    /** When an arrival is due, in ns from the timeline's beginning; never before the one before it. */
    public long nanos(long arrival) {
        return number(arrival, 0);
    }

    /** The visit's number in the workload, or {@link #DRAWN}. */
    public long visit(long arrival) {
        return number(arrival, 1);
    }

    /** The row of a value list of the workload, or {@link #DRAWN}. */
    public long row(int list, long arrival) {
        return list < places.length && places[list] > 0 ? number(arrival, places[list]) : DRAWN;
    }

    /** The first arrival that is due at an instant or later. */
    public long firstAt(long nanos) {
        long low = 0;
        long high = count;
        while (low < high) {
            long middle = (low + high) >>> 1;
            if (nanos(middle) < nanos) {
                low = middle + 1;
            } else {
                high = middle;
            }
        }
        return low;
    }
}
