package kadrem.load.drive;

import java.time.Duration;

import kadrem.core.study.Access;
import kadrem.core.study.Address;
import kadrem.core.study.Workload;
import kadrem.load.net.Transport;

/**
 * What a driver is prepared for.
 *
 * @param workload as candidates get it that speak the address's protocol
 * @param timeout of calls that have none of their own, and of connecting
 * @param users calls that may be under way at the same time
 */
public record DriverOrder(Address address, Access access, Workload workload, Duration timeout, Secrets secrets,
        Transport transport, int users) {

    /** One call after the other. */
    public DriverOrder(Address address, Access access, Workload workload, Duration timeout, Secrets secrets,
            Transport transport) {
        this(address, access, workload, timeout, secrets, transport, 1);
    }

    /** The same place asked something else, one call after the other. */
    public DriverOrder asking(Workload other) {
        return new DriverOrder(address, access, other, timeout, secrets, transport);
    }

    /** The same calls made another way, by the driver of another protocol. */
    public DriverOrder by(Address otherAddress, Workload otherWorkload) {
        return new DriverOrder(otherAddress, access, otherWorkload, timeout, secrets, transport, users);
    }

    public Slots slots() {
        return new Slots(workload, secrets);
    }
}
