package kadrem.load.campaign;

import java.nio.file.Path;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import java.util.function.BiConsumer;
import java.util.function.Predicate;

import kadrem.core.plan.LoadDigest;
import kadrem.core.plan.LoadStream;
import kadrem.core.plan.Rounds;
import kadrem.core.rehearsal.Difference;
import kadrem.core.rehearsal.RehearsedCall;
import kadrem.core.rehearsal.Rehearsal;
import kadrem.core.study.Http;
import kadrem.core.study.AnswerPart;
import kadrem.core.study.Candidate;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Entrance;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import kadrem.load.content.AnswerComparison;
import kadrem.load.content.UnreadableContent;
import kadrem.load.drive.CallValues;
import kadrem.load.drive.Driver;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.Drivers;
import kadrem.load.drive.Rehearser;
import kadrem.load.drive.Secrets;
import kadrem.load.content.UnusableCall;
import kadrem.load.engine.CrowdOrder;
import kadrem.load.net.Transport;

/**
 * Makes every visit once with every candidate, one candidate after the other, without load, and compares their answers
 * with the baseline's. Each candidate is launched, reset and stopped as in a run.
 */
public final class Rehearsing {
    /** Visits of the stream that are looked through for one of each kind. */
    private static final long MAX_DRAWS = 1_000_000;

    private final MeasuredStudy study;
    private final Path studyFolder;
    private final String kadrem;
    private final Clock clock;
    private final Predicate<Candidate> isUp;
    private final BiConsumer<Candidate, Step> told;
    /** Values that candidates gave to a user to prove who it is. */
    private final List<String> proofs = new ArrayList<>();

    /**
     * @param kadrem what {@code {{kadrem}}} in a launch command stands for
     * @param isUp candidates that the user has launched already, which are used as they are and left running
     * @param told of each step, on the calling thread
     */
    public Rehearsing(MeasuredStudy study, Path studyFolder, String kadrem, Clock clock, Predicate<Candidate> isUp,
            BiConsumer<Candidate, Step> told) {
        this.study = study;
        this.studyFolder = studyFolder;
        this.kadrem = kadrem;
        this.clock = clock;
        this.isUp = isUp;
        this.told = told;
    }

    /**
     * Rehearses.
     *
     * @throws UnreadableContent if a path that the study ignores is no JSONPath
     * @throws InterruptedException if the thread was interrupted; what was launched is stopped
     */
    public Rehearsal run() throws UnreadableContent, InterruptedException {
        AnswerComparison comparison = AnswerComparison.under(study.agreement());
        var all = new ArrayList<Rehearsal.OfCandidate>();
        var control = Control.ofUser(studyFolder, study.workload());
        for (Candidate candidate : study.candidates()) {
            all.add(of(candidate, control));
        }
        List<Difference> differences = differences(comparison, all);
        // what users were given to prove who they are is compared, and then kept nowhere
        return new Rehearsal(clock.instant(), LoadDigest.ofWorkload(study),
                all.stream().map(one -> new Rehearsal.OfCandidate(
                        one.candidate(), one.calls().stream().map(call -> call.hiding(proofs)).toList(),
                        RehearsedCall.hidden(one.problem(), proofs))).toList(),
                differences.stream().map(one -> new Difference(one.call(), one.candidate(), one.where(),
                        RehearsedCall.hidden(one.baseline(), proofs), RehearsedCall.hidden(one.value(), proofs)))
                        .toList());
    }

    private List<Difference> differences(AnswerComparison comparison, List<Rehearsal.OfCandidate> all) {
        var differences = new ArrayList<Difference>();
        Optional<Rehearsal.OfCandidate> baseline = all.stream()
                .filter(one -> one.candidate().equals(study.question().baseline())).findFirst();
        if (baseline.isEmpty()) {
            return differences;
        }
        List<RehearsedCall> expected = baseline.get().calls();
        for (Rehearsal.OfCandidate other : all) {
            for (int i = 0; !other.candidate().equals(baseline.get().candidate())
                    && i < Math.min(expected.size(), other.calls().size()); i++) {
                differences.addAll(compare(comparison, baseline.get().candidate(), expected.get(i), other.candidate(),
                        other.calls().get(i)));
            }
        }
        return differences;
    }

    private List<Difference> compare(AnswerComparison comparison, String baseline, RehearsedCall expected, String other,
            RehearsedCall answer) {
        String one = protocol(baseline, expected.call());
        String two = protocol(other, answer.call());
        return one.equals(two)
                ? comparison.compare(other, expected, answer)
                : comparison.compareAcross(other, new AnswerComparison.Side(expected, part(expected.call(), one)),
                        new AnswerComparison.Side(answer, part(answer.call(), two)));
    }

    /** The protocol in which a candidate is asked a call: that of the crowd that makes it. */
    private String protocol(String candidate, String call) {
        return study.candidate(candidate).map(one -> study.load().crowds().stream()
                .filter(crowd -> study.workload().of(crowd).calls().stream()
                        .anyMatch(made -> made.name().equals(call)))
                .findFirst().map(crowd -> one.entrance(crowd.name())).orElse(one.entrance("")).address().protocol())
                .orElse(Http.ID);
    }

    private AnswerPart part(String call, String protocol) {
        return study.workload().calls().stream().filter(one -> one.name().equals(call)).findFirst()
                .map(one -> one.in(protocol).answer()).orElse(AnswerPart.WHOLE);
    }

    private Rehearsal.OfCandidate of(Candidate candidate, Control control) throws InterruptedException {
        Optional<CandidateProcess> launched = Optional.empty();
        var calls = new ArrayList<RehearsedCall>();
        String problem = "";
        try {
            launched = new Launching(studyFolder, kadrem, control).bringUp(candidate,
                    isUp.test(candidate),
                    "rehearsal-" + UUID.randomUUID(), _ -> {
                    }, step -> told.accept(candidate, step));
            told.accept(candidate, Step.Plain.REHEARSING);
            for (CrowdOrder crowd : CampaignContext
                    .order(study, candidate, study.load(), Rounds.streamSeed(study.plan().seed(), 1)).crowds()) {
                Entrance entrance = crowd.entrance();
                try (var driver = Drivers.open(new DriverOrder(entrance.address(), entrance.access(), crowd.workload(),
                        study.load().timeout(), Secrets.ofProcess(studyFolder), Transport.best()))) {
                    calls.addAll(visits(driver, crowd));
                }
            }
        } catch (CandidateFailure | UnusableCall cause) {
            problem = String.valueOf(cause.getMessage());
        } finally {
            launched.ifPresent(CandidateProcess::stop);
        }
        return new Rehearsal.OfCandidate(candidate.id(), calls, problem);
    }

    /** The first part and each kind of visit once, as one user of the first round makes them. */
    private List<RehearsedCall> visits(Driver driver, CrowdOrder crowd) {
        var made = new ArrayList<RehearsedCall>();
        Workload workload = crowd.workload();
        LoadStream stream = LoadStream.of(workload, crowd.load(), crowd.before(), crowd.seed(), Optional.empty());
        LoadStream.Draw draw = stream.newDraw();
        var values = new CallValues(draw, workload.capturedNames().size());
        try (Rehearser rehearser = driver.newRehearser()) {
            int number = 0;
            stream.draw(0, 0, draw);
            for (; number < workload.first().size(); number++) {
                stream.drawCall(number, draw);
                made.add(rehearser.call("", number, values));
            }
            for (int visit = 0; visit < workload.visits().size(); visit++) {
                Visit wanted = workload.visits().get(visit);
                drawVisit(stream, visit, draw);
                for (int call = 0; call < wanted.calls().size(); call++) {
                    stream.drawCall(call, draw);
                    made.add(rehearser.call(wanted.name(), number++, values));
                }
            }
        }
        proofs.addAll(values.captured(workload.credentials()));
        return made;
    }

    /** The stream's first visit of the kind wanted; its values are ones that a run sends. */
    private static void drawVisit(LoadStream stream, int visit, LoadStream.Draw draw) {
        for (long index = 0; index < MAX_DRAWS; index++) {
            stream.draw(0, index, draw);
            if (draw.visit() == visit) {
                return;
            }
        }
    }
}
