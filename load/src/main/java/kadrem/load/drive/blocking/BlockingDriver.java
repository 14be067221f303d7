package kadrem.load.drive.blocking;

import java.util.Optional;

import kadrem.load.content.ResponseCheck;
import kadrem.load.drive.Carrier;
import kadrem.load.drive.CarrierDriver;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.InspectableCarrier;
import kadrem.load.drive.Spent;
import kadrem.load.content.UnusableCall;
import kadrem.load.net.LaneLoop;

/** Users on virtual threads, with a client that waits. */
final class BlockingDriver<R> extends CarrierDriver {
    private final Client<R> client;

    /** @throws UnusableCall if an expression of a call cannot be read */
    BlockingDriver(DriverOrder order, Client<R> client) throws UnusableCall {
        super(order);
        this.client = client;
    }

    @Override
    protected InspectableCarrier carrier(LaneLoop loop, Carrier.Listener listener, ResponseCheck[] checks) {
        return new BlockingCarrier<>(loop.eventLoop(), client, checks, listener, order().secrets());
    }

    @Override
    public String statusWord(int status) {
        return client.statusWord(status);
    }

    @Override
    public Optional<Spent> spent() {
        return client.spent();
    }

    @Override
    public void close() {
        client.close();
    }
}
