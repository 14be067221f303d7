package kadrem.core.examine;

import java.util.List;

/**
 * The connections of a run, where its protocol tells.
 *
 * @param seconds in the order of time, each the first of its step
 * @param resumed handshakes that resumed a TLS session
 * @param carried answers over all connections, those of first parts and of the warm-up too; 0 where the protocol does not tell
 * @param busiest answers over the connection that carried most
 */
public record ConnectionView(List<Open> seconds, long resumed, long carried, long busiest) {
    public ConnectionView {
        seconds = List.copyOf(seconds);
    }

    /** How many connections were open at the end of a second. */
    public record Open(int second, long open) {
    }

    /** Whether the protocol tells of its connections. */
    public boolean isKnown() {
        return carried > 0;
    }
}
