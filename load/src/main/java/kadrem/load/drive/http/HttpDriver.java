package kadrem.load.drive.http;

import java.net.InetSocketAddress;
import java.util.List;
import java.util.Optional;

import io.netty.bootstrap.Bootstrap;
import io.netty.channel.ChannelOption;
import io.netty.channel.EventLoop;
import io.netty.handler.ssl.JdkSslContext;
import kadrem.core.study.Access;
import kadrem.core.study.Address;
import kadrem.core.study.Call;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Workload;
import kadrem.load.content.ResponseCheck;
import kadrem.load.content.UnreadableContent;
import kadrem.load.drive.Carrier;
import kadrem.load.drive.Driver;
import kadrem.load.drive.Rehearser;
import kadrem.load.drive.Secrets;
import kadrem.load.drive.TlsContext;
import kadrem.load.drive.UnusableCall;
import kadrem.load.engine.Transport;

/** HTTP/1.1 with keep-alive: a request template, an expected set of statuses and a check for each call of the workload. */
public final class HttpDriver implements Driver {
    private final Bootstrap bootstrap;
    private final RequestTemplate[] templates;
    private final Workload workload;
    private final Call[] calls;
    private final Secrets secrets;
    private final Address address;
    private final Credentials credentials;
    private final Optional<JdkSslContext> tls;
    private final long timeoutMillis;
    private final boolean verifiesName;

    /** @throws UnusableCall if a secret is missing, a token cannot be had, or an expression of a call cannot be read */
    public HttpDriver(Address address, Access access, Workload workload, LoadProfile load, Secrets secrets,
            Transport transport) throws UnusableCall {
        this.workload = workload;
        this.secrets = secrets;
        this.address = address;
        timeoutMillis = load.timeout().toMillis();
        verifiesName = access.tls().verify();
        List<Call> all = workload.calls();
        calls = all.toArray(Call[]::new);
        tls = address.secure() ? Optional.of(TlsContext.of(access.tls(), secrets.folder())) : Optional.empty();
        checks();
        credentials = Credentials.of(access.signIn(), secrets);
        templates = new RequestTemplate[calls.length];
        for (int i = 0; i < calls.length; i++) {
            templates[i] = new RequestTemplate(calls[i], address, workload, credentials, secrets);
        }
        bootstrap = new Bootstrap().channel(transport.channelType())
                .remoteAddress(new InetSocketAddress(address.host(), address.port()))
                .option(ChannelOption.TCP_NODELAY, true).option(ChannelOption.CONNECT_TIMEOUT_MILLIS,
                        Math.toIntExact(Math.clamp(load.timeout().toMillis(), 1, 60_000)));
    }

    /** Checks keep what they read while they look, so each carrier has its own. */
    private ResponseCheck[] checks() throws UnusableCall {
        var checks = new ResponseCheck[calls.length];
        List<String> captured = workload.capturedNames();
        for (int i = 0; i < calls.length; i++) {
            try {
                Optional<ResponseCheck> check = ResponseCheck.of(calls[i], captured);
                checks[i] = check.orElse(ResponseCheck.NONE);
            } catch (UnreadableContent cause) {
                throw new UnusableCall("the call " + calls[i].name() + " cannot be used: " + cause.getMessage());
            }
        }
        return checks;
    }

    private ResponseCheck[] compiledBefore() {
        try {
            return checks();
        } catch (UnusableCall impossible) {
            throw new IllegalStateException("the checks were compiled before", impossible);
        }
    }

    @Override
    public Carrier newCarrier(EventLoop loop, Carrier.Listener listener) {
        return new HttpCarrier(bootstrap.clone(loop), tls, address, templates, calls, compiledBefore(), credentials,
                secrets,
                listener);
    }

    @Override
    public Rehearser newRehearser() {
        return new HttpRehearser(address, tls, templates, calls, compiledBefore(), credentials, secrets, timeoutMillis,
                verifiesName);
    }

    @Override
    public void close() {
        credentials.close();
    }
}
