package kadrem.load.engine;

import java.lang.management.ManagementFactory;
import java.lang.management.ThreadMXBean;
import java.util.Arrays;

/** The threads of the system that carry virtual threads: of this process, not of one run. */
final class Carriers {
    /** The group into which the JDK puts them. */
    private static final String GROUP = "CarrierThreads";
    private static final int SPARE = 32;

    private Carriers() {
    }

    /** Processor time that they have used so far, in nanoseconds. */
    static long cpuNanos() {
        ThreadGroup root = Thread.currentThread().getThreadGroup();
        while (root != null && root.getParent() != null) {
            root = root.getParent();
        }
        if (root == null) {
            return 0;
        }
        Thread[] threads = new Thread[root.activeCount() + SPARE];
        int count = root.enumerate(threads);
        ThreadMXBean times = ManagementFactory.getThreadMXBean();
        return Arrays.stream(threads, 0, count)
                .filter(thread -> thread.getThreadGroup() != null && thread.getThreadGroup().getName().equals(GROUP))
                .mapToLong(thread -> times.getThreadCpuTime(thread.threadId())).filter(nanos -> nanos > 0).sum();
    }
}
