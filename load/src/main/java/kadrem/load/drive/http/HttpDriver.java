package kadrem.load.drive.http;

import java.net.InetSocketAddress;
import java.util.List;

import io.netty.bootstrap.Bootstrap;
import io.netty.channel.ChannelOption;
import io.netty.channel.EventLoop;
import kadrem.core.study.Address;
import kadrem.core.study.Call;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Workload;
import kadrem.load.drive.Carrier;
import kadrem.load.drive.Driver;
import kadrem.load.engine.Transport;

/** HTTP/1.1 with keep-alive: a request template and an expected set of statuses for each call of the workload. */
public final class HttpDriver implements Driver {
    private final Bootstrap bootstrap;
    private final RequestTemplate[] templates;
    private final Call[] calls;

    public HttpDriver(Address address, Workload workload, LoadProfile load, Transport transport) {
        List<Call> all = workload.calls();
        calls = all.toArray(Call[]::new);
        templates = all.stream().map(call -> new RequestTemplate(call, address, workload.values()))
                .toArray(RequestTemplate[]::new);
        bootstrap = new Bootstrap().channel(transport.channelType())
                .remoteAddress(new InetSocketAddress(address.host(), address.port()))
                .option(ChannelOption.TCP_NODELAY, true).option(ChannelOption.CONNECT_TIMEOUT_MILLIS,
                        Math.toIntExact(Math.clamp(load.timeout().toMillis(), 1, 60_000)));
    }

    @Override
    public Carrier newCarrier(EventLoop loop, Carrier.Listener listener) {
        return new HttpCarrier(bootstrap.clone(loop), templates, calls, listener);
    }
}
