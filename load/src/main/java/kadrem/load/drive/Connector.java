package kadrem.load.drive;

import java.net.InetSocketAddress;
import java.net.SocketAddress;
import java.util.Optional;
import java.util.function.Consumer;

import io.netty.bootstrap.Bootstrap;
import io.netty.channel.Channel;
import io.netty.channel.ChannelFuture;
import io.netty.channel.ChannelInitializer;
import io.netty.channel.ChannelOption;
import io.netty.handler.ssl.ApplicationProtocolNames;
import io.netty.handler.ssl.SslHandler;
import io.netty.util.concurrent.Future;
import kadrem.core.measure.FailureKind;
import kadrem.core.study.Address;
import kadrem.core.study.Wire;
import kadrem.load.net.LaneConnections;
import kadrem.load.net.LaneLoop;
import kadrem.load.net.Transport;
import org.jspecify.annotations.Nullable;

/** Makes connections to one candidate, with the TLS handshake where there is one, and times both. Confined to a lane. */
public final class Connector {
    private static final int MAX_DETAIL = 200;

    private final Bootstrap bootstrap;
    private final SocketAddress remote;
    private final Optional<TlsContext> tls;
    private final Address address;
    private final boolean wantsHttp2;
    private final int patienceMillis;
    private final LaneConnections connections;

    private Connector(Bootstrap bootstrap, SocketAddress remote, Optional<TlsContext> tls, Address address, Wire wire,
            int patienceMillis, LaneConnections connections) {
        this.bootstrap = bootstrap;
        this.connections = connections;
        this.patienceMillis = patienceMillis;
        this.remote = remote;
        this.tls = tls;
        this.address = address;
        wantsHttp2 = wire.protocol() == Wire.Protocol.HTTP_2;
    }

    /** A connector over TCP, or over a Unix socket where the wire names one. */
    public static Connector of(DriverOrder order, LaneLoop loop, Optional<TlsContext> tls) {
        Wire wire = order.access().wire();
        Transport transport = order.transport();
        Address address = order.address();
        Class<? extends Channel> type = wire.socket().isPresent()
                ? transport.domainChannelType()
                : transport.channelType();
        int patience = Math.toIntExact(Math.clamp(order.timeout().toMillis(), 1, 60_000));
        Bootstrap bootstrap = new Bootstrap().group(loop.eventLoop()).channel(type).option(
                ChannelOption.CONNECT_TIMEOUT_MILLIS,
                patience);
        if (wire.socket().isEmpty()) {
            bootstrap.option(ChannelOption.TCP_NODELAY, true);
        }
        SocketAddress remote = wire.socket()
                .map(path -> transport.socketAddress(order.secrets().folder().resolve(path)))
                .orElseGet(() -> new InetSocketAddress(address.host(), address.port()));
        return new Connector(bootstrap, remote, tls, address, wire, patience, loop.connections());
    }

    /** The connections of the lane, among which those that are made here count. */
    LaneConnections connections() {
        return connections;
    }

    /** Time after which a connection is not waited for any more, in milliseconds. */
    int patienceMillis() {
        return patienceMillis;
    }

    /** What became of an opening. */
    public interface Result {
        /** @param handshakeNanos 0 without TLS */
        void made(Channel channel, long connectNanos, long handshakeNanos);

        void failed(FailureKind kind, String detail);
    }

    /**
     * Begins to open a connection.
     *
     * @param pipeline adds the handlers behind TLS
     * @return closes what is being opened, after which no result follows
     */
    public Runnable begin(Consumer<Channel> pipeline, Result result) {
        long begun = System.nanoTime();
        long begunMillis = System.currentTimeMillis();
        ChannelFuture connected = bootstrap.clone().handler(new ChannelInitializer<Channel>() {
            @Override
            protected void initChannel(Channel made) {
                tls.ifPresent(context -> made.pipeline().addLast("tls",
                        context.forConnection().newHandler(made.alloc(), address.host(), address.port())));
                pipeline.accept(made);
            }
        }).connect(remote);
        var given = new boolean[1];
        connected.addListener(future -> {
            long connect = System.nanoTime() - begun;
            if (given[0]) {
                connected.channel().close();
            } else if (!future.isSuccess()) {
                result.failed(Failures.kindOf(future.cause(), true), "");
            } else if (connected.channel().pipeline().get("tls") instanceof SslHandler handshaking) {
                handshaking.handshakeFuture().addListener(done -> {
                    if (given[0]) {
                        connected.channel().close();
                    } else {
                        shaken(connected.channel(), handshaking, done, connect, System.nanoTime() - begun, begunMillis,
                                result);
                    }
                });
            } else {
                result.made(connected.channel(), connect, 0);
            }
        });
        return () -> {
            given[0] = true;
            connected.channel().close();
        };
    }

    private void shaken(Channel channel, SslHandler handler, Future<? super Channel> done, long connect, long both,
            long begunMillis, Result result) {
        if (!done.isSuccess()) {
            channel.close();
            result.failed(Failures.kindOf(done.cause(), true), reason(done.cause()));
        } else if (wantsHttp2 && !ApplicationProtocolNames.HTTP_2.equals(handler.applicationProtocol())) {
            channel.close();
            result.failed(FailureKind.TLS, "the server did not choose HTTP/2 (ALPN)");
        } else {
            if (handler.engine().getSession().getCreationTime() < begunMillis) {
                connections.resumed();
            }
            result.made(channel, connect, Math.max(1, both - connect));
        }
    }

    /** What the innermost cause says, such as that a certificate is for another name. */
    private static String reason(@Nullable Throwable failure) {
        Throwable cause = failure;
        while (cause != null && cause.getCause() != null) {
            cause = cause.getCause();
        }
        String message = cause == null || cause.getMessage() == null ? "" : cause.getMessage();
        return message.substring(0, Math.min(MAX_DETAIL, message.length()));
    }
}
