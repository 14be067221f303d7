package kadrem.load.engine;

import java.util.List;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.function.LongSupplier;

import kadrem.core.measure.FailureKind;
import kadrem.load.net.LaneLoop;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * A share of the users or arrivals of a run, with its own clock, connections and tally; one file, since its life, its turns and what its
 * parts ask of it share one state. Its thread takes turn after turn:
 *
 * <pre>
 * lane.turn();                                  // what is due is begun
 * lane.poll(wait);                              // what has come is read, and what that asks for is sent
 * </pre>
 *
 * Everything but {@link #finished} is done on that thread, and nothing here is shared with another lane. An exception in a turn or behind
 * an answer is a fault of Kadrem's own: it is counted, and the load goes on without the call that it spoiled.
 */
final class Lane {
    private static final Logger LOG = LoggerFactory.getLogger(Lane.class);
    /** Faults of its own after which a lane ends. */
    private static final int MAX_FAULTS = 1_000;
    private static final int LOGGED_FAULTS = 5;

    /** Reads what has come, for at most so many nanoseconds if nothing has; of a loop that is driven by hand. */
    interface Poll {
        void run(long waitNanos);
    }

    private final int number;
    private final int total;
    private final LaneLoop loop;
    private final Poll poll;
    private final LongSupplier clock;
    private final TurnWatch turns;
    private final Attention attention;
    private final LaneCrowds crowds;
    private final long endNanos;
    private final long longestTimeout;
    private final LaneSecond second;
    private final CompletableFuture<Void> finished = new CompletableFuture<>();

    private long startNanos;
    private long giveUpNanos = Long.MAX_VALUE;
    private boolean running;
    private boolean ending;
    private boolean ended;
    private boolean stopped;
    private int faults;

    /**
     * @param recordsAs number of the lane among those that record together
     * @param number number of the lane among all that make the load
     * @param total of them
     * @param clock the nano clock that {@code loop} goes by, and that the drivers' instants are of
     */
    Lane(int recordsAs, int number, int total, List<LaneCrowd.Plan> plans, LaneLoop loop, Poll poll, Recorder recorder,
            LongSupplier clock, TurnWatch turns) {
        this.number = number;
        this.total = total;
        this.loop = loop;
        this.poll = poll;
        this.clock = clock;
        this.turns = turns;
        second = new LaneSecond(recordsAs, loop.connections(), recorder);
        attention = new Attention(clock, turns, second);
        crowds = new LaneCrowds(plans.stream().map(plan -> new LaneCrowd(this, plan, second, recorder)).toList());
        endNanos = plans.getFirst().load().endNanos;
        longestTimeout = plans.stream().mapToLong(plan -> plan.load().longestTimeout).max().orElseThrow();
    }

    // ---- life ---------------------------------------------------------------------------------------------------

    /** Opens the connections and makes what is to be made ahead; the future is done when the load may begin. */
    CompletableFuture<Void> open() {
        loop.confine();
        var ready = new CompletableFuture<Void>();
        try {
            crowds.open(loop.eventLoop(), () -> ready.complete(null));
        } catch (RuntimeException | LinkageError fault) {
            ready.completeExceptionally(fault);
        }
        return ready;
    }

    /** @param start instant from which everything is due */
    void begin(long start) {
        loop.confine();
        if (ended) {
            return;
        }
        running = true;
        attention.counts(start, crowds::heldUp);
        startNanos = start;
        second.begin(start);
        try {
            crowds.all().forEach(crowd -> crowd.pace().begin());
            endIfIdle();
        } catch (RuntimeException | LinkageError fault) {
            fault(fault);
            end();
        }
    }

    /** Ends at once. */
    void stop() {
        loop.confine();
        if (!ended) {
            stopped = true;
            end();
        }
    }

    CompletableFuture<Void> finished() {
        return finished;
    }

    boolean wasStopped() {
        return stopped;
    }

    boolean isEnding() {
        return ending;
    }

    boolean isEnded() {
        return ended;
    }

    private void beginEnding() {
        ending = true;
        giveUpNanos = startNanos + endNanos + longestTimeout;
    }

    void endIfIdle() {
        if (!ended && second.underWay() == 0 && crowds.haveNothingMore(ending)) {
            end();
        }
    }

    private void end() {
        if (ended) {
            return;
        }
        ending = true;
        ended = true;
        try {
            long now = clock.getAsLong();
            if (running) {
                second.turnTo(now, crowds);
            }
            crowds.end(now, stopped, stopped || !running ? Optional.empty() : Optional.of(second));
        } catch (RuntimeException | LinkageError fault) {
            fault(fault);
        } finally {
            second.close(clock.getAsLong(), crowds);
            finished.complete(null);
        }
    }

    // ---- turns --------------------------------------------------------------------------------------------------

    /** Begins what is due now. */
    void turn() {
        try {
            long now = attention.look();
            if (running && now >= second.end()) {
                second.turnTo(now, crowds);
                turns.remember();
            }
            crowds.giveUpLate(now);
            if (running && !ended) {
                beginDue(now);
            }
        } catch (RuntimeException | LinkageError fault) {
            fault(fault);
        }
    }

    private void beginDue(long now) {
        boolean any = !ending && now - startNanos >= endNanos;
        if (any) {
            // what was due before the end is still begun below, though the lane was held up over the end
            beginEnding();
        }
        if (ending && now >= giveUpNanos) {
            end();
        }
        for (int i = 0; i < crowds.all().size(); i++) {
            any |= beginDue(crowds.all().get(i));
        }
        if (!ended && any) {
            endIfIdle();
        }
    }

    /** Begins what is due of one crowd; whether a seat of it waited for that. */
    private boolean beginDue(LaneCrowd crowd) {
        Seats seats = crowd.seats();
        boolean any = false;
        while (!ended && seats.nextDue() <= clock.getAsLong()) {
            long due = seats.nextDue();
            any = true;
            crowd.pace().due(seats.takeDue(), due);
        }
        if (!ended) {
            crowd.pace().beginDue();
        }
        return any;
    }

    /**
     * Reads what has come and does what that asks for.
     *
     * @param waitNanos how long to sleep if nothing has come; 0 not at all
     */
    void poll(long waitNanos) {
        long now = clock.getAsLong();
        // whoever was held up does not sleep on top of it, and what he reads at once is what waited to be read
        long wait = attention.isHeldUp(now) ? 0 : Math.max(0, waitNanos);
        attention.sleeps(now + wait);
        loop.gather();
        try {
            poll.run(wait);
        } finally {
            try {
                loop.release();
            } catch (RuntimeException | LinkageError fault) {
                fault(fault);
            }
            attention.caughtUp();
        }
    }

    /** When the lane must look at its clock again. */
    long nextNanos() {
        long next = Math.min(second.end(), crowds.nextNanos(running));
        return running ? Math.min(next, ending ? giveUpNanos : startNanos + endNanos) : next;
    }

    /** Whether answers are awaited. */
    boolean isAwaiting() {
        return second.underWay() > 0;
    }

    /** When something last happened here: a call was sent or answered. */
    long lastEventNanos() {
        return attention.lastEventNanos();
    }

    // ---- what crowds ask for ------------------------------------------------------------------------------------

    int number() {
        return number;
    }

    /** Lanes of the whole load. */
    int total() {
        return total;
    }

    LaneLoop loop() {
        return loop;
    }

    long now() {
        return clock.getAsLong();
    }

    long startNanos() {
        return startNanos;
    }

    // ---- what seats tell ----------------------------------------------------------------------------------------

    /** Seconds that are over by now are told. */
    void turnTo(long now) {
        assert loop.eventLoop().inEventLoop() : "a lane is confined to its thread";
        attention.see(now);
        if (running) {
            second.turnTo(now, crowds);
        }
    }

    /** A call was sent or answered. */
    void happened(long now) {
        turnTo(now);
        attention.happened(now);
    }

    /** How long an answer to what was sent at that instant may have lain unread, since the lane was held up; 0 where it did not. */
    long unreadNanos(long sentNanos) {
        return attention.unreadNanos(sentNanos);
    }

    boolean isRunning() {
        return running;
    }

    /** A fault of Kadrem's own behind something that a driver told of a call. */
    void fault(Seat seat, Throwable fault) {
        fault(fault);
        try {
            if (seat.busy && !ended) {
                seat.giveUp(clock.getAsLong(), FailureKind.GENERATOR, String.valueOf(fault));
            } else if (!ended && !seat.waits && !seat.crowd().pace().holds(seat)) {
                seat.crowd().pace().answered(seat, clock.getAsLong(), VisitCursor.Next.NOTHING, true, 0);
                endIfIdle();
            }
        } catch (RuntimeException | LinkageError again) {
            fault(again);
            end();
        }
    }

    private void fault(Throwable fault) {
        second.ownFault();
        if (++faults <= LOGGED_FAULTS) {
            LOG.error("a fault of the generator's own", fault);
        }
        if (faults == MAX_FAULTS) {
            LOG.error("the lane ends after {} faults of its own", faults);
            end();
        }
    }

    // ---- what is left -------------------------------------------------------------------------------------------

    List<LaneCrowd> crowds() {
        return crowds.all();
    }

    /** Whether all that was asked for was done before the time was over; only with a number of visits. */
    boolean isDoneEarly() {
        return !stopped && crowds.areDoneEarly();
    }

    /** When the last call of the measured part ended, after the start. */
    long lastMeasuredEnd() {
        return crowds.lastMeasuredEnd();
    }
}
