package kadrem.load.engine;

import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;

/** The connections of a lane's crowd: those that are open, those that wait for an instant, and those whose answer is too late. Confined to the crowd. */
final class Seats {
    private static final long MIN_SWEEP_NANOS = TimeUnit.MILLISECONDS.toNanos(5);
    private static final long MAX_SWEEP_NANOS = TimeUnit.MILLISECONDS.toNanos(100);
    /** Looks at each time limit, so that none is missed by more than a part of it. */
    private static final int SWEEPS_IN_A_TIMEOUT = 20;

    private final LaneCrowd crowd;
    private final CompiledLoad load;
    private final List<Seat> seats = new ArrayList<>();
    private final DueQueue<Seat> waiting = new DueQueue<>();
    private final long sweepNanos;
    private long nextSweep = Long.MIN_VALUE;

    Seats(LaneCrowd crowd, CompiledLoad load) {
        this.crowd = crowd;
        this.load = load;
        sweepNanos = Math.clamp(load.shortestTimeout / SWEEPS_IN_A_TIMEOUT, MIN_SWEEP_NANOS, MAX_SWEEP_NANOS);
    }

    /** Makes those that are opened before the load begins. */
    List<Seat> openAhead() {
        int connections = load.profile.connections();
        for (int seat = crowd.number(); seat < connections; seat += crowd.total()) {
            seats.add(new Seat(crowd, seat, load));
        }
        return seats;
    }

    /** A further connection, which its first call makes. */
    Seat add() {
        var seat = new Seat(crowd, crowd.number() + seats.size() * crowd.total(), load);
        seats.add(seat);
        return seat;
    }

    List<Seat> all() {
        return seats;
    }

    int size() {
        return seats.size();
    }

    /** Lets a seat wait for an instant; the pace is then told. */
    void wait(Seat seat, long due, VisitCursor.Next next) {
        seat.goesOnWith = next;
        seat.waits = true;
        waiting.add(seat, due);
    }

    /** When a seat that waits is due next; {@link Long#MAX_VALUE} for never. */
    long nextDue() {
        return waiting.next();
    }

    /** The seat that is due next. */
    Seat takeDue() {
        Seat seat = waiting.take();
        seat.waits = false;
        return seat;
    }

    /** Gives calls up whose time is over, now and then. */
    void giveUpLate(long now) {
        if (now < nextSweep) {
            return;
        }
        nextSweep = now + sweepNanos;
        for (int i = 0; i < seats.size(); i++) {
            seats.get(i).giveUpIfLate(now);
        }
    }

    /** When there is something to be done here next. */
    long nextNanos() {
        return Math.min(nextSweep, waiting.next());
    }
}
