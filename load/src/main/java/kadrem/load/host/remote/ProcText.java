package kadrem.load.host.remote;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.regex.Pattern;

import kadrem.core.measure.SeriesRole;
import kadrem.load.host.Series;

/** Series of a Linux host from the text of its files under /proc (proc(5)). */
final class ProcText {
    /** Files that are read, in this order. */
    static final List<String> FILES = List.of("/proc/stat", "/proc/meminfo", "/proc/net/dev", "/proc/net/sockstat",
            "/proc/net/snmp", "/proc/diskstats");
    private static final double KIB = 1024;
    private static final double SECTOR = 512;
    /** Whole disks: a partition's traffic is counted in its disk's as well. */
    private static final Pattern DISK = Pattern.compile("(s|v|xv|h)d[a-z]+|nvme\\d+n\\d+|mmcblk\\d+");
    // fields of the line "cpu" in /proc/stat
    private static final int IDLE = 3;
    private static final int IOWAIT = 4;
    private static final int STEAL = 7;
    private static final int COUNTED = 8;

    private final Series series;
    private long[] ticks = {};

    ProcText(Series series) {
        this.series = series;
    }

    /** Adds what {@code text}, the files' contents one after the other, tells. */
    void read(String text) {
        Map<String, String> tcp = new HashMap<>();
        List<String[]> networks = new ArrayList<>();
        List<String[]> disks = new ArrayList<>();
        Map<String, Long> memory = new HashMap<>();
        List<String> tcpNames = List.of();
        for (String line : text.split("\n")) {
            String[] words = line.strip().split("[\\s:]+");
            switch (words[0]) {
                case "cpu" -> processors(words);
                case "ctxt" -> series.rate("context switches", "switches/s", SeriesRole.THREADS, number(words, 1));
                case "procs_running" -> series.level("tasks ready to run", "tasks", SeriesRole.CPU, number(words, 1));
                case "MemTotal", "MemAvailable", "SwapTotal", "SwapFree" -> memory.put(words[0], number(words, 1));
                case "TCP" -> series.level("TCP connections", "connections", SeriesRole.NETWORK, number(words, 2));
                case "Tcp" -> {
                    if (tcpNames.isEmpty()) {
                        tcpNames = List.of(words);
                    } else {
                        for (int i = 1; i < Math.min(words.length, tcpNames.size()); i++) {
                            tcp.put(tcpNames.get(i), words[i]);
                        }
                    }
                }
                default -> {
                    if (words.length == 17 && line.contains(":")) {
                        networks.add(words);
                    } else if (words.length >= 14 && DISK.matcher(words[2]).matches()) {
                        disks.add(words);
                    }
                }
            }
        }
        memory(memory);
        if (!networks.isEmpty()) {
            series.rate("network in", "bytes/s", SeriesRole.NETWORK, sum(networks, 1));
            series.rate("network out", "bytes/s", SeriesRole.NETWORK, sum(networks, 9));
        }
        if (tcp.containsKey("RetransSegs")) {
            series.rate("TCP segments sent again", "segments/s", SeriesRole.NETWORK,
                    Long.parseLong(tcp.get("RetransSegs")));
        }
        if (!disks.isEmpty()) {
            series.rate("disk read", "bytes/s", SeriesRole.DISK, SECTOR * sum(disks, 5));
            series.rate("disk written", "bytes/s", SeriesRole.DISK, SECTOR * sum(disks, 9));
        }
    }

    private void processors(String[] words) {
        long[] before = ticks;
        ticks = new long[COUNTED];
        for (int i = 0; i < COUNTED; i++) {
            ticks[i] = i + 1 < words.length ? number(words, i + 1) : 0;
        }
        if (before.length == 0) {
            return;
        }
        long total = 0;
        for (int i = 0; i < COUNTED; i++) {
            total += ticks[i] - before[i];
        }
        if (total > 0) {
            long idle = ticks[IDLE] - before[IDLE] + ticks[IOWAIT] - before[IOWAIT];
            long steal = ticks[STEAL] - before[STEAL];
            series.level("CPU", "% of all processors", SeriesRole.CPU, 100.0 * (total - idle - steal) / total);
            series.level("taken by the machine below", "% of their time", SeriesRole.CPU, 100.0 * steal / total);
        }
    }

    private void memory(Map<String, Long> memory) {
        if (memory.containsKey("MemTotal") && memory.containsKey("MemAvailable")) {
            series.level("memory in use", "bytes", SeriesRole.MEMORY,
                    KIB * (memory.get("MemTotal") - memory.get("MemAvailable")));
        }
        if (memory.containsKey("SwapTotal") && memory.containsKey("SwapFree")) {
            series.level("swap in use", "bytes", SeriesRole.MEMORY,
                    KIB * (memory.get("SwapTotal") - memory.get("SwapFree")));
        }
    }

    private static long number(String[] words, int i) {
        return Long.parseLong(words[i]);
    }

    private static double sum(List<String[]> lines, int column) {
        return lines.stream().mapToLong(words -> number(words, column)).sum();
    }
}
