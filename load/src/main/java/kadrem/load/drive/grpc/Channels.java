package kadrem.load.drive.grpc;

import java.net.InetSocketAddress;

import io.grpc.ManagedChannel;
import io.grpc.netty.NegotiationType;
import io.grpc.netty.NettyChannelBuilder;
import io.netty.channel.EventLoop;
import kadrem.core.study.Tls;
import kadrem.core.study.Wire;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.TlsContext;
import kadrem.load.drive.UnusableCall;

/** Channels to one candidate. */
final class Channels {
    private static final int MOST_MESSAGE = 64 * 1024 * 1024;

    private Channels() {
    }

    /** A channel all of whose work is done on {@code loop}: what is sent and what comes is on the lane's own thread. */
    static ManagedChannel on(EventLoop loop, DriverOrder order) throws UnusableCall {
        return builder(order).eventLoopGroup(loop).channelType(order.transport().channelType()).directExecutor()
                .build();
    }

    /** A channel for questions beside the load. */
    static ManagedChannel blocking(DriverOrder order) throws UnusableCall {
        return builder(order).build();
    }

    private static NettyChannelBuilder builder(DriverOrder order) throws UnusableCall {
        var address = new InetSocketAddress(order.address().host(), order.address().port());
        NettyChannelBuilder builder = NettyChannelBuilder.forAddress(address).disableRetry()
                .maxInboundMessageSize(MOST_MESSAGE).maxInboundMetadataSize(64 * 1024);
        String authority = order.access().setting("authority");
        builder.overrideAuthority(authority.isEmpty() ? order.address().authority() : authority);
        if (!order.address().secure()) {
            return builder.negotiationType(NegotiationType.PLAINTEXT);
        }
        Tls tls = order.access().tls();
        return builder.sslContext(TlsContext.of(tls, Wire.USUAL.withProtocol(Wire.Protocol.HTTP_2, 1),
                order.secrets().folder()).shared());
    }
}
