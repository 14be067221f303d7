package kadrem.load.campaign;

import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.OptionalLong;
import java.util.concurrent.atomic.AtomicReference;

import kadrem.core.measure.Exchange;
import kadrem.core.measure.HostSample;
import kadrem.core.measure.RunJournal;
import kadrem.core.measure.RunOutcome;
import kadrem.core.measure.RunRecord;
import kadrem.core.measure.SecondSummary;
import kadrem.core.measure.Soundness;
import kadrem.core.measure.StopWatch;
import kadrem.core.measure.WatchReading;
import kadrem.core.study.Candidate;
import kadrem.core.study.LevelSearch;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.StopRule;
import kadrem.load.content.UnusableCall;
import kadrem.load.host.HostSources;
import kadrem.load.host.Watching;
import kadrem.load.host.remote.HostKeys;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** One run of a candidate from launch to stop. One thread, but for the watch, which asks for the process. */
final class CandidateRun {
    private static final Logger LOG = LoggerFactory.getLogger(CandidateRun.class);

    private final CampaignContext campaign;
    private final Candidate candidate;
    private final RunJournal journal;
    /** Also asked for by the threads of the watch. */
    private volatile @Nullable CandidateProcess process;
    private Watching watching = Watching.begin(List.of(), Duration.ZERO);
    private Optional<StopRule> endedBy = Optional.empty();

    CandidateRun(CampaignContext campaign, Candidate candidate, RunJournal journal) {
        this.campaign = campaign;
        this.candidate = candidate;
        this.journal = journal;
    }

    /** The stop rule that ended the run, if one did. */
    Optional<StopRule> endedBy() {
        return endedBy;
    }

    /** Makes the run, and keeps it in the journal. A run that fails is a record, too. */
    RunRecord make(RunRecord begun) {
        RunRecord record = begun;
        try {
            record = bringUp(record);
            journal.record(record);
            record = watchedMeasuring(record);
        } catch (CandidateFailure failure) {
            record = ended(withLastOutput(record), failure.outcome(), String.valueOf(failure.getMessage()));
        } catch (InterruptedException _) {
            record = ended(record, RunOutcome.STOPPED,
                    campaign.interruption().turn().words() + " before the load began");
        } catch (RuntimeException failure) {
            LOG.error("run {} broke down", record.folderName(), failure);
            record = ended(withLastOutput(record), RunOutcome.FAILED, "Kadrem itself failed: " + failure);
        } finally {
            stopCandidate();
        }
        journal.record(record);
        return record;
    }

    RunRecord ended(RunRecord record, RunOutcome outcome, String reason) {
        return record.withOutcome(outcome, reason, campaign.clock().instant());
    }

    /** Launches the candidate where the study says how, and resets it. */
    RunRecord bringUp(RunRecord record) throws CandidateFailure, InterruptedException {
        var known = new AtomicReference<>(record);
        try (var waiting = campaign.interruption().waiting()) {
            Optional<CandidateProcess> launched = new Launching(campaign.studyFolder(), campaign.kadrem(),
                    campaign.control()).bringUp(candidate, false, record.id(),
                            started -> waiting.uninterrupted(() -> {
                                process = started;
                                known.set(known.get().withProcesses(started.ids()));
                                journal.record(known.get());
                            }), step -> tell(record, step));
            return known.get().withFingerprint(
                    Fingerprint.of(candidate, launched, campaign.studyFolder(), campaign.control()));
        }
    }

    void tell(RunRecord record, Step step) {
        campaign.listener().step(record, step);
    }

    /** The watch begins with the idle stretch and ends with the load. */
    private RunRecord watchedMeasuring(RunRecord record) throws CandidateFailure, InterruptedException {
        var sources = new HostSources(campaign.studyFolder(), campaign.secrets(), HostKeys.ofUser(),
                this::launchedPid);
        Duration idle = campaign.study().plan().idle();
        try (Watching begun = Watching.begin(sources.of(candidate), idle)) {
            watching = begun;
            if (idle.isPositive()) {
                tell(record, Step.Plain.AT_REST);
                try (var _ = campaign.interruption().waiting()) {
                    begun.rest(idle);
                }
            }
            return measure(record).withWatch(begun.end());
        }
    }

    private OptionalLong launchedPid() {
        CandidateProcess launched = process;
        return launched == null ? OptionalLong.empty() : OptionalLong.of(launched.pid());
    }

    private RunRecord measure(RunRecord record) throws CandidateFailure, InterruptedException {
        tell(record, Step.Plain.MEASURING);
        Optional<LevelSearch> search = campaign.study().load().course().search();
        return search.isPresent()
                ? new LevelRun(campaign, this, journal, search.get()).make(record)
                : measureOnce(record);
    }

    private RunRecord measureOnce(RunRecord record) throws CandidateFailure {
        MeasuredRun.Result result = load(record, campaign.study().load(), record.identity().streamSeed(), 0);
        Optional<String> dead = dead();
        if (dead.isPresent()) {
            throw new CandidateFailure(RunOutcome.DIED, "it " + dead.get() + " during the load");
        }
        RunRecord known = record.withGenerator(result.generator());
        if (result.stop().isPresent()) {
            StopWatch.Stop stop = result.stop().get();
            endedBy = Optional.of(stop.rule());
            return ended(known.withResult(result.load().stream(), result.figures(), result.soundness()),
                    RunOutcome.ENDED_BY_RULE, stop.words());
        }
        if (result.load().stopped()) {
            return ended(known, RunOutcome.STOPPED, campaign.interruption().turn().words());
        }
        return ended(known.withResult(result.load().stream(), result.figures(),
                findings(record, result, OptionalDouble.empty())), RunOutcome.COMPLETE, "");
    }

    /** Puts one load on the candidate, and records it. */
    MeasuredRun.Result load(RunRecord record, LoadProfile load, long seed, int fromSecond) throws CandidateFailure {
        var telling = new MeasuredRun.Telling(journal, live(record), campaign.study().judgement().limits(),
                campaign.study().question().metrics(), fromSecond);
        CandidateProcess launched = process;
        try (var run = MeasuredRun.prepare(campaign.maker(), campaign.order(candidate, load, seed), launchedPid(),
                () -> launched == null || launched.isAlive(), telling, campaign.secrets(), watching)) {
            return campaign.interruption().run(run);
        } catch (UnusableCall cause) {
            throw new CandidateFailure(String.valueOf(cause.getMessage()));
        }
    }

    private MeasuredRun.Live live(RunRecord record) {
        CampaignListener listener = campaign.listener();
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
    Optional<String> dead() {
        CandidateProcess launched = process;
        return launched == null || launched.isAlive() ? Optional.empty() : Optional.of(launched.howItEnded());
    }

    /** What was found, with whether the same was sent as to the round's other candidates. */
    List<Soundness.Finding> findings(RunRecord record, MeasuredRun.Result result, OptionalDouble level) {
        var findings = new ArrayList<>(result.soundness());
        campaign.streams().same(record.round(), level, result.load().stream()).ifPresent(findings::add);
        return findings;
    }

    RunRecord withLastOutput(RunRecord record) {
        CandidateProcess launched = process;
        return launched == null ? record : record.withLastOutput(launched.lastLines());
    }

    void stopCandidate() {
        CandidateProcess launched = process;
        if (launched != null) {
            launched.stop();
        }
    }
}
