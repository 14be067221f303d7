package kadrem.load.host.local;

import java.util.List;

import kadrem.core.measure.SeriesRole;
import kadrem.core.measure.WatchReading;
import kadrem.load.host.HostSource;
import kadrem.load.host.Series;
import oshi.SystemInfo;
import oshi.hardware.CentralProcessor;
import oshi.hardware.CentralProcessor.TickType;
import oshi.hardware.GlobalMemory;
import oshi.hardware.HWDiskStore;
import oshi.hardware.NetworkIF;
import oshi.software.os.InternetProtocolStats;

/** This host as a whole, whatever its system. */
public final class OwnHost implements HostSource {
    public static final String NAME = "this host";

    private final Series series = new Series(NAME);
    private final CentralProcessor processor;
    private final GlobalMemory memory;
    private final List<NetworkIF> networks;
    private final List<HWDiskStore> disks;
    private final InternetProtocolStats protocols;
    private long[] ticks;

    public OwnHost() {
        var system = new SystemInfo();
        processor = system.getHardware().getProcessor();
        memory = system.getHardware().getMemory();
        networks = system.getHardware().getNetworkIFs(true);
        disks = system.getHardware().getDiskStores();
        protocols = system.getOperatingSystem().getInternetProtocolStats();
        ticks = processor.getSystemCpuLoadTicks();
    }

    @Override
    public List<WatchReading.Value> read() {
        series.at(System.nanoTime());
        processors();
        series.level("memory in use", "bytes", SeriesRole.MEMORY, memory.getTotal() - (double) memory.getAvailable());
        series.level("swap in use", "bytes", SeriesRole.MEMORY, memory.getVirtualMemory().getSwapUsed());
        networks.forEach(NetworkIF::updateAttributes);
        series.rate("network in", "bytes/s", SeriesRole.NETWORK,
                networks.stream().mapToLong(NetworkIF::getBytesRecv).sum());
        series.rate("network out", "bytes/s", SeriesRole.NETWORK,
                networks.stream().mapToLong(NetworkIF::getBytesSent).sum());
        var tcp = protocols.getTCPv4Stats();
        series.level("TCP connections", "connections", SeriesRole.NETWORK, tcp.getConnectionsEstablished());
        series.rate("TCP segments sent again", "segments/s", SeriesRole.NETWORK, tcp.getSegmentsRetransmitted());
        disks.forEach(HWDiskStore::updateAttributes);
        series.rate("disk read", "bytes/s", SeriesRole.DISK, disks.stream().mapToLong(HWDiskStore::getReadBytes).sum());
        series.rate("disk written", "bytes/s", SeriesRole.DISK,
                disks.stream().mapToLong(HWDiskStore::getWriteBytes).sum());
        return series.values();
    }

    private void processors() {
        long[] before = ticks;
        ticks = processor.getSystemCpuLoadTicks();
        long total = 0;
        for (int i = 0; i < ticks.length; i++) {
            total += ticks[i] - before[i];
        }
        if (total > 0) {
            long idle = ticks[TickType.IDLE.getIndex()] - before[TickType.IDLE.getIndex()]
                    + ticks[TickType.IOWAIT.getIndex()] - before[TickType.IOWAIT.getIndex()];
            long steal = ticks[TickType.STEAL.getIndex()] - before[TickType.STEAL.getIndex()];
            series.level("CPU", "% of all processors", SeriesRole.CPU, 100.0 * (total - idle - steal) / total);
            series.level("taken by the machine below", "% of their time", SeriesRole.CPU, 100.0 * steal / total);
        }
        series.rate("context switches", "switches/s", SeriesRole.THREADS, processor.getContextSwitches());
    }

    @Override
    public void close() {
        // holds nothing open
    }
}
