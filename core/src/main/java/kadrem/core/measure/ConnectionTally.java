package kadrem.core.measure;

/**
 * What the connections of a run came to at the end of a second, where its protocol tells. The counts of calls are sums since the start; a
 * second by itself says too little of which connection carries most. Mutable and confined.
 */
public final class ConnectionTally {
    /** Connections open. */
    public long open;
    /** Handshakes of this second that resumed a TLS session. */
    public long resumed;
    /** Answers over all connections so far; 0 where the protocol does not tell. */
    public long carried;
    /** Answers over the connection that has carried most so far. */
    public long busiest;

    /** Adds what another lane saw in the same second. */
    void add(ConnectionTally other) {
        open += other.open;
        resumed += other.resumed;
        carried += other.carried;
        busiest = Math.max(busiest, other.busiest);
    }

    /** Adds the second that follows. */
    void follow(ConnectionTally next) {
        open = next.open;
        resumed += next.resumed;
        carried = next.carried;
        busiest = next.busiest;
    }

    void clear() {
        open = 0;
        resumed = 0;
        carried = 0;
        busiest = 0;
    }
}
