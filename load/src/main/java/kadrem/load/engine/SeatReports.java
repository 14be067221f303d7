package kadrem.load.engine;

import kadrem.core.measure.FailureKind;
import kadrem.core.measure.Phase;
import kadrem.load.drive.Driver;

/** What seats tell of their calls, counted into the second under way and handed on to the lane's pace. Confined to the lane. */
final class SeatReports {
    private final Lane lane;
    private final LaneCrowd crowd;
    private final CompiledLoad load;
    private final Driver driver;
    private final LaneSecond second;
    private final Examples examples;
    private long lastMeasuredEnd;

    SeatReports(Lane lane, LaneCrowd crowd, CompiledLoad load, Driver driver, LaneSecond second, Examples examples) {
        this.lane = lane;
        this.crowd = crowd;
        this.load = load;
        this.driver = driver;
        this.second = second;
        this.examples = examples;
    }

    /** When the last call of the measured part ended, after the start; before any call the end of the warm-up. */
    long lastMeasuredEnd() {
        return lastMeasuredEnd;
    }

    void begun(Seat seat) {
        lane.turnTo(seat.beganNanos);
        second.begun(seat);
    }

    void sent(Seat seat, long now, int bytes) {
        lane.happened(now);
        second.sent(seat, bytes);
    }

    void connected(long connectNanos, long handshakeNanos) {
        second.connected(connectNanos, handshakeNanos);
    }

    void part(Seat seat, long now) {
        lane.turnTo(now);
        second.part(seat, now);
    }

    void good(Seat seat, long now, int status, long bytes) {
        lane.happened(now);
        notRead(seat);
        long response = now - seat.dueNanos - seat.lateNanos;
        long within = load.withinOf(seat.call());
        second.answered(seat, now, response <= within, bytes);
        if (seat.phase == Phase.MEASURED) {
            if (response > within) {
                examples.keepFailure(seat, FailureKind.TOO_LATE, "it took " + response / 1_000_000
                        + " ms, and should take at most " + within / 1_000_000 + " ms", now, status, lane.startNanos());
            } else if (examples.isAmongSlowest(seat.call(), response)) {
                examples.keepSlow(seat, response, now - seat.sentNanos - seat.unreadNanos, status, lane.startNanos());
            }
        }
        answered(seat, now, true, false);
    }

    /** What of the wait for an answer was only that the lane was held up and did not read. */
    private void notRead(Seat seat) {
        long unread = lane.unreadNanos(seat.sentNanos);
        if (unread > 0 && !seat.carrier().timesBesideLane()) {
            seat.unreadNanos = unread;
            seat.lateNanos += unread;
        }
    }

    void failed(Seat seat, long now, FailureKind kind, int status, long bytes, String detail) {
        lane.happened(now);
        second.failed(seat, now, kind, status > 0 ? driver.statusWord(status) : "", bytes);
        if (seat.phase == Phase.MEASURED) {
            examples.keepFailure(seat, kind, detail, now, status, lane.startNanos());
        }
        answered(seat, now, false, kind == FailureKind.REFUSED || kind == FailureKind.NO_CONNECTION);
    }

    private void answered(Seat seat, long now, boolean whole, boolean unreachable) {
        if (seat.phase == Phase.MEASURED) {
            lastMeasuredEnd = now - lane.startNanos();
        }
        seat.visitLateNanos += seat.lateNanos;
        long pause = seat.visit.pause();
        VisitCursor.Next next = seat.visit.ended(whole);
        if (!whole && lane.isRunning()) {
            FailureKind why = next == VisitCursor.Next.CANNOT_BEGIN
                    ? FailureKind.FIRST_PART
                    : FailureKind.EARLIER_CALL;
            seat.visit.eachLeft(call -> second.notMade(load.numberOf(call), seat.phase, why));
        } else if (next == VisitCursor.Next.VISIT || next == VisitCursor.Next.INTRODUCED) {
            seat.values.user().introduce(seat.values);
        }
        if (!lane.isEnded()) {
            crowd.pace().answered(seat, now, next, unreachable, pause);
            if (lane.isRunning()) {
                lane.endIfIdle();
            }
        }
    }
}
