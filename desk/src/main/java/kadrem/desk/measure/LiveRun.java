package kadrem.desk.measure;

import java.time.Duration;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;

import kadrem.core.examine.WatchView;
import kadrem.core.measure.Capacity;
import kadrem.core.measure.Exchange;
import kadrem.core.measure.HostSample;
import kadrem.core.measure.HostSeries;
import kadrem.core.measure.RunRecord;
import kadrem.core.measure.SecondSummary;
import kadrem.core.measure.SeriesRole;
import kadrem.core.measure.WatchReading;
import kadrem.load.campaign.Step;
import kadrem.work.MeasurementListener;
import kadrem.work.Target;
import org.jspecify.annotations.Nullable;

/**
 * What a campaign has said so far, taken by the window at its own pace: the campaign's threads write, the interface thread
 * reads a copy. Several runs are under way where candidates are measured together.
 */
final class LiveRun implements MeasurementListener {
    private static final int MAX_FAILED = 3;
    private static final double MIN_INTERVAL = 0.5;
    /** The generator's own threads, as a series beside those of the sources. */
    static final HostSeries LANES = new HostSeries("generator", "CPU", "% of one core", SeriesRole.CPU);

    private final Runnable runEnded;
    private final Consumer<Capacity> machineChecked;
    private final List<String> notes = new ArrayList<>();
    private Optional<Target> target = Optional.empty();
    private final Map<String, Under> underWay = new LinkedHashMap<>();
    private Optional<String> last = Optional.empty();
    private String before = "";
    private int number;
    private int of;
    private Duration left = Duration.ZERO;
    private long leftSaidAt = System.nanoTime();

    /** A run from launch to stop. */
    private static final class Under {
        private final RunRecord run;
        private final List<SecondSummary> seconds = new ArrayList<>();
        private final WatchView.Builder watch = new WatchView.Builder();
        /** The newest failed exchanges, the last one first. */
        private final Deque<Exchange> failed = new ArrayDeque<>();
        private @Nullable HostSample host;
        private String step = "launching";
        private boolean ended;

        Under(RunRecord run) {
            this.run = run;
        }
    }

    /**
     * @param runEnded told on the thread that measures after each run
     * @param machineChecked given there what load this machine can make
     */
    LiveRun(Runnable runEnded, Consumer<Capacity> machineChecked) {
        this.runEnded = runEnded;
        this.machineChecked = machineChecked;
    }

    /**
     * A copy of the present.
     *
     * @param run the one whose figures are shown, of those under way the one that began last
     * @param underWay all runs under way
     * @param step what is being done
     * @param failed its newest failed exchanges, the last one first
     * @param notes what was said before the first run, in clauses
     */
    record Snapshot(Optional<RunRecord> run, List<RunRecord> underWay, String step, int number, int of, Duration left,
            List<SecondSummary> seconds, List<Exchange> failed, List<String> notes) {
    }

    synchronized Snapshot snapshot() {
        Duration passed = Duration.ofNanos(System.nanoTime() - leftSaidAt);
        Duration rest = left.minus(passed);
        Optional<Under> shown = last.map(underWay::get);
        return new Snapshot(shown.map(one -> one.run),
                underWay.values().stream().filter(one -> !one.ended).map(one -> one.run).toList(),
                shown.map(one -> one.step).orElse(before),
                number, of, rest.isNegative() ? Duration.ZERO : rest,
                shown.map(one -> List.copyOf(one.seconds)).orElse(List.of()),
                shown.map(one -> List.copyOf(one.failed)).orElse(List.of()), List.copyOf(notes));
    }

    /** What is measured; empty until it is ready. */
    synchronized Optional<Target> target() {
        return target;
    }

    /** What the sources of the host watch told of a run so far; grows with its length, so not for the interface thread. */
    synchronized WatchView watch(String run) {
        Under under = underWay.get(run);
        return under == null ? WatchView.NOTHING : under.watch.build();
    }

    @Override
    public synchronized void note(String clause) {
        notes.add(clause);
    }

    @Override
    public synchronized void prepares(String what) {
        before = what;
    }

    @Override
    public synchronized void begins(Target begun, int runs) {
        target = Optional.of(begun);
    }

    @Override
    public void machine(Capacity found, List<String> objections) {
        objections.forEach(this::note);
        machineChecked.accept(found);
    }

    @Override
    public synchronized void runBegins(RunRecord begun, int runNumber, int runs, Duration timeLeft) {
        underWay.values().removeIf(one -> one.ended);
        underWay.put(begun.id(), new Under(begun));
        last = Optional.of(begun.id());
        number = runNumber;
        of = runs;
        left = timeLeft;
        leftSaidAt = System.nanoTime();
    }

    @Override
    public synchronized void step(RunRecord current, Step step) {
        Under under = underWay.get(current.id());
        if (under != null) {
            under.step = step.words();
        }
    }

    @Override
    public synchronized void second(RunRecord current, SecondSummary second) {
        Under under = underWay.get(current.id());
        if (under != null) {
            under.seconds.add(second);
        }
    }

    @Override
    public synchronized void watched(RunRecord current, WatchReading reading) {
        Under under = underWay.get(current.id());
        if (under != null) {
            reading.values().forEach(one -> under.watch.value(one.series(), reading.at(), one.value()));
            if (!reading.trouble().isEmpty()) {
                under.watch.trouble(reading.source(), reading.at(), reading.trouble());
            }
        }
    }

    @Override
    public synchronized void host(RunRecord current, HostSample sample) {
        Under under = underWay.get(current.id());
        if (under != null) {
            HostSample before = under.host;
            under.host = sample;
            if (before != null && sample.at() > before.at() + MIN_INTERVAL) {
                under.watch.value(LANES, sample.at(), (sample.laneCpuMillis() - before.laneCpuMillis())
                        / (10 * (sample.at() - before.at())));
            }
        }
    }

    @Override
    public synchronized void exchange(RunRecord current, Exchange exchange) {
        Under under = underWay.get(current.id());
        if (under != null && exchange.isFailure()) {
            under.failed.addFirst(exchange);
            if (under.failed.size() > MAX_FAILED) {
                under.failed.removeLast();
            }
        }
    }

    @Override
    public void runEnds(RunRecord ended, int runNumber, int runs, Duration timeLeft) {
        synchronized (this) {
            Under under = underWay.get(ended.id());
            if (under != null) {
                // it stays to be seen until another begins, unless others go on
                under.ended = true;
                Optional<String> other = underWay.entrySet().stream().filter(one -> !one.getValue().ended)
                        .map(Map.Entry::getKey).reduce((_, b) -> b);
                last = last.filter(id -> !id.equals(ended.id()) || other.isEmpty()).or(() -> other);
            }
            left = timeLeft;
            leftSaidAt = System.nanoTime();
        }
        runEnded.run();
    }
}
