package kadrem.core.rehearsal;

/**
 * Where the time of one exchange went, in nanoseconds; 0 for what was not needed, as connecting is over a kept connection.
 *
 * @param resolve finding the address of the host's name
 * @param tls the handshake
 * @param waiting from the last byte sent to the first received
 * @param receiving from the first byte received to the last
 */
public record Timeline(long resolve, long connect, long tls, long sending, long waiting, long receiving) {
    public static final Timeline NONE = new Timeline(0, 0, 0, 0, 0, 0);

    public long total() {
        return resolve + connect + tls + sending + waiting + receiving;
    }
}
