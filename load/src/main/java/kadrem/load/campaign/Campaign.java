package kadrem.load.campaign;

import java.nio.file.Path;
import java.time.Clock;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.UUID;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.AtomicInteger;

import kadrem.core.measure.Capacity;
import kadrem.core.measure.RunIdentity;
import kadrem.core.measure.RunJournal;
import kadrem.core.measure.RunOutcome;
import kadrem.core.measure.RunRecord;
import kadrem.core.measure.RunStore;
import kadrem.core.plan.LoadDigest;
import kadrem.core.plan.Rounds;
import kadrem.core.rehearsal.RehearsedCall;
import kadrem.core.rehearsal.Rehearsal;
import kadrem.core.study.Call;
import kadrem.core.study.Candidate;
import kadrem.core.study.Seal;
import kadrem.core.study.StopRule;
import kadrem.core.study.MeasuredStudy;
import kadrem.load.drive.Secrets;
import kadrem.load.content.UnusableCall;
import kadrem.load.engine.LoadMaker;
import kadrem.load.host.Machine;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Measures what of a plan is not yet measured: every candidate once a round, in the round's random order, each run from
 * launch to stop. A run that fails is recorded with its reason and the campaign goes on.
 */
public final class Campaign {
    private static final Logger LOG = LoggerFactory.getLogger(Campaign.class);

    private final MeasuredStudy study;
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
    private boolean fresh;
    private final String digest;
    /** A moment in which something is not there is no reason to give up; a second one is. */
    private static final int ALIKE = 2;

    private final Secrets secrets;
    private final Interruption interruption = new Interruption();
    /** Rounds that are to count. */
    private final AtomicInteger last = new AtomicInteger();
    private volatile Optional<String> gaveUp = Optional.empty();

    /** A run that was made, and the stop rule that ended it, if one did. */
    private record Made(RunRecord run, Optional<StopRule> endedBy) {
    }

    /**
     * @param studyFolder folder to which working folders of launches are relative
     * @param maker where its loads are made, the same for all its runs
     * @param kadrem what {@code {{kadrem}}} in a launch command stands for
     */
    public Campaign(MeasuredStudy study, Path studyFolder, String kadrem, LoadMaker maker, RunStore store, Clock clock,
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
     * Has the generator warmed up before the first run, with the answers of a rehearsal where there is one. Before {@link #run}.
     *
     * @param fresh whether the generator has not made the load of a {@link SelfCheck} before
     */
    public void warmUp(Optional<Rehearsal> rehearsal, boolean fresh) {
        answers = SelfCheck.answers(rehearsal, study);
        this.fresh = fresh;
        warmsUp = true;
    }

    private void warmUp() {
        if (!warmsUp) {
            return;
        }
        try {
            for (Candidate asked : SelfCheck.oneOfEachWay(study.candidates())) {
                EngineWarmUp.of(maker, CampaignContext.order(study, asked, study.load(), study.plan().seed()), secrets,
                        SelfCheck.answersTo(asked, answers), fresh);
            }
        } catch (UnusableCall | IllegalStateException cause) {
            // told again, with the candidate, by the first run
            LOG.warn("the generator was not warmed up", cause);
        }
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
        last.set(wanted);
        if (!untried(Set.of()).isEmpty()) {
            warmUp();
        }
        var streams = new RoundStreams(
                store.runs().stream().filter(run -> run.studyDigest().equals(digest)).toList());
        var context = new CampaignContext(study, studyFolder, kadrem, maker, clock, listener, secrets,
                Control.ofUser(studyFolder, study.workload()), streams, interruption);
        var left = new TimeLeft(study);
        var made = new ArrayList<RunRecord>();
        Set<OpenRun> tried = new HashSet<>();
        for (List<OpenRun> open = untried(tried); !open.isEmpty()
                && !interruption.isStopping(); open = untried(tried)) {
            List<OpenRun> next = atOnce(open);
            interruption.begin();
            List<Made> ended = make(next, made.size(), made.size() + open.size(), context, left);
            ended.forEach(one -> made.add(one.run()));
            if (interruption.turn() != Interruption.Turn.REDO || interruption.isStopping()) {
                tried.addAll(next);
            }
            interruption.begin();
            gaveUp = whyInVain(made);
            if (gaveUp.isPresent()
                    || ended.stream().anyMatch(one -> one.endedBy().filter(StopRule::endsCampaign).isPresent())) {
                interruption.last();
            }
            if (!untried(tried).isEmpty()) {
                interruption.pause(study.plan().pause());
            }
        }
        return List.copyOf(made);
    }

    /** Whether the campaign was ended by {@link #stop()}, by a stop rule, or by itself. */
    public boolean wasStopped() {
        return interruption.isStopping();
    }

    /** Why the campaign ended itself: a candidate's runs all failed for one reason, and so would the others. */
    public Optional<String> gaveUp() {
        return gaveUp;
    }

    /**
     * Why a candidate that has never been measured did not come to it in any of its runs, after two that failed alike. That a candidate
     * which was launched does not start is its own result, and no such failure.
     */
    private Optional<String> whyInVain(List<RunRecord> made) {
        List<String> reasons = study.candidates().stream()
                .filter(one -> failsAlike(made.stream().filter(run -> run.candidate().equals(one.id())).toList()))
                .filter(one -> store.runs().stream().noneMatch(
                        run -> run.candidate().equals(one.id()) && run.studyDigest().equals(digest)
                                && run.outcome() != RunOutcome.FAILED))
                .map(one -> one.name() + ": " + made.stream().filter(run -> run.candidate().equals(one.id()))
                        .findFirst().map(RunRecord::reason).orElse(""))
                .toList();
        return reasons.isEmpty() ? Optional.empty() : Optional.of(String.join("; ", reasons));
    }

    private static boolean failsAlike(List<RunRecord> runs) {
        return runs.size() >= ALIKE && runs.stream().allMatch(run -> run.outcome() == RunOutcome.FAILED)
        // how an answer begins, which stands behind "and", may hold a time
                && runs.stream().map(run -> run.reason().split(" and ", 2)[0]).distinct().count() == 1;
    }

    /** Whether an adaptive plan has come to its end: every deciding pair is settled, by a test that is valid at any stop. */
    public boolean isSettled() {
        return OpenRun.isSettled(study, store.runs());
    }

    /** What is still to be made and was not tried in this campaign; nothing where an adaptive plan has come to its end. */
    private List<OpenRun> untried(Set<OpenRun> tried) {
        if (isSettled()) {
            return List.of();
        }
        return OpenRun.of(study, store.runs(), last.get()).stream().filter(open -> !tried.contains(open)).toList();
    }

    /** Where candidates are measured together, the runs of a round; else one. */
    private List<OpenRun> atOnce(List<OpenRun> open) {
        int round = open.getFirst().round();
        return study.plan().together()
                ? open.stream().filter(one -> one.round() == round).toList()
                : List.of(open.getFirst());
    }

    private List<Made> make(List<OpenRun> next, int index, int of, CampaignContext context, TimeLeft left) {
        if (next.size() == 1) {
            return List.of(one(next.getFirst(), index, of, context, left));
        }
        var made = new ConcurrentHashMap<Integer, Made>();
        var threads = new ArrayList<Thread>();
        for (int i = 0; i < next.size(); i++) {
            int number = i;
            threads.add(Thread.ofPlatform().name("kadrem-run-" + next.get(i).candidate().id())
                    .start(() -> made.put(number, one(next.get(number), index + number, of, context, left))));
        }
        for (Thread thread : threads) {
            boolean ended = false;
            while (!ended) {
                try {
                    thread.join();
                    ended = true;
                } catch (InterruptedException _) {
                    // the runs are told by stop() themselves, and are waited for
                    interruption.last();
                }
            }
        }
        return new TreeMap<>(made).values().stream().toList();
    }

    private Made one(OpenRun open, int index, int of, CampaignContext context, TimeLeft left) {
        RunRecord record = begun(open);
        listener.runBegins(record, index + 1, of, left.after(index, of));
        // a folder that cannot be written ends the campaign before anything is launched
        RunJournal opened = store.begin(record, study.workload().calls().stream().map(Call::name).toList(),
                (int) study.load().warmUp().toSeconds());
        Made made;
        try (RunJournal journal = opened) {
            var run = new CandidateRun(context, open.candidate(), journal);
            RunRecord ended = run.make(record);
            made = new Made(ended, run.endedBy());
        } catch (RuntimeException failure) {
            // what was measured could not be kept to its end; the next run may have more luck
            LOG.error("run {} could not be kept", record.folderName(), failure);
            made = new Made(record.withOutcome(RunOutcome.FAILED, "Kadrem itself failed: " + failure.getMessage(),
                    clock.instant()), Optional.empty());
        }
        listener.runEnds(made.run(), index + 1, of, left.after(index + 1, of));
        return made;
    }

    private RunRecord begun(OpenRun open) {
        String id = UUID.randomUUID().toString().substring(0, 8);
        ProcessHandle self = ProcessHandle.current();
        return RunRecord.begun(new RunIdentity(id, open.round(), open.candidate().id(), open.position(),
                Rounds.streamSeed(study.plan().seed(), open.round()), digest, clock.instant(), machine,
                Optional.of(Seal.of(study))),
                new RunRecord.Processes(self.pid(), CandidateProcess.started(self), 0, 0));
    }

    /** Ends the runs under way and the campaign; what was measured stays. Any thread. */
    public void stop() {
        interruption.stop();
    }

    /** Ends the runs under way; the campaign goes on with the next. Any thread. */
    public void skip() {
        interruption.skip();
    }

    /** Ends the runs under way and makes them again. Any thread. */
    public void redo() {
        interruption.redo();
    }

    /** Whether the campaign waits before it begins the next run; the one under way goes on. Any thread. */
    public void hold(boolean wait) {
        interruption.hold(wait);
    }

    /** Goes on with further rounds after those that were asked for. Any thread. */
    public void addRounds(int more) {
        last.addAndGet(more);
    }
}
