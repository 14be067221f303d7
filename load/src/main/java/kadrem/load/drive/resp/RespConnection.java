package kadrem.load.drive.resp;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.List;

import io.netty.buffer.ByteBuf;
import io.netty.channel.Channel;
import io.netty.channel.ChannelHandlerContext;
import io.netty.channel.ChannelInboundHandlerAdapter;
import io.netty.handler.codec.CodecException;
import io.netty.handler.codec.redis.ErrorRedisMessage;
import io.netty.handler.codec.redis.RedisArrayAggregator;
import io.netty.handler.codec.redis.RedisBulkStringAggregator;
import io.netty.handler.codec.redis.RedisDecoder;
import io.netty.handler.codec.redis.RedisMessage;
import io.netty.util.ReferenceCountUtil;
import kadrem.core.measure.FailureKind;
import kadrem.load.drive.Failures;
import kadrem.load.drive.Opening;
import org.jspecify.annotations.Nullable;

/** A connection to a store, which signs in before anything else is sent. Confined to a lane. */
final class RespConnection {
    private static final int MOST_INLINE = 64 * 1024;
    private static final int MOST_ELEMENTS = 10_000_000;
    private static final int MOST_DEPTH = 32;

    private final Opening opening;
    /** Commands with which every connection begins. */
    private final List<String[]> greeting;
    private final Told told;
    private final List<Runnable> whenOpen = new ArrayList<>();
    private @Nullable Channel channel;
    private @Nullable Runnable givesUp;
    private int greetingsDue;
    private boolean ready;
    private boolean closed;
    private long bytesIn;
    private long connectNanos;
    private long handshakeNanos;

    /** Who is told what comes. */
    interface Told {
        /** A reply; to be released by the one who takes it. */
        void reply(RedisMessage message);

        /** The connection is no more, or was not to be had. */
        void broken(FailureKind kind, String detail);
    }

    RespConnection(Opening opening, List<String[]> greeting, Told told) {
        this.opening = opening;
        this.greeting = List.copyOf(greeting);
        this.told = told;
    }

    boolean isReady() {
        Channel open = channel;
        return ready && open != null && open.isActive();
    }

    /** The open channel. */
    Channel channel() {
        Channel open = channel;
        if (open == null) {
            throw new IllegalStateException("there is no connection");
        }
        return open;
    }

    /** Bytes that came since the connection was made. */
    long bytesIn() {
        return bytesIn;
    }

    long connectNanos() {
        return connectNanos;
    }

    long handshakeNanos() {
        return handshakeNanos;
    }

    /** Opens it where it is not open, and runs {@code whenSettled} once, whether that went well or not. */
    void open(Runnable whenSettled) {
        if (isReady()) {
            whenSettled.run();
            return;
        }
        whenOpen.add(whenSettled);
        if (givesUp != null || closed || channel != null) {
            return;
        }
        // replaced by what ends the attempt; a result may come before begin returns
        givesUp = () -> {
        };
        Runnable given = opening.begin(made -> made.pipeline().addLast(new Counting(), new RedisDecoder(MOST_INLINE,
                io.netty.handler.codec.redis.FixedRedisMessagePool.INSTANCE), new RedisBulkStringAggregator(),
                new RedisArrayAggregator(MOST_ELEMENTS, MOST_DEPTH), new Handler()), new Opening.Result() {
                    @Override
                    public void made(Channel made, long connect, long handshake) {
                        givesUp = null;
                        if (closed) {
                            made.close();
                            return;
                        }
                        connectNanos = connect;
                        handshakeNanos = handshake;
                        channel = made;
                        greetingsDue = greeting.size();
                        greeting.forEach(words -> made.write(Commands.plain(words), made.voidPromise()));
                        made.flush();
                        if (greetingsDue == 0) {
                            settle(true);
                        }
                    }

                    @Override
                    public void failed(FailureKind kind, String detail) {
                        givesUp = null;
                        settle(false);
                        told.broken(kind, detail);
                    }
                });
        if (givesUp != null) {
            givesUp = given;
        }
    }

    private void settle(boolean isReady) {
        ready = isReady;
        var settled = new ArrayDeque<>(whenOpen);
        whenOpen.clear();
        settled.forEach(Runnable::run);
    }

    private void greeted(RedisMessage reply) {
        greetingsDue--;
        if (reply instanceof ErrorRedisMessage error) {
            drop();
            settle(false);
            told.broken(FailureKind.NO_CONNECTION, error.content());
        } else if (greetingsDue == 0) {
            settle(true);
        }
    }

    /** Closes it; nobody is told. It may be opened again. */
    void drop() {
        Channel open = channel;
        channel = null;
        ready = false;
        if (open != null) {
            open.close();
        }
    }

    void close() {
        closed = true;
        Runnable opened = givesUp;
        if (opened != null) {
            opened.run();
        }
        drop();
    }

    private void fail(FailureKind kind, String detail) {
        boolean greets = !ready;
        drop();
        if (greets) {
            settle(false);
        }
        told.broken(kind, detail);
    }

    /** Counts what comes, before it is decoded. */
    private final class Counting extends ChannelInboundHandlerAdapter {
        @Override
        public void channelRead(ChannelHandlerContext context, Object message) {
            bytesIn += ((ByteBuf) message).readableBytes();
            context.fireChannelRead(message);
        }
    }

    private final class Handler extends ChannelInboundHandlerAdapter {
        @Override
        public void channelRead(ChannelHandlerContext context, Object message) {
            if (context.channel() != channel) {
                ReferenceCountUtil.release(message);
            } else if (greetingsDue > 0) {
                try {
                    greeted((RedisMessage) message);
                } finally {
                    ReferenceCountUtil.release(message);
                }
            } else {
                told.reply((RedisMessage) message);
            }
        }

        @Override
        public void channelInactive(ChannelHandlerContext context) {
            if (context.channel() == channel) {
                fail(FailureKind.CLOSED, "");
            }
        }

        @Override
        public void exceptionCaught(ChannelHandlerContext context, Throwable cause) {
            if (context.channel() == channel) {
                fail(Failures.kindOf(cause, false),
                        cause instanceof CodecException ? String.valueOf(cause.getMessage()) : "");
            }
        }
    }
}
