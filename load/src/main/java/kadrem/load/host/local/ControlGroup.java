package kadrem.load.host.local;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.OptionalLong;

import kadrem.core.measure.SeriesRole;
import kadrem.core.measure.WatchReading;
import kadrem.load.host.HostSource;
import kadrem.load.host.Series;
import kadrem.load.host.SourceFailure;

/**
 * A container or slice through its files of control groups of version 2 (Linux kernel documentation,
 * admin-guide/cgroup-v2). What its controllers do not offer is left out.
 */
public final class ControlGroup implements HostSource {
    private static final double MICROS = 1e6;

    private final Path folder;
    private final Series series;

    private ControlGroup(Path folder, Series series) {
        this.folder = folder;
        this.series = series;
    }

    /** @throws SourceFailure if {@code folder} is not one of a control group of version 2 */
    public static ControlGroup of(String name, String folder) throws SourceFailure {
        Path path = Path.of(folder);
        if (!Files.isDirectory(path)) {
            throw new SourceFailure("there is no control group " + folder);
        }
        if (!Files.isReadable(path.resolve("cpu.stat")) && !Files.isReadable(path.resolve("memory.current"))) {
            throw new SourceFailure(folder + " holds neither cpu.stat nor memory.current: it is none of version 2, or"
                    + " its controllers are off");
        }
        return new ControlGroup(path, new Series(name));
    }

    @Override
    public List<WatchReading.Value> read() throws SourceFailure {
        if (!Files.isDirectory(folder)) {
            throw new SourceFailure("the control group " + folder + " is gone");
        }
        series.at(System.nanoTime());
        try {
            processors();
            memory();
            input();
            number("pids.current").ifPresent(
                    threads -> series.level("threads", "threads", SeriesRole.THREADS, threads));
        } catch (IOException | NumberFormatException cause) {
            throw new SourceFailure("the control group " + folder + " cannot be read: " + cause.getMessage(), cause);
        }
        return series.values();
    }

    private void processors() throws IOException {
        Map<String, Long> stat = flat("cpu.stat");
        if (stat.containsKey("usage_usec")) {
            series.rate("CPU", "% of a core", SeriesRole.CPU, 100 * stat.get("usage_usec") / MICROS);
        }
        if (stat.containsKey("throttled_usec")) {
            series.rate("throttled", "% of its time", SeriesRole.CPU, 100 * stat.get("throttled_usec") / MICROS);
            series.rate("throttled periods", "periods/s", SeriesRole.CPU, stat.getOrDefault("nr_throttled", 0L));
        }
    }

    private void memory() throws IOException {
        number("memory.current")
                .ifPresent(bytes -> series.level("memory", "bytes", SeriesRole.MEMORY, bytes));
        Map<String, Long> events = flat("memory.events");
        if (events.containsKey("max")) {
            series.rate("memory limit met", "times/s", SeriesRole.MEMORY, events.get("max"));
            series.rate("processes ended for memory", "times/s", SeriesRole.MEMORY,
                    events.getOrDefault("oom_kill", 0L));
        }
    }

    /** {@code io.stat} has one line a device, {@code 8:0 rbytes=1 wbytes=2 ...}. */
    private void input() throws IOException {
        Path file = folder.resolve("io.stat");
        if (!Files.isReadable(file)) {
            return;
        }
        long read = 0;
        long written = 0;
        for (String line : Files.readAllLines(file)) {
            for (String field : line.split(" ")) {
                if (field.startsWith("rbytes=")) {
                    read += Long.parseLong(field.substring(field.indexOf('=') + 1));
                } else if (field.startsWith("wbytes=")) {
                    written += Long.parseLong(field.substring(field.indexOf('=') + 1));
                }
            }
        }
        series.rate("disk read", "bytes/s", SeriesRole.DISK, read);
        series.rate("disk written", "bytes/s", SeriesRole.DISK, written);
    }

    private OptionalLong number(String name) throws IOException {
        Path file = folder.resolve(name);
        return Files.isReadable(file)
                ? OptionalLong.of(Long.parseLong(Files.readString(file).strip()))
                : OptionalLong.empty();
    }

    /** A file of lines with a word and a number. */
    private Map<String, Long> flat(String name) throws IOException {
        Path file = folder.resolve(name);
        var values = new HashMap<String, Long>();
        if (Files.isReadable(file)) {
            for (String line : Files.readAllLines(file)) {
                int space = line.indexOf(' ');
                if (space > 0) {
                    values.put(line.substring(0, space), Long.parseLong(line.substring(space + 1).strip()));
                }
            }
        }
        return values;
    }

    @Override
    public void close() {
        // holds nothing open
    }
}
