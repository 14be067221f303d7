package kadrem.work;

import java.time.Clock;
import java.util.List;
import java.util.function.BiConsumer;
import java.util.function.Predicate;

import kadrem.core.rehearsal.Rehearsal;
import kadrem.core.study.Call;
import kadrem.core.study.Candidate;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import kadrem.files.study.StudyFile;
import kadrem.load.campaign.Rehearsing;
import kadrem.load.campaign.Step;
import kadrem.load.content.UnreadableContent;

/** Makes one call once, after those before it, whose captured values it may carry. Nothing of it is kept. */
public final class TryCall {
    private TryCall() {
    }

    /**
     * Makes the call.
     *
     * @param visit number of its visit; -1 for the first part
     * @param call number of the call in it
     * @param candidates ids of those that are asked
     * @param isUp candidates that the user has launched already, which are used as they are and left running
     * @param told of each step, on the calling thread
     * @return of each candidate the calls up to this one, which is the last where all were made
     * @throws NotDone if they may not be asked; the objection says why
     * @throws InterruptedException if the thread was interrupted; what was launched is stopped
     */
    public static Rehearsal run(StudyFile file, int visit, int call, List<String> candidates, Predicate<Candidate> isUp,
            BiConsumer<Candidate, Step> told) throws NotDone, InterruptedException {
        Preflight.requireAsking(file);
        MeasuredStudy study = file.measured();
        MeasuredStudy small = study.withWorkload(upTo(study.workload(), visit, call)).withCandidates(
                study.candidates().stream().filter(one -> candidates.contains(one.id())).toList());
        try {
            return new Rehearsing(small, file.folder(), Program.command(), Clock.systemUTC(), isUp, told).run();
        } catch (UnreadableContent cause) {
            throw new NotDone(StudyFile.NAME + ": rehearsal.ignoreJson: " + cause.getMessage());
        }
    }

    /** The calls that come before it, and the call itself as the last. */
    private static Workload upTo(Workload workload, int visit, int call) {
        List<Call> first = workload.first();
        if (visit < 0) {
            return new Workload(workload.values(), first.subList(0, call),
                    List.of(new Visit("first part", 1, List.of(first.get(call)))), workload.choice());
        }
        Visit whole = workload.visits().get(visit);
        return new Workload(workload.values(), first,
                List.of(new Visit(whole.name(), 1, whole.calls().subList(0, call + 1))), workload.choice());
    }
}
