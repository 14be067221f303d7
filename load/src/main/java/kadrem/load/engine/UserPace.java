package kadrem.load.engine;

import java.time.Duration;
import java.util.ArrayList;
import java.util.List;

import kadrem.core.measure.Phase;
import kadrem.core.plan.Curve;
import kadrem.core.plan.UserDigest;
import kadrem.core.study.LoadProfile;

/**
 * Closed model: each seat is a user who waits, pauses and calls again, while the load profile has room for it. With a
 * pace its visits are due at instants fixed in advance; one that finds the one before unfinished follows it at once, and
 * its response time counts from when it was due.
 */
final class UserPace implements Pace {
    /** Pause after a failed connect, so that a candidate that is down is not hit by a storm of attempts. */
    private static final long UNREACHABLE_PAUSE = 50_000_000L;

    private final LaneCrowd crowd;
    private final CompiledLoad load;
    /** Distance of two visits of a user; 0 without a pace. */
    private final long paceNanos;
    /** Time over which users who come together spread their first visits, so that they do not call in step. */
    private final long spreadNanos;
    private final boolean counted;
    private final Curve curve;
    private final LoadProfile.Closed closed;
    /** In the order of the lane's seats. */
    private final List<User> users = new ArrayList<>();
    private int usersLeft;
    private long begunMeasured;

    /** When a user is there, and how far it is. */
    private static final class User {
        private final UserDigest digest;
        private final List<Curve.Stay> stays;
        private int stay = -1;
        /** End of the present stay; instant of the nano clock. */
        private long staysUntil;
        /** With a pace: when the present stay's first visit was due, and visits begun since. */
        private long paceStart;
        private long pacedVisits;
        private long visits;
        /** Visits of the measured part that this user is still to begin. */
        private long visitsLeft;
        /** Since when the user would be free with every send on time. */
        private long freeSince = Long.MIN_VALUE;
        private boolean done;

        User(int number, List<Curve.Stay> stays, long visitsLeft) {
            digest = new UserDigest(number);
            this.stays = stays;
            this.visitsLeft = visitsLeft;
        }
    }

    UserPace(LaneCrowd crowd, CompiledLoad load, LoadProfile.Closed closed) {
        this.crowd = crowd;
        this.load = load;
        this.closed = closed;
        paceNanos = closed.pace().map(Duration::toNanos).orElse(0L);
        spreadNanos = paceNanos > 0 ? paceNanos : closed.thinkTime().mean().toNanos();
        counted = closed.course().visits().isPresent();
        curve = Curve.of(closed);
    }

    private User of(Seat seat) {
        return users.get((seat.number - crowd.number()) / crowd.total());
    }

    @Override
    public void prepare(Runnable whenReady) {
        for (Seat seat : crowd.seats().all()) {
            users.add(new User(seat.number, curve.stays(seat.number),
                    closed.course().visits().orElse(Long.MAX_VALUE)));
        }
        usersLeft = users.size();
        whenReady.run();
    }

    /** How much later than the first the seat's user begins, where it comes together with others. */
    private long spread(long number) {
        return spreadNanos * number / closed.connections();
    }

    @Override
    public void begin() {
        for (int i = 0; i < crowd.seats().size(); i++) {
            comeBack(crowd.seats().all().get(i));
        }
    }

    @Override
    public void heldUp() {
        // users who wait for answers do not pile up
    }

    @Override
    public void beginDue() {
        // each user waits for an instant of its own
    }

    @Override
    public long nextNanos() {
        return Long.MAX_VALUE;
    }

    /** Waits for the user's next stay. */
    private void comeBack(Seat seat) {
        User user = of(seat);
        user.stay++;
        if (user.stay >= user.stays.size()) {
            leave(user);
            return;
        }
        Curve.Stay stay = user.stays.get(user.stay);
        user.staysUntil = crowd.startNanos() + stay.toNanos();
        user.paceStart = crowd.startNanos() + stay.fromNanos() + (stay.atOnce() ? spread(seat.number) : 0);
        user.pacedVisits = 0;
        later(seat, user, user.paceStart, VisitCursor.Next.NOTHING);
    }

    private void leave(User user) {
        if (!user.done) {
            user.done = true;
            usersLeft--;
        }
    }

    @Override
    public void answered(Seat seat, long now, VisitCursor.Next next, boolean unreachable, long thinkTime) {
        User user = of(seat);
        long pause = unreachable ? Math.max(UNREACHABLE_PAUSE, thinkTime) : thinkTime;
        user.freeSince = now - seat.visitLateNanos;
        boolean more = next == VisitCursor.Next.CALL || next == VisitCursor.Next.VISIT;
        if (paceNanos > 0 && !more) {
            later(seat, user, user.paceStart + user.pacedVisits * paceNanos, next);
        } else if (pause == 0) {
            next(seat, user, now, next);
        } else {
            later(seat, user, now + pause, next);
        }
    }

    private void later(Seat seat, User user, long due, VisitCursor.Next next) {
        if (due >= user.staysUntil) {
            comeBack(seat);
        } else if (paceNanos > 0 && due <= crowd.now()) {
            next(seat, user, due, next);
        } else {
            crowd.seats().wait(seat, due, next);
        }
    }

    @Override
    public void due(Seat seat, long dueNanos) {
        if (!crowd.isEnding() || paceNanos > 0) {
            next(seat, of(seat), dueNanos, seat.goesOnWith);
        }
    }

    private void next(Seat seat, User user, long due, VisitCursor.Next next) {
        if (due >= user.staysUntil) {
            comeBack(seat);
        } else if (next == VisitCursor.Next.CALL || next == VisitCursor.Next.VISIT) {
            crowd.callNext(seat, due, due);
        } else {
            visit(seat, user, due);
        }
    }

    private void visit(Seat seat, User user, long due) {
        boolean measured = crowd.phaseOf(due) == Phase.MEASURED;
        if (counted && (measured
                ? user.visitsLeft-- <= 0
                : due - crowd.startNanos() >= load.measuredEndNanos)) {
            leave(user);
            return;
        }
        if (measured) {
            begunMeasured++;
        }
        load.stream.draw(seat.number, user.visits++, seat.visit.draw);
        user.digest.add(seat.visit.draw);
        user.pacedVisits++;
        seat.visit.begin(!seat.values.user().isIntroduced());
        crowd.beginVisit(seat, due, paceNanos > 0 ? Math.max(due, user.freeSince) : due);
    }

    /** Users with a pace make the visits that were due before the end, as late arrivals do. */
    @Override
    public boolean hasMore() {
        return false;
    }

    @Override
    public boolean holds(Seat seat) {
        return of(seat).done;
    }

    @Override
    public boolean isDone() {
        return counted && usersLeft == 0;
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
            long until = crowd.startNanos() + Math.min(sinceStart, load.endNanos);
            for (int i = 0; i < users.size(); i++) {
                User user = users.get(i);
                if (!user.done && user.stay >= 0) {
                    waiting += Math.max(0, paced(user.paceStart, Math.min(until, user.staysUntil))
                            - user.pacedVisits);
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
            for (int i = 0; i < users.size(); i++) {
                for (Curve.Stay stay : users.get(i).stays) {
                    long first = stay.fromNanos()
                            + (stay.atOnce() ? spread(crowd.number() + (long) i * crowd.total()) : 0);
                    due += paced(first, Math.min(to, stay.toNanos()))
                            - paced(first, Math.min(from, stay.toNanos()));
                }
            }
        }
        return due;
    }

    @Override
    public List<UserDigest> userDigests() {
        return users.stream().map(user -> user.digest).toList();
    }
}
