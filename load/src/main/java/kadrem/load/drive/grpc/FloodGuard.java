package kadrem.load.drive.grpc;

import io.netty.buffer.ByteBuf;
import io.netty.channel.ChannelDuplexHandler;
import io.netty.channel.ChannelHandlerContext;
import io.netty.channel.ChannelPromise;
import org.slf4j.LoggerFactory;

/**
 * Closes a connection whose peer asks for signs of life, or tells settings, faster than it reads the acknowledgements: those would be kept
 * without end. The library of gRPC has no such bound for clients. Stands next to the socket.
 */
final class FloodGuard extends ChannelDuplexHandler {
    /**
     * Far more than a peer of good faith leaves unread: they wait here only when the system's buffer is full as well. Netty's own HTTP/2 lets
     * 10,000 wait, in which time a loop does nothing else for seconds.
     */
    private static final int MAX_WAITING = 1_000;
    /** An acknowledgement has at most 17 bytes (RFC 9113, sections 6.5 and 6.7), and in a record of TLS some 30 more. */
    private static final int SMALL = 64;

    private int waiting;

    @Override
    public void write(ChannelHandlerContext context, Object message, ChannelPromise promise) {
        if (context.channel().isWritable()) {
            waiting = 0;
        }
        if (message instanceof ByteBuf bytes && bytes.readableBytes() <= SMALL && ++waiting > MAX_WAITING) {
            if (waiting == MAX_WAITING + 1) {
                LoggerFactory.getLogger(FloodGuard.class).warn("{} floods a connection, which is closed",
                        context.channel().remoteAddress());
                context.close();
            }
            bytes.release();
            // the connection is gone; thousands of failures would only take time
            promise.trySuccess();
            return;
        }
        context.write(message, promise);
    }
}
