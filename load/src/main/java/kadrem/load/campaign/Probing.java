package kadrem.load.campaign;

import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Set;
import java.util.UUID;
import java.util.function.BiConsumer;
import java.util.function.Predicate;

import kadrem.core.measure.RunFigures;
import kadrem.core.measure.RunJournal;
import kadrem.core.proposal.Probe;
import kadrem.core.study.Candidate;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.ThinkTime;
import kadrem.core.study.Workload;
import kadrem.load.content.UnusableCall;
import kadrem.load.drive.Secrets;
import kadrem.load.engine.LoadMaker;

/**
 * Finds out what candidates bear, gently: a few users call without pauses for a second, then twice as many, as long as that brings more
 * and no call fails. One candidate after the other, each launched, reset and stopped as in a run.
 */
public final class Probing {
    private static final List<Integer> USERS = List.of(1, 2, 4, 8);
    private static final Duration SECOND = Duration.ofSeconds(1);
    /** Twice the users bring less than this where they only wait for each other. */
    private static final double STILL_GROWS = 1.1;
    /** Calls a second beyond which more would change nothing about the load that is proposed. */
    private static final double ENOUGH = 5_000;

    private final MeasuredStudy study;
    private final Path studyFolder;
    private final String kadrem;
    private final LoadMaker maker;
    private final Predicate<Candidate> isUp;
    private final BiConsumer<Candidate, Step> told;

    /**
     * @param kadrem what {@code {{kadrem}}} in a launch command stands for
     * @param maker where the load is made
     * @param isUp candidates that the user has launched already, which are used as they are and left running
     * @param told of each step, on the calling thread
     */
    public Probing(MeasuredStudy study, Path studyFolder, String kadrem, LoadMaker maker, Predicate<Candidate> isUp,
            BiConsumer<Candidate, Step> told) {
        this.study = study;
        this.studyFolder = studyFolder;
        this.kadrem = kadrem;
        this.maker = maker;
        this.isUp = isUp;
        this.told = told;
    }

    /**
     * Probes all candidates.
     *
     * @throws InterruptedException if the thread was interrupted; what was launched is stopped
     */
    public List<Probe> run() throws InterruptedException {
        var probes = new ArrayList<Probe>();
        var control = Control.ofUser(studyFolder, study.workload());
        for (Candidate candidate : study.candidates()) {
            probes.add(of(candidate, control));
        }
        return List.copyOf(probes);
    }

    private Probe of(Candidate candidate, Control control) throws InterruptedException {
        Optional<CandidateProcess> launched = Optional.empty();
        var steps = new ArrayList<Probe.Step>();
        String problem = "";
        try {
            launched = new Launching(studyFolder, kadrem, control).bringUp(candidate, isUp.test(candidate),
                    "probe-" + UUID.randomUUID(), _ -> {
                    }, step -> told.accept(candidate, step));
            // a second of one user that does not count: it meets a generator and a candidate that are not warm
            told.accept(candidate, Step.Plain.WARMING_UP);
            step(candidate, 1);
            for (int users : USERS) {
                told.accept(candidate, new Step.AtLevel(users, users == 1 ? "user" : "users"));
                steps.add(step(candidate, users));
                if (Thread.interrupted()) {
                    throw new InterruptedException();
                }
                if (!isWorthMore(steps)) {
                    break;
                }
            }
        } catch (CandidateFailure | UnusableCall cause) {
            problem = String.valueOf(cause.getMessage());
        } finally {
            launched.ifPresent(CandidateProcess::stop);
        }
        return new Probe(candidate.id(), steps, problem);
    }

    /** Whether twice the users of the last step may bring more, without harm. */
    static boolean isWorthMore(List<Probe.Step> steps) {
        Probe.Step last = steps.getLast();
        boolean grows = steps.size() == 1
                || last.callsPerSecond() > steps.get(steps.size() - 2).callsPerSecond() * STILL_GROWS;
        return last.isBorne() && grows && last.callsPerSecond() < ENOUGH;
    }

    private Probe.Step step(Candidate candidate, int users) throws UnusableCall {
        var load = new LoadProfile.Closed(users, ThinkTime.NONE, Duration.ZERO, SECOND, study.load().timeout());
        Workload workload = EngineWarmUp.withoutPauses(study.workload(), true);
        var telling = new MeasuredRun.Telling(RunJournal.NOT_KEPT, _ -> {
        }, Map.of(), Set.of(), 0);
        try (MeasuredRun run = MeasuredRun.prepare(maker,
                CampaignContext.order(study.withWorkload(workload), candidate, load, study.plan().seed()),
                OptionalLong.empty(), () -> true, telling, Secrets.ofProcess(studyFolder))) {
            RunFigures figures = run.run().figures();
            return new Probe.Step(users, figures.throughput(), figures.response().p50(), figures.errorShare());
        }
    }
}
