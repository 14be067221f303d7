package kadrem.load.engine;

import java.util.List;
import java.util.function.LongSupplier;

import io.netty.channel.EventLoop;
import kadrem.core.measure.FailureKind;
import kadrem.core.measure.Phase;
import kadrem.core.plan.Curve;
import kadrem.core.plan.LoadStream;
import kadrem.load.drive.CallValues;
import kadrem.load.drive.Carrier;
import kadrem.load.drive.Driver;
import org.jspecify.annotations.Nullable;

/** A connection with the visit that goes on over it: a user of the closed model, a slot for arrivals of the open one. */
final class Seat implements Carrier.Listener {
    /** Number of the seat in the run, and of the user in the closed model. */
    final int number;
    final LoadStream.Draw draw;
    final CallValues values;
    private final Lane lane;
    private final LongSupplier clock;
    private @Nullable Carrier carrier;

    /** Step of the visit, or of the first part while {@link #inFirst}. */
    int step;
    /** Whether this user is making the first part. */
    boolean inFirst;
    /** Whether this user has made the first part. */
    boolean introduced;
    /** Calls begun in this visit, the first part's included. */
    int callsBegun;
    long timeoutNanos;
    int call;
    Phase phase = Phase.WARM_UP;
    boolean busy;
    /** Visits begun by this user. */
    long visits;
    long dueNanos;
    /** When the call could have gone out: due, and this seat free. */
    long readyNanos;
    long beganNanos;
    /** When the call went out; the instant it was begun until then. */
    long sentNanos;
    /** When the last part of the present answer came; 0 before the first. */
    long partNanos;
    /** Since when the seat waits for an arrival. */
    long freeSince;
    /** When this user is there, and which of these times is the present one. */
    List<Curve.Stay> stays = List.of();
    int stay;
    /** End of the present stay; instant of the nano clock. */
    long staysUntil;
    /** With a pace: when the present stay's first visit was due, and visits begun since. */
    long paceStart;
    long pacedVisits;
    /** Visits of the measured part that this user is still to begin. */
    long visitsLeft = Long.MAX_VALUE;
    /** Whether this user begins no further visit. */
    boolean done;

    Seat(Lane lane, int number, LoadStream.Draw draw, int capturedNames, LongSupplier clock) {
        this.lane = lane;
        this.clock = clock;
        this.number = number;
        this.draw = draw;
        values = new CallValues(draw, capturedNames);
    }

    void connect(Driver driver, EventLoop loop) {
        carrier = driver.newCarrier(loop, this);
    }

    Carrier carrier() {
        Carrier made = carrier;
        if (made == null) {
            throw new IllegalStateException("seat " + number + " has no carrier yet");
        }
        return made;
    }

    void open(Runnable whenSettled) {
        carrier().open(whenSettled);
    }

    void begin(long due, long ready, Phase duePhase, long timeout) {
        busy = true;
        dueNanos = due;
        readyNanos = ready;
        phase = duePhase;
        timeoutNanos = timeout;
        beganNanos = clock.getAsLong();
        sentNanos = beganNanos;
        partNanos = 0;
        lane.begun(this);
        carrier().send(call, values);
    }

    void giveUpIfLate(long now) {
        if (busy && now - sentNanos >= timeoutNanos) {
            carrier().abandon(FailureKind.TIMEOUT);
        }
    }

    void giveUp() {
        if (busy) {
            carrier().abandon(FailureKind.TIMEOUT);
        }
    }

    void close() {
        busy = false;
        carrier().close();
    }

    @Override
    public void sent(long nanos, int bytes) {
        sentNanos = nanos;
        lane.sent(this, nanos, bytes);
    }

    @Override
    public void connected(long connectNanos, long handshakeNanos) {
        lane.connected(connectNanos, handshakeNanos);
    }

    @Override
    public void part(long nanos) {
        lane.part(this, nanos);
        partNanos = nanos;
    }

    @Override
    public void good(long nanos, int status, long bytes) {
        busy = false;
        lane.good(this, nanos, status, bytes);
    }

    @Override
    public void failed(long nanos, FailureKind kind, int status, long bytes, String detail) {
        busy = false;
        lane.failed(this, nanos, kind, status, bytes, detail);
    }
}
