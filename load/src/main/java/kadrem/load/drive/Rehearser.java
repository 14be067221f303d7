package kadrem.load.drive;

import kadrem.core.rehearsal.RehearsedCall;

/** Sends calls one at a time, over the same wire and with the same bytes as the load, and keeps the whole exchange. */
public interface Rehearser extends AutoCloseable {
    /**
     * One exchange; what the call captures is put into {@code values}.
     *
     * @param visit name of the visit that the call belongs to
     */
    RehearsedCall call(String visit, int call, CallValues values);

    /** Version and cipher of TLS on the connection of the last call; empty without TLS, and where the protocol does not tell. */
    default String tls() {
        return "";
    }

    @Override
    void close();
}
