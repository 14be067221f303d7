package kadrem.standins.host;

import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.LongSupplier;

/**
 * A harbour office's database host that does not exist: four processors, 8 GiB, one disk, one network. Its figures follow
 * from the time alone, so that what is read from it can be checked.
 */
public final class MadeUpHost {
    public static final int PROCESSORS = 4;
    public static final long MEMORY_KIB = 8L << 20;
    /** Share of the processors' time that its made-up work takes. */
    public static final double BUSY = 0.25;
    public static final double STOLEN = 0.02;
    public static final long NETWORK_IN_PER_SECOND = 1_200_000;
    public static final long DISK_WRITTEN_PER_SECOND = 4 << 20;
    public static final long COMMITS_PER_SECOND = 40;
    private static final long MEMORY_USED_KIB = 3L << 20;
    /** Ticks of /proc/stat a second. */
    private static final int HERTZ = 100;
    private static final int SECTOR = 512;
    private static final double NANOS = 1e9;

    private final LongSupplier nanoTime;
    private final LongSupplier wallMillis;
    private final long begun;

    /**
     * @param nanoTime a clock that only goes forward
     * @param wallMillis the host's own clock, milliseconds since 1970
     */
    public MadeUpHost(LongSupplier nanoTime, LongSupplier wallMillis) {
        this.nanoTime = nanoTime;
        this.wallMillis = wallMillis;
        begun = nanoTime.getAsLong();
    }

    private double seconds() {
        return (nanoTime.getAsLong() - begun) / NANOS;
    }

    /** Seconds since 1970 by the host's clock, as {@code date +%s.%N} writes them. */
    String date() {
        long millis = wallMillis.getAsLong();
        return String.format(Locale.ROOT, "%d.%03d000000", millis / 1000, millis % 1000);
    }

    /** The file's text now; empty where there is none. */
    Optional<String> file(String name) {
        double now = seconds();
        return Optional.ofNullable(switch (name) {
            case "/proc/stat" -> stat(now);
            case "/proc/meminfo" -> meminfo();
            case "/proc/net/dev" -> networks(now);
            case "/proc/net/sockstat" -> "sockets: used 61\nTCP: inuse 12 orphan 0 tw 3 alloc 15 mem 2\n"
                    + "UDP: inuse 2 mem 1\n";
            case "/proc/net/snmp" -> "Tcp: RtoAlgorithm RtoMin RtoMax MaxConn ActiveOpens PassiveOpens AttemptFails "
                    + "EstabResets CurrEstab InSegs OutSegs RetransSegs InErrs OutRsts InCsumErrors\n"
                    + "Tcp: 1 200 120000 -1 31 18 2 1 12 " + whole(900 * now) + " " + whole(950 * now) + " "
                    + whole(2 * now) + " 0 4 0\n";
            case "/proc/diskstats" -> disks(now);
            default -> null;
        });
    }

    private static long whole(double value) {
        return Math.round(value);
    }

    private static String stat(double now) {
        double ticks = now * HERTZ * PROCESSORS;
        long user = whole(ticks * BUSY * 0.8);
        long system = whole(ticks * BUSY * 0.2);
        long steal = whole(ticks * STOLEN);
        long idle = whole(ticks) - user - system - steal;
        return "cpu  " + user + " 0 " + system + " " + idle + " 0 0 0 " + steal + " 0 0\n"
                + "intr " + whole(3000 * now) + "\nctxt " + whole(5000 * now) + "\nbtime 1700000000\nprocesses 4711\n"
                + "procs_running 2\nprocs_blocked 0\n";
    }

    private static String meminfo() {
        return "MemTotal:       " + MEMORY_KIB + " kB\nMemFree:        " + (1L << 20) + " kB\nMemAvailable:   "
                + (MEMORY_KIB - MEMORY_USED_KIB) + " kB\nSwapTotal:      " + (1L << 20) + " kB\nSwapFree:       "
                + (1L << 20) + " kB\n";
    }

    private static String networks(double now) {
        long in = whole(NETWORK_IN_PER_SECOND * now);
        return "Inter-|   Receive                                                |  Transmit\n"
                + " face |bytes    packets errs drop fifo frame compressed multicast|bytes    packets errs drop fifo colls"
                + " carrier compressed\n    lo: 0 0 0 0 0 0 0 0 0 0 0 0 0 0 0 0\n  eth0: " + in + " " + in / 900
                + " 0 0 0 0 0 0 " + 2 * in + " " + in / 800 + " 0 0 0 0 0 0\n";
    }

    private static String disks(double now) {
        long sectors = whole(DISK_WRITTEN_PER_SECOND * now / SECTOR);
        String line = " " + whole(20 * now) + " 0 " + sectors / 4 + " 100 " + whole(60 * now) + " 0 " + sectors
                + " 400 0 300 500\n";
        return "   8       0 sda" + line + "   8       1 sda1" + line;
    }

    /** Its database's metrics in the OpenMetrics format. */
    String metrics() {
        double now = seconds();
        var text = new StringBuilder();
        text.append("# TYPE board_commits counter\n# HELP board_commits Transactions that were committed.\n");
        for (Map.Entry<String, Double> share : Map.of("berths", 0.75, "tides", 0.25).entrySet()) {
            text.append("board_commits_total{table=\"").append(share.getKey()).append("\"} ")
                    .append(whole(COMMITS_PER_SECOND * share.getValue() * now)).append('\n');
        }
        text.append("# TYPE board_cache_bytes gauge\n# UNIT board_cache_bytes bytes\n")
                .append("board_cache_bytes ").append(192L << 20).append('\n')
                .append("# TYPE board_connections gauge\nboard_connections 12\n# EOF\n");
        return text.toString();
    }
}
