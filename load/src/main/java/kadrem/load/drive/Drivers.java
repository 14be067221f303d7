package kadrem.load.drive;

import java.util.Optional;

import kadrem.core.study.Address;
import kadrem.core.study.Protocols;
import kadrem.load.drive.http.HttpDriver;

/** Finds the driver of an address. */
public final class Drivers {
    private Drivers() {
    }

    /** The driver of a protocol other than HTTP; empty for HTTP, and where there is none. */
    public static Optional<ProtocolDriver> of(Address address) {
        return Protocols.byId(address.protocol()).filter(ProtocolDriver.class::isInstance)
                .map(ProtocolDriver.class::cast);
    }

    /**
     * Prepares calls for a candidate.
     *
     * @throws UnusableCall if there is no driver, a secret is missing, or a call cannot be made ready
     */
    public static Driver open(DriverOrder order) throws UnusableCall {
        if (order.address().isHttp()) {
            return new HttpDriver(order);
        }
        return of(order.address()).orElseThrow(() -> new UnusableCall("there is no driver for the protocol "
                + order.address().protocol() + "; known are " + Protocols.known())).open(order);
    }
}
