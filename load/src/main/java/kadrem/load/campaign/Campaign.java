package kadrem.load.campaign;

import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.OptionalLong;
import java.util.Set;
import java.util.TreeMap;
import java.util.UUID;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.AtomicReference;

import kadrem.core.measure.Capacity;
import kadrem.core.measure.Exchange;
import kadrem.core.measure.HostSample;
import kadrem.core.measure.LevelResult;
import kadrem.core.measure.RunJournal;
import kadrem.core.measure.RunOutcome;
import kadrem.core.measure.RunRecord;
import kadrem.core.measure.RunStore;
import kadrem.core.measure.SecondSummary;
import kadrem.core.measure.Soundness;
import kadrem.core.measure.Standing;
import kadrem.core.measure.WatchReading;
import kadrem.core.plan.LoadDigest;
import kadrem.core.plan.Rounds;
import kadrem.core.plan.SplitMix64;
import kadrem.core.plan.StreamDigest;
import kadrem.core.rehearsal.RehearsedCall;
import kadrem.core.rehearsal.Rehearsal;
import kadrem.core.scaling.Levels;
import kadrem.core.study.Call;
import kadrem.core.study.Candidate;
import kadrem.core.study.LevelSearch;
import kadrem.core.study.Launch;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Seal;
import kadrem.core.study.Study;
import kadrem.core.verdict.Comparison;
import kadrem.core.verdict.PairComparison;
import kadrem.core.study.Written;
import kadrem.load.drive.Secrets;
import kadrem.load.drive.UnusableCall;
import kadrem.load.engine.LoadMaker;
import kadrem.load.engine.LoadOrder;
import kadrem.load.host.HostSources;
import kadrem.load.host.Machine;
import kadrem.load.host.Watching;
import kadrem.load.host.remote.HostKeys;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Measures what of a plan is not yet measured: every candidate once a round, in the round's random order, each run from
 * launch to stop. A run that fails is recorded with its reason and the campaign goes on.
 */
public final class Campaign {
    private static final Logger LOG = LoggerFactory.getLogger(Campaign.class);
    /** Guess of what a run needs besides its load, until one has been timed. */
    private static final Duration ASSUMED_OVERHEAD = Duration.ofSeconds(3);

    private final Study study;
    private final Path studyFolder;
    private final String kadrem;
    private final LoadMaker maker;
    private final RunStore store;
    private final Clock clock;
    private final CampaignListener listener;
    /** Found out when the campaign runs, which takes too long for the thread that makes it. */
    private Map<String, String> machine = Map.of();
    /** What a self-check found out about the machine; empty where there was none. */
    private Optional<Capacity> capacity = Optional.empty();
    private List<RehearsedCall> answers = List.of();
    private boolean warmsUp;
    private final String digest;
    private final Secrets secrets;
    private volatile boolean stopping;
    private volatile Turn turn = Turn.GO_ON;
    /** Rounds that are to count. */
    private volatile int last;
    private volatile Optional<String> gaveUp = Optional.empty();
    private final Object waiting = new Object();
    /** Guarded by {@link #waiting}. */
    private boolean held;
    /** Runs under load now; more than one where candidates are measured together. */
    private final Set<MeasuredRun> current = ConcurrentHashMap.newKeySet();
    /** Threads that launch or wait, and may be interrupted in that; guarded by itself. One that writes must not be. */
    private final Set<Thread> waiters = new HashSet<>();

    /** What is to be done with the runs under way. */
    private enum Turn {
        GO_ON("stopped by hand"), SKIP("skipped by hand"), REDO("given up by hand, to be made again");

        private final String words;

        Turn(String words) {
            this.words = words;
        }

        String words() {
            return words;
        }
    }

    /** While it is open its thread may be interrupted, unless it writes. */
    private final class Waiting implements AutoCloseable {
        private final Thread self = Thread.currentThread();

        Waiting() throws InterruptedException {
            synchronized (waiters) {
                waiters.add(self);
            }
            if (isToEnd()) {
                close();
                throw new InterruptedException();
            }
        }

        /** Does what an interruption would spoil; one that comes meanwhile takes effect afterwards. */
        void uninterrupted(Runnable writing) {
            boolean interrupted = leave();
            writing.run();
            synchronized (waiters) {
                waiters.add(self);
            }
            if (interrupted || isToEnd()) {
                self.interrupt();
            }
        }

        private boolean leave() {
            synchronized (waiters) {
                waiters.remove(self);
                return Thread.interrupted();
            }
        }

        @Override
        public void close() {
            leave();
        }
    }

    private boolean isToEnd() {
        return stopping || turn != Turn.GO_ON;
    }

    /** Whether the campaign was ended by {@link #stop()}. */
    public boolean wasStopped() {
        return stopping;
    }

    /** One run that is to be made. */
    public record Task(int round, int position, Candidate candidate) {
    }

    /**
     * @param studyFolder folder to which working folders of launches are relative
     * @param maker where its loads are made, the same for all its runs
     * @param kadrem what {@code {{kadrem}}} in a launch command stands for
     */
    public Campaign(Study study, Path studyFolder, String kadrem, LoadMaker maker, RunStore store, Clock clock,
            CampaignListener listener) {
        this.study = study;
        this.studyFolder = studyFolder;
        this.kadrem = kadrem;
        this.maker = maker;
        this.store = store;
        this.clock = clock;
        this.listener = listener;
        digest = LoadDigest.of(study);
        secrets = Secrets.ofProcess(studyFolder);
    }

    /**
     * The runs still to be made so that {@code wanted} rounds count. A run of the same workload and load that is a result, were it that the
     * candidate died, is not made again; one that could not be prepared, was stopped or cut off is. For a round that was set aside
     * another is added at the end, but no more of them than rounds are wanted.
     */
    public static List<Task> remaining(Study study, List<RunRecord> runs, int wanted) {
        String digest = LoadDigest.of(study);
        Set<Integer> aside = Set.copyOf(Comparison.roundsSetAside(study, runs));
        var tasks = new ArrayList<Task>();
        List<String> ids = study.candidates().stream().map(Candidate::id).toList();
        int counting = 0;
        for (int round = 1; counting < wanted && round <= 2 * wanted; round++) {
            int position = 0;
            counting += aside.contains(round) ? 0 : 1;
            int number = round;
            for (String id : Rounds.order(ids, study.plan().seed(), round)) {
                position++;
                boolean done = runs.stream().anyMatch(run -> run.round() == number && run.candidate().equals(id)
                        && run.studyDigest().equals(digest) && !(run.standing() instanceof Standing.NotMade));
                if (!done) {
                    tasks.add(new Task(round, position, study.candidate(id).orElseThrow()));
                }
            }
        }
        return List.copyOf(tasks);
    }

    /** How many rounds are wanted where one more is to count than do now. */
    public static int firstOpenRound(Study study, List<RunRecord> runs) {
        int wanted = 1;
        while (remaining(study, runs, wanted).isEmpty()) {
            wanted++;
        }
        return wanted;
    }

    /**
     * Has the generator warmed up before the first run, with the answers of a rehearsal where there is one. Before {@link #run}.
     */
    public void warmUp(Optional<Rehearsal> rehearsal) {
        answers = SelfCheck.answers(rehearsal, digest);
        warmsUp = true;
    }

    private void warmUp() {
        if (!warmsUp) {
            return;
        }
        try {
            for (Candidate asked : SelfCheck.oneOfEachWay(study.candidates())) {
                EngineWarmUp.of(maker, order(asked, study.load(), study.plan().seed()), secrets,
                        SelfCheck.answersTo(asked, answers));
            }
        } catch (UnusableCall | IllegalStateException cause) {
            // told again, with the candidate, by the first run
            LOG.warn("the generator was not warmed up", cause);
        }
    }

    private LoadOrder order(Candidate candidate, LoadProfile load, long seed) {
        return new LoadOrder(candidate.address(), candidate.access(),
                study.workload().in(candidate.address().protocol()), load, seed, LoadOrder.defaultLanes())
                .paced(study.plan().pacing()).beside(processorsOfCandidates(study));
    }

    /** Processors on which the study keeps candidates that it launches; lanes keep off those of all, so that each meets the same. */
    public static List<Integer> processorsOfCandidates(Study study) {
        var kept = new BitSet();
        study.candidates().stream().flatMap(candidate -> candidate.launch().stream())
                .flatMap(launch -> launch.processors().stream()).map(set -> Launch.processors(set)).forEach(kept::or);
        return kept.stream().boxed().toList();
    }

    /** Keeps with every run what load the machine can make. Before {@link #run}. */
    public void keep(Capacity found) {
        capacity = Optional.of(found);
    }

    /**
     * Measures until {@code wanted} rounds count, and returns when that is done, {@link #stop()} was called, or every run failed for the
     * same reason.
     *
     * @return the runs made, in order
     */
    public List<RunRecord> run(int wanted) {
        machine = new LinkedHashMap<>(Machine.describe());
        capacity.ifPresent(found -> machine.put("makes-calls-per-second", Long.toString(Math.round(found.beside()))));
        last = wanted;
        if (!untried(Set.of()).isEmpty()) {
            warmUp();
        }
        var made = new ArrayList<RunRecord>();
        Map<String, StreamDigest> streams = new ConcurrentHashMap<>();
        store.runs().stream().filter(run -> run.studyDigest().equals(digest) && run.outcome() == RunOutcome.COMPLETE)
                .forEach(run -> run.stream()
                        .ifPresent(stream -> streams.putIfAbsent(streamKey(run.round(), OptionalDouble.empty()),
                                stream)));
        long begun = System.nanoTime();
        var control = Control.ofUser(studyFolder, study.workload());
        Set<Task> tried = new HashSet<>();
        int number = 0;
        for (List<Task> tasks = untried(tried); !tasks.isEmpty() && !stopping; tasks = untried(tried)) {
            List<Task> next = atOnce(tasks);
            int of = number + tasks.size();
            turn = Turn.GO_ON;
            made.addAll(next.size() == 1
                    ? List.of(one(next.getFirst(), number, of, control, streams, begun))
                    : together(next, number, of, control, streams, begun));
            number += next.size();
            if (turn != Turn.REDO || stopping) {
                tried.addAll(next);
            }
            turn = Turn.GO_ON;
            stopping |= made.stream().anyMatch(this::endsCampaign);
            gaveUp = whyInVain(made);
            stopping |= gaveUp.isPresent();
            pause(!untried(tried).isEmpty());
        }
        return List.copyOf(made);
    }

    /** Why the campaign ended itself: every run failed for one reason, and so would the others. */
    public Optional<String> gaveUp() {
        return gaveUp;
    }

    /** The reason for which all runs so far failed, after two of each candidate. */
    private Optional<String> whyInVain(List<RunRecord> made) {
        List<String> reasons = made.stream().map(RunRecord::reason).distinct().toList();
        boolean inVain = made.size() >= 2 * study.candidates().size() && made.size() > 2
                && made.stream().allMatch(run -> run.outcome() == RunOutcome.FAILED)
                && reasons.size() <= study.candidates().size();
        return inVain ? Optional.of(String.join("; ", reasons)) : Optional.empty();
    }

    /** Whether an adaptive plan has come to its end: every deciding pair is settled, by a test that is valid at any stop. */
    public boolean isSettled() {
        return study.plan().isAdaptive() && isSettled(study, store.runs());
    }

    private static boolean isSettled(Study study, List<RunRecord> runs) {
        List<PairComparison> deciding = Comparison.of(study, runs).pairs().stream().filter(PairComparison::deciding)
                .toList();
        return deciding.size() == study.pairs().size() * study.question().deciders().size()
                && deciding.stream().allMatch(pair -> pair.outcome().isSettled());
    }

    /** What is still to be made and was not tried in this campaign; nothing where an adaptive plan has come to its end. */
    private List<Task> untried(Set<Task> tried) {
        if (isSettled()) {
            return List.of();
        }
        return remaining(study, store.runs(), last).stream().filter(task -> !tried.contains(task)).toList();
    }

    /** Where candidates are measured together, the tasks of a round; else one. */
    private List<Task> atOnce(List<Task> tasks) {
        int round = tasks.getFirst().round();
        return study.plan().together()
                ? tasks.stream().filter(task -> task.round() == round).toList()
                : List.of(tasks.getFirst());
    }

    private List<RunRecord> together(List<Task> tasks, int index, int of, Control control,
            Map<String, StreamDigest> streams, long begun) {
        var made = new ConcurrentHashMap<Integer, RunRecord>();
        var threads = new ArrayList<Thread>();
        for (int i = 0; i < tasks.size(); i++) {
            int number = i;
            Thread thread = Thread.ofPlatform().name("kadrem-run-" + tasks.get(i).candidate().id()).start(() -> {
                made.put(number, one(tasks.get(number), index + number, of, control, streams, begun));
            });
            threads.add(thread);
        }
        for (Thread thread : threads) {
            boolean ended = false;
            while (!ended) {
                try {
                    thread.join();
                    ended = true;
                } catch (InterruptedException _) {
                    // the runs are told by stop() themselves, and are waited for
                    stopping = true;
                }
            }
        }
        return new TreeMap<>(made).values().stream().toList();
    }

    /** Whether a run was ended by a rule after which nothing further is to be measured. */
    private boolean endsCampaign(RunRecord run) {
        return run.outcome() == RunOutcome.ENDED_BY_RULE && study.load().course().stopRules().stream()
                .anyMatch(rule -> rule.endsCampaign() && run.reason().startsWith(rule.words()));
    }

    private static String streamKey(int round, OptionalDouble level) {
        return round + (level.isPresent() ? " at " + level.getAsDouble() : "");
    }

    /** Ends the runs under way and the campaign; what was measured stays. Any thread. */
    public void stop() {
        stopping = true;
        hold(false);
        endCurrent();
    }

    /** Ends the runs under way; the campaign goes on with the next. Any thread. */
    public void skip() {
        turn = Turn.SKIP;
        endCurrent();
    }

    /** Ends the runs under way and makes them again. Any thread. */
    public void redo() {
        turn = Turn.REDO;
        endCurrent();
    }

    /** Whether the campaign waits before it begins the next run; the one under way goes on. Any thread. */
    public void hold(boolean wait) {
        synchronized (waiting) {
            held = wait;
            waiting.notifyAll();
        }
    }

    /** Goes on with further rounds after those that were asked for. Any thread. */
    public void addRounds(int more) {
        last += more;
    }

    private void endCurrent() {
        current.forEach(MeasuredRun::stop);
        synchronized (waiters) {
            waiters.forEach(Thread::interrupt);
        }
    }

    /** The pause between two runs, and the wait that was asked for; there is no run to skip or to make again in it. */
    private void pause(boolean more) {
        for (boolean over = !more; !over && !stopping;) {
            try (var _ = new Waiting()) {
                if (study.plan().pause().isPositive()) {
                    Thread.sleep(study.plan().pause());
                }
                synchronized (waiting) {
                    while (held && !stopping) {
                        waiting.wait();
                    }
                }
                over = true;
            } catch (InterruptedException _) {
                stopping |= turn == Turn.GO_ON;
                turn = Turn.GO_ON;
            }
        }
    }

    private RunRecord one(Task task, int index, int of, Control control, Map<String, StreamDigest> streams,
            long begun) {
        String id = UUID.randomUUID().toString().substring(0, 8);
        ProcessHandle self = ProcessHandle.current();
        var ids = new RunRecord.Processes(self.pid(), CandidateProcess.started(self), 0, 0);
        RunRecord record = RunRecord.begun(id, task.round(), task.candidate().id(), task.position(),
                Rounds.streamSeed(study.plan().seed(), task.round()), digest, clock.instant(), machine, ids)
                .sealed(Seal.of(study));
        listener.runBegins(record, index + 1, of, left(index, of, begun));
        // a folder that cannot be written ends the campaign before anything is launched
        RunJournal opened = store.begin(record, study.workload().calls().stream().map(Call::name).toList(),
                (int) study.load().warmUp().toSeconds());
        RunRecord ended;
        try (RunJournal journal = opened) {
            ended = new OneRun(task.candidate(), control, journal, streams).make(record);
        } catch (RuntimeException failure) {
            // what was measured could not be kept to its end; the next run may have more luck
            LOG.error("run {} could not be kept", record.folderName(), failure);
            ended = record.withOutcome(RunOutcome.FAILED, "Kadrem itself failed: " + failure.getMessage(),
                    clock.instant());
        }
        listener.runEnds(ended, index + 1, of, left(index + 1, of, begun));
        return ended;
    }

    /** Time left: the mean of the runs so far, but no less than the load itself takes, since failed runs are short. */
    private Duration left(int done, int of, long begun) {
        int levels = study.load().course().search().map(LevelSearch::most).orElse(1);
        Duration load = study.load().total().multipliedBy(levels).plus(study.plan().pause());
        Duration assumed = load.plus(ASSUMED_OVERHEAD);
        Duration mean = done > 0 ? Duration.ofNanos((System.nanoTime() - begun) / done) : assumed;
        // a search may end after any of its levels
        boolean tooShort = levels == 1 && mean.compareTo(load) < 0;
        return (tooShort ? assumed : mean).multipliedBy(of - done);
    }

    /** One run from launch to stop. */
    private final class OneRun {
        private final Candidate candidate;
        private final Control control;
        private final RunJournal journal;
        private final Map<String, StreamDigest> streams;
        /** Also asked for by the threads of the watch. */
        private volatile @Nullable CandidateProcess process;
        private Watching watching = Watching.begin(List.of(), Duration.ZERO);

        OneRun(Candidate candidate, Control control, RunJournal journal, Map<String, StreamDigest> streams) {
            this.candidate = candidate;
            this.control = control;
            this.journal = journal;
            this.streams = streams;
        }

        RunRecord make(RunRecord begun) {
            RunRecord record = begun;
            try {
                record = bringUp(record);
                journal.record(record);
                record = watchedMeasuring(record);
            } catch (CandidateFailure failure) {
                record = withLastOutput(record).withOutcome(failure.outcome(), String.valueOf(failure.getMessage()),
                        clock.instant());
            } catch (InterruptedException _) {
                record = record.withOutcome(RunOutcome.STOPPED, turn.words() + " before the load began",
                        clock.instant());
            } catch (RuntimeException failure) {
                LOG.error("run {} broke down", record.folderName(), failure);
                record = withLastOutput(record).withOutcome(RunOutcome.FAILED, "Kadrem itself failed: " + failure,
                        clock.instant());
            } finally {
                stopCandidate();
            }
            journal.record(record);
            return record;
        }

        private RunRecord bringUp(RunRecord record) throws CandidateFailure, InterruptedException {
            var known = new AtomicReference<>(record);
            try (var waiting = new Waiting()) {
                Optional<CandidateProcess> launched = new Launching(studyFolder, kadrem, control)
                        .bringUp(candidate,
                                false, record.id(), started -> waiting.uninterrupted(() -> {
                                    process = started;
                                    known.set(known.get().withProcesses(started.ids()));
                                    journal.record(known.get());
                                }), step -> listener.step(record, step));
                return known.get().withFingerprint(Fingerprint.of(candidate, launched, studyFolder, control));
            }
        }

        /** The watch begins with the idle stretch and ends with the load. */
        private RunRecord watchedMeasuring(RunRecord record) throws CandidateFailure, InterruptedException {
            var sources = new HostSources(studyFolder, secrets, HostKeys.ofUser(), this::launchedPid);
            try (Watching begun = Watching.begin(sources.of(candidate), study.plan().idle())) {
                watching = begun;
                if (study.plan().idle().isPositive()) {
                    listener.step(record, "watching the hosts at rest");
                    try (var _ = new Waiting()) {
                        begun.rest(study.plan().idle());
                    }
                }
                RunRecord measured = measure(record);
                return measured.withWatch(begun.end());
            }
        }

        private OptionalLong launchedPid() {
            CandidateProcess launched = process;
            return launched == null ? OptionalLong.empty() : OptionalLong.of(launched.pid());
        }

        private RunRecord measure(RunRecord record) throws CandidateFailure, InterruptedException {
            listener.step(record, "measuring");
            Optional<LevelSearch> search = study.load().course().search();
            return search.isPresent()
                    ? search(record, new Levels(search.get(), study.question().requirements()))
                    : measureOnce(record);
        }

        private RunRecord measureOnce(RunRecord record) throws CandidateFailure {
            MeasuredRun.Result result = load(record, study.load(), record.streamSeed(), 0);
            Optional<String> dead = dead();
            if (dead.isPresent()) {
                throw new CandidateFailure(RunOutcome.DIED, "it " + dead.get() + " during the load");
            }
            RunRecord known = record.withGenerator(result.generator());
            if (result.stop().isPresent()) {
                return known.withResult(result.load().stream(), result.figures(), result.soundness())
                        .withOutcome(RunOutcome.ENDED_BY_RULE, result.stop().get().words(), clock.instant());
            }
            if (result.load().stopped()) {
                return known.withOutcome(RunOutcome.STOPPED, turn.words(), clock.instant());
            }
            return known.withResult(result.load().stream(), result.figures(), findings(record, result,
                    OptionalDouble.empty())).withOutcome(RunOutcome.COMPLETE, "", clock.instant());
        }

        /** Puts one load on the candidate, and records it. */
        private MeasuredRun.Result load(RunRecord record, LoadProfile load, long seed, int fromSecond)
                throws CandidateFailure {
            var telling = new MeasuredRun.Telling(journal, live(record), study.judgement().limits(),
                    study.question().metrics(), fromSecond);
            CandidateProcess launched = process;
            try (var run = MeasuredRun.prepare(maker, order(candidate, load, seed), launchedPid(),
                    () -> launched == null || launched.isAlive(),
                    telling, secrets, watching)) {
                current.add(run);
                if (isToEnd()) {
                    run.stop();
                }
                try {
                    return run.run();
                } finally {
                    current.remove(run);
                }
            } catch (UnusableCall cause) {
                throw new CandidateFailure(String.valueOf(cause.getMessage()));
            }
        }

        private MeasuredRun.Live live(RunRecord record) {
            return new MeasuredRun.Live() {
                @Override
                public void second(SecondSummary second) {
                    listener.second(record, second);
                }

                @Override
                public void watched(WatchReading reading) {
                    listener.watched(record, reading);
                }

                @Override
                public void host(HostSample sample) {
                    listener.host(record, sample);
                }

                @Override
                public void exchange(Exchange exchange) {
                    listener.exchange(record, exchange);
                }
            };
        }

        /** How the candidate's process ended, if it did. */
        private Optional<String> dead() {
            CandidateProcess launched = process;
            return launched == null || launched.isAlive() ? Optional.empty() : Optional.of(launched.howItEnded());
        }

        private List<Soundness.Finding> findings(RunRecord record, MeasuredRun.Result result, OptionalDouble level) {
            var findings = new ArrayList<>(result.soundness());
            StreamDigest stream = result.load().stream();
            StreamDigest first = streams.putIfAbsent(streamKey(record.round(), level), stream);
            if (first != null) {
                findings.add(Soundness.sameStream(first.match(stream) == StreamDigest.Match.SAME));
            }
            return findings;
        }

        /** Level after level; each is a result of its own, and the best of them stands for the run. */
        private RunRecord search(RunRecord begun, Levels levels) throws CandidateFailure, InterruptedException {
            RunRecord record = begun;
            var results = new ArrayList<LevelResult>();
            Optional<StreamDigest> stream = Optional.empty();
            int fromSecond = 0;
            for (OptionalDouble next = levels.next(results); next.isPresent(); next = levels.next(results)) {
                double level = next.getAsDouble();
                if (!results.isEmpty() && study.load().course().search().orElseThrow() instanceof LevelSearch.Ceiling) {
                    stopCandidate();
                    record = bringUp(record);
                }
                listener.step(record, "measuring at " + levelWords(level));
                MeasuredRun.Result result = load(record, study.load().at(level),
                        SplitMix64.mix(record.streamSeed() + Double.doubleToLongBits(level)), fromSecond);
                stream = stream.or(() -> Optional.of(result.load().stream()));
                Optional<String> dead = dead();
                if (dead.isPresent()) {
                    results.add(new LevelResult(level, fromSecond, Optional.empty(), List.of(),
                            LevelResult.Step.DIED, "died at " + levelWords(level) + ": it " + dead.get()));
                } else if (result.stop().isPresent()) {
                    results.add(new LevelResult(level, fromSecond, Optional.of(result.figures()), result.soundness(),
                            LevelResult.Step.BROKEN, result.stop().get().words()));
                } else if (result.load().stopped()) {
                    return record.withLevels(results).withOutcome(RunOutcome.STOPPED, turn.words(),
                            clock.instant());
                } else {
                    results.add(levels.judge(level, fromSecond, result.figures(),
                            findings(record, result, OptionalDouble.of(level)), results));
                }
                record = record.withGenerator(result.generator()).withLevels(results);
                journal.record(record);
                fromSecond += (int) study.load().total().toSeconds() + 1;
            }
            return concluded(record, levels, results, stream);
        }

        private RunRecord concluded(RunRecord record, Levels levels, List<LevelResult> results,
                Optional<StreamDigest> stream) {
            Optional<LevelResult> best = levels.best(results);
            LevelResult last = results.getLast();
            boolean died = last.step() == LevelResult.Step.DIED;
            String words = died ? last.verdict() : "";
            RunRecord told = died ? withLastOutput(record) : record;
            RunOutcome without = died
                    ? RunOutcome.DIED
                    : last.step() == LevelResult.Step.UNSOUND ? RunOutcome.FAILED : RunOutcome.NO_LEVEL;
            return best.isEmpty() || stream.isEmpty()
                    ? told.withOutcome(without, died ? words : "no level passed: " + results.getFirst().verdict(),
                            clock.instant())
                    : told.withResult(stream.get(), best.get().figures().orElseThrow(), best.get().soundness())
                            .withOutcome(RunOutcome.COMPLETE, words, clock.instant());
        }

        private String levelWords(double level) {
            return Written.significant(level)
                    + (study.load() instanceof LoadProfile.Open ? " arrivals/s" : " users");
        }

        private RunRecord withLastOutput(RunRecord record) {
            CandidateProcess launched = process;
            return launched == null ? record : record.withLastOutput(launched.lastLines());
        }

        private void stopCandidate() {
            CandidateProcess launched = process;
            if (launched != null) {
                launched.stop();
            }
        }
    }
}
