package kadrem.load.drive;

import kadrem.load.content.ResponseCheck;
import kadrem.load.content.UnusableCall;
import kadrem.load.net.LaneLoop;

/** A driver that rehearses with the carriers that it makes load with. Checks keep what they read, so each carrier has its own. */
public abstract class CarrierDriver implements Driver {
    private final DriverOrder order;

    /** @throws UnusableCall if an expression of a call cannot be read */
    protected CarrierDriver(DriverOrder order) throws UnusableCall {
        this.order = order;
        ResponseCheck.all(order.workload());
    }

    /** What it is prepared for. */
    public final DriverOrder order() {
        return order;
    }

    /**
     * A carrier on the lane that {@code loop} belongs to; may be called by all lanes at the same time.
     *
     * @throws UnusableCall never, after the driver was made
     */
    protected abstract InspectableCarrier carrier(LaneLoop loop, Carrier.Listener listener, ResponseCheck[] checks)
            throws UnusableCall;

    private InspectableCarrier made(LaneLoop loop, Carrier.Listener listener) {
        try {
            return carrier(loop, listener, ResponseCheck.all(order.workload()));
        } catch (UnusableCall impossible) {
            throw new IllegalStateException("calls and files were looked at before", impossible);
        }
    }

    @Override
    public final Carrier newCarrier(LaneLoop loop, Carrier.Listener listener) {
        return made(loop, listener);
    }

    @Override
    public final Rehearser newRehearser() {
        return new LoopRehearser(order.workload().calls(), order.secrets(), order.transport(), order.timeout(),
                this::made);
    }
}
