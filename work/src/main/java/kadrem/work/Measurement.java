package kadrem.work;

import java.io.IOException;
import java.net.URI;
import java.time.Clock;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;

import kadrem.core.measure.Capacity;
import kadrem.core.measure.RunRecord;
import kadrem.core.rehearsal.Rehearsal;
import kadrem.core.scaling.Prediction;
import kadrem.core.study.Candidate;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.verdict.NoiseFloor;
import kadrem.files.run.RunFolders;
import kadrem.files.run.StudyLock;
import kadrem.files.study.StudyFile;
import kadrem.load.campaign.Campaign;
import kadrem.load.campaign.Leftovers;
import kadrem.load.campaign.LiveMetrics;
import kadrem.load.campaign.OpenRun;
import kadrem.load.campaign.SelfCheck;
import kadrem.load.campaign.Sittings;
import kadrem.load.content.UnusableCall;
import kadrem.load.engine.LoadMaker;
import kadrem.load.generator.GeneratorProcess;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * A measurement from the first look at the study to what follows from its runs: what stands against it, what was left behind, what load
 * this machine can make, the generator warmed up, the runs; one file, since its steps come in one order. It is made by one thread; any
 * thread may stop it and reach into it.
 */
public final class Measurement implements AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger(Measurement.class);

    private final Order order;
    private final SelfChecking selfChecking;
    private final MeasurementListener listener;
    private final LiveMetrics metrics;
    private final Clock clock = Clock.systemUTC();
    private final Object hands = new Object();
    /** Guarded by {@link #hands}, as are the next two. */
    private @Nullable Campaign campaign;
    private @Nullable Thread preparing;
    private boolean stopped;

    /** Whether it is found out first what load this machine can make. */
    public sealed interface SelfChecking {
        /** It is found out, which takes up to 10 s. */
        record Before() implements SelfChecking {
        }

        /** It was found out for this load before. */
        record Known(Capacity capacity) implements SelfChecking {
        }

        /** It is not found out, and not kept with the runs. */
        record LeftOut() implements SelfChecking {
        }
    }

    public Measurement(Order order, SelfChecking selfChecking, MeasurementListener listener) {
        this.order = order;
        this.selfChecking = selfChecking;
        this.listener = listener;
        metrics = new LiveMetrics(listener);
    }

    /**
     * Measures, and returns when all is measured, or was stopped. Nothing is launched where something stands against it.
     *
     * @throws NotDone if nothing may be, can be or is to be measured; the objection says why
     * @throws IOException if what is measured cannot be kept
     * @throws InterruptedException if it was stopped before the first run
     */
    public Ended run() throws NotDone, IOException, InterruptedException {
        StudyFile file = order.file();
        Preflight preflight = Preflight.of(file);
        if (preflight.objection().isPresent()) {
            throw new NotDone(preflight.objection().get());
        }
        preflight.notes().forEach(listener::note);
        begin();
        try (StudyLock _ = lock(file)) {
            clear(new RunFolders(file.folder()));
            return measure(preflight);
        } finally {
            end();
        }
    }

    /** Clears up what a Kadrem that was killed left behind. */
    private void clear(RunFolders store) {
        Leftovers.clear(store, clock.instant()).forEach(listener::cutOff);
    }

    private Ended measure(Preflight preflight) throws NotDone, IOException, InterruptedException {
        try (Target target = target()) {
            if (!(target instanceof Target.OfStudy)) {
                clear(target.store());
            }
            int runs = OpenRun.of(target.study(), target.store().runs(), target.wanted()).size();
            listener.begins(target, runs);
            return runs == 0
                    ? new Ended(target, List.of(), false, false, Optional.empty(), follows(target))
                    : run(target, preflight.rehearsal());
        }
    }

    /** Takes the study for a load that nothing may disturb. */
    static StudyLock lock(StudyFile file) throws NotDone {
        try {
            return StudyLock.take(file.folder());
        } catch (IOException cause) {
            throw new NotDone(String.valueOf(cause.getMessage()));
        }
    }

    private Target target() throws NotDone, IOException, InterruptedException {
        StudyFile file = order.file();
        MeasuredStudy study = file.measured();
        var store = new RunFolders(file.folder());
        return switch (order) {
            case Order.OfStudy(StudyFile _, Optional<Rounds> rounds) -> new Target.OfStudy(study, store,
                    rounds.orElse(new Rounds.UpTo(study.plan().most())).wanted(study, store.runs()));
            case Order.Again _ -> again(study, store);
            case Order.Floor(StudyFile _, String candidate, Rounds rounds) -> {
                MeasuredStudy twice = NoiseFloor.study(study, candidate);
                RunFolders own = RunFolders.ofNoiseFloor(file.folder());
                yield new Target.OfFloor(study, twice, own, rounds.wanted(twice, own.runs()));
            }
            case Order.Versions versions -> VersionsTarget.of(versions, clock, listener::prepares);
        };
    }

    private Target again(MeasuredStudy study, RunFolders store) throws NotDone {
        Sittings.Further further = Sittings.further(study, store.runs());
        if (further.objection().isPresent()) {
            throw new NotDone(further.objection().get());
        }
        further.changes().forEach(change -> listener.note("changed since the first run: " + change));
        listener.note(further.words());
        return new Target.OfStudy(study, store, further.lastRound());
    }

    private Ended run(Target target, Optional<Rehearsal> rehearsal) throws NotDone, InterruptedException {
        StudyFile file = order.file();
        try (var generator = new GeneratorProcess()) {
            var made = new Campaign(target.study(), file.folder(), Program.command(), generator, target.store(), clock,
                    new SignatureTeller(target, rehearsal, listener, metrics));
            Optional<Capacity> capacity = capacity(generator, target.study(), rehearsal);
            capacity.ifPresent(made::keep);
            // without it the first run meets code that is not compiled, and its round is set aside
            listener.prepares("making the generator's own code quick");
            made.warmUp(rehearsal, capacity.isEmpty() || !(selfChecking instanceof SelfChecking.Before));
            hand(made);
            List<RunRecord> runs = made.run(target.wanted());
            return new Ended(target, runs, made.wasStopped(), made.isSettled(), made.gaveUp(),
                    isStopped() ? "" : follows(target));
        }
    }

    private Optional<Capacity> capacity(LoadMaker maker, MeasuredStudy study, Optional<Rehearsal> rehearsal)
            throws NotDone {
        return switch (selfChecking) {
            case SelfChecking.LeftOut _ -> Optional.empty();
            case SelfChecking.Known(Capacity known) -> Optional.of(known);
            case SelfChecking.Before _ -> {
                listener.prepares("checking what load this machine can make");
                Optional<Capacity> found = checkMachine(maker, order.file(), study, rehearsal);
                found.ifPresent(capacity -> listener.machine(capacity, capacity
                        .objection(Prediction.of(study, rehearsal).mostCallsPerSecond().orElse(0),
                                study.candidates().stream().anyMatch(Candidate::isHere))
                        .stream().toList()));
                yield found;
            }
        };
    }

    private static Optional<Capacity> checkMachine(LoadMaker maker, StudyFile file, MeasuredStudy study,
            Optional<Rehearsal> rehearsal) throws NotDone {
        try {
            return SelfCheck.of(maker, study, file.folder(), rehearsal);
        } catch (UnusableCall cause) {
            // no candidate could be asked it either
            throw new NotDone(String.valueOf(cause.getMessage()));
        }
    }

    /**
     * Finds out what load this machine can make with a study, without measuring it. Takes up to 10 s.
     *
     * @return empty where Kadrem has nothing that answers these calls in the protocol of a candidate
     * @throws NotDone if a call cannot be made ready
     */
    public static Optional<Capacity> checkMachine(StudyFile file, Optional<Rehearsal> rehearsal) throws NotDone {
        try (var generator = new GeneratorProcess()) {
            return checkMachine(generator, file, file.measured(), rehearsal);
        }
    }

    private static String follows(Target target) {
        try {
            return target.follows();
        } catch (IOException cause) {
            LOG.warn("what follows from the runs", cause);
            return "What follows from them could not be kept: " + cause.getMessage();
        }
    }

    private void begin() throws InterruptedException {
        synchronized (hands) {
            if (stopped) {
                throw new InterruptedException();
            }
            preparing = Thread.currentThread();
        }
    }

    /** The campaign is in the user's hands from now on. */
    private void hand(Campaign made) throws InterruptedException {
        synchronized (hands) {
            preparing = null;
            if (Thread.interrupted() || stopped) {
                throw new InterruptedException();
            }
            campaign = made;
        }
    }

    private void end() {
        synchronized (hands) {
            preparing = null;
            campaign = null;
        }
    }

    private boolean isStopped() {
        synchronized (hands) {
            return stopped;
        }
    }

    /** Ends the runs under way, or what is being made ready for them; what was measured stays. */
    public void stop() {
        synchronized (hands) {
            stopped = true;
            if (preparing != null) {
                preparing.interrupt();
            }
        }
        reach(Campaign::stop);
    }

    /** Ends the runs under way; the measurement goes on with the next. */
    public void skip() {
        reach(Campaign::skip);
    }

    /** Ends the runs under way and makes them again. */
    public void redo() {
        reach(Campaign::redo);
    }

    /** Whether it waits before the next run; the one under way goes on. */
    public void hold(boolean wait) {
        reach(one -> one.hold(wait));
    }

    /** Goes on with further rounds after those that were ordered. */
    public void addRounds(int more) {
        reach(one -> one.addRounds(more));
    }

    private void reach(Consumer<Campaign> hand) {
        Optional<Campaign> now;
        synchronized (hands) {
            now = Optional.ofNullable(campaign);
        }
        now.ifPresent(hand);
    }

    /**
     * Begins to serve the figures of the runs that are being made, in the OpenMetrics format.
     *
     * @param port on loopback; 0 for any that is free
     * @return where they are
     * @throws IOException if the port is in use
     */
    public URI serve(int port) throws IOException {
        return metrics.serve(port);
    }

    /** Ends to serve them. */
    @Override
    public void close() {
        metrics.close();
    }
}
