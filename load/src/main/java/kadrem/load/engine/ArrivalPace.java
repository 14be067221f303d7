package kadrem.load.engine;

import java.util.ArrayDeque;

import kadrem.core.measure.FailureKind;
import kadrem.core.measure.Phase;
import kadrem.core.plan.Arrivals;
import kadrem.core.plan.LoadStream;
import kadrem.core.plan.StreamHash;
import kadrem.core.study.LoadProfile;
import kadrem.load.drive.User;

/**
 * Open model: arrival k is due at an instant fixed in advance, and is a visit of user k mod N, whatever connection it comes over.
 * Seats are connections. An arrival that finds none free opens another, as one more user would; where as many are open as may be
 * it waits, first come first served, and since arrivals are numbers the queue is only the distance between two of them. What is
 * overdue because the lane was held up does not leave in one burst, which would be a load of Kadrem's own making, but at twice the
 * rate until the lane has caught up. What waits for a connection is overdue because of the candidate and leaves as soon as there is one. First
 * parts of all users are made ahead of the start, so that their number is the same however fast the candidate is.
 */
final class ArrivalPace implements Pace {
    private final LaneCrowd crowd;
    private final CompiledLoad load;
    private final Arrivals arrivals;
    private final int identities;
    /** Seats of this lane at most. */
    private final int mostSeats;
    private final User[] users;
    private final ArrayDeque<Seat> free = new ArrayDeque<>();
    private final EarliestFree wouldBeFree = new EarliestFree();
    /** User of the next arrival of this lane, and the number of the first arrival of the present turn of all users. */
    private long user;
    private long turn;
    /** Whether arrivals are overdue since the lane was held up; and when the last one began, and was due. */
    private boolean catchingUp;
    private long lastBegun;
    private long lastDue;
    private long begun;
    private long begunMeasured;
    /** Arrivals that were never sent; the digest holds them, too, since the load asked for them. */
    private long unsent;
    private long hashes;
    /** Seats between two calls of a visit that is to be finished. */
    private int pausing;
    /** Seats that make first parts ahead of the start. */
    private int introducing;
    private int nextToIntroduce;
    private Runnable whenReady = () -> {
    };

    ArrivalPace(LaneCrowd crowd, CompiledLoad load, Arrivals arrivals, LoadProfile.Open open) {
        this.crowd = crowd;
        this.load = load;
        this.arrivals = arrivals;
        identities = open.connections();
        user = crowd.number();
        mostSeats = share(open.connectionLimit());
        users = new User[share(identities)];
        for (int i = 0; i < users.length; i++) {
            users[i] = new User(load.capturedNames);
        }
    }

    /** Of {@code all} things that are dealt to the lanes in turn, those of this crowd. */
    private int share(int all) {
        return (all - crowd.number() + crowd.total() - 1) / crowd.total();
    }

    @Override
    public void prepare(Runnable ready) {
        whenReady = ready;
        for (Seat seat : crowd.seats().all()) {
            free.addLast(seat);
        }
        if (load.firstPart > 0) {
            introducing = 1;
            while (nextToIntroduce < users.length && !free.isEmpty()) {
                introduceNext(free.pollLast());
            }
            introduced();
        } else {
            ready.run();
        }
    }

    private void introduceNext(Seat seat) {
        if (nextToIntroduce >= users.length) {
            free.addLast(seat);
            return;
        }
        introducing++;
        int number = crowd.number() + nextToIntroduce * crowd.total();
        seat.values.become(users[nextToIntroduce++]);
        load.stream.draw(0, number, seat.visit.draw);
        seat.visit.beginFirstPart();
        long now = crowd.now();
        crowd.beginVisit(seat, now, now);
    }

    private void introduced() {
        if (--introducing == 0) {
            whenReady.run();
        }
    }

    @Override
    public void begin() {
        for (int i = 0; i < crowd.seats().size(); i++) {
            wouldBeFree.add(crowd.startNanos());
        }
    }

    /** Number of the next arrival of this crowd. */
    private long next() {
        return turn + user;
    }

    @Override
    public boolean hasMore() {
        return user < identities && next() < arrivals.count();
    }

    /** Whether an arrival would find a connection. */
    private boolean hasSeat() {
        return !free.isEmpty() || crowd.seats().size() < mostSeats;
    }

    @Override
    public long nextNanos() {
        return hasMore() && hasSeat()
                ? begins(crowd.startNanos() + arrivals.dueNanos(next()))
                : Long.MAX_VALUE;
    }

    /** When an arrival is begun that is due at an instant. */
    private long begins(long due) {
        if (!catchingUp) {
            return due;
        }
        long spread = lastBegun + (due - lastDue) / 2;
        catchingUp = spread > due;
        return Math.max(due, spread);
    }

    @Override
    public void heldUp() {
        if (!catchingUp && hasSeat()) {
            // once: turns that are long one after the other must not put off what is overdue again and again
            catchingUp = true;
            lastBegun = crowd.now();
            // the first of them leaves at once
            lastDue = hasMore() ? crowd.startNanos() + arrivals.dueNanos(next()) : lastDue;
        }
    }

    @Override
    public void beginDue() {
        while (!crowd.isEnded() && nextNanos() <= crowd.now()) {
            long number = next();
            long due = crowd.startNanos() + arrivals.dueNanos(number);
            lastDue = due;
            lastBegun = crowd.now();
            User arriving = users[(int) ((user - crowd.number()) / crowd.total())];
            goOn();
            long ready = due;
            Seat seat = free.pollLast();
            if (seat == null) {
                seat = crowd.seats().add();
            } else {
                long earliest = wouldBeFree.take();
                // while further connections may be opened nobody would have waited for one
                ready = crowd.seats().size() < mostSeats ? due : Math.max(due, earliest);
            }
            load.stream.draw(0, number, seat.visit.draw);
            digest(number, due - crowd.startNanos(), seat.visit.draw);
            begun++;
            begunMeasured += crowd.phaseOf(due) == Phase.MEASURED ? 1 : 0;
            seat.values.become(arriving);
            seat.visit.begin(!arriving.isIntroduced());
            crowd.beginVisit(seat, due, ready);
        }
    }

    private void digest(long number, long dueNanos, LoadStream.Draw draw) {
        hashes += StreamHash.with(StreamHash.with(StreamHash.with(StreamHash.START, number), dueNanos), draw);
    }

    @Override
    public void eachUnsent(LaneSecond second) {
        LoadStream.Draw draw = load.stream.newDraw();
        for (; hasMore(); goOn()) {
            long number = next();
            load.stream.draw(0, number, draw);
            digest(number, arrivals.dueNanos(number), draw);
            unsent++;
            Phase phase = crowd.phaseOf(crowd.startNanos() + arrivals.dueNanos(number));
            for (int step = 0; step < load.stepsOf(draw.visit()); step++) {
                second.notMade(load.numberOf(load.callOf(draw.visit(), step)), phase, FailureKind.NOT_SENT);
            }
        }
    }

    private void goOn() {
        user += crowd.total();
        if (user >= identities) {
            user = crowd.number();
            turn += identities;
        }
    }

    @Override
    public void answered(Seat seat, long now, VisitCursor.Next next, boolean unreachable, long pause) {
        // a visit that arrived in time is finished
        switch (next) {
            case CALL, VISIT -> {
                if (pause > 0) {
                    pausing++;
                    crowd.seats().wait(seat, now + pause, next);
                } else {
                    crowd.callNext(seat, now, now);
                }
            }
            case NOTHING, CANNOT_BEGIN, INTRODUCED -> {
                if (introducing > 0) {
                    introduceNext(seat);
                    introduced();
                } else {
                    if (catchingUp && !hasSeat() && hasMore()
                            && begins(crowd.startNanos() + arrivals.dueNanos(next())) <= now) {
                        // it waited for the candidate, which sets the pace from here on
                        catchingUp = false;
                    }
                    free.addLast(seat);
                    wouldBeFree.add(now - seat.visitLateNanos);
                    beginDue();
                }
            }
        }
    }

    @Override
    public void due(Seat seat, long dueNanos) {
        pausing--;
        crowd.callNext(seat, dueNanos, dueNanos);
    }

    @Override
    public boolean holds(Seat seat) {
        return free.contains(seat);
    }

    @Override
    public boolean isDone() {
        return load.profile.course().visits().isPresent() && !hasMore();
    }

    /** Whether visits are between two of their calls. */
    boolean isPausing() {
        return pausing > 0;
    }

    @Override
    public long begunMeasured() {
        return begunMeasured;
    }

    @Override
    public long begun() {
        return begun + unsent;
    }

    @Override
    public long arrivalHashes() {
        return hashes;
    }

    @Override
    public long backlog(long sinceStart) {
        return Math.max(0, mine(arrivals.dueBefore(sinceStart)) - begun);
    }

    @Override
    public long intended(long from, long to) {
        return mine(arrivals.dueBefore(to)) - mine(arrivals.dueBefore(from));
    }

    /** Of the first {@code count} arrivals, those that belong to this crowd. */
    private long mine(long count) {
        return count / identities * users.length
                + Math.min(users.length,
                        Math.max(0, (count % identities - crowd.number() + crowd.total() - 1) / crowd.total()));
    }
}
