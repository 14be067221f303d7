package kadrem.load.generator;

import java.lang.management.GarbageCollectorMXBean;
import java.lang.management.ManagementFactory;
import java.util.ArrayList;
import java.util.List;
import java.util.OptionalLong;

import kadrem.core.measure.LatencySummary;
import kadrem.load.drive.Driver;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.Drivers;
import kadrem.load.drive.Secrets;
import kadrem.load.drive.Spent;
import kadrem.load.content.UnusableCall;
import kadrem.load.engine.CrowdOrder;
import kadrem.load.engine.GeneratorUsage;
import kadrem.load.engine.LoadListener;
import kadrem.load.engine.LoadMaker;
import kadrem.load.engine.LoadOrder;
import kadrem.load.engine.LoadResult;
import kadrem.load.engine.LoadRun;
import kadrem.load.engine.LoadSession;
import kadrem.load.host.CollectorWatch;
import kadrem.load.net.Transport;

/** A load that is made in this process. */
public final class LocalLoad implements LoadSession {
    /** Makes loads in this process. */
    public static final LoadMaker MAKER = LocalLoad::prepare;

    private final LoadOrder order;
    private final List<Driver> drivers;
    private final LoadRun run;
    private final CollectorWatch collector = new CollectorWatch();

    private LocalLoad(LoadOrder order, List<Driver> drivers, LoadListener listener) {
        this.order = order;
        this.drivers = List.copyOf(drivers);
        run = LoadRun.prepare(order, drivers, Transport.best(), listener);
    }

    private static LoadSession prepare(LoadOrder order, Secrets secrets, LoadListener listener) throws UnusableCall {
        var drivers = new ArrayList<Driver>();
        boolean made = false;
        try {
            for (CrowdOrder crowd : order.crowds()) {
                drivers.add(Drivers.open(new DriverOrder(crowd.entrance().address(), crowd.entrance().access(),
                        crowd.workload(), crowd.load().timeout(), secrets, Transport.best(),
                        crowd.load().connections())));
            }
            var load = new LocalLoad(order, drivers, listener);
            made = true;
            return load;
        } finally {
            if (!made) {
                drivers.forEach(Driver::close);
            }
        }
    }

    @Override
    public void begin(long startNanos) {
        run.begin(startNanos);
    }

    @Override
    public void record(Runnable task) {
        run.record(task);
    }

    @Override
    public void stop() {
        run.stop();
    }

    @Override
    public void await() {
        run.await();
    }

    @Override
    public LoadResult result() {
        return run.result();
    }

    @Override
    public String arrangement() {
        return run.arrangement();
    }

    @Override
    public GeneratorUsage usage() {
        return new GeneratorUsage(run.laneCpuNanos(), order.address().port() == 0 ? 0 : run.userCpuNanos(),
                collectorMillis(), compilerMillis(),
                drivers.stream().flatMap(driver -> driver.spent().stream()).reduce(Spent::plus));
    }

    private static long collectorMillis() {
        return ManagementFactory.getGarbageCollectorMXBeans().stream()
                .filter(bean -> CollectorWatch.isOfPauses(bean.getName()))
                .mapToLong(GarbageCollectorMXBean::getCollectionTime).filter(millis -> millis > 0).sum();
    }

    private static long compilerMillis() {
        var compilers = ManagementFactory.getCompilationMXBean();
        return compilers != null && compilers.isCompilationTimeMonitoringSupported()
                ? compilers.getTotalCompilationTime()
                : 0;
    }

    @Override
    public OptionalLong process() {
        return OptionalLong.empty();
    }

    @Override
    public LatencySummary collectorPauses() {
        return collector.pauses();
    }

    @Override
    public void close() {
        run.close();
        drivers.forEach(Driver::close);
        collector.close();
    }
}
