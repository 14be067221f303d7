package kadrem.load.drive.resp;

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
import kadrem.load.drive.AnswerRoom;
import kadrem.load.drive.Failures;
import kadrem.load.drive.Link;
import kadrem.load.drive.Connector;

/** A connection to a store, which signs in before anything else is sent. Confined to a lane. */
final class RespConnection {
    private static final int MAX_INLINE = 64 * 1024;
    private static final int MAX_ELEMENTS = 10_000_000;
    private static final int MAX_DEPTH = 32;

    private final Link link;
    /** Commands with which every connection begins. */
    private final List<String[]> greeting;
    private final Told told;
    private int greetingsDue;
    private long bytesIn;

    /** Who is told what comes. */
    interface Told {
        /** A reply; to be released by the one who takes it. */
        void reply(RedisMessage message);

        /** The connection is no more, or was not to be had. */
        void broken(FailureKind kind, String detail);
    }

    RespConnection(Connector opening, List<String[]> greeting, Told told) {
        this.greeting = List.copyOf(greeting);
        this.told = told;
        link = new Link(opening, new Link.Use() {
            @Override
            public void addHandlers(Channel made) {
                var room = new AnswerRoom();
                made.pipeline().addLast(new Counting(room),
                        new RedisDecoder(MAX_INLINE, io.netty.handler.codec.redis.FixedRedisMessagePool.INSTANCE),
                        new RedisBulkStringAggregator(), new RedisArrayAggregator(MAX_ELEMENTS, MAX_DEPTH),
                        new Handler(room));
            }

            @Override
            public boolean greet(Channel made) {
                return signIn(made);
            }

            @Override
            public void ready(Channel made) {
                // those who waited know
            }

            @Override
            public void failed(FailureKind kind, String detail) {
                told.broken(kind, detail);
            }
        });
    }

    boolean isReady() {
        return link.usable() != null;
    }

    /** The open channel. */
    Channel channel() {
        Channel open = link.usable();
        if (open == null) {
            throw new IllegalStateException("there is no connection");
        }
        return open;
    }

    /** An answer has come over it. */
    void answered() {
        link.answered();
    }

    /** Bytes that came since the connection was made. */
    long bytesIn() {
        return bytesIn;
    }

    long connectNanos() {
        return link.connectNanos();
    }

    long handshakeNanos() {
        return link.handshakeNanos();
    }

    /** Opens it where it is not open, and runs {@code whenSettled} once, whether that went well or not. */
    void open(Runnable whenSettled) {
        link.open(whenSettled);
    }

    /** Writes the greeting; whether there is none. */
    private boolean signIn(Channel made) {
        greetingsDue = greeting.size();
        greeting.forEach(words -> made.write(Commands.plain(words), made.voidPromise()));
        made.flush();
        return greetingsDue == 0;
    }

    private void greeted(RedisMessage reply) {
        greetingsDue--;
        if (reply instanceof ErrorRedisMessage error) {
            link.lost(FailureKind.NO_CONNECTION, error.content());
        } else if (greetingsDue == 0) {
            link.ready();
        }
    }

    /** Closes it; nobody is told. It may be opened again. */
    void drop() {
        link.drop();
    }

    void close() {
        link.close();
    }

    /** Counts what comes, before it is decoded and kept until a reply is whole. */
    private final class Counting extends ChannelInboundHandlerAdapter {
        private final AnswerRoom room;

        Counting(AnswerRoom room) {
            this.room = room;
        }

        @Override
        public void channelRead(ChannelHandlerContext context, Object message) {
            int bytes = ((ByteBuf) message).readableBytes();
            bytesIn += bytes;
            if (room.take(bytes)) {
                context.fireChannelRead(message);
                return;
            }
            ReferenceCountUtil.release(message);
            if (link.isOf(context.channel())) {
                link.lost(FailureKind.MALFORMED, AnswerRoom.objection());
            }
            context.close();
        }

        @Override
        public void channelInactive(ChannelHandlerContext context) {
            room.release();
            context.fireChannelInactive();
        }
    }

    private final class Handler extends ChannelInboundHandlerAdapter {
        private final AnswerRoom room;

        Handler(AnswerRoom room) {
            this.room = room;
        }

        @Override
        public void channelRead(ChannelHandlerContext context, Object message) {
            room.release();
            if (!link.isOf(context.channel())) {
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
            if (link.isOf(context.channel())) {
                link.lost(FailureKind.CLOSED, "");
            }
        }

        @Override
        public void exceptionCaught(ChannelHandlerContext context, Throwable cause) {
            if (link.isOf(context.channel())) {
                link.lost(Failures.kindOf(cause, false),
                        cause instanceof CodecException ? String.valueOf(cause.getMessage()) : "");
            }
        }
    }
}
