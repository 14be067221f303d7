package kadrem.load.drive.blocking;

import kadrem.load.drive.Driver;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.ProtocolDriver;
import kadrem.load.content.UnusableCall;

/** A protocol whose client waits for its answers, so that each user has a thread. */
public interface BlockingProtocol extends ProtocolDriver {
    /**
     * Prepares calls for a candidate.
     *
     * @throws UnusableCall if a secret is missing or a call cannot be made ready
     */
    Client<?> client(DriverOrder order) throws UnusableCall;

    @Override
    default Driver open(DriverOrder order) throws UnusableCall {
        return new BlockingDriver<>(order, client(order));
    }

    @Override
    default boolean waitsOnThreads() {
        return true;
    }
}
