package kadrem.load.host;

import java.util.List;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.function.Supplier;

import kadrem.core.measure.HostSample;
import kadrem.load.drive.Spent;
import kadrem.load.host.local.ProcessTree;
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
    private final OptionalLong loadPid;
    private final Supplier<Own> own;
    private long[] ticks = processor.getSystemCpuLoadTicks();

    /**
     * What making the load has cost so far.
     *
     * @param laneCpuNanos processor time of the lanes
     * @param userCpuNanos processor time of the threads under users who wait on virtual threads
     * @param collectorMillis time in which its collector stopped the process that makes it
     * @param programs what the programs that stand for the candidate have used, where calls start some
     */
    public record Own(long laneCpuNanos, long userCpuNanos, long collectorMillis, Optional<Spent> programs) {
    }

    /**
     * @param candidatePid root of the candidate's process tree, where Kadrem launched it
     * @param loadPid process that makes the load, where that is not this one
     */
    public HostWatch(OptionalLong candidatePid, OptionalLong loadPid, Supplier<Own> own) {
        this.candidatePid = candidatePid;
        this.loadPid = loadPid;
        this.own = own;
    }

    /** @param startNanos instant of {@link System#nanoTime()} from which the sample's instant counts */
    public HostSample sample(long startNanos) {
        long[] before = ticks;
        ticks = processor.getSystemCpuLoadTicks();
        double busy = processor.getSystemCpuLoadBetweenTicks(before, ticks);
        List<OSProcess> tree = ProcessTree.processes(os, candidatePid);
        Own cost = own.get();
        Optional<Spent> spent = cost.programs();
        long launchedCpu = tree.stream().mapToLong(ProcessTree::cpuMillis).sum();
        long launchedMemory = tree.stream().mapToLong(OSProcess::getResidentSetSize).sum();
        long allMemory = launchedMemory + spent.map(Spent::peakBytes).orElse(0L);
        boolean isKnown = !tree.isEmpty() || spent.isPresent();
        OSProcess self = os.getCurrentProcess();
        Optional<OSProcess> load = loadPid.isPresent()
                ? Optional.ofNullable(os.getProcess(Math.toIntExact(loadPid.getAsLong())))
                : Optional.empty();
        double at = (System.nanoTime() - startNanos) / 1e9;
        return new HostSample(at, Double.isFinite(busy) ? Math.clamp(busy, 0, 1) : 0, stealShare(before, ticks),
                memory.getTotal() - memory.getAvailable(),
                isKnown ? launchedCpu + spent.map(Spent::processorNanos).orElse(0L) / 1_000_000 : -1,
                allMemory > 0 ? allMemory : -1,
                tree.size() + spent.map(Spent::ended).orElse(0),
                ProcessTree.cpuMillis(self) + load.map(ProcessTree::cpuMillis).orElse(0L),
                self.getResidentSetSize() + load.map(OSProcess::getResidentSetSize).orElse(0L),
                cost.laneCpuNanos() / 1_000_000, cost.userCpuNanos() / 1_000_000, cost.collectorMillis(),
                processor.getLogicalProcessorCount());
    }

    private static double stealShare(long[] before, long[] after) {
        long total = 0;
        for (int i = 0; i < after.length; i++) {
            total += after[i] - before[i];
        }
        int steal = CentralProcessor.TickType.STEAL.getIndex();
        return total <= 0 ? 0 : Math.clamp((double) (after[steal] - before[steal]) / total, 0, 1);
    }
}
