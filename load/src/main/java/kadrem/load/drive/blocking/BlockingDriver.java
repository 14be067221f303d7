package kadrem.load.drive.blocking;

import io.netty.channel.EventLoop;
import kadrem.load.content.ResponseCheck;
import kadrem.load.drive.Carrier;
import kadrem.load.drive.Driver;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.LoopRehearser;
import kadrem.load.drive.Rehearser;
import kadrem.load.drive.UnusableCall;

/** Users on virtual threads, with a client that waits. */
public final class BlockingDriver<R> implements Driver {
    private final DriverOrder order;
    private final Client<R> client;

    /** @throws UnusableCall if an expression of a call cannot be read */
    public BlockingDriver(DriverOrder order, Client<R> client) throws UnusableCall {
        this.order = order;
        this.client = client;
        ResponseCheck.all(order.workload());
    }

    private BlockingCarrier<R> carrier(EventLoop loop, Carrier.Listener listener) {
        try {
            return new BlockingCarrier<>(loop, client, ResponseCheck.all(order.workload()), listener, order.secrets());
        } catch (UnusableCall impossible) {
            throw new IllegalStateException("the checks were compiled before", impossible);
        }
    }

    @Override
    public Carrier newCarrier(EventLoop loop, Carrier.Listener listener) {
        return carrier(loop, listener);
    }

    @Override
    public Rehearser newRehearser() {
        return new LoopRehearser(order.workload().calls(), order.secrets(), order.transport(), order.timeout(),
                this::carrier);
    }

    @Override
    public String statusWord(int status) {
        return client.statusWord(status);
    }

    @Override
    public void close() {
        client.close();
    }
}
