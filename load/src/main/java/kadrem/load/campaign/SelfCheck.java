package kadrem.load.campaign;

import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.OptionalLong;
import java.util.Set;

import kadrem.core.measure.Capacity;
import kadrem.core.measure.RunFigures;
import kadrem.core.measure.RunJournal;
import kadrem.core.plan.LoadDigest;
import kadrem.core.rehearsal.RehearsedCall;
import kadrem.core.rehearsal.Rehearsal;
import kadrem.core.study.Candidate;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Study;
import kadrem.core.study.ThinkTime;
import kadrem.core.study.Wire;
import kadrem.core.study.Workload;
import kadrem.load.drive.Secrets;
import kadrem.load.drive.UnusableCall;
import kadrem.load.engine.LoadMaker;
import kadrem.load.engine.LoadOrder;
import kadrem.load.generator.AnsweringPeer;

/**
 * Finds out what load this machine can make with a study's workload: users without pauses call a peer beside the generator
 * for a measured second. That is done again until two tries in a row bring no more, since the compiler first has to see the
 * hot path, and the best second counts. Where candidates are reached in several ways (TLS, HTTP/2, connections for each call) each is
 * tried, and the slowest counts.
 */
public final class SelfCheck {
    /** Each second warms the next one up. */
    private static final Duration WARM_UP = Duration.ZERO;
    private static final Duration MEASURED = Duration.ofSeconds(1);
    private static final int MOST_TRIES = 7;
    /** Growth from one try to the next below which the compiler is taken to be done. */
    private static final double STILL_GROWS = 1.1;
    private static final int FEWEST_USERS = 16;
    private static final int MOST_USERS = 64;

    private SelfCheck() {
    }

    /** Whether it says anything of a study: its calls are made over HTTP to at least one candidate. */
    public static boolean appliesTo(Study study) {
        return study.candidates().stream().anyMatch(one -> one.address().isHttp());
    }

    /**
     * Checks this machine, for a study to which that applies.
     *
     * @param maker where the loads of the study are made
     * @param rehearsal whose answers the peer gives, if it is of this workload
     * @throws UnusableCall if a call cannot be made ready
     */
    public static Capacity of(LoadMaker maker, Study study, Path studyFolder, Optional<Rehearsal> rehearsal)
            throws UnusableCall {
        String digest = LoadDigest.of(study);
        List<RehearsedCall> answers = answers(rehearsal, digest);
        Workload workload = EngineWarmUp.withoutPauses(study.workload(), !answers.isEmpty());
        int users = Math.clamp(study.load().connections(), FEWEST_USERS, MOST_USERS);
        var load = new LoadProfile.Closed(users, ThinkTime.NONE, WARM_UP, MEASURED, Duration.ofSeconds(5));
        Capacity least = null;
        for (Way way : study.candidates().stream().filter(one -> one.address().isHttp()).map(Way::of).distinct()
                .toList()) {
            Capacity found = of(maker, new Asked(way, workload, load, study.plan().seed(),
                    Campaign.processorsOfCandidates(study)), studyFolder, answers);
            least = least == null || found.beside() < least.beside() ? found : least;
        }
        return Objects.requireNonNull(least, "the study has a candidate that is asked over HTTP");
    }

    /** How a candidate is reached: its wire, and whether over TLS. */
    record Way(boolean secure, Wire wire) {
        static Way of(Candidate candidate) {
            return new Way(candidate.address().secure(), candidate.access().wire().overPort());
        }
    }

    /** What is sent to a peer, and over which way. */
    private record Asked(Way way, Workload workload, LoadProfile load, long seed, List<Integer> candidates) {
    }

    private static Capacity of(LoadMaker maker, Asked asked, Path studyFolder, List<RehearsedCall> answers)
            throws UnusableCall {
        Wire wire = asked.way().wire();
        try (var peer = new AnsweringPeer(asked.workload().calls(), answers, wire.protocol(), asked.way().secure())) {
            var order = new LoadOrder(peer.address(), AnsweringPeer.access(wire), asked.workload(), asked.load(),
                    asked.seed(), LoadOrder.defaultLanes()).beside(asked.candidates());
            Capacity best = once(maker, order, studyFolder, !answers.isEmpty());
            int withoutGrowth = 0;
            for (int i = 1; i < MOST_TRIES && withoutGrowth < 2; i++) {
                Capacity next = once(maker, order, studyFolder, !answers.isEmpty());
                withoutGrowth = next.beside() > best.beside() * STILL_GROWS ? 0 : withoutGrowth + 1;
                best = next.beside() > best.beside() ? next : best;
            }
            return best;
        }
    }

    /** What the first candidate answered whose rehearsal went well, if that was of this workload. */
    static List<RehearsedCall> answers(Optional<Rehearsal> rehearsal, String digest) {
        return rehearsal.filter(one -> one.loadDigest().equals(digest)).stream()
                .flatMap(one -> one.candidates().stream()).filter(Rehearsal.OfCandidate::isGood).findFirst()
                .map(Rehearsal.OfCandidate::calls).orElse(List.of());
    }

    private static Capacity once(LoadMaker maker, LoadOrder order, Path studyFolder, boolean asRehearsed)
            throws UnusableCall {
        var telling = new MeasuredRun.Telling(RunJournal.NOT_KEPT, _ -> {
        }, Map.of(), Set.of(), 0);
        try (MeasuredRun run = MeasuredRun.prepare(maker, order, OptionalLong.empty(), () -> true, telling,
                Secrets.ofProcess(studyFolder))) {
            return capacity(run.run(), asRehearsed);
        }
    }

    private static Capacity capacity(MeasuredRun.Result result, boolean asRehearsed) {
        RunFigures figures = result.figures();
        double perSecond = (figures.good() + figures.failedTotal()) / figures.seconds();
        OptionalDouble share = result.generator().workShare();
        OptionalDouble alone = share.isPresent() && share.getAsDouble() > 0
                ? OptionalDouble.of(perSecond * result.generator().lanes() / share.getAsDouble())
                : OptionalDouble.empty();
        return new Capacity(perSecond, alone, figures.errorShare(),
                asRehearsed ? Capacity.Peer.AS_REHEARSED : Capacity.Peer.EMPTY);
    }
}
