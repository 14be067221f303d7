package kadrem.load.drive;

import java.util.Optional;

import kadrem.core.study.Address;
import kadrem.core.study.Protocols;
import kadrem.load.content.UnusableCall;

/** Finds the driver of an address. */
public final class Drivers {
    private Drivers() {
    }

    /** The driver of a protocol; empty where there is none. */
    public static Optional<ProtocolDriver> of(Address address) {
        return Protocols.byId(address.protocol()).filter(ProtocolDriver.class::isInstance)
                .map(ProtocolDriver.class::cast);
    }

    /** @throws UnusableCall if there is none */
    public static ProtocolDriver need(Address address) throws UnusableCall {
        return of(address).orElseThrow(() -> new UnusableCall("there is no driver for the protocol "
                + address.protocol() + "; known are " + Protocols.known()));
    }

    /** Whether calls to the address are made by threads that wait for their answers. */
    public static boolean waitsOnThreads(Address address) {
        return of(address).filter(ProtocolDriver::waitsOnThreads).isPresent();
    }

    /** Starts something of Kadrem's own that answers as is ordered; empty where there is none for the protocol or these calls. */
    public static Optional<Peer> peer(PeerOrder order) {
        return of(order.address()).flatMap(driver -> driver.peer(order));
    }

    /**
     * Prepares calls for a candidate.
     *
     * @throws UnusableCall if there is no driver, a secret is missing, or a call cannot be made ready
     */
    public static Driver open(DriverOrder order) throws UnusableCall {
        return need(order.address()).open(order);
    }
}
