package kadrem.load.engine;

import kadrem.core.measure.CallTally;
import kadrem.core.measure.FailureKind;
import kadrem.core.measure.Latency;
import kadrem.core.measure.Phase;
import kadrem.core.measure.SecondTally;
import kadrem.core.measure.TurnCause;
import kadrem.load.net.LaneConnections;

/** What a lane records: the tally of the present second, and the calls under way. Confined to the lane. */
final class LaneSecond {
    static final long LENGTH = 1_000_000_000L;
    /** About the 40 ms by which Linux delays an acknowledgement that has nothing to travel with (TCP_DELACK_MIN). From memory. */
    private static final long SHORTEST_DELAY = 35_000_000;
    private static final long LONGEST_DELAY = 55_000_000;
    /** Larger ones come in pieces for other reasons. */
    private static final long SMALL_ANSWER = 64 << 10;

    private final int lane;
    private final Recorder recorder;
    private final LaneConnections connections;
    private SecondTally tally;
    private boolean running;
    private long startNanos;
    private long endNanos = Long.MAX_VALUE;
    private int underWay;
    private long changedNanos;

    /** What is told of a second when it is over, in nanoseconds after the start. */
    interface Levels {
        long backlog(long sinceStart);

        long intended(long from, long to);
    }

    /** @param lane number of the lane among those that record here */
    LaneSecond(int lane, LaneConnections connections, Recorder recorder) {
        this.connections = connections;
        this.lane = lane;
        this.recorder = recorder;
        tally = recorder.take();
    }

    void begin(long start) {
        running = true;
        startNanos = start;
        endNanos = start + LENGTH;
        changedNanos = start;
    }

    /** When the present second is over. */
    long end() {
        return endNanos;
    }

    int underWay() {
        return underWay;
    }

    /** Hands over the seconds that have ended at {@code now}. */
    void turnTo(long now, Levels levels) {
        while (now >= endNanos) {
            handOver(levels, false);
            endNanos += LENGTH;
        }
    }

    /** Hands over what there is of the last second. */
    void close(long now, Levels levels) {
        if (running) {
            turnTo(now, levels);
            level(now);
            handOver(levels, true);
        }
    }

    private void handOver(Levels levels, boolean last) {
        if (!last) {
            level(endNanos);
        }
        long until = endNanos - startNanos;
        tally.second = (int) (until / LENGTH) - 1;
        tally.busy = underWay;
        tally.connections.open = connections.open();
        tally.connections.resumed = connections.takeResumed();
        tally.connections.carried = connections.carried();
        tally.connections.busiest = connections.busiest();
        tally.backlog = levels.backlog(until);
        tally.intended = levels.intended(until - LENGTH, until);
        recorder.deliver(lane, tally, last);
        tally = recorder.take();
    }

    /** Adds the calls under way up to {@code now} to their time integral. */
    private void level(long now) {
        long until = Math.max(changedNanos, now);
        if (running) {
            tally.busyNanos += underWay * (until - changedNanos);
        }
        changedNanos = until;
    }

    private CallTally of(Seat seat) {
        return tally.call(seat.recordedAs(), seat.phase);
    }

    void begun(Seat seat) {
        level(seat.beganNanos);
        underWay++;
        of(seat).sent++;
    }

    void sent(Seat seat, int bytes) {
        of(seat).bytesOut += bytes;
        if (seat.phase == Phase.MEASURED) {
            Latency.record(tally.late, seat.lateNanos);
        }
    }

    void part(Seat seat, long now) {
        CallTally entry = of(seat);
        entry.parts++;
        if (seat.partNanos == 0) {
            Latency.record(entry.first(), now - seat.sentNanos);
        } else {
            Latency.record(entry.gap(), now - seat.partNanos);
        }
    }

    void connected(long connectNanos, long handshakeNanos) {
        Latency.record(tally.connect, connectNanos);
        if (handshakeNanos > 0) {
            Latency.record(tally.handshake, handshakeNanos);
        }
    }

    /** A whole answer, good or later than it should be. */
    void answered(Seat seat, long now, boolean inTime, long bytes) {
        level(now);
        underWay--;
        CallTally entry = of(seat);
        if (inTime) {
            entry.good++;
        } else {
            entry.failed[FailureKind.TOO_LATE.ordinal()]++;
        }
        entry.bytesIn += bytes;
        entry.answeredBytes += bytes;
        if (seat.piecesNanos >= SHORTEST_DELAY && seat.piecesNanos <= LONGEST_DELAY && bytes <= SMALL_ANSWER) {
            entry.inPieces++;
        }
        if (seat.lookedInto) {
            entry.lookedInto.look(seat.askedHash, seat.answeredHash);
        }
        entry.answered(now - seat.dueNanos, seat.lateNanos, now - seat.sentNanos - seat.unreadNanos);
    }

    void failed(Seat seat, long now, FailureKind kind, String statusWord, long bytes) {
        level(now);
        underWay--;
        CallTally entry = of(seat);
        entry.failed[kind.ordinal()]++;
        entry.failedWith(statusWord);
        entry.bytesIn += bytes;
        if (kind == FailureKind.GENERATOR) {
            tally.ownFaults++;
        }
    }

    /** A call was due and is never made. */
    void notMade(int call, Phase phase, FailureKind why) {
        tally.call(call, phase).failed[why.ordinal()]++;
    }

    void ownFault() {
        tally.ownFaults++;
    }

    /** A turn in which something was sent or read took so long. */
    void work(long nanos) {
        tally.workNanos += nanos;
    }

    void longTurn(TurnCause cause, long nanos) {
        tally.longTurns.add(cause, nanos);
    }
}
