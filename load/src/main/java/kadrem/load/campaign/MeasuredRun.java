package kadrem.load.campaign;

import java.time.Duration;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Set;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import java.util.stream.Collectors;
import java.util.function.BooleanSupplier;

import kadrem.core.measure.Exchange;
import kadrem.core.measure.GeneratorFigures;
import kadrem.core.measure.HostSample;
import kadrem.core.measure.RunFigures;
import kadrem.core.measure.RunJournal;
import kadrem.core.measure.RunTotals;
import kadrem.core.measure.SecondSummary;
import kadrem.core.measure.SecondTally;
import kadrem.core.measure.Soundness;
import kadrem.core.measure.StopWatch;
import kadrem.core.measure.WatchReading;
import kadrem.core.study.Call;
import kadrem.core.study.Metric;
import kadrem.core.study.SoundnessRule;
import kadrem.load.drive.Secrets;
import kadrem.load.content.UnusableCall;
import kadrem.load.engine.GeneratorUsage;
import kadrem.load.engine.LoadListener;
import kadrem.load.engine.LoadMaker;
import kadrem.load.engine.LoadOrder;
import kadrem.load.engine.LoadResult;
import kadrem.load.engine.LoadSession;
import kadrem.load.host.BackgroundThread;
import kadrem.load.host.HostWatch;
import kadrem.load.host.Watching;

/** The load of one run with the host watch beside it, from the first connection to the figures. */
public final class MeasuredRun implements AutoCloseable {
    /** Time between "all is ready" and the first due instant, in which the first host sample is taken. */
    private static final long LEAD_NANOS = TimeUnit.MILLISECONDS.toNanos(250);

    private final LoadOrder order;
    private final LoadSession load;
    private final RunTotals totals;
    private final HostWatch watch;
    private final Watching watching;
    private final BooleanSupplier candidateStays;
    private final Telling telling;
    private final StopWatch stopWatch;
    /** Set on the recording thread, read after it has ended. */
    private Optional<StopWatch.Stop> stop = Optional.empty();
    private volatile boolean lost;

    /**
     * The figures of a run and what they rest on.
     *
     * @param stop the stop rule that ended it, if one did
     */
    public record Result(LoadResult load, RunFigures figures, List<Soundness.Finding> soundness,
            Optional<StopWatch.Stop> stop, GeneratorFigures generator) {
    }

    /** Who looks on while a run goes on; called on the recording thread. */
    public interface Live {
        void second(SecondSummary second);

        /** A source of the host watch told something, or why it cannot. */
        default void watched(WatchReading reading) {
            // of interest to those who draw it
        }

        /** A sample of this host and of Kadrem itself. */
        default void host(HostSample sample) {
            // of interest to those who draw it
        }

        /** An exchange was kept as an example. */
        default void exchange(Exchange exchange) {
            // of interest to those who show it
        }
    }

    /**
     * Whom a run tells, and how it is judged.
     *
     * @param journal where it is written
     * @param limits limits of soundness that differ from the usual ones
     * @param deciding metrics of which the generator's part is judged
     * @param fromSecond second of the journal at which it begins; 0 unless it is a level of a search
     */
    public record Telling(RunJournal journal, Live live, Map<SoundnessRule, Double> limits, Set<Metric> deciding,
            int fromSecond) {
        private void watched(WatchReading reading) {
            journal.watched(reading);
            live.watched(reading);
        }

        private void exchange(Exchange exchange) {
            journal.exchange(exchange);
            live.exchange(exchange);
        }
    }

    /** A run whose connections are open. */
    private MeasuredRun(LoadMaker maker, LoadOrder order, OptionalLong candidatePid, BooleanSupplier candidateStays,
            Telling telling, Secrets secrets, Watching watching) throws UnusableCall {
        this.order = order;
        this.watching = watching;
        this.candidateStays = candidateStays;
        this.telling = telling;
        stopWatch = new StopWatch(order.load().course().stopRules());
        totals = new RunTotals(order.workload().calls().stream().map(Call::name).toList(),
                (int) order.load().warmUp().toSeconds(), (int) order.load().measured().toSeconds())
                .bounded(order.load().timeout()).parts(crowds(order), telling.deciding().stream()
                        .map(Metric::of).filter(part -> !part.isEmpty()).collect(Collectors.toUnmodifiableSet()));
        load = maker.prepare(order, secrets, new LoadListener() {
            @Override
            public void second(SecondTally tally) {
                take(tally);
            }

            @Override
            public void exchange(Exchange exchange) {
                telling.exchange(exchange);
            }
        });
        watch = new HostWatch(candidatePid, load.process(), this::own);
    }

    /** Numbers of the calls of each crowd; none where there are no crowds. */
    private static Map<String, int[]> crowds(LoadOrder order) {
        var numbers = new LinkedHashMap<String, int[]>();
        order.crowds().stream().filter(crowd -> !crowd.crowd().isEveryone()).forEach(crowd -> numbers.put(
                crowd.crowd().name(), crowd.numbers().stream().mapToInt(Integer::intValue).toArray()));
        return numbers;
    }

    private HostWatch.Own own() {
        GeneratorUsage used = load.usage();
        return new HostWatch.Own(used.laneCpuNanos(), used.userCpuNanos(), used.collectorMillis(), used.programs());
    }

    private void take(SecondTally tally) {
        totals.add(tally);
        SecondSummary own = SecondSummary.of(tally);
        if (stop.isEmpty()) {
            stop = stopWatch.look(own);
            stop.ifPresent(_ -> load.stop());
        }
        tally.second += telling.fromSecond();
        telling.live().second(own.at(tally.second));
        // last, since it may fail: what cannot be kept is counted by the recorder
        telling.journal().second(tally);
    }

    /**
     * Opens the connections.
     *
     * @param maker where the load is made
     * @param candidateStays asked once a second; when false the run ends early
     * @throws UnusableCall if a call cannot be made ready
     */
    public static MeasuredRun prepare(LoadMaker maker, LoadOrder order, OptionalLong candidatePid,
            BooleanSupplier candidateStays, Telling telling, Secrets secrets) throws UnusableCall {
        return prepare(maker, order, candidatePid, candidateStays, telling, secrets,
                Watching.begin(List.of(), Duration.ZERO));
    }

    /** As above, beside a watch that goes on before and after. */
    public static MeasuredRun prepare(LoadMaker maker, LoadOrder order, OptionalLong candidatePid,
            BooleanSupplier candidateStays, Telling telling, Secrets secrets, Watching watching) throws UnusableCall {
        return new MeasuredRun(maker, order, candidatePid, candidateStays, telling, secrets, watching);
    }

    /** Runs to the end, or until {@link #stop()}, and gives the figures. */
    public Result run() {
        long start = System.nanoTime() + LEAD_NANOS;
        long wallBefore = System.currentTimeMillis();
        host(start);
        watching.on(start, telling.fromSecond(), reading -> load.record(() -> telling.watched(reading)));
        load.begin(start);
        try (ScheduledExecutorService clock = Executors.newSingleThreadScheduledExecutor(
                Thread.ofPlatform().name("kadrem-host-watch").daemon().factory())) {
            clock.execute(BackgroundThread::yieldToAll);
            clock.scheduleAtFixedRate(() -> watchOnce(start), Math.max(0, start - System.nanoTime()),
                    TimeUnit.SECONDS.toNanos(1), TimeUnit.NANOSECONDS);
            load.await();
        }
        host(start);
        watching.off();
        double passed = (System.nanoTime() - start + LEAD_NANOS) / 1e6;
        double clockStep = Math.abs(System.currentTimeMillis() - wallBefore - passed);
        LoadResult result = load.result();
        RunFigures figures = totals.figures(
                result.measuredSeconds().orElse(order.load().measured().toSeconds()));
        boolean stayed = !lost && candidateStays.getAsBoolean();
        Soundness.Watched watched = totals.watched();
        return new Result(result, figures,
                Soundness.judge(new Soundness.Evidence(order.load(), figures,
                        result.crowds().stream().map(one -> new Soundness.Asked(one.crowd(), one.intended(),
                                one.begun())).toList(),
                        order.lanes().count(), watched, clockStep, totals.ownFaults() + result.lost(),
                        telling.deciding(), stayed), telling.limits()),
                stop, new GeneratorFigures(order.lanes().count(), totals.laneCpuShare(), totals.workShare(),
                        load.collectorPauses(), load.arrangement(), totals.longTurns()));
    }

    private void host(long start) {
        HostSample sample = watch.sample(start);
        load.record(() -> {
            totals.add(sample);
            HostSample at = sample.later(telling.fromSecond());
            telling.journal().host(at);
            telling.live().host(at);
        });
    }

    private void watchOnce(long start) {
        host(start);
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
    }
}
