package kadrem.load.drive.http;

import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;

import kadrem.core.measure.FailureKind;
import kadrem.core.study.Access;
import kadrem.core.study.Address;
import kadrem.core.study.Call;
import kadrem.core.study.Wire;
import kadrem.core.study.Workload;
import kadrem.load.content.ResponseCheck;
import kadrem.load.drive.Carrier;
import kadrem.load.drive.Driver;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.InspectableCarrier;
import kadrem.load.drive.LoopRehearser;
import kadrem.load.drive.Connector;
import kadrem.load.drive.Rehearser;
import kadrem.load.drive.Secrets;
import kadrem.load.drive.TlsContext;
import kadrem.load.content.UnusableCall;
import kadrem.load.net.LaneLoop;
import kadrem.load.net.Transport;

/** HTTP/1.1 and HTTP/2: a request template, an expected set of statuses and a check for each call of the workload. */
public final class HttpDriver implements Driver {
    private final DriverOrder order;
    private final Workload workload;
    private final HttpParts parts;
    private final Wire wire;
    private final Optional<TlsContext> tls;
    private final Transport transport;
    /** Connections with room for more carriers, by the lane's loop; each is touched by its lane alone. */
    private final Map<LaneLoop, Sharing> sharing = new ConcurrentHashMap<>();

    /** The connection that the next carriers of a lane share. */
    private static final class Sharing {
        private HttpConnection first;
        private Http2Connection second;
        private int taken;

        Sharing(Connector connector) {
            first = new HttpConnection(connector);
            second = new Http2Connection(connector);
        }
    }

    /** @throws UnusableCall if a secret is missing, a token cannot be had, or an expression of a call cannot be read */
    public HttpDriver(DriverOrder order) throws UnusableCall {
        this.order = order;
        Address address = order.address();
        Access access = order.access();
        Secrets secrets = order.secrets();
        workload = order.workload();
        transport = order.transport();
        wire = access.wire();
        Call[] calls = workload.calls().toArray(Call[]::new);
        tls = address.secure() ? Optional.of(TlsContext.of(access.tls(), wire, secrets.folder())) : Optional.empty();
        ResponseCheck.all(workload);
        Credentials credentials = Credentials.of(access.signIn(), secrets);
        var templates = new RequestTemplate[calls.length];
        for (int i = 0; i < calls.length; i++) {
            templates[i] = new RequestTemplate(calls[i], address, workload, credentials, secrets, wire);
        }
        parts = new HttpParts(address, wire, calls, templates, credentials, secrets);
    }

    private ResponseCheck[] compiledBefore() {
        try {
            return ResponseCheck.all(workload);
        } catch (UnusableCall impossible) {
            throw new IllegalStateException("the checks were compiled before", impossible);
        }
    }

    private Connector connector(LaneLoop loop) {
        return Connector.of(order, loop, tls);
    }

    @Override
    public Carrier newCarrier(LaneLoop loop, Carrier.Listener listener) {
        return carrier(loop, listener);
    }

    InspectableCarrier carrier(LaneLoop loop, Carrier.Listener listener) {
        Sharing shared = sharing.get(loop);
        if (shared == null || shared.taken >= wire.depth()) {
            shared = new Sharing(connector(loop));
            sharing.put(loop, shared);
        }
        shared.taken++;
        return wire.protocol() == Wire.Protocol.HTTP_2
                ? new Http2Carrier(parts, shared.second, loop, compiledBefore(), listener)
                : new HttpCarrier(parts, shared.first, loop, compiledBefore(), listener);
    }

    @Override
    public Rehearser newRehearser() {
        // a server may close a kept connection at any time (RFC 9112, section 9.5)
        return new LoopRehearser(workload.calls(), parts.secrets(), transport, order.timeout(), this::carrier,
                failure -> failure.filter(kind -> kind == FailureKind.CLOSED || kind == FailureKind.RESET)
                        .isPresent());
    }

    @Override
    public void close() {
        parts.credentials().close();
    }
}
