package kadrem.load.campaign;

import java.nio.file.Path;
import java.time.Duration;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.OptionalLong;
import java.util.Set;
import java.util.stream.Collectors;

import kadrem.core.measure.Capacity;
import kadrem.core.measure.RunFigures;
import kadrem.core.measure.RunJournal;
import kadrem.core.rehearsal.RehearsedCall;
import kadrem.core.rehearsal.Rehearsal;
import kadrem.core.study.grammar.Field;
import kadrem.core.study.Candidate;
import kadrem.core.study.Crowd;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Protocol;
import kadrem.core.study.Protocols;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.ThinkTime;
import kadrem.core.study.Wire;
import kadrem.core.study.Workload;
import kadrem.load.drive.Drivers;
import kadrem.load.drive.Peer;
import kadrem.load.drive.PeerOrder;
import kadrem.load.drive.ProtocolDriver;
import kadrem.load.drive.Secrets;
import kadrem.load.content.UnusableCall;
import kadrem.load.engine.LoadMaker;
import kadrem.load.engine.LoadOrder;

/**
 * Finds out what load this machine can make with a study's workload: users without pauses call a peer beside the generator
 * for a measured second. That is done again until two tries in a row bring no more, since the compiler first has to see the
 * hot path, and the best second counts. Where candidates are reached in several ways (protocols, TLS, HTTP/2, connections for each call)
 * each is tried of which Kadrem has a peer, and the slowest counts.
 */
public final class SelfCheck {
    /** Each second warms the next one up. */
    private static final Duration WARM_UP = Duration.ZERO;
    private static final Duration MEASURED = Duration.ofSeconds(1);
    private static final int MAX_TRIES = 7;
    /** Growth from one try to the next below which the compiler is taken to be done. */
    private static final double STILL_GROWS = 1.1;
    private static final int MIN_USERS = 16;
    private static final int MAX_USERS = 64;

    private SelfCheck() {
    }

    /**
     * Checks this machine.
     *
     * @param maker where the loads of the study are made
     * @param rehearsal whose answers the peer gives over HTTP, if it is of this workload
     * @return empty where no candidate is reached in a way of which Kadrem has a peer
     * @throws UnusableCall if a call cannot be made ready
     */
    public static Optional<Capacity> of(LoadMaker maker, MeasuredStudy study, Path studyFolder,
            Optional<Rehearsal> rehearsal)
            throws UnusableCall {
        return of(maker, study, studyFolder, rehearsal, MAX_TRIES);
    }

    /** The same, tried so often at most. */
    static Optional<Capacity> of(LoadMaker maker, MeasuredStudy study, Path studyFolder, Optional<Rehearsal> rehearsal,
            int mostTries) throws UnusableCall {
        List<RehearsedCall> rehearsed = answers(rehearsal, study);
        int users = Math.clamp(study.load().connections(), MIN_USERS, MAX_USERS);
        var load = new LoadProfile.Closed(users, ThinkTime.NONE, WARM_UP, MEASURED, Duration.ofSeconds(5));
        Optional<Capacity> least = Optional.empty();
        var untried = new LinkedHashSet<String>();
        Map<Candidate, Workload> ways = byProtocol(study);
        for (Candidate candidate : oneOfEachWay(List.copyOf(ways.keySet()))) {
            List<RehearsedCall> answers = answersTo(candidate, rehearsed);
            Workload workload = EngineWarmUp.withoutPauses(
                    ways.getOrDefault(candidate, study.workload()).in(candidate.address().protocol()),
                    !answers.isEmpty());
            Optional<Peer> peer = Drivers
                    .peer(new PeerOrder(candidate.address(), candidate.access(), workload, answers));
            if (peer.isEmpty()) {
                untried.add(Protocols.byId(candidate.address().protocol()).map(Protocol::words)
                        .orElse(candidate.address().protocol()));
            } else {
                try (Peer asked = peer.get()) {
                    var order = new LoadOrder(asked.address(), asked.access(), workload, load, study.plan().seed(),
                            LoadOrder.defaultLanes()).beside(study.processorsOfCandidates());
                    Capacity found = best(maker, order, studyFolder, mostTries,
                            !answersAsRehearsed(candidate)
                                    ? Capacity.Peer.MIN
                                    : answers.isEmpty() ? Capacity.Peer.EMPTY : Capacity.Peer.AS_REHEARSED);
                    least = least.filter(known -> known.beside() <= found.beside()).or(() -> Optional.of(found));
                }
            }
        }
        return least.map(found -> found.without(List.copyOf(untried)));
    }

    /** The candidates, each once for every protocol in which crowds ask it, and what those crowds send. */
    private static Map<Candidate, Workload> byProtocol(MeasuredStudy study) {
        var asked = new LinkedHashMap<Candidate, Workload>();
        Workload all = study.workload();
        for (Candidate candidate : study.candidates()) {
            Map<String, List<Crowd>> crowds = study.load().crowds().stream()
                    .collect(Collectors.groupingBy(
                            crowd -> candidate.entrance(crowd.name()).address().protocol(), LinkedHashMap::new,
                            Collectors.toList()));
            crowds.forEach((protocol, speaking) -> asked.put(
                    protocol.equals(candidate.address().protocol())
                            ? candidate
                            : candidate.at(candidate.entrance(speaking.getFirst().name())),
                    new Workload(all.values(), all.first(), all.visits().stream().filter(
                            visit -> speaking.stream().anyMatch(crowd -> crowd.makes(visit.name()))).toList(),
                            all.choice())));
        }
        return asked;
    }

    /** The first of the candidates that are reached in the same way: by protocol and its choices, wire, and whether over TLS. */
    static List<Candidate> oneOfEachWay(List<Candidate> candidates) {
        record Way(String protocol, String scheme, Wire wire, Map<String, String> choices) {
        }
        var first = new LinkedHashMap<Way, Candidate>();
        candidates.forEach(one -> first.putIfAbsent(
                new Way(one.address().protocol(), one.address().scheme(), one.access().wire().overPort(),
                        choices(one)),
                one));
        return List.copyOf(first.values());
    }

    /** What a candidate chooses among the ways of its protocol, such as compressed messages. */
    private static Map<String, String> choices(Candidate candidate) {
        return Protocols.byId(candidate.address().protocol()).stream().flatMap(one -> one.settings().stream())
                .filter(field -> !field.options().isEmpty())
                .collect(Collectors.toMap(Field::name,
                        field -> candidate.access().settings().getOrDefault(field.name(), field.options()).getFirst()));
    }

    private static boolean answersAsRehearsed(Candidate candidate) {
        return Drivers.of(candidate.address()).filter(ProtocolDriver::peerAnswersAsRehearsed).isPresent();
    }

    /** What a peer of the candidate's protocol is to answer. */
    static List<RehearsedCall> answersTo(Candidate candidate, List<RehearsedCall> rehearsed) {
        return answersAsRehearsed(candidate) ? rehearsed : List.of();
    }

    private static Capacity best(LoadMaker maker, LoadOrder order, Path studyFolder, int mostTries, Capacity.Peer peer)
            throws UnusableCall {
        Capacity best = once(maker, order, studyFolder, peer);
        int withoutGrowth = 0;
        for (int i = 1; i < mostTries && withoutGrowth < 2; i++) {
            Capacity next = once(maker, order, studyFolder, peer);
            withoutGrowth = next.beside() > best.beside() * STILL_GROWS ? 0 : withoutGrowth + 1;
            best = next.beside() > best.beside() ? next : best;
        }
        return best;
    }

    /** What the first candidate answered whose rehearsal went well, if that was of this workload. */
    static List<RehearsedCall> answers(Optional<Rehearsal> rehearsal, MeasuredStudy study) {
        return rehearsal.filter(one -> one.isOf(study)).stream()
                .flatMap(one -> one.candidates().stream()).filter(Rehearsal.OfCandidate::isGood).findFirst()
                .map(Rehearsal.OfCandidate::calls).orElse(List.of());
    }

    private static Capacity once(LoadMaker maker, LoadOrder order, Path studyFolder, Capacity.Peer peer)
            throws UnusableCall {
        var telling = new MeasuredRun.Telling(RunJournal.NOT_KEPT, _ -> {
        }, Map.of(), Set.of(), 0);
        try (MeasuredRun run = MeasuredRun.prepare(maker, order, OptionalLong.empty(), () -> true, telling,
                Secrets.ofProcess(studyFolder))) {
            return capacity(run.run(), peer);
        }
    }

    private static Capacity capacity(MeasuredRun.Result result, Capacity.Peer peer) {
        RunFigures figures = result.figures();
        double perSecond = (figures.good() + figures.failedTotal()) / figures.seconds();
        OptionalDouble share = result.generator().workShare();
        OptionalDouble alone = share.isPresent() && share.getAsDouble() > 0
                ? OptionalDouble.of(perSecond * result.generator().lanes() / share.getAsDouble())
                : OptionalDouble.empty();
        return new Capacity(perSecond, alone, figures.errorShare(), peer);
    }
}
