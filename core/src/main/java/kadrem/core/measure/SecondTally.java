package kadrem.core.measure;

import org.HdrHistogram.IntCountsHistogram;

/** What happened in one second of a run: a tally for each call and phase, and the generator's own figures. Confined. */
public final class SecondTally {
    private final CallTally[] calls;
    private final int callCount;
    /** From the instant a call could have gone out (due, and a connection free) until it was sent; measured part only. */
    public final IntCountsHistogram lag = Latency.forOneSecond();
    /** Times of the connects of this second, TCP and TLS apart; of all phases. */
    public final IntCountsHistogram connect = Latency.forOneSecond();
    public final IntCountsHistogram handshake = Latency.forOneSecond();
    /** The second, counted from the start of the warm-up. */
    public int second;
    /** Visits that were to begin in this second by the load profile; 0 in the closed model. */
    public long intended;
    /** Calls under way at the end of the second. */
    public long busy;
    /** Arrivals that were due and had found no free connection at the end of the second. */
    public long backlog;

    public SecondTally(int callCount) {
        this.callCount = callCount;
        calls = new CallTally[callCount * Phase.values().length];
        for (int i = 0; i < calls.length; i++) {
            calls[i] = new CallTally();
        }
    }

    public int callCount() {
        return callCount;
    }

    public CallTally call(int call, Phase phase) {
        return calls[phase.ordinal() * callCount + call];
    }

    /** Adds what another lane saw in the same second. */
    public void add(SecondTally other) {
        for (int i = 0; i < calls.length; i++) {
            calls[i].add(other.calls[i]);
        }
        lag.add(other.lag);
        connect.add(other.connect);
        handshake.add(other.handshake);
        intended += other.intended;
        busy += other.busy;
        backlog += other.backlog;
    }

    public void clear() {
        for (CallTally call : calls) {
            call.clear();
        }
        lag.reset();
        if (connect.getTotalCount() > 0) {
            connect.reset();
            handshake.reset();
        }
        intended = 0;
        busy = 0;
        backlog = 0;
    }
}
