package kadrem.standins.broker;

import java.nio.ByteBuffer;
import java.util.Map;
import java.util.TreeMap;

import org.apache.kafka.common.record.internal.MemoryRecords;
import org.apache.kafka.common.record.internal.MutableRecordBatch;

/** The records of one partition, in memory, as batches in the protocol's own form. The oldest go when there are too many. */
final class PartitionLog {
    /** Bytes kept. */
    private static final long MAX_KEPT = 64L << 20;

    /** Batches by the offset of their last record. */
    private final TreeMap<Long, ByteBuffer> batches = new TreeMap<>();
    private long start;
    private long end;
    private long bytes;

    /** Offset of the oldest record that is kept. */
    synchronized long start() {
        return start;
    }

    /** Offset that the next record will have. */
    synchronized long end() {
        return end;
    }

    /**
     * Gives records their offsets and keeps them.
     *
     * @return offset of the first
     * @throws org.apache.kafka.common.errors.CorruptRecordException if their check sum is wrong
     */
    synchronized long append(MemoryRecords records) {
        long first = end;
        records.batches().forEach(MutableRecordBatch::ensureValid);
        for (MutableRecordBatch batch : records.batches()) {
            long last = end + batch.lastOffset() - batch.baseOffset();
            batch.setLastOffset(last);
            batch.setPartitionLeaderEpoch(0);
            ByteBuffer kept = ByteBuffer.allocate(batch.sizeInBytes());
            batch.writeTo(kept);
            kept.flip();
            batches.put(last, kept);
            bytes += kept.limit();
            end = last + 1;
        }
        while (bytes > MAX_KEPT) {
            Map.Entry<Long, ByteBuffer> oldest = batches.pollFirstEntry();
            bytes -= oldest.getValue().limit();
            start = oldest.getKey() + 1;
        }
        return first;
    }

    /** Whole batches from the one that holds {@code offset} on: at least one, where there is one, and further ones within {@code most}. */
    synchronized MemoryRecords read(long offset, int most) {
        var taken = new java.util.ArrayList<ByteBuffer>();
        int size = 0;
        for (ByteBuffer batch : batches.tailMap(offset, true).values()) {
            if (size > 0 && size + batch.limit() > most) {
                break;
            }
            taken.add(batch.duplicate());
            size += batch.limit();
        }
        ByteBuffer all = ByteBuffer.allocate(size);
        taken.forEach(all::put);
        return MemoryRecords.readableRecords(all.flip());
    }

    /** Forgets records before an offset; gives that of the oldest one left. A batch that reaches beyond it is kept whole. */
    synchronized long forget(long before) {
        start = Math.max(start, Math.min(before, end));
        Map<Long, ByteBuffer> old = batches.headMap(start, false);
        bytes -= old.values().stream().mapToLong(ByteBuffer::limit).sum();
        old.clear();
        return start;
    }
}
