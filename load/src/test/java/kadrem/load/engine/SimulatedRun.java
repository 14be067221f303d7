package kadrem.load.engine;

import java.time.Duration;
import java.util.ArrayList;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.NavigableMap;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.locks.LockSupport;
import java.util.function.LongUnaryOperator;
import java.util.stream.LongStream;

import io.netty.channel.EventLoop;
import io.netty.channel.IoHandle;
import io.netty.channel.IoHandler;
import io.netty.channel.IoHandlerContext;
import io.netty.channel.IoRegistration;
import io.netty.channel.ManualIoEventLoop;
import io.netty.util.concurrent.MockTicker;
import io.netty.util.concurrent.Ticker;
import kadrem.core.measure.Exchange;
import kadrem.core.measure.FailureKind;
import kadrem.core.measure.LongTurns;
import kadrem.core.measure.Phase;
import kadrem.core.measure.RunFigures;
import kadrem.core.measure.RunTotals;
import kadrem.core.measure.SecondTally;
import kadrem.core.plan.Arrivals;
import kadrem.core.plan.StreamDigest;
import kadrem.core.study.Address;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Pacing;
import kadrem.core.study.Workload;
import kadrem.load.drive.CallValues;
import kadrem.load.drive.Carrier;
import kadrem.load.drive.Driver;
import kadrem.load.drive.Rehearser;
import kadrem.load.net.LaneLoop;

/**
 * A run whose clock is handed in, so that hours pass as fast as they can be computed: a real lane with its pace, tallies and
 * recorder, on a loop that goes by that clock; only the wire is replaced, by answers that come after a service time.
 */
final class SimulatedRun {
    /** From the instant at which a lane hands a call to a thread of the user's own to that at which it is sent. */
    static final long HANDED_OVER_NANOS = 10_000;
    /** From the instant at which a lane looks at its clock to that at which it reads what threads of the users' own have told. */
    static final long BEFORE_READING_NANOS = 20_000;
    private final MockTicker clock = Ticker.newMockTicker();
    private final AtomicInteger recorded = new AtomicInteger();
    private final RunTotals totals;
    private final LoadProfile load;
    private final Workload workload;
    private final LongUnaryOperator service;
    private final NavigableMap<Long, Long> heldUp;
    private final Where where;
    private final List<long[]> sentBySecond = Collections.synchronizedList(new ArrayList<>());
    private long start;

    private SimulatedRun(Workload workload, LoadProfile load, LongUnaryOperator service,
            NavigableMap<Long, Long> heldUp, Where where) {
        this.where = where;
        this.load = load;
        this.workload = workload;
        this.service = service;
        this.heldUp = new TreeMap<>(heldUp);
        totals = new RunTotals(workload.calls().stream().map(call -> call.name()).toList(),
                (int) load.warmUp().toSeconds(), (int) load.measured().toSeconds());
        var numbers = new LinkedHashMap<String, int[]>();
        load.crowds().forEach(crowd -> numbers.put(crowd.name(), workload.numbers(crowd)));
        totals.parts(numbers, Set.of());
    }

    /**
     * Where a lane is held up: behind a sleep, between reckoning how long it may sleep and sleeping, while it reads answers; or before a
     * sleep, while a thread of the user's own waits for the answer and times it.
     */
    enum Where {
        BEHIND_SLEEP, BEFORE_SLEEP, BEFORE_ANSWER, BESIDE_A_THREAD_OF_THE_USERS
    }

    /**
     * What a run leaves behind.
     *
     * @param held all that it still holds
     * @param streams what each crowd sent
     * @param sentBySecond calls of the measured part that were sent in each second, by the call's number
     */
    record Outcome(RunFigures figures, long longestTurnNanos, Object held, List<StreamDigest> streams,
            List<long[]> sentBySecond) {
    }

    static Outcome of(Workload workload, LoadProfile load, Duration service) {
        return of(workload, load, _ -> service.toNanos(), new TreeMap<>(), Where.BEHIND_SLEEP);
    }

    /**
     * A run in which the lane itself is held up.
     *
     * @param service nanoseconds of a call's service by the instant at which it was sent, both since the start
     * @param heldUp for how long the lane is held up, by the instant since the start
     * @param where at which point of its work, the next time it comes there
     */
    static Outcome of(Workload workload, LoadProfile load, LongUnaryOperator service,
            NavigableMap<Long, Long> heldUp, Where where) {
        return new SimulatedRun(workload, load, service, heldUp, where).run();
    }

    private Outcome run() {
        var recorder = new Recorder(1, workload.calls().size(), new Recorded());
        var loop = new ManualIoEventLoop(null, Thread.currentThread(), _ -> new NoIo(), clock);
        var order = new LoadOrder(new Address("127.0.0.1", 1, ""), workload, load, 1, 1);
        var lane = new Lane(0, 0, 1, order.crowds().stream().map(crowd -> {
            Arrivals arrivals = crowd.load() instanceof LoadProfile.Open open
                    ? Arrivals.of(open, crowd.seed())
                    : Arrivals.NONE;
            return new LaneCrowd.Plan(new CompiledLoad(crowd, Optional.empty()), arrivals, new Answering());
        }).toList(), new LaneLoop(loop), wait -> {
            if (where == Where.BESIDE_A_THREAD_OF_THE_USERS) {
                clock.advance(BEFORE_READING_NANOS, TimeUnit.NANOSECONDS);
            }
            if (wait > 0) {
                loop.run(wait);
            } else {
                loop.runNow();
            }
            holdUp(Where.BEHIND_SLEEP);
        }, recorder, clock::nanoTime, TurnWatch.ofNothing());
        recorder.start();
        lane.open();
        loop.runNow();
        start = clock.nanoTime() + TimeUnit.MILLISECONDS.toNanos(10);
        lane.begin(start);
        while (!lane.finished().isDone()) {
            lane.turn();
            long wait = Sleep.of(Pacing.THRIFTY, lane, clock.nanoTime(), 0);
            holdUp(Where.BEFORE_SLEEP);
            holdUp(Where.BESIDE_A_THREAD_OF_THE_USERS);
            lane.poll(wait);
            long seconds = (clock.nanoTime() - start) / 1_000_000_000L;
            // a second is recorded within the next one, as on a real clock
            while (recorded.get() < seconds - 3) {
                // not spinning, which on two processors keeps the recorder from its own
                LockSupport.parkNanos(20_000);
            }
        }
        recorder.finish();
        return new Outcome(totals.figures(),
                totals.longTurns().stream().mapToLong(LongTurns.Of::longestNanos).max().orElse(0),
                List.of(this, lane, recorder), lane.crowds().stream().map(crowd -> LoadRun.digest(
                        crowd.load().profile, List.of(crowd.pace()))).toList(),
                List.copyOf(sentBySecond));
    }

    private void holdUp(Where now) {
        while (now == where && start > 0 && !heldUp.isEmpty() && clock.nanoTime() - start >= heldUp.firstKey()) {
            clock.advance(heldUp.pollFirstEntry().getValue(), TimeUnit.NANOSECONDS);
        }
    }

    private final class Recorded implements LoadListener {
        @Override
        public void second(SecondTally tally) {
            totals.add(tally);
            sentBySecond.add(LongStream.range(0, tally.callCount())
                    .map(call -> tally.call((int) call, Phase.MEASURED).sent).toArray());
            recorded.incrementAndGet();
        }

        @Override
        public void exchange(Exchange exchange) {
            // the number of kept exchanges is bounded by the lane
        }
    }

    /** Answers each call after the service time. */
    private final class Answering implements Driver {
        @Override
        public Carrier newCarrier(LaneLoop lane, Carrier.Listener listener) {
            EventLoop loop = lane.eventLoop();
            return new Carrier() {
                @Override
                public void open(Runnable whenSettled) {
                    whenSettled.run();
                }

                @Override
                public void send(int call, CallValues values) {
                    long serviceNanos = service.applyAsLong(clock.nanoTime() - start);
                    if (where == Where.BESIDE_A_THREAD_OF_THE_USERS) {
                        long sent = clock.nanoTime() + HANDED_OVER_NANOS;
                        loop.schedule(() -> {
                            listener.sent(sent, 100);
                            listener.good(sent + serviceNanos, 200, 300);
                        }, HANDED_OVER_NANOS + serviceNanos, TimeUnit.NANOSECONDS);
                        return;
                    }
                    listener.sent(clock.nanoTime(), 100);
                    loop.schedule(() -> {
                        holdUp(Where.BEFORE_ANSWER);
                        listener.good(clock.nanoTime(), 200, 300);
                    }, serviceNanos, TimeUnit.NANOSECONDS);
                }

                @Override
                public void beginVisit() {
                    // nothing of a visit is kept
                }

                @Override
                public void abandon(FailureKind kind) {
                    throw new AssertionError("every call is answered in time, not " + kind.id());
                }

                @Override
                public void close() {
                    // nothing is open
                }

                @Override
                public boolean timesBesideLane() {
                    return where == Where.BESIDE_A_THREAD_OF_THE_USERS;
                }

                @Override
                public String requestText(int call, CallValues values) {
                    return "GET";
                }

                @Override
                public String responseText() {
                    return "200";
                }
            };
        }

        @Override
        public Rehearser newRehearser() {
            throw new UnsupportedOperationException("a simulation is not rehearsed");
        }

        @Override
        public void close() {
            // nothing is open
        }
    }

    /** Nothing comes from the wire, and sleeping takes no time but the clock's. */
    private final class NoIo implements IoHandler {
        @Override
        public int run(IoHandlerContext context) {
            if (context.canBlock()) {
                // the time passes in which a real loop would sleep
                clock.advance(Math.max(0, context.delayNanos(clock.nanoTime())), TimeUnit.NANOSECONDS);
            }
            return 0;
        }

        @Override
        public void prepareToDestroy() {
            // nothing is held
        }

        @Override
        public void destroy() {
            // nothing is held
        }

        @Override
        public IoRegistration register(IoHandle handle) {
            throw new UnsupportedOperationException("a simulation has no wire");
        }

        @Override
        public void wakeup() {
            // the loop never sleeps
        }

        @Override
        public boolean isCompatible(Class<? extends IoHandle> type) {
            return false;
        }
    }
}
