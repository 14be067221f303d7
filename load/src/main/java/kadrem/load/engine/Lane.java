package kadrem.load.engine;

import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import java.util.function.LongSupplier;
import java.util.stream.LongStream;

import io.netty.channel.EventLoop;
import io.netty.util.concurrent.ScheduledFuture;
import kadrem.core.measure.CallTally;
import kadrem.core.measure.FailureKind;
import kadrem.core.measure.Latency;
import kadrem.core.measure.Phase;
import kadrem.core.measure.SecondTally;
import kadrem.core.plan.Arrivals;
import kadrem.core.plan.Curve;
import kadrem.core.plan.LoadStream;
import kadrem.core.plan.StreamHash;
import kadrem.core.plan.UserDigest;
import kadrem.core.study.Call;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.ThinkTime;
import kadrem.core.study.Visit;
import kadrem.load.drive.Driver;
import org.jspecify.annotations.Nullable;

/**
 * One event-loop thread with its own share of users or arrivals, its own timers and its own tallies. Everything but
 * {@link #open}, {@link #begin}, {@link #stop} and {@link #finished} runs on that thread, and nothing here is shared with
 * another lane.
 */
final class Lane {
    private static final long SECOND = 1_000_000_000L;
    /** Connections opened at the same time before the start. */
    private static final int OPENING_AT_ONCE = 64;

    private final int number;
    private final LoadOrder order;
    private final EventLoop loop;
    private final Driver driver;
    private final Recorder recorder;
    private final LongSupplier clock;
    private final LoadStream stream;
    private final int firstPart;
    private final int[] firstCallOfVisit;
    private final int[] callsOfVisit;
    private final int[] stepsOfVisit;
    private final long[] timeoutOf;
    /** Longest response time of a good call; 0 where any will do. */
    private final long[] withinOf;
    private final ThinkTime[] thinkTimeOf;
    private final List<Seat> seats = new ArrayList<>();
    private final Examples examples;
    private final Pace pace;
    private final CompletableFuture<Void> finished = new CompletableFuture<>();
    private final long warmUpNanos;
    private final long measuredEndNanos;
    private final long endNanos;
    private final long longestTimeout;
    private final long shortestTimeout;

    private long startNanos;
    private SecondTally tally;
    private long secondEnd;
    private int busySeats;
    /** Seats between two calls of a visit that is to be finished. */
    private int pausing;
    private boolean running;
    private boolean ending;
    private boolean ended;
    private boolean stopped;
    /** When the last call of the measured part ended, after the start; before any call the end of the warm-up. */
    private long lastMeasuredEnd;
    private @Nullable ScheduledFuture<?> clockTask;
    private @Nullable ScheduledFuture<?> timeoutTask;

    /** @param clock the nano clock that {@code loop} goes by, and that the driver's instants are of */
    Lane(int number, LoadOrder order, EventLoop loop, Driver driver, Recorder recorder, LongSupplier clock) {
        this.number = number;
        this.order = order;
        this.loop = loop;
        this.driver = driver;
        this.recorder = recorder;
        this.clock = clock;
        stream = LoadStream.of(order.workload(), order.load(), order.streamSeed());
        List<Visit> visits = order.workload().visits();
        callsOfVisit = visits.stream().mapToInt(visit -> visit.calls().size()).toArray();
        stepsOfVisit = visits.stream().mapToInt(visit -> visit.calls().size() * visit.repeat()).toArray();
        firstPart = order.workload().first().size();
        firstCallOfVisit = new int[callsOfVisit.length];
        firstCallOfVisit[0] = firstPart;
        for (int i = 1; i < callsOfVisit.length; i++) {
            firstCallOfVisit[i] = firstCallOfVisit[i - 1] + callsOfVisit[i - 1];
        }
        LoadProfile load = order.load();
        warmUpNanos = load.warmUp().toNanos();
        measuredEndNanos = warmUpNanos + load.measured().toNanos();
        endNanos = load.total().toNanos();
        List<Call> calls = order.workload().calls();
        timeoutOf = calls.stream().mapToLong(call -> call.timeout().orElse(load.timeout()).toNanos()).toArray();
        longestTimeout = LongStream.of(timeoutOf).max().orElseThrow();
        shortestTimeout = LongStream.of(timeoutOf).min().orElseThrow();
        withinOf = calls.stream().mapToLong(call -> call.expected().within().map(Duration::toNanos).orElse(0L))
                .toArray();
        ThinkTime usual = load instanceof LoadProfile.Closed closed ? closed.thinkTime() : ThinkTime.NONE;
        thinkTimeOf = calls.stream().map(call -> call.thinkTime().orElse(usual)).toArray(ThinkTime[]::new);
        int captured = order.workload().capturedNames().size();
        for (int seat = number; seat < load.connections(); seat += order.lanes()) {
            seats.add(new Seat(this, seat, stream.newDraw(), captured, clock));
        }
        seats.forEach(seat -> seat.connect(driver, loop));
        examples = new Examples(calls, recorder, driver::statusWord);
        pace = switch (load) {
            case LoadProfile.Closed closed -> new UserPace(closed);
            case LoadProfile.Open open -> new ArrivalPace(open);
        };
        tally = recorder.take();
    }

    /** Opens all connections; the future gives the id of the lane's thread. */
    CompletableFuture<Long> open() {
        var opened = new CompletableFuture<Long>();
        loop.execute(() -> new Opening(opened).begin());
        return opened;
    }

    void begin(long start) {
        loop.execute(() -> {
            if (ended) {
                return;
            }
            running = true;
            startNanos = start;
            secondEnd = start + SECOND;
            scheduleClock();
            long sweep = Math.clamp(shortestTimeout / 20, TimeUnit.MILLISECONDS.toNanos(5),
                    TimeUnit.MILLISECONDS.toNanos(100));
            timeoutTask = loop.scheduleAtFixedRate(this::sweepTimeouts, sweep, sweep, TimeUnit.NANOSECONDS);
            at(startNanos + endNanos, this::beginEnding);
            pace.begin();
            endIfIdle();
        });
    }

    void stop() {
        loop.execute(() -> {
            if (!ended) {
                stopped = true;
                end();
            }
        });
    }

    CompletableFuture<Void> finished() {
        return finished;
    }

    boolean wasStopped() {
        return stopped;
    }

    List<UserDigest> userDigests() {
        return pace instanceof UserPace users ? users.digests : List.of();
    }

    long arrivalHashes() {
        return pace instanceof ArrivalPace arrivals ? arrivals.hashes : 0;
    }

    long begun() {
        return pace instanceof ArrivalPace arrivals ? arrivals.begun : 0;
    }

    /** Visits begun that were due in the measured part. */
    long begunMeasured() {
        return pace.begunMeasured();
    }

    /** Visits due in the measured part by the load; 0 where users begin them as they are answered. */
    long intendedMeasured() {
        return pace.intended(warmUpNanos, measuredEndNanos);
    }

    /** Whether all that was asked for was done before the time was over; only with a number of visits. */
    boolean isDoneEarly() {
        return order.load().course().visits().isPresent() && !stopped && lastMeasuredEnd < measuredEndNanos;
    }

    long lastMeasuredEnd() {
        return lastMeasuredEnd;
    }

    /** Runs {@code task} at an instant of the nano clock. */
    private ScheduledFuture<?> at(long nanos, Runnable task) {
        return loop.schedule(() -> {
            try {
                task.run();
            } catch (RuntimeException failure) {
                finished.completeExceptionally(failure);
                throw failure;
            }
        }, Math.max(0, nanos - clock.getAsLong()), TimeUnit.NANOSECONDS);
    }

    private void scheduleClock() {
        clockTask = at(secondEnd, () -> {
            turnTo(clock.getAsLong());
            if (!ended) {
                scheduleClock();
            }
        });
    }

    /** Hands over the seconds that have ended at {@code now}. Called by the clock and before each entry. */
    private void turnTo(long now) {
        while (now >= secondEnd) {
            handOver(false);
            secondEnd += SECOND;
        }
    }

    private void handOver(boolean last) {
        tally.second = (int) ((secondEnd - startNanos) / SECOND) - 1;
        tally.busy = busySeats;
        tally.backlog = pace.backlog(secondEnd - startNanos);
        tally.intended = pace.intended((secondEnd - startNanos) - SECOND, secondEnd - startNanos);
        recorder.deliver(number, tally, last);
        tally = recorder.take();
    }

    private void sweepTimeouts() {
        long now = clock.getAsLong();
        for (int i = 0; i < seats.size(); i++) {
            seats.get(i).giveUpIfLate(now);
        }
    }

    private void beginEnding() {
        ending = true;
        endIfIdle();
        if (!ended) {
            at(startNanos + endNanos + longestTimeout, this::end);
        }
    }

    private void endIfIdle() {
        if ((ending || pace.isDone()) && busySeats == 0 && pausing == 0 && !pace.hasMore()) {
            end();
        }
    }

    private void end() {
        if (ended) {
            return;
        }
        ending = true;
        ended = true;
        long now = clock.getAsLong();
        if (running) {
            turnTo(now);
        }
        for (Seat seat : seats) {
            if (!stopped && seat.busy) {
                seat.giveUp();
            }
            seat.close();
        }
        examples.deliverSlowest();
        cancel(clockTask);
        cancel(timeoutTask);
        if (running) {
            handOver(true);
        }
        finished.complete(null);
    }

    private static void cancel(@Nullable ScheduledFuture<?> task) {
        if (task != null) {
            task.cancel(false);
        }
    }

    private Phase phaseOf(long due) {
        long at = due - startNanos;
        return at < warmUpNanos ? Phase.WARM_UP : at < measuredEndNanos ? Phase.MEASURED : Phase.WIND_DOWN;
    }

    /** Begins the seat's visit that was just drawn, with the first part where this user has not made it yet. */
    private void beginVisit(Seat seat, long due, long ready) {
        seat.step = 0;
        seat.callsBegun = 0;
        seat.inFirst = firstPart > 0 && !seat.introduced;
        seat.carrier().beginVisit();
        callNext(seat, due, ready);
    }

    /** Begins the next call of the seat's visit. */
    private void callNext(Seat seat, long due, long ready) {
        int visit = seat.draw.visit();
        seat.call = seat.inFirst ? seat.step : firstCallOfVisit[visit] + seat.step % callsOfVisit[visit];
        stream.drawCall(seat.callsBegun++, seat.draw);
        busySeats++;
        seat.begin(due, ready, phaseOf(due), timeoutOf[seat.call]);
    }

    private CallTally tallyOf(Seat seat) {
        return tally.call(seat.call, seat.phase);
    }

    /** The seat's call has gone out. */
    void sent(Seat seat, long now, int bytes) {
        turnTo(now);
        tallyOf(seat).bytesOut += bytes;
        if (seat.phase == Phase.MEASURED) {
            Latency.record(tally.lag, now - seat.readyNanos);
        }
    }

    /** A connection was made for a call. */
    void connected(long connectNanos, long handshakeNanos) {
        Latency.record(tally.connect, connectNanos);
        if (handshakeNanos > 0) {
            Latency.record(tally.handshake, handshakeNanos);
        }
    }

    void begun(Seat seat) {
        turnTo(seat.beganNanos);
        tallyOf(seat).sent++;
    }

    /** A part of the seat's answer has come. */
    void part(Seat seat, long now) {
        turnTo(now);
        CallTally entry = tallyOf(seat);
        entry.parts++;
        if (seat.partNanos == 0) {
            Latency.record(entry.first(), now - seat.sentNanos);
        } else {
            Latency.record(entry.gap(), now - seat.partNanos);
        }
    }

    void good(Seat seat, long now, int status, long bytes) {
        long response = now - seat.dueNanos;
        long service = now - seat.sentNanos;
        long within = withinOf[seat.call];
        if (within > 0 && response > within) {
            failed(seat, now, FailureKind.FAILED_EXPECTATION, status, bytes,
                    "it took " + response / 1_000_000 + " ms, and should take at most " + within / 1_000_000 + " ms");
            return;
        }
        turnTo(now);
        CallTally entry = tallyOf(seat);
        entry.good++;
        entry.responseSum += response;
        entry.bytesIn += bytes;
        Latency.record(entry.response, response);
        Latency.record(entry.service, service);
        if (seat.phase == Phase.MEASURED && examples.isAmongSlowest(seat.call, response)) {
            examples.keepSlow(seat, response, service, status, startNanos);
        }
        busySeats--;
        answered(seat, now, true, false);
    }

    void failed(Seat seat, long now, FailureKind kind, int status, long bytes, String detail) {
        turnTo(now);
        CallTally entry = tallyOf(seat);
        entry.failed[kind.ordinal()]++;
        if (status > 0) {
            entry.failedWith(driver.statusWord(status));
        }
        entry.bytesIn += bytes;
        if (seat.phase == Phase.MEASURED) {
            examples.keepFailure(seat, kind, detail, now, status, startNanos);
        }
        busySeats--;
        answered(seat, now, false, kind == FailureKind.REFUSED || kind == FailureKind.NO_CONNECTION);
    }

    /** A visit goes on after a good call and ends with a failed one. */
    private void answered(Seat seat, long now, boolean good, boolean unreachable) {
        if (seat.phase == Phase.MEASURED) {
            lastMeasuredEnd = now - startNanos;
        }
        boolean more = good && (seat.inFirst || seat.step + 1 < stepsOfVisit[seat.draw.visit()]);
        long pause = stream.thinkNanos(thinkTimeOf[seat.call], seat.callsBegun, seat.draw);
        if (seat.inFirst) {
            afterFirstPart(seat, good);
        } else {
            seat.step++;
        }
        if (!ended) {
            pace.answered(seat, now, more, unreachable, pause);
            endIfIdle();
        }
    }

    private void afterFirstPart(Seat seat, boolean good) {
        if (!good) {
            seat.inFirst = false;
            tally.call(firstCallOfVisit[seat.draw.visit()], seat.phase).failed[FailureKind.FIRST_PART.ordinal()]++;
        } else if (++seat.step == firstPart) {
            seat.inFirst = false;
            seat.introduced = true;
            seat.step = 0;
        }
    }

    /** Opens the seats' connections, a bounded number at the same time. */
    private final class Opening {
        private final CompletableFuture<Long> opened;
        private int next;
        private int settled;

        Opening(CompletableFuture<Long> opened) {
            this.opened = opened;
        }

        void begin() {
            if (seats.isEmpty()) {
                opened.complete(Thread.currentThread().threadId());
            }
            for (int i = 0; i < OPENING_AT_ONCE; i++) {
                openNext();
            }
        }

        private void openNext() {
            if (next < seats.size()) {
                seats.get(next++).open(() -> {
                    settled++;
                    if (settled == seats.size()) {
                        opened.complete(Thread.currentThread().threadId());
                    } else {
                        openNext();
                    }
                });
            }
        }
    }

    /** When visits and calls are due. */
    private sealed interface Pace {
        void begin();

        /**
         * @param more whether the seat's visit has another call
         * @param pause think time after the call, in nanoseconds
         */
        void answered(Seat seat, long now, boolean more, boolean unreachable, long pause);

        /** Whether something that was due is still to be begun. */
        boolean hasMore();

        /** Whether nothing is to be begun any more although the time is not over, since a number of visits was asked for. */
        boolean isDone();

        long begunMeasured();

        long backlog(long sinceStart);

        long intended(long from, long to);
    }

    /**
     * Closed model: each seat is a user who waits, pauses and calls again, while the load profile has room for it. With a
     * pace its visits are due at instants fixed in advance; one that finds the one before unfinished follows it at once, and
     * its response time counts from when it was due.
     */
    private final class UserPace implements Pace {
        /** Pause after a failed connect, so that a candidate that is down is not hit by a storm of attempts. */
        private static final long UNREACHABLE_PAUSE = 50_000_000L;
        /** Distance of two visits of a user; 0 without a pace. */
        private final long paceNanos;
        /** Time over which users who come together spread their first visits, so that they do not call in step. */
        private final long spreadNanos;
        private final boolean counted;
        private final List<UserDigest> digests = new ArrayList<>();
        private int seatsLeft;
        private long begunMeasured;

        UserPace(LoadProfile.Closed closed) {
            paceNanos = closed.pace().map(Duration::toNanos).orElse(0L);
            spreadNanos = paceNanos > 0 ? paceNanos : closed.thinkTime().mean().toNanos();
            counted = closed.course().visits().isPresent();
            Curve curve = Curve.of(closed);
            seatsLeft = seats.size();
            for (Seat seat : seats) {
                digests.add(new UserDigest(seat.number));
                seat.stays = curve.stays(seat.number);
                seat.visitsLeft = closed.course().visits().orElse(Long.MAX_VALUE);
            }
        }

        /** How much later than the first the seat's user begins, where it comes together with others. */
        private long spread(Seat seat) {
            return spreadNanos * seat.number / order.load().connections();
        }

        @Override
        public void begin() {
            for (int i = 0; i < seats.size(); i++) {
                seats.get(i).stay = -1;
                comeBack(seats.get(i));
            }
        }

        /** Waits for the user's next stay. */
        private void comeBack(Seat seat) {
            seat.stay++;
            if (seat.stay >= seat.stays.size()) {
                leave(seat);
                return;
            }
            Curve.Stay stay = seat.stays.get(seat.stay);
            seat.staysUntil = startNanos + stay.toNanos();
            seat.paceStart = startNanos + stay.fromNanos() + (stay.atOnce() ? spread(seat) : 0);
            seat.pacedVisits = 0;
            later(seat, seat.paceStart, false);
        }

        private void leave(Seat seat) {
            if (!seat.done) {
                seat.done = true;
                seatsLeft--;
            }
        }

        @Override
        public void answered(Seat seat, long now, boolean more, boolean unreachable, long thinkTime) {
            long pause = unreachable ? Math.max(UNREACHABLE_PAUSE, thinkTime) : thinkTime;
            seat.freeSince = now;
            if (paceNanos > 0 && !more) {
                long due = seat.paceStart + seat.pacedVisits * paceNanos;
                later(seat, due, false);
            } else if (pause == 0) {
                next(seat, now, more);
            } else {
                later(seat, now + pause, more);
            }
        }

        private void later(Seat seat, long due, boolean more) {
            if (due >= seat.staysUntil) {
                comeBack(seat);
            } else if (paceNanos > 0 && due <= clock.getAsLong()) {
                next(seat, due, more);
            } else {
                at(due, () -> {
                    if (!ended && (!ending || paceNanos > 0)) {
                        next(seat, due, more);
                        endIfIdle();
                    }
                });
            }
        }

        private void next(Seat seat, long due, boolean more) {
            if (due >= seat.staysUntil) {
                comeBack(seat);
            } else if (more) {
                callNext(seat, due, due);
            } else {
                visit(seat, due);
            }
        }

        private void visit(Seat seat, long due) {
            boolean measured = phaseOf(due) == Phase.MEASURED;
            if (counted && (measured ? seat.visitsLeft-- <= 0 : due - startNanos >= measuredEndNanos)) {
                leave(seat);
                return;
            }
            if (measured) {
                begunMeasured++;
            }
            stream.draw(seat.number, seat.visits++, seat.draw);
            digests.get(seat.number / order.lanes()).add(seat.draw);
            seat.pacedVisits++;
            beginVisit(seat, due, paceNanos > 0 ? Math.max(due, seat.freeSince) : due);
        }

        /** Users with a pace make the visits that were due before the end, as late arrivals do. */
        @Override
        public boolean hasMore() {
            return false;
        }

        @Override
        public boolean isDone() {
            return counted && seatsLeft == 0;
        }

        @Override
        public long begunMeasured() {
            return paceNanos > 0 ? begunMeasured : 0;
        }

        /** With a pace, visits that were due and are not begun, since their users are not done with the ones before. */
        @Override
        public long backlog(long sinceStart) {
            long waiting = 0;
            if (paceNanos > 0) {
                long until = startNanos + Math.min(sinceStart, endNanos);
                for (int i = 0; i < seats.size(); i++) {
                    Seat seat = seats.get(i);
                    if (!seat.done && seat.stay >= 0) {
                        waiting += Math.max(0, paced(seat.paceStart, Math.min(until, seat.staysUntil))
                                - seat.pacedVisits);
                    }
                }
            }
            return waiting;
        }

        /** Visits due from {@code first} on and before {@code until}. */
        private long paced(long first, long until) {
            return until <= first ? 0 : (until - first - 1) / paceNanos + 1;
        }

        @Override
        public long intended(long from, long to) {
            long due = 0;
            if (paceNanos > 0 && !counted) {
                for (int i = 0; i < seats.size(); i++) {
                    for (Curve.Stay stay : seats.get(i).stays) {
                        long first = stay.fromNanos() + (stay.atOnce() ? spread(seats.get(i)) : 0);
                        due += paced(first, Math.min(to, stay.toNanos()))
                                - paced(first, Math.min(from, stay.toNanos()));
                    }
                }
            }
            return due;
        }
    }

    /**
     * Open model: arrival i is due i / rate after the start and belongs to lane i mod lanes. Seats are connections; an
     * arrival that finds none free waits, first come first served, and since arrivals are numbers the queue is only the
     * distance between two of them.
     */
    private final class ArrivalPace implements Pace {
        private final Arrivals arrivals;
        private final Seat[] free;
        private int freeCount;
        private long next = number;
        private long begun;
        private long begunMeasured;
        private long hashes;
        private boolean waiting;

        ArrivalPace(LoadProfile.Open open) {
            arrivals = Arrivals.of(open, order.streamSeed());
            free = new Seat[seats.size()];
        }

        @Override
        public void begin() {
            for (Seat seat : seats) {
                seat.freeSince = startNanos;
                free[freeCount++] = seat;
            }
            beginDue();
        }

        private void beginDue() {
            while (freeCount > 0 && next < arrivals.count() && !ended) {
                long due = startNanos + arrivals.dueNanos(next);
                if (due > clock.getAsLong()) {
                    if (!waiting) {
                        waiting = true;
                        at(due, this::wake);
                    }
                    return;
                }
                Seat seat = free[--freeCount];
                stream.draw(0, next, seat.draw);
                long hash = StreamHash.with(StreamHash.with(StreamHash.START, next), due - startNanos);
                hashes += StreamHash.with(hash, seat.draw);
                begun++;
                begunMeasured += phaseOf(due) == Phase.MEASURED ? 1 : 0;
                next += order.lanes();
                beginVisit(seat, due, Math.max(due, seat.freeSince));
            }
        }

        private void wake() {
            waiting = false;
            beginDue();
        }

        @Override
        public void answered(Seat seat, long now, boolean more, boolean unreachable, long pause) {
            // a visit that arrived in time is finished
            if (more && pause > 0) {
                pausing++;
                long due = now + pause;
                at(due, () -> {
                    pausing--;
                    if (!ended) {
                        callNext(seat, due, due);
                    }
                });
                return;
            }
            if (more) {
                callNext(seat, now, now);
                return;
            }
            seat.freeSince = now;
            free[freeCount++] = seat;
            beginDue();
        }

        @Override
        public boolean hasMore() {
            return next < arrivals.count();
        }

        @Override
        public boolean isDone() {
            return order.load().course().visits().isPresent() && !hasMore();
        }

        @Override
        public long begunMeasured() {
            return begunMeasured;
        }

        @Override
        public long backlog(long sinceStart) {
            long due = arrivals.dueBefore(sinceStart);
            return due <= next ? 0 : (due - next + order.lanes() - 1) / order.lanes();
        }

        @Override
        public long intended(long from, long to) {
            return mine(arrivals.dueBefore(to)) - mine(arrivals.dueBefore(from));
        }

        /** Of the first {@code count} arrivals, those that belong to this lane. */
        private long mine(long count) {
            return (count - number + order.lanes() - 1) / order.lanes();
        }
    }
}
