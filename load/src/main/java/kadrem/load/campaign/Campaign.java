package kadrem.load.campaign;

import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.UUID;

import kadrem.core.measure.RunJournal;
import kadrem.core.measure.RunOutcome;
import kadrem.core.measure.RunRecord;
import kadrem.core.measure.RunStore;
import kadrem.core.measure.Soundness;
import kadrem.core.plan.LoadDigest;
import kadrem.core.plan.Rounds;
import kadrem.core.plan.StreamDigest;
import kadrem.core.study.Call;
import kadrem.core.study.Candidate;
import kadrem.core.study.Study;
import kadrem.load.engine.LoadOrder;
import kadrem.load.host.Machine;
import kadrem.load.drive.Secrets;
import kadrem.load.drive.UnusableCall;
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
    private final RunStore store;
    private final Clock clock;
    private final CampaignListener listener;
    /** Found out when the campaign runs, which takes too long for the thread that makes it. */
    private Map<String, String> machine = Map.of();
    private final String digest;
    private final Secrets secrets;
    private volatile boolean stopping;
    private volatile @Nullable MeasuredRun current;
    private volatile @Nullable Thread worker;

    /** One run that is to be made. */
    public record Task(int round, int position, Candidate candidate) {
    }

    /**
     * @param studyFolder folder to which working folders of launches are relative
     * @param kadrem what {@code {{kadrem}}} in a launch command stands for
     */
    public Campaign(Study study, Path studyFolder, String kadrem, RunStore store, Clock clock,
            CampaignListener listener) {
        this.study = study;
        this.studyFolder = studyFolder;
        this.kadrem = kadrem;
        this.store = store;
        this.clock = clock;
        this.listener = listener;
        digest = LoadDigest.of(study);
        secrets = Secrets.ofProcess(studyFolder);
    }

    /**
     * The runs still to be made so that rounds 1 to {@code lastRound} are whole: a complete run of the same workload and
     * load is not made again, one that failed, was stopped or cut off is.
     */
    public static List<Task> remaining(Study study, List<RunRecord> runs, int lastRound) {
        String digest = LoadDigest.of(study);
        var tasks = new ArrayList<Task>();
        List<String> ids = study.candidates().stream().map(Candidate::id).toList();
        for (int round = 1; round <= lastRound; round++) {
            int position = 0;
            for (String id : Rounds.order(ids, study.plan().seed(), round)) {
                position++;
                int wanted = round;
                boolean done = runs.stream().anyMatch(run -> run.round() == wanted && run.candidate().equals(id)
                        && run.outcome() == RunOutcome.COMPLETE && run.studyDigest().equals(digest));
                if (!done) {
                    tasks.add(new Task(round, position, study.candidate(id).orElseThrow()));
                }
            }
        }
        return List.copyOf(tasks);
    }

    /** The number of the first round that is not whole. */
    public static int firstOpenRound(Study study, List<RunRecord> runs) {
        int round = 1;
        while (remaining(study, runs, round).isEmpty()) {
            round++;
        }
        return round;
    }

    /**
     * Measures until rounds 1 to {@code lastRound} are whole, and returns when that is done or {@link #stop()} was called.
     *
     * @return the runs made, in order
     */
    public List<RunRecord> run(int lastRound) {
        worker = Thread.currentThread();
        machine = Machine.describe();
        List<Task> tasks = remaining(study, store.runs(), lastRound);
        var made = new ArrayList<RunRecord>();
        var streams = new HashMap<Integer, StreamDigest>();
        store.runs().stream().filter(run -> run.studyDigest().equals(digest) && run.outcome() == RunOutcome.COMPLETE)
                .forEach(run -> run.stream().ifPresent(stream -> streams.putIfAbsent(run.round(), stream)));
        long begun = System.nanoTime();
        try (var control = new Control(studyFolder)) {
            for (int i = 0; i < tasks.size() && !stopping; i++) {
                made.add(one(tasks.get(i), i, tasks.size(), control, streams, begun));
                pause(i < tasks.size() - 1);
            }
        } finally {
            worker = null;
            Thread.interrupted();
        }
        return List.copyOf(made);
    }

    /** Ends the run under way and the campaign; what was measured stays. Any thread. */
    public void stop() {
        stopping = true;
        MeasuredRun measuring = current;
        if (measuring != null) {
            measuring.stop();
        } else {
            Thread waiting = worker;
            if (waiting != null) {
                waiting.interrupt();
            }
        }
    }

    private void pause(boolean more) {
        if (more && !stopping && study.plan().pause().isPositive()) {
            try {
                Thread.sleep(study.plan().pause());
            } catch (InterruptedException _) {
                stopping = true;
            }
        }
    }

    private RunRecord one(Task task, int index, int of, Control control, Map<Integer, StreamDigest> streams,
            long begun) {
        String id = UUID.randomUUID().toString().substring(0, 8);
        ProcessHandle self = ProcessHandle.current();
        var ids = new RunRecord.Processes(self.pid(), CandidateProcess.started(self), 0, 0);
        var record = new RunRecord(id, task.round(), task.candidate().id(), task.position(),
                Rounds.streamSeed(study.plan().seed(), task.round()), digest, clock.instant(), Optional.empty(),
                RunOutcome.RUNNING, "", List.of(), Map.of(), machine, ids, Optional.empty(), Optional.empty(),
                List.of());
        listener.runBegins(record, index + 1, of, left(index, of, begun));
        RunJournal journal = store.begin(record, study.workload().calls().stream().map(Call::name).toList(),
                (int) study.load().warmUp().toSeconds());
        RunRecord ended;
        try {
            ended = new OneRun(task.candidate(), control, journal, streams).make(record);
        } finally {
            journal.close();
        }
        listener.runEnds(ended, index + 1, of, left(index + 1, of, begun));
        return ended;
    }

    /** Time left: the mean of the runs so far, but no less than the load itself takes, since failed runs are short. */
    private Duration left(int done, int of, long begun) {
        Duration load = study.load().warmUp().plus(study.load().measured()).plus(study.plan().pause());
        Duration assumed = load.plus(ASSUMED_OVERHEAD);
        Duration mean = done > 0 ? Duration.ofNanos((System.nanoTime() - begun) / done) : assumed;
        return (mean.compareTo(load) < 0 ? assumed : mean).multipliedBy(of - done);
    }

    /** One run from launch to stop. */
    private final class OneRun {
        private final Candidate candidate;
        private final Control control;
        private final RunJournal journal;
        private final Map<Integer, StreamDigest> streams;
        private @Nullable CandidateProcess process;

        OneRun(Candidate candidate, Control control, RunJournal journal, Map<Integer, StreamDigest> streams) {
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
                record = measure(record);
            } catch (CandidateFailure failure) {
                record = failed(record, failure.getMessage());
            } catch (InterruptedException _) {
                record = record.withOutcome(RunOutcome.STOPPED, "stopped before the load began", clock.instant());
            } catch (RuntimeException failure) {
                LOG.error("run {} broke down", record.folderName(), failure);
                record = failed(record, "Kadrem itself failed: " + failure);
            } finally {
                stopCandidate();
            }
            journal.record(record);
            return record;
        }

        private RunRecord bringUp(RunRecord record) throws CandidateFailure, InterruptedException {
            Consent.ofUser().require(candidate.address());
            RunRecord known = record;
            Optional<CandidateProcess> launched = Optional.empty();
            if (candidate.launch().isPresent()) {
                listener.step(record, "launching");
                if (Control.answers(candidate.address())) {
                    throw new CandidateFailure("port " + candidate.address().port() + " on "
                            + candidate.address().host()
                            + " is already in use by another process; end that process, or give the candidate another"
                            + " port in its address and launch command");
                }
                CandidateProcess started = CandidateProcess.start(candidate, candidate.launch().get(), studyFolder,
                        kadrem, record.id());
                process = started;
                launched = Optional.of(started);
                known = known.withProcesses(started.ids());
                journal.record(known);
                control.awaitReady(candidate, candidate.launch().get(), started);
            } else if (!control.isReady(candidate)) {
                throw new CandidateFailure("its ready probe " + candidate.address() + candidate.ready()
                        + " does not answer with success, and the study does not say how to launch it");
            }
            listener.step(record, "resetting");
            control.reset(candidate);
            return known.withFingerprint(Fingerprint.of(candidate, launched, studyFolder, control));
        }

        private RunRecord measure(RunRecord record) throws CandidateFailure {
            listener.step(record, "measuring");
            CandidateProcess launched = process;
            OptionalLong pid = launched == null ? OptionalLong.empty() : OptionalLong.of(launched.pid());
            var order = new LoadOrder(candidate.address(), candidate.access(), study.workload(), study.load(),
                    record.streamSeed(),
                    LoadOrder.defaultLanes());
            try (var run = MeasuredRun.prepare(order, pid, () -> launched == null || launched.isAlive(), journal,
                    second -> listener.second(record, second), secrets)) {
                current = run;
                if (stopping) {
                    return record.withOutcome(RunOutcome.STOPPED, "stopped by hand", clock.instant());
                }
                MeasuredRun.Result result = run.run();
                if (launched != null && !launched.isAlive()) {
                    throw new CandidateFailure("it " + launched.howItEnded() + " during the load");
                }
                if (result.load().stopped()) {
                    return record.withOutcome(RunOutcome.STOPPED, "stopped by hand", clock.instant());
                }
                return complete(record, result);
            } catch (UnusableCall cause) {
                throw new CandidateFailure(String.valueOf(cause.getMessage()));
            } finally {
                current = null;
            }
        }

        private RunRecord complete(RunRecord record, MeasuredRun.Result result) {
            StreamDigest stream = result.load().stream();
            var findings = new ArrayList<>(result.soundness());
            StreamDigest first = streams.putIfAbsent(record.round(), stream);
            if (first != null) {
                findings.add(Soundness.sameStream(first.match(stream) == StreamDigest.Match.SAME));
            }
            return record.withResult(stream, result.figures(), findings).withOutcome(RunOutcome.COMPLETE, "",
                    clock.instant());
        }

        private RunRecord failed(RunRecord record, String reason) {
            CandidateProcess launched = process;
            RunRecord told = launched == null ? record : record.withLastOutput(launched.lastLines());
            return told.withOutcome(RunOutcome.FAILED, reason, clock.instant());
        }

        private void stopCandidate() {
            CandidateProcess launched = process;
            if (launched != null) {
                launched.stop();
            }
        }
    }
}
