package kadrem.desk.measure;

import java.lang.management.ManagementFactory;
import java.util.function.DoubleSupplier;
import java.util.function.LongSupplier;
import java.util.stream.LongStream;

import com.sun.management.OperatingSystemMXBean;
import com.sun.management.ThreadMXBean;

/**
 * How often the live view may draw. Drawing takes processor time from the load that is measured beside it: on a busy
 * machine it may take no more than {@value #SHARE} of the machine, as counted from what the last drawing took. Interface
 * thread only.
 */
final class DrawingPace {
    private static final double SHARE = 0.01;
    /** Busy share of the processors from which the load would miss what the drawing takes. */
    private static final double BUSY = 0.8;

    private final LongSupplier cpuNanos;
    private final DoubleSupplier busyShare;
    private final int processors;
    private long drawnAt;
    private long cpuBefore = -1;
    private long next = Long.MIN_VALUE;

    /**
     * @param cpuNanos processor time so far of the threads that draw
     * @param busyShare busy share of the processors of late, 0 to 1
     */
    DrawingPace(LongSupplier cpuNanos, DoubleSupplier busyShare, int processors) {
        this.cpuNanos = cpuNanos;
        this.busyShare = busyShare;
        this.processors = processors;
    }

    /** The pace of this window; made on the interface thread. */
    static DrawingPace ofWindow() {
        var threads = (ThreadMXBean) ManagementFactory.getThreadMXBean();
        var system = ManagementFactory.getPlatformMXBean(OperatingSystemMXBean.class);
        long[] drawing = LongStream.concat(LongStream.of(Thread.currentThread().threadId()),
                Thread.getAllStackTraces().keySet().stream()
                        .filter(thread -> thread.getName().startsWith("QuantumRenderer"))
                        .mapToLong(Thread::threadId))
                .toArray();
        return new DrawingPace(() -> LongStream.of(threads.getThreadCpuTime(drawing)).filter(nanos -> nanos > 0).sum(),
                system::getCpuLoad, Runtime.getRuntime().availableProcessors());
    }

    /** Whether it may draw now; asked at every look, the first of which after a drawing tells what that took. */
    boolean mayDraw(long nowNanos) {
        if (cpuBefore >= 0) {
            long cost = cpuNanos.getAsLong() - cpuBefore;
            cpuBefore = -1;
            next = busyShare.getAsDouble() < BUSY ? nowNanos : drawnAt + Math.round(cost / (SHARE * processors));
        }
        return next == Long.MIN_VALUE || nowNanos - next >= 0;
    }

    /** Told right before a drawing. */
    void drawing(long nowNanos) {
        drawnAt = nowNanos;
        cpuBefore = cpuNanos.getAsLong();
    }
}
