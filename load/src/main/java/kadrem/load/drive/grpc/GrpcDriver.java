package kadrem.load.drive.grpc;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;

import io.grpc.ManagedChannel;
import kadrem.core.study.Call;
import kadrem.core.study.Form;
import kadrem.load.content.ResponseCheck;
import kadrem.load.drive.Carrier;
import kadrem.load.drive.CarrierDriver;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.InspectableCarrier;
import kadrem.load.content.UnusableCall;
import kadrem.load.net.LaneConnections;
import kadrem.load.net.LaneLoop;
import kadrem.load.drive.http.Credentials;

/** The calls of a workload, compiled, and channels to one candidate. */
final class GrpcDriver extends CarrierDriver {
    private final List<GrpcCall> calls = new ArrayList<>();
    private final Credentials credentials;
    /** Channels with room for more users, by the lane's loop; each is touched by its lane alone. */
    private final Map<LaneLoop, Sharing> sharing = new ConcurrentHashMap<>();

    /** A channel and the number of users on it. */
    private static final class Sharing {
        private final ManagedChannel channel;
        private final LaneConnections.One connection;
        private int taken;

        Sharing(ManagedChannel channel, LaneConnections.One connection) {
            this.channel = channel;
            this.connection = connection;
        }
    }

    GrpcDriver(DriverOrder order) throws UnusableCall {
        super(order);
        credentials = Credentials.of(order.access().signIn(), order.secrets());
        if (credentials.digest().isPresent()) {
            throw new UnusableCall("gRPC has no challenge to answer; sign in with basic, bearer, oauth or header");
        }
        var services = new LinkedHashSet<String>();
        for (Call call : order.workload().calls()) {
            services.add(form(call).text("method").strip().split("/", 2)[0]);
        }
        Descriptions descriptions = Descriptions.of(order, services);
        for (Call call : order.workload().calls()) {
            calls.add(GrpcCall.of(call, form(call), descriptions, order, credentials));
        }
    }

    private static Form form(Call call) throws UnusableCall {
        return call.form(GrpcProtocol.ID)
                .orElseThrow(() -> new UnusableCall("the call " + call.name() + " is not asked in grpc"));
    }

    @Override
    protected InspectableCarrier carrier(LaneLoop loop, Carrier.Listener listener, ResponseCheck[] checks)
            throws UnusableCall {
        Sharing shared = sharing.get(loop);
        if (shared == null || shared.taken >= order().access().wire().depth()) {
            shared = new Sharing(Channels.on(loop, order()), loop.connections().one());
            sharing.put(loop, shared);
        }
        shared.taken++;
        return new GrpcCarrier(loop.eventLoop(), shared.channel, shared.connection, calls, checks, listener,
                order().secrets());
    }

    @Override
    public String statusWord(int status) {
        return GrpcStatus.word(status);
    }

    @Override
    public void close() {
        credentials.close();
    }
}
