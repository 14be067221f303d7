package kadrem.load.net;

/** The connections of a lane: how many are open, and what each has carried. Confined to the lane's thread. */
public final class LaneConnections {
    private long open;
    private long resumed;
    private long carried;
    private long busiest;

    /** A connection that calls go over. */
    public final class One {
        private long answers;

        private One() {
        }

        /** An answer has come over it. */
        public void answered() {
            answers++;
            carried++;
            busiest = Math.max(busiest, answers);
        }
    }

    /** A connection that is counted among those which carry calls. */
    public One one() {
        return new One();
    }

    public void opened() {
        open++;
    }

    public void closed() {
        open--;
    }

    /** A connection has resumed a TLS session. */
    public void resumed() {
        resumed++;
    }

    public long open() {
        return open;
    }

    /** Handshakes that resumed a TLS session since this was last asked. */
    public long takeResumed() {
        long since = resumed;
        resumed = 0;
        return since;
    }

    /** Answers over all connections. */
    public long carried() {
        return carried;
    }

    /** Answers over the connection that has carried most. */
    public long busiest() {
        return busiest;
    }
}
