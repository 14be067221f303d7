package kadrem.load.drive.grpc;

import io.netty.channel.ChannelHandlerContext;
import io.netty.channel.ChannelInboundHandlerAdapter;
import kadrem.load.net.LaneConnections;

/** Counts a connection while it is open. */
final class OpenCount extends ChannelInboundHandlerAdapter {
    private final LaneConnections connections;

    OpenCount(LaneConnections connections) {
        this.connections = connections;
    }

    @Override
    public void channelActive(ChannelHandlerContext context) {
        connections.opened();
        context.channel().closeFuture().addListener(_ -> connections.closed());
        context.fireChannelActive();
    }
}
