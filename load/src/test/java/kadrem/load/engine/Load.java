package kadrem.load.engine;

import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;

import kadrem.core.measure.CallTally;
import kadrem.core.measure.Exchange;
import kadrem.core.measure.FailureKind;
import kadrem.core.measure.Latency;
import kadrem.core.measure.Phase;
import kadrem.core.measure.RunFigures;
import kadrem.core.measure.RunTotals;
import kadrem.core.measure.SecondSummary;
import kadrem.core.measure.SecondTally;
import kadrem.core.study.Address;
import kadrem.core.study.Call;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import kadrem.load.drive.Secrets;
import kadrem.load.content.UnusableCall;
import kadrem.load.drive.Driver;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.Drivers;
import kadrem.load.net.Transport;
import org.HdrHistogram.Histogram;

/** Runs a load for a test and keeps what it recorded. */
public final class Load implements LoadListener {
    /** Time limit of calls that are expected to be answered, however busy the machine that runs the tests is. */
    public static final Duration PATIENT = Duration.ofSeconds(25);
    public final List<Exchange> exchanges = new ArrayList<>();
    public final List<SecondSummary> seconds = new ArrayList<>();
    public final Histogram response = Latency.forRun();
    public final Histogram service = Latency.forRun();
    public final RunTotals totals;
    public long parts;
    public LoadResult result;
    public RunFigures figures;

    private Load(LoadOrder order) {
        totals = new RunTotals(order.workload().calls().stream().map(Call::name).toList(),
                (int) order.load().warmUp().toSeconds(), (int) order.load().measured().toSeconds());
        var numbers = new LinkedHashMap<String, int[]>();
        order.crowds().forEach(crowd -> numbers.put(crowd.crowd().name(),
                crowd.numbers().stream().mapToInt(Integer::intValue).toArray()));
        totals.parts(numbers, Set.of());
    }

    public static Call get(String name, String path) {
        return Call.of(name, "GET", path);
    }

    public static Workload one(String path) {
        return new Workload(List.of(), List.of(new Visit("v", 1, List.of(get("call", path)))));
    }

    public static LoadProfile.Open open(double rate, int connections, int warmUp, int seconds) {
        return new LoadProfile.Open(rate, LoadProfile.Spacing.CONSTANT, connections, Duration.ofSeconds(warmUp),
                Duration.ofSeconds(seconds), PATIENT);
    }

    /** A number of arrivals at a rate; the measured part lasts until the last is answered, however busy the machine is. */
    public static LoadProfile.Open arrivals(int visits, double rate, int connections) {
        LoadProfile.Open load = open(rate, connections, 0, (int) PATIENT.toSeconds());
        return load.withCourse(load.course().withVisits(visits));
    }

    public static LoadProfile.Closed closed(int users, Duration think, int seconds) {
        return new LoadProfile.Closed(users, think, Duration.ZERO, Duration.ofSeconds(seconds), PATIENT);
    }

    public static Load run(int port, Workload workload, LoadProfile load, long seed, int lanes) {
        return run(port, workload, load, seed, lanes, Transport.best());
    }

    public static Load run(int port, Workload workload, LoadProfile load, long seed, int lanes, Transport transport) {
        return run(new LoadOrder(new Address("127.0.0.1", port, ""), workload, load, seed, lanes), transport);
    }

    public static Load run(LoadOrder order, Transport transport) {
        var kept = new Load(order);
        List<Driver> drivers = drivers(order, transport);
        try (LoadRun run = LoadRun.prepare(order, drivers, transport, kept)) {
            run.begin(System.nanoTime() + 50_000_000);
            run.await();
            kept.result = run.result();
        } finally {
            drivers.forEach(Driver::close);
        }
        kept.figures = kept.totals.figures();
        return kept;
    }

    private static List<Driver> drivers(LoadOrder order, Transport transport) {
        var secrets = new Secrets(Map.of("BERTH_TOKEN", "tok-31415"), Path.of(""));
        var drivers = new ArrayList<Driver>();
        try {
            for (CrowdOrder crowd : order.crowds()) {
                drivers.add(Drivers.open(new DriverOrder(crowd.entrance().address(), crowd.entrance().access(),
                        crowd.workload(), crowd.load().timeout(), secrets, transport)));
            }
            return drivers;
        } catch (UnusableCall cause) {
            throw new AssertionError(cause);
        }
    }

    /** The result of a run that was stopped before its first instant. */
    public static LoadResult stopped(int port, LoadProfile load) {
        var order = new LoadOrder(new Address("127.0.0.1", port, ""), one("/x"), load, 1, 1);
        var kept = new Load(order);
        List<Driver> drivers = drivers(order, Transport.best());
        try (LoadRun run = LoadRun.prepare(order, drivers, Transport.best(), kept)) {
            run.stop();
            run.begin(System.nanoTime());
            run.await();
            LoadResult result = run.result();
            if (!kept.seconds.isEmpty()) {
                throw new AssertionError("seconds of a run that never began: " + kept.seconds);
            }
            return result;
        } finally {
            drivers.forEach(Driver::close);
        }
    }

    public long failed(FailureKind kind) {
        return figures.failed().get(kind);
    }

    @Override
    public void second(SecondTally tally) {
        totals.add(tally);
        seconds.add(SecondSummary.of(tally));
        for (int i = 0; i < tally.callCount(); i++) {
            CallTally call = tally.call(i, Phase.MEASURED);
            if (call.hasTimes()) {
                response.add(call.response());
                service.add(call.service());
            }
            parts += call.parts;
        }
    }

    @Override
    public void exchange(Exchange exchange) {
        exchanges.add(exchange);
    }
}
