package kadrem.load.engine;

import kadrem.core.measure.FailureKind;
import kadrem.core.measure.Phase;
import kadrem.load.drive.CallValues;
import kadrem.load.drive.Carrier;

/**
 * A connection with the visit that goes on over it, and the instants of its present call. All that a driver tells of a call comes in
 * here; what breaks behind it is a fault of Kadrem's own and never the candidate's. Confined to its lane.
 */
final class Seat implements Carrier.Listener {
    /** Number of the seat among its crowd's in the run, and of the user in the closed model. */
    final int number;
    final VisitCursor visit;
    final CallValues values;
    private final LaneCrowd crowd;
    private final CompiledLoad load;
    private final Carrier carrier;

    long timeoutNanos;
    Phase phase = Phase.WARM_UP;
    /** Whether a call is under way. */
    boolean busy;
    long dueNanos;
    /** When the call would have gone out with every send on time: due, and a connection free. */
    long readyNanos;
    long beganNanos;
    /** When the call went out; the instant it was begun until then. */
    long sentNanos;
    /** How late the call is by the generator's own fault: sent late, and its answer read late. */
    long lateNanos;
    /** The part of {@link #lateNanos} by which the answer was read late. */
    long unreadNanos;
    /** Sum of {@link #lateNanos} over the calls of this visit so far. */
    long visitLateNanos;
    /** Longest time between two pieces of the present answer; 0 where it came in one. */
    long piecesNanos;
    /** Whether the present call was looked into, and what was asked for and answered. */
    boolean lookedInto;
    int askedHash;
    int answeredHash;
    private boolean connectedNow;
    /** Calls begun, by which they are told apart. */
    private long calls;
    /** When the last part of the present answer came; 0 before the first. */
    long partNanos;
    /** Whether the seat waits for an instant, and with what it then goes on. */
    boolean waits;
    VisitCursor.Next goesOnWith = VisitCursor.Next.NOTHING;

    Seat(LaneCrowd crowd, int number, CompiledLoad load) {
        this.crowd = crowd;
        this.load = load;
        this.number = number;
        visit = new VisitCursor(load);
        values = new CallValues(visit.draw, load.capturedNames);
        carrier = crowd.newCarrier(this);
    }

    /** Number of the present call among its crowd's. */
    int call() {
        return visit.call();
    }

    /** Number under which the present call is recorded. */
    int recordedAs() {
        return load.numberOf(visit.call());
    }

    LaneCrowd crowd() {
        return crowd;
    }

    Carrier carrier() {
        return carrier;
    }

    void begin(long due, long ready, Phase duePhase, long timeout, long now) {
        busy = true;
        calls++;
        dueNanos = due;
        readyNanos = ready;
        phase = duePhase;
        timeoutNanos = timeout;
        beganNanos = now;
        sentNanos = now;
        lateNanos = 0;
        unreadNanos = 0;
        connectedNow = false;
        partNanos = 0;
        piecesNanos = 0;
        lookedInto = false;
        crowd.reports().begun(this);
        try {
            carrier.send(visit.call(), values);
        } catch (RuntimeException | LinkageError fault) {
            crowd.lane().fault(this, fault);
        }
    }

    void giveUpIfLate(long now) {
        if (now - sentNanos >= timeoutNanos) {
            giveUp(now, FailureKind.TIMEOUT, "");
        }
    }

    /** Gives the call under way up, if there is one. */
    void giveUp(long now, FailureKind kind, String detail) {
        long given = calls;
        if (busy) {
            carrier.abandon(kind);
        }
        // by then the seat may have begun its next call
        if (busy && calls == given) {
            // the carrier knows nothing of it: the call was lost on our side
            failed(now, FailureKind.GENERATOR, 0, 0, detail.isEmpty() ? "the driver has lost the call" : detail);
        }
    }

    void close() {
        busy = false;
        carrier.close();
    }

    @Override
    public void sent(long nanos, int bytes) {
        try {
            sentNanos = nanos;
            // the time to connect is the candidate's, and comes after the generator's part
            lateNanos = Math.max(0, (connectedNow ? beganNanos : nanos) - readyNanos);
            crowd.reports().sent(this, nanos, bytes);
        } catch (RuntimeException | LinkageError fault) {
            crowd.lane().fault(this, fault);
        }
    }

    @Override
    public void connected(long connectNanos, long handshakeNanos) {
        try {
            connectedNow = true;
            crowd.reports().connected(connectNanos, handshakeNanos);
        } catch (RuntimeException | LinkageError fault) {
            crowd.lane().fault(this, fault);
        }
    }

    @Override
    public void part(long nanos) {
        try {
            crowd.reports().part(this, nanos);
            partNanos = nanos;
        } catch (RuntimeException | LinkageError fault) {
            crowd.lane().fault(this, fault);
        }
    }

    @Override
    public void pieces(long longestNanos) {
        piecesNanos = longestNanos;
    }

    @Override
    public void lookedInto(int asked, int answered) {
        lookedInto = true;
        askedHash = asked;
        answeredHash = answered;
    }

    @Override
    public void good(long nanos, int status, long bytes) {
        busy = false;
        try {
            crowd.reports().good(this, nanos, status, bytes);
        } catch (RuntimeException | LinkageError fault) {
            crowd.lane().fault(this, fault);
        }
    }

    @Override
    public void failed(long nanos, FailureKind kind, int status, long bytes, String detail) {
        busy = false;
        try {
            crowd.reports().failed(this, nanos, kind, status, bytes, detail);
        } catch (RuntimeException | LinkageError fault) {
            crowd.lane().fault(this, fault);
        }
    }
}
