package kadrem.load.drive.grpc;

import java.util.Optional;
import kadrem.load.net.LaneConnections;
import kadrem.load.net.LaneLoop;
import java.net.InetSocketAddress;
import java.util.concurrent.TimeUnit;

import io.grpc.ManagedChannel;
import io.grpc.netty.NegotiationType;
import io.grpc.netty.NettyChannelBuilder;
import io.netty.channel.Channel;
import io.netty.channel.EventLoopGroup;
import io.netty.util.concurrent.DefaultThreadFactory;
import kadrem.core.study.Tls;
import kadrem.core.study.Wire;
import kadrem.load.drive.AnswerRoom;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.TlsContext;
import kadrem.load.content.UnusableCall;

/** Channels to one candidate. */
final class Channels {
    private Channels() {
    }

    /** A channel all of whose work is done on {@code loop}: what is sent and what comes is on the lane's own thread. */
    static ManagedChannel on(LaneLoop loop, DriverOrder order) throws UnusableCall {
        return guarded(builder(order), loop.eventLoop(), order, Optional.of(loop.connections())).directExecutor()
                .build();
    }

    /** A channel for questions beside the load, with a thread of its own. */
    static final class Beside implements AutoCloseable {
        private final EventLoopGroup loops;
        private final ManagedChannel channel;

        Beside(DriverOrder order) throws UnusableCall {
            NettyChannelBuilder builder = builder(order);
            loops = order.transport().newGroup(1, new DefaultThreadFactory("kadrem-grpc", true));
            channel = guarded(builder, loops, order, Optional.empty()).build();
        }

        ManagedChannel channel() {
            return channel;
        }

        @Override
        public void close() {
            channel.shutdownNow();
            loops.shutdownGracefully(0, 1, TimeUnit.SECONDS);
        }
    }

    private static NettyChannelBuilder guarded(NettyChannelBuilder builder, EventLoopGroup loops, DriverOrder order,
            Optional<LaneConnections> counted) {
        return builder.eventLoopGroup(loops).channelFactory(() -> {
            Channel made = order.transport().newChannel();
            made.pipeline().addLast(new FloodGuard());
            counted.ifPresent(connections -> made.pipeline().addLast(new OpenCount(connections)));
            return made;
        });
    }

    private static NettyChannelBuilder builder(DriverOrder order) throws UnusableCall {
        var address = new InetSocketAddress(order.address().host(), order.address().port());
        NettyChannelBuilder builder = NettyChannelBuilder.forAddress(address).disableRetry()
                .maxInboundMessageSize(AnswerRoom.share(order.users())).maxInboundMetadataSize(64 * 1024);
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
