package kadrem.load.host;

import java.lang.management.GarbageCollectorMXBean;
import java.lang.management.ManagementFactory;
import java.util.ArrayList;
import java.util.List;
import java.util.OptionalLong;
import java.util.function.LongSupplier;
import java.util.stream.Stream;

import kadrem.core.measure.HostSample;
import oshi.SystemInfo;
import oshi.hardware.CentralProcessor;
import oshi.hardware.GlobalMemory;
import oshi.software.os.OSProcess;
import oshi.software.os.OperatingSystem;

/** Figures of this host, of a candidate's process tree and of Kadrem itself. One thread at a time. */
public final class HostWatch {
    private final SystemInfo system = new SystemInfo();
    private final OperatingSystem os = system.getOperatingSystem();
    private final CentralProcessor processor = system.getHardware().getProcessor();
    private final GlobalMemory memory = system.getHardware().getMemory();
    private final OptionalLong candidatePid;
    private final LongSupplier laneCpuNanos;
    private long[] ticks = processor.getSystemCpuLoadTicks();

    /**
     * @param candidatePid root of the candidate's process tree, where Kadrem launched it
     * @param laneCpuNanos CPU time of the lanes so far
     */
    public HostWatch(OptionalLong candidatePid, LongSupplier laneCpuNanos) {
        this.candidatePid = candidatePid;
        this.laneCpuNanos = laneCpuNanos;
    }

    /** @param startNanos instant of {@link System#nanoTime()} from which the sample's instant counts */
    public HostSample sample(long startNanos) {
        long[] before = ticks;
        ticks = processor.getSystemCpuLoadTicks();
        double busy = processor.getSystemCpuLoadBetweenTicks(before, ticks);
        List<OSProcess> tree = tree();
        OSProcess self = os.getCurrentProcess();
        double at = (System.nanoTime() - startNanos) / 1e9;
        return new HostSample(at, Double.isFinite(busy) ? Math.clamp(busy, 0, 1) : 0, stealShare(before, ticks),
                memory.getTotal() - memory.getAvailable(),
                tree.isEmpty() ? -1 : tree.stream().mapToLong(HostWatch::cpuMillis).sum(),
                tree.isEmpty() ? -1 : tree.stream().mapToLong(OSProcess::getResidentSetSize).sum(), tree.size(),
                cpuMillis(self), self.getResidentSetSize(), laneCpuNanos.getAsLong() / 1_000_000,
                ManagementFactory.getGarbageCollectorMXBeans().stream()
                        .mapToLong(GarbageCollectorMXBean::getCollectionTime).filter(millis -> millis > 0).sum(),
                processor.getLogicalProcessorCount());
    }

    /** The JDK finds the descendants in a fraction of the time that a list of all processes takes. */
    private List<OSProcess> tree() {
        var tree = new ArrayList<OSProcess>();
        candidatePid.stream().boxed().flatMap(pid -> ProcessHandle.of(pid).stream())
                .flatMap(root -> Stream.concat(Stream.of(root), root.descendants())).forEach(handle -> {
                    OSProcess process = os.getProcess(Math.toIntExact(handle.pid()));
                    if (process != null) {
                        tree.add(process);
                    }
                });
        return tree;
    }

    private static double stealShare(long[] before, long[] after) {
        long total = 0;
        for (int i = 0; i < after.length; i++) {
            total += after[i] - before[i];
        }
        int steal = CentralProcessor.TickType.STEAL.getIndex();
        return total <= 0 ? 0 : Math.clamp((double) (after[steal] - before[steal]) / total, 0, 1);
    }

    private static long cpuMillis(OSProcess process) {
        return process.getKernelTime() + process.getUserTime();
    }
}
