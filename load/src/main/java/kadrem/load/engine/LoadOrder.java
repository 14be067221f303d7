package kadrem.load.engine;

import kadrem.core.study.Access;
import kadrem.core.study.Address;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Workload;

/**
 * What one run is to send, and where.
 *
 * @param access sign-in and TLS of the address
 * @param streamSeed fixes every visit and value; see {@link kadrem.core.plan.LoadStream}
 * @param lanes event-loop threads among which users or arrivals are dealt in turn
 */
public record LoadOrder(Address address, Access access, Workload workload, LoadProfile load, long streamSeed,
        int lanes) {

    /** An order to an address without sign-in. */
    public LoadOrder(Address address, Workload workload, LoadProfile load, long streamSeed, int lanes) {
        this(address, Access.OPEN, workload, load, streamSeed, lanes);
    }

    /** One lane for every two processors: on one machine the candidate needs the others. */
    public static int defaultLanes() {
        return Math.max(1, Runtime.getRuntime().availableProcessors() / 2);
    }
}
