package kadrem.load.campaign;

import java.time.Duration;
import java.util.List;
import java.util.Optional;

import kadrem.core.measure.Exchange;
import kadrem.core.measure.RunTotals;
import kadrem.core.measure.SecondTally;
import kadrem.core.rehearsal.RehearsedCall;
import kadrem.core.study.Call;
import kadrem.core.study.Expectations;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Entrance;
import kadrem.core.study.Shape;
import kadrem.core.study.ThinkTime;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import kadrem.load.drive.Drivers;
import kadrem.load.drive.Peer;
import kadrem.load.drive.PeerOrder;
import kadrem.load.drive.Secrets;
import kadrem.load.content.UnusableCall;
import kadrem.load.engine.CrowdOrder;
import kadrem.load.engine.LoadListener;
import kadrem.load.engine.LoadMaker;
import kadrem.load.engine.LoadOrder;
import kadrem.load.engine.LoadSession;

/**
 * Makes the generator's code quick before anything counts: the very workload goes to an answerer of Kadrem's own, second after second,
 * until a call costs the lanes no less than in the seconds before, and its compilers have little left to do. No candidate is asked for
 * it.
 */
public final class EngineWarmUp {
    private static final Duration SECOND = Duration.ofSeconds(1);
    /** Fewer where what is measured is not the matter, as in tests. */
    private static final int MAX_SECONDS = Integer.getInteger("kadrem.warm-up.seconds", 12);
    /** Time of its compilers in a second from which the generator counts as compiled. */
    private static final long BUSY_COMPILER_MILLIS = 150;
    private static final int MAX_USERS = 32;
    /** A second that is no better than this share of the best before has brought nothing more. */
    private static final double STILL_GAINS = 0.9;
    private static final int WITHOUT_GAIN = 2;
    /** Of a generator that has done nothing yet, since its compiler counts calls. */
    private static final int AT_FULL_SPEED = 2;

    private EngineWarmUp() {
    }

    /**
     * Warms the generator up.
     *
     * @param order what is to be sent afterwards
     * @param answers what a candidate answered in a rehearsal; where there are none each call gets an empty object, and none is
     *            expected to hold anything
     * @param fresh whether the generator has not made this load at full speed yet, as a {@link SelfCheck} does
     * @return seconds that it took; 0 where there is no answerer for the protocol or these calls
     * @throws UnusableCall if a call cannot be made ready
     */
    public static int of(LoadMaker maker, LoadOrder order, Secrets secrets, List<RehearsedCall> answers,
            boolean fresh) throws UnusableCall {
        int seconds = 0;
        for (CrowdOrder crowd : order.crowds()) {
            seconds += of(maker, order, crowd, secrets, answers, fresh && seconds == 0);
        }
        return seconds;
    }

    private static int of(LoadMaker maker, LoadOrder order, CrowdOrder crowd, Secrets secrets,
            List<RehearsedCall> answers, boolean fresh) throws UnusableCall {
        Workload workload = withoutPauses(crowd.workload(), !answers.isEmpty());
        Entrance entrance = crowd.entrance();
        Optional<Peer> found = Drivers.peer(new PeerOrder(entrance.address(), entrance.access(), workload, answers));
        if (found.isEmpty()) {
            return 0;
        }
        try (Peer peer = found.get()) {
            int users = Math.clamp(crowd.load().connections(), 1, MAX_USERS);
            var full = new LoadProfile.Closed(users, ThinkTime.NONE, Duration.ZERO, SECOND, Duration.ofSeconds(5));
            double best = Double.MAX_VALUE;
            int withoutGain = 0;
            long compiled = 0;
            int seconds = 0;
            int atFullSpeed = fresh ? AT_FULL_SPEED : 0;
            while (seconds < MAX_SECONDS && withoutGain < WITHOUT_GAIN) {
                LoadProfile load = seconds < atFullSpeed ? full : asOrdered(crowd.load(), full);
                Second second = second(maker,
                        new LoadOrder(peer.address(), peer.access(), workload, load, order.streamSeed(),
                                order.lanes(), order.pacing(), List.of(), order.candidates()),
                        secrets);
                boolean still = second.compilerMillis() - compiled > BUSY_COMPILER_MILLIS
                        || second.nanosPerCall() < best * STILL_GAINS;
                withoutGain = seconds > atFullSpeed && !still ? withoutGain + 1 : 0;
                best = seconds < atFullSpeed ? Double.MAX_VALUE : Math.min(best, second.nanosPerCall());
                compiled = second.compilerMillis();
                seconds++;
            }
            return seconds;
        }
    }

    private static LoadProfile asOrdered(LoadProfile load, LoadProfile full) {
        return load instanceof LoadProfile.Open open
                ? new LoadProfile.Open(Shape.flat(SECOND, Math.max(open.shape().peak(), 1)), open.spacing(),
                        open.connections(), open.connectionLimit(), full.course())
                : full;
    }

    /** What a call cost the lanes, and what the compilers had cost at the end. */
    private record Second(double nanosPerCall, long compilerMillis) {
    }

    private static Second second(LoadMaker maker, LoadOrder order, Secrets secrets) throws UnusableCall {
        var totals = new RunTotals(order.workload().calls().stream().map(Call::name).toList(), 0, 1);
        try (LoadSession load = maker.prepare(order, secrets, new LoadListener() {
            @Override
            public void second(SecondTally tally) {
                totals.add(tally);
            }

            @Override
            public void exchange(Exchange exchange) {
                // of no interest
            }
        })) {
            load.begin(System.nanoTime() + 20_000_000);
            load.await();
            long compilers = load.usage().compilerMillis();
            load.result();
            long calls = totals.figures().sent();
            return new Second(calls == 0 ? Double.MAX_VALUE : totals.workShare().orElse(0) * 1e9 / calls, compilers);
        }
    }

    /** The workload of users who never pause; of an answer that is not known nothing is expected. */
    static Workload withoutPauses(Workload workload, boolean withExpectations) {
        List<Visit> visits = workload.visits().stream().map(visit -> new Visit(visit.name(), visit.share(),
                visit.repeat(), visit.calls().stream().map(call -> withoutPause(call, withExpectations)).toList()))
                .toList();
        return new Workload(workload.values(),
                workload.first().stream().map(call -> withoutPause(call, withExpectations)).toList(), visits,
                workload.choice());
    }

    private static Call withoutPause(Call call, boolean withExpectations) {
        Call fast = call.thinking(ThinkTime.NONE);
        return withExpectations ? fast : fast.expecting(Expectations.ANY_SUCCESS);
    }
}
