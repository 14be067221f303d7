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
 */
public record DriverOrder(Address address, Access access, Workload workload, Duration timeout, Secrets secrets,
        Transport transport) {

    public Slots slots() {
        return new Slots(workload, secrets);
    }
}
