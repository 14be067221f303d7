package kadrem.load.host.local;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.stream.Stream;

import kadrem.core.measure.SeriesRole;
import kadrem.core.measure.WatchReading;
import kadrem.load.host.HostSource;
import kadrem.load.host.Series;
import kadrem.load.host.SourceFailure;
import oshi.SystemInfo;
import oshi.software.os.OSProcess;
import oshi.software.os.OperatingSystem;

/** A process with its descendants. */
public final class ProcessTree implements HostSource {
    private final Series series;
    private final OperatingSystem os = new SystemInfo().getOperatingSystem();
    private final long root;
    /** CPU time, bytes read and written of the processes that were there at the reading before. */
    private final Map<Integer, long[]> before = new HashMap<>();
    private final double[] sums = new double[3];

    private ProcessTree(String name, long root) {
        series = new Series(name);
        this.root = root;
    }

    /** @param which process id, or name of the file that holds it */
    public static ProcessTree of(String name, String which, Path folder) throws SourceFailure {
        return of(name, number(which).or(() -> inFile(folder.resolve(which)))
                .orElseThrow(() -> new SourceFailure(which + " is neither a process id nor a file that holds one")));
    }

    /** @throws SourceFailure if there is no such process */
    public static ProcessTree of(String name, long pid) throws SourceFailure {
        if (ProcessHandle.of(pid).isEmpty()) {
            throw new SourceFailure("there is no process " + pid);
        }
        return new ProcessTree(name, pid);
    }

    private static Optional<Long> number(String text) {
        return text.strip().matches("\\d{1,9}") ? Optional.of(Long.parseLong(text.strip())) : Optional.empty();
    }

    private static Optional<Long> inFile(Path file) {
        try {
            return Files.isRegularFile(file) ? number(Files.readString(file)) : Optional.empty();
        } catch (IOException _) {
            return Optional.empty();
        }
    }

    /** The processes that have {@code root} as their ancestor, and it. The JDK finds them without a list of all. */
    public static List<OSProcess> processes(OperatingSystem os, OptionalLong root) {
        return root.stream().boxed().flatMap(pid -> ProcessHandle.of(pid).stream())
                .flatMap(one -> Stream.concat(Stream.of(one), one.descendants()))
                .map(handle -> os.getProcess(Math.toIntExact(handle.pid()))).filter(one -> one != null).toList();
    }

    /** CPU time of a process so far, in milliseconds. */
    public static long cpuMillis(OSProcess process) {
        return process.getKernelTime() + process.getUserTime();
    }

    @Override
    public List<WatchReading.Value> read() throws SourceFailure {
        List<OSProcess> tree = processes(os, OptionalLong.of(root));
        if (tree.isEmpty()) {
            throw new SourceFailure("the process " + root + " has ended");
        }
        series.at(System.nanoTime());
        // added up process by process, so that one that ends takes nothing away from the total
        for (OSProcess process : tree) {
            long[] now = {cpuMillis(process), process.getBytesRead(), process.getBytesWritten()};
            long[] last = before.put(process.getProcessID(), now);
            for (int i = 0; i < sums.length; i++) {
                sums[i] += last == null ? 0 : Math.max(0, now[i] - last[i]);
            }
        }
        before.keySet().retainAll(tree.stream().map(OSProcess::getProcessID).toList());
        series.rate("CPU", "% of a core", SeriesRole.CPU, sums[0] / 10);
        series.level("memory", "bytes", SeriesRole.MEMORY,
                tree.stream().mapToLong(OSProcess::getResidentSetSize).sum());
        series.rate("disk read", "bytes/s", SeriesRole.DISK, sums[1]);
        series.rate("disk written", "bytes/s", SeriesRole.DISK, sums[2]);
        series.level("threads", "threads", SeriesRole.THREADS, tree.stream().mapToInt(OSProcess::getThreadCount).sum());
        series.level("open files", "files", SeriesRole.CUSTOM, tree.stream().mapToLong(OSProcess::getOpenFiles).sum());
        return series.values();
    }

    @Override
    public void close() {
        // holds nothing open
    }
}
