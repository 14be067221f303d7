package kadrem.load.engine;

import java.io.IOException;
import java.io.RandomAccessFile;
import java.lang.management.GarbageCollectorMXBean;
import java.lang.management.ManagementFactory;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Optional;

import kadrem.core.measure.TurnCause;
import kadrem.load.host.CollectorWatch;

/**
 * Finds out why a turn of a lane took long, from what the virtual machine tells of its collector and Linux of the lane's thread
 * (/proc, schedstat: time run and time ready without a processor; proc(5)). Asked only after long turns. Confined to the lane.
 */
final class TurnWatch implements AutoCloseable {
    private static final int RUN = 0;
    private static final int READY = 1;

    private final List<GarbageCollectorMXBean> collectors;
    private final Optional<RandomAccessFile> schedule;
    private final byte[] line = new byte[128];
    private long collectorMillis;
    private long runNanos;
    private long readyNanos;

    private TurnWatch(List<GarbageCollectorMXBean> collectors, Optional<RandomAccessFile> schedule) {
        this.collectors = collectors;
        this.schedule = schedule;
        remember();
    }

    /** Of a thread that is the calling one. */
    static TurnWatch ofThisThread() {
        Optional<RandomAccessFile> file;
        try {
            file = Optional.of(new RandomAccessFile("/proc/thread-self/schedstat", "r"));
        } catch (IOException _) {
            file = Optional.empty();
        }
        return new TurnWatch(ManagementFactory.getGarbageCollectorMXBeans().stream()
                .filter(bean -> CollectorWatch.isOfPauses(bean.getName())).toList(), file);
    }

    /** Of a lane whose clock is handed in. */
    static TurnWatch ofNothing() {
        return new TurnWatch(List.of(), Optional.empty());
    }

    /** To be called from time to time, so that what is found out later belongs to a short stretch. */
    void remember() {
        collectorMillis = pausedMillis();
        readSchedule();
    }

    TurnCause causeOf(long nanos) {
        long pausedBefore = collectorMillis;
        long ranBefore = runNanos;
        long readyBefore = readyNanos;
        remember();
        if (collectorMillis > pausedBefore) {
            return TurnCause.COLLECTOR;
        }
        if (schedule.isEmpty()) {
            return TurnCause.OWN_WORK;
        }
        if (readyNanos - readyBefore > nanos / 2) {
            return TurnCause.NO_PROCESSOR;
        }
        return runNanos - ranBefore > nanos / 2 ? TurnCause.OWN_WORK : TurnCause.TAKEN_AWAY;
    }

    private long pausedMillis() {
        long millis = 0;
        for (int i = 0; i < collectors.size(); i++) {
            millis += Math.max(0, collectors.get(i).getCollectionTime());
        }
        return millis;
    }

    private void readSchedule() {
        if (schedule.isEmpty()) {
            return;
        }
        try {
            schedule.get().seek(0);
            int length = schedule.get().read(line);
            String[] fields = new String(line, 0, Math.max(0, length), StandardCharsets.US_ASCII).strip().split(" ");
            if (fields.length > READY) {
                runNanos = Long.parseLong(fields[RUN]);
                readyNanos = Long.parseLong(fields[READY]);
            }
        } catch (IOException | NumberFormatException _) {
            // then nothing more is known than before
        }
    }

    @Override
    public void close() {
        try {
            if (schedule.isPresent()) {
                schedule.get().close();
            }
        } catch (IOException _) {
            // it was only read
        }
    }
}
