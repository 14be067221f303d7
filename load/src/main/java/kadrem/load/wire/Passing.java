package kadrem.load.wire;

import java.util.ArrayDeque;
import java.util.Deque;
import java.util.concurrent.TimeUnit;

import io.netty.buffer.ByteBuf;
import io.netty.buffer.Unpooled;
import io.netty.channel.Channel;
import io.netty.channel.ChannelHandlerContext;
import io.netty.channel.ChannelInboundHandlerAdapter;
import io.netty.channel.socket.ChannelInputShutdownEvent;
import io.netty.channel.socket.DuplexChannel;
import org.jspecify.annotations.Nullable;

/** Passes on what one side of a connection sends, each piece when it has come over the wire. One thread. */
class Passing extends ChannelInboundHandlerAdapter {
    /** What is on the wire of one connection at most; beyond it nothing more is read. */
    private static final long MOST = 4 << 20;

    private final Way way;
    private final Deque<Piece> onTheWire = new ArrayDeque<>();
    private @Nullable Channel from;
    private @Nullable Channel to;
    private long bytes;
    private long last = Long.MIN_VALUE;
    private boolean waits;

    /** Bytes, or the end where there are none, and when they arrive. */
    private record Piece(ByteBuf bytes, long at, boolean end) {
    }

    Passing(Way way) {
        this.way = way;
    }

    /** Both sides are there. */
    void begin(Channel sends, Channel takes) {
        from = sends;
        to = takes;
        sends.config().setAutoRead(true);
    }

    @Override
    public void channelRead(ChannelHandlerContext context, Object read) {
        var piece = (ByteBuf) read;
        bytes += piece.readableBytes();
        if (bytes > MOST) {
            context.channel().config().setAutoRead(false);
        }
        put(piece, way.arrives(System.nanoTime(), piece.readableBytes()), false);
    }

    @Override
    public void userEventTriggered(ChannelHandlerContext context, Object event) {
        if (event instanceof ChannelInputShutdownEvent) {
            put(Unpooled.EMPTY_BUFFER, way.arrives(System.nanoTime(), 0), true);
        }
    }

    @Override
    public void channelInactive(ChannelHandlerContext context) {
        put(Unpooled.EMPTY_BUFFER, way.arrives(System.nanoTime(), 0), true);
    }

    @Override
    public void exceptionCaught(ChannelHandlerContext context, Throwable cause) {
        // it was reset, which the other side is told at once
        context.close();
        if (to != null) {
            to.config().setOption(io.netty.channel.ChannelOption.SO_LINGER, 0);
            to.close();
        }
    }

    private void put(ByteBuf piece, long at, boolean end) {
        // what came later never arrives before
        last = last == Long.MIN_VALUE ? at : Math.max(last, at);
        onTheWire.add(new Piece(piece, last, end));
        arrive();
    }

    private void arrive() {
        Channel takes = to;
        if (takes == null || waits) {
            return;
        }
        boolean written = false;
        for (Piece next = onTheWire.peek(); next != null; next = onTheWire.peek()) {
            long wait = next.at() - System.nanoTime();
            if (wait > 0) {
                await(takes, next.at() - Math.min(wait, way.early()), next.at());
                break;
            }
            onTheWire.remove();
            bytes -= next.bytes().readableBytes();
            if (next.end()) {
                end(takes);
            } else {
                takes.write(next.bytes());
                written = true;
            }
        }
        if (written) {
            takes.flush();
        }
        Channel sends = from;
        if (bytes <= MOST / 2 && sends != null && !sends.config().isAutoRead()) {
            sends.config().setAutoRead(true);
        }
    }

    /** Goes on at an instant, to be awake a little before. */
    private void await(Channel takes, long wake, long at) {
        waits = true;
        takes.eventLoop().schedule(() -> {
            way.woken(System.nanoTime() - wake);
            while (System.nanoTime() - at < 0) {
                Thread.onSpinWait();
            }
            waits = false;
            arrive();
        }, Math.max(0, wake - System.nanoTime()), TimeUnit.NANOSECONDS);
    }

    /** What one side ends the other is told; when both have ended the connection is over. */
    private void end(Channel takes) {
        Channel sends = from;
        if (sends == null || !sends.isActive() || !(takes instanceof DuplexChannel duplex)) {
            takes.writeAndFlush(Unpooled.EMPTY_BUFFER).addListener(_ -> takes.close());
        } else if (!duplex.isOutputShutdown()) {
            takes.writeAndFlush(Unpooled.EMPTY_BUFFER).addListener(_ -> duplex.shutdownOutput());
        }
    }
}
