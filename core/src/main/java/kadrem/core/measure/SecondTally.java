package kadrem.core.measure;

import org.HdrHistogram.IntCountsHistogram;

/** What happened in one second of a run: a tally for each call and phase, and the generator's own figures. Confined. */
public final class SecondTally {
    private final CallTally[] calls;
    private final int callCount;
    /** By how much calls went out later than they would have with every send on time; of the measured part, answered or not. */
    public final IntCountsHistogram late = Latency.forOneSecond();
    /** Times of the connects of this second, TCP and TLS apart; of all phases. */
    public final IntCountsHistogram connect = Latency.forOneSecond();
    public final IntCountsHistogram handshake = Latency.forOneSecond();
    public final ConnectionTally connections = new ConnectionTally();
    /** The second, counted from the start of the warm-up. */
    public int second;
    /** Visits that were to begin in this second by the load profile; 0 in the closed model. */
    public long intended;
    /** Calls under way at the end of the second. */
    public long busy;
    /** Time integral of the calls under way over the second, in calls times nanoseconds. */
    public long busyNanos;
    /** Time that the lanes spent in turns in which something was sent or read, in nanoseconds. */
    public long workNanos;
    /** Faults of the generator's own: an exception in a lane, a driver or the recorder. */
    public long ownFaults;
    /** Turns of the lanes that took longer than a millisecond. */
    public final LongTurns longTurns = new LongTurns();
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
        connections.add(other.connections);
        addCounts(other);
    }

    /** Adds a second that follows; levels are those of its end. */
    public void follow(SecondTally next) {
        connections.follow(next.connections);
        addCounts(next);
    }

    private void addCounts(SecondTally other) {
        for (int i = 0; i < calls.length; i++) {
            calls[i].add(other.calls[i]);
        }
        late.add(other.late);
        if (other.connect.getTotalCount() > 0) {
            connect.add(other.connect);
            handshake.add(other.handshake);
        }
        busyNanos += other.busyNanos;
        workNanos += other.workNanos;
        ownFaults += other.ownFaults;
        longTurns.add(other.longTurns);
        intended += other.intended;
        busy += other.busy;
        backlog += other.backlog;
    }

    public void clear() {
        for (CallTally call : calls) {
            call.clear();
        }
        if (late.getTotalCount() > 0) {
            late.reset();
        }
        connections.clear();
        busyNanos = 0;
        workNanos = 0;
        ownFaults = 0;
        longTurns.clear();
        if (connect.getTotalCount() > 0) {
            connect.reset();
            handshake.reset();
        }
        intended = 0;
        busy = 0;
        backlog = 0;
    }
}
