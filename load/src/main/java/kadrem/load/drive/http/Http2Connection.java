package kadrem.load.drive.http;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.List;

import io.netty.channel.Channel;
import io.netty.channel.ChannelHandlerContext;
import io.netty.channel.ChannelInboundHandlerAdapter;
import io.netty.handler.codec.http2.Http2FrameCodecBuilder;
import io.netty.handler.codec.http2.Http2GoAwayFrame;
import io.netty.handler.codec.http2.Http2MultiplexHandler;
import io.netty.handler.codec.http2.Http2Settings;
import io.netty.handler.codec.http2.Http2SettingsFrame;
import io.netty.handler.codec.http2.Http2StreamChannel;
import io.netty.handler.codec.http2.Http2StreamChannelBootstrap;
import io.netty.util.ReferenceCountUtil;
import kadrem.core.measure.FailureKind;
import kadrem.load.drive.Opening;
import org.jspecify.annotations.Nullable;

/**
 * A connection of HTTP/2 (RFC 9113) with the carriers that share it, each call a stream of its own. After a GOAWAY later
 * calls go over a new connection, while streams that the server still answers go on. Confined to a lane.
 */
final class Http2Connection {
    /** Received bytes that may be under way on a stream, so that no answer of usual size waits for room. */
    private static final int WINDOW = 1 << 20;

    private final Opening opening;
    private final ArrayDeque<Http2Carrier> pending = new ArrayDeque<>();
    private final List<Runnable> whenOpen = new ArrayList<>();
    private @Nullable Channel parent;
    private @Nullable Runnable givesUp;
    private boolean closed;
    /** A connection whose server has not sent its settings yet (RFC 9113, section 3.4), with the times it took. */
    private @Nullable Channel greeted;
    private long connectTook;
    private long handshakeTook;

    Http2Connection(Opening opening) {
        this.opening = opening;
    }

    void open(Runnable whenSettled) {
        Channel open = parent;
        if (open != null && open.isActive()) {
            whenSettled.run();
        } else {
            whenOpen.add(whenSettled);
            connect();
        }
    }

    /** Opens a stream for the carrier's call. */
    void send(Http2Carrier carrier) {
        Channel open = parent;
        if (open != null && open.isActive()) {
            stream(open, carrier);
        } else {
            pending.add(carrier);
            connect();
        }
    }

    private void stream(Channel open, Http2Carrier carrier) {
        long call = carrier.callId();
        new Http2StreamChannelBootstrap(open).handler(carrier.newHandler()).open().addListener(future -> {
            if (!future.isSuccess()) {
                if (carrier.callId() == call) {
                    carrier.broken(FailureKind.NO_CONNECTION, "no stream could be opened");
                }
            } else if (carrier.callId() == call) {
                carrier.writeTo((Http2StreamChannel) future.getNow());
            } else {
                ((Channel) future.getNow()).close();
            }
        });
    }

    private void connect() {
        if (givesUp != null || closed) {
            return;
        }
        givesUp = () -> {
        };
        Runnable given = opening.begin(made -> {
            made.pipeline().addLast(Http2FrameCodecBuilder.forClient().encoderEnforceMaxConcurrentStreams(true)
                    .initialSettings(Http2Settings.defaultSettings().pushEnabled(false).initialWindowSize(WINDOW))
                    .build());
            made.pipeline().addLast(new Http2MultiplexHandler(new ChannelInboundHandlerAdapter()));
            made.pipeline().addLast(new Handler());
        }, new Opening.Result() {
            @Override
            public void made(Channel made, long connectNanos, long handshakeNanos) {
                // calls may follow when the server has sent its settings
                greeted = made;
                connectTook = connectNanos;
                handshakeTook = handshakeNanos;
            }

            @Override
            public void failed(FailureKind kind, String detail) {
                giveUp(kind, detail);
            }
        });
        if (givesUp != null) {
            givesUp = given;
        }
    }

    private void giveUp(FailureKind kind, String detail) {
        givesUp = null;
        greeted = null;
        settled();
        take().forEach(carrier -> carrier.broken(kind, detail));
    }

    private void adopt(Channel made) {
        givesUp = null;
        greeted = null;
        if (closed) {
            made.close();
            return;
        }
        parent = made;
        settled();
        boolean first = true;
        for (Http2Carrier carrier : take()) {
            if (first) {
                carrier.connected(connectTook, handshakeTook);
                first = false;
            }
            send(carrier);
        }
    }

    private void settled() {
        List<Runnable> settled = List.copyOf(whenOpen);
        whenOpen.clear();
        settled.forEach(Runnable::run);
    }

    private List<Http2Carrier> take() {
        List<Http2Carrier> taken = List.copyOf(pending);
        pending.clear();
        return taken;
    }

    /** Forgets a carrier whose call is given up before it had a stream. */
    void forget(Http2Carrier carrier) {
        Runnable connecting = givesUp;
        if (pending.remove(carrier) && pending.isEmpty() && connecting != null && whenOpen.isEmpty()) {
            givesUp = null;
            connecting.run();
        }
    }

    void drop() {
        Channel open = parent;
        parent = null;
        if (open != null) {
            open.close();
        }
    }

    void close() {
        closed = true;
        pending.clear();
        Runnable connecting = givesUp;
        if (connecting != null) {
            connecting.run();
        }
        drop();
    }

    /** What the connection itself says, beside its streams. */
    private final class Handler extends ChannelInboundHandlerAdapter {
        @Override
        public void channelRead(ChannelHandlerContext context, Object message) {
            if (message instanceof Http2SettingsFrame && context.channel() == greeted) {
                adopt(context.channel());
            } else if (message instanceof Http2GoAwayFrame && context.channel() == parent) {
                // the streams that are answered still end by themselves; the server closes when they have
                parent = null;
            }
            ReferenceCountUtil.release(message);
        }

        @Override
        public void channelInactive(ChannelHandlerContext context) {
            if (context.channel() == parent) {
                parent = null;
            } else if (context.channel() == greeted) {
                giveUp(FailureKind.CLOSED, "the server closed before it had sent its settings");
            }
        }

        @Override
        public void exceptionCaught(ChannelHandlerContext context, Throwable cause) {
            // a connection error (RFC 9113, section 5.4.1); its streams are told by their channels
            if (context.channel() == greeted) {
                giveUp(FailureKind.MALFORMED, String.valueOf(cause.getMessage()));
            }
            context.close();
        }
    }
}
