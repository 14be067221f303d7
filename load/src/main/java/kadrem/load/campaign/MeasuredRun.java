package kadrem.load.campaign;

import java.util.List;
import java.util.OptionalLong;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import java.util.function.BooleanSupplier;
import java.util.function.Consumer;

import kadrem.core.measure.Exchange;
import kadrem.core.measure.HostSample;
import kadrem.core.measure.RunFigures;
import kadrem.core.measure.RunJournal;
import kadrem.core.measure.RunTotals;
import kadrem.core.measure.SecondSummary;
import kadrem.core.measure.SecondTally;
import kadrem.core.measure.Soundness;
import kadrem.core.study.Call;
import kadrem.load.drive.Driver;
import kadrem.load.drive.Secrets;
import kadrem.load.drive.UnusableCall;
import kadrem.load.drive.http.HttpDriver;
import kadrem.load.engine.LoadListener;
import kadrem.load.engine.LoadOrder;
import kadrem.load.engine.LoadResult;
import kadrem.load.engine.LoadRun;
import kadrem.load.engine.Transport;
import kadrem.load.host.BackgroundThread;
import kadrem.load.host.HostWatch;

/** The load of one run with the host watch beside it, from the first connection to the figures. */
public final class MeasuredRun implements AutoCloseable {
    /** Time between "all is ready" and the first due instant, in which the first host sample is taken. */
    private static final long LEAD_NANOS = TimeUnit.MILLISECONDS.toNanos(250);

    private final LoadOrder order;
    private final Driver driver;
    private final LoadRun load;
    private final RunTotals totals;
    private final HostWatch watch;
    private final BooleanSupplier candidateStays;
    private volatile boolean lost;

    /** The figures of a run and what they rest on. */
    public record Result(LoadResult load, RunFigures figures, List<Soundness.Finding> soundness) {
    }

    /** A run whose connections are open. */
    private MeasuredRun(LoadOrder order, OptionalLong candidatePid, BooleanSupplier candidateStays, RunJournal journal,
            Consumer<SecondSummary> live, Secrets secrets) throws UnusableCall {
        this.order = order;
        this.candidateStays = candidateStays;
        totals = new RunTotals(order.workload().calls().stream().map(Call::name).toList(),
                (int) order.load().warmUp().toSeconds(), (int) order.load().measured().toSeconds());
        var transport = Transport.best();
        driver = new HttpDriver(order.address(), order.access(), order.workload(), order.load(), secrets, transport);
        load = LoadRun.prepare(order, driver, transport, new LoadListener() {
            @Override
            public void second(SecondTally tally) {
                totals.add(tally);
                journal.second(tally);
                live.accept(SecondSummary.of(tally));
            }

            @Override
            public void exchange(Exchange exchange) {
                journal.exchange(exchange);
            }

            @Override
            public void host(HostSample sample) {
                totals.add(sample);
                journal.host(sample);
            }
        });
        watch = new HostWatch(candidatePid, load::laneCpuNanos);
    }

    /**
     * Opens the connections.
     *
     * @param candidateStays asked once a second; when false the run ends early
     * @param live told of each second on the recording thread
     * @throws UnusableCall if a call cannot be made ready
     */
    public static MeasuredRun prepare(LoadOrder order, OptionalLong candidatePid, BooleanSupplier candidateStays,
            RunJournal journal, Consumer<SecondSummary> live, Secrets secrets) throws UnusableCall {
        return new MeasuredRun(order, candidatePid, candidateStays, journal, live, secrets);
    }

    /** Runs to the end, or until {@link #stop()}, and gives the figures. */
    public Result run() {
        long start = System.nanoTime() + LEAD_NANOS;
        load.record(watch.sample(start));
        load.begin(start);
        try (ScheduledExecutorService clock = Executors
                .newSingleThreadScheduledExecutor(Thread.ofPlatform().name("kadrem-host-watch").daemon().factory())) {
            clock.execute(BackgroundThread::yieldToLoad);
            clock.scheduleAtFixedRate(() -> watchOnce(start), Math.max(0, start - System.nanoTime()),
                    TimeUnit.SECONDS.toNanos(1), TimeUnit.NANOSECONDS);
            load.await();
        }
        load.record(watch.sample(start));
        LoadResult result = load.result();
        RunFigures figures = totals.figures();
        boolean stayed = !lost && candidateStays.getAsBoolean();
        return new Result(result, figures, Soundness.judge(new Soundness.Evidence(order.load(), figures,
                result.intended(), result.begun(), order.lanes(), totals.laneCpuShare(), totals.gcShare(),
                totals.stealShare(), stayed)));
    }

    private void watchOnce(long start) {
        load.record(watch.sample(start));
        if (!candidateStays.getAsBoolean()) {
            lost = true;
            load.stop();
        }
    }

    /** Whether the run was ended early because the candidate was gone. */
    public boolean lostCandidate() {
        return lost;
    }

    public void stop() {
        load.stop();
    }

    @Override
    public void close() {
        load.close();
        driver.close();
    }
}
