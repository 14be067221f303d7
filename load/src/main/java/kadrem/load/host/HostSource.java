package kadrem.load.host;

import java.util.List;
import java.util.Optional;

import kadrem.core.measure.WatchReading;

/** Something open that the host watch reads about once a second. Confined to one thread, which may be interrupted. */
public interface HostSource extends AutoCloseable {
    /**
     * Its values now. What is a rate has a value from the second reading on.
     *
     * @throws SourceFailure if it does not tell; it is then closed, and opened anew later
     */
    List<WatchReading.Value> read() throws SourceFailure;

    /** How its clock stands against this host's, by the best reading so far; empty where it tells no time. */
    default Optional<ClockOffset> clock() {
        return Optional.empty();
    }

    @Override
    void close();

    /**
     * @param seconds by how much its clock is ahead
     * @param error by how much that may be wrong
     */
    record ClockOffset(double seconds, double error) {
    }

    /** Opens a source; what it needs may be missing at first and there later. */
    interface Opening {
        /** @throws SourceFailure if it cannot be opened; the message says why, and the mend where there is one */
        HostSource open() throws SourceFailure;
    }
}
