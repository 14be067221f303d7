package kadrem.load.drive;

import io.netty.channel.ChannelHandlerContext;
import io.netty.channel.ChannelInboundHandlerAdapter;

/** The last handler of a peer's connection: what it wrote leaves when all that came was read, and a fault ends the connection. */
public abstract class PeerHandler extends ChannelInboundHandlerAdapter {
    @Override
    public abstract void channelRead(ChannelHandlerContext context, Object message);

    @Override
    public void channelReadComplete(ChannelHandlerContext context) {
        context.flush();
    }

    @Override
    public final void exceptionCaught(ChannelHandlerContext context, Throwable cause) {
        context.close();
    }
}
