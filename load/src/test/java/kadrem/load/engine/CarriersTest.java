package kadrem.load.engine;

import static org.assertj.core.api.Assertions.assertThat;

import java.lang.management.ManagementFactory;
import java.lang.management.ThreadMXBean;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.parallel.Isolated;

/** Alone, since virtual threads of other tests are carried too. */
@Isolated
class CarriersTest {
    private static final long WORK_NANOS = 200_000_000L;
    /** For a machine that gives a thread a hundredth of its processor. */
    private static final long MAX_NANOS = 100 * WORK_NANOS;

    /** The JDK tells a virtual thread's carrier no time of its own; a thread of the system that does the same work tells how much it is. */
    @Test
    void workOnAVirtualThreadIsItsCarriersAndThatOfOthersIsNot() throws InterruptedException {
        ThreadMXBean times = ManagementFactory.getThreadMXBean();
        long before = Carriers.cpuNanos();
        Thread worker = Thread.ofVirtual().start(() -> {
            long end = System.nanoTime() + MAX_NANOS;
            while (Carriers.cpuNanos() - before < WORK_NANOS && System.nanoTime() < end) {
                Thread.onSpinWait();
            }
        });
        worker.join();
        assertThat(Carriers.cpuNanos() - before).isGreaterThanOrEqualTo(WORK_NANOS);
        long own = times.getCurrentThreadCpuTime();
        long carriers = Carriers.cpuNanos();
        while (times.getCurrentThreadCpuTime() - own < WORK_NANOS) {
            Thread.onSpinWait();
        }
        assertThat(Carriers.cpuNanos() - carriers).as("work of this thread of the system").isLessThan(WORK_NANOS / 2);
    }
}
