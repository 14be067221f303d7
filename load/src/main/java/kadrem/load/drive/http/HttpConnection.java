package kadrem.load.drive.http;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.List;

import io.netty.buffer.ByteBuf;
import io.netty.channel.Channel;
import io.netty.channel.ChannelHandlerContext;
import io.netty.channel.ChannelInboundHandlerAdapter;
import kadrem.core.measure.FailureKind;
import kadrem.load.drive.Failures;
import kadrem.load.drive.Opening;
import org.jspecify.annotations.Nullable;
import org.slf4j.LoggerFactory;

/**
 * A connection of HTTP/1.1 with the carriers that share it: their requests are pipelined, and answered in the order in which
 * they were sent (RFC 9112, section 9.3.2). When it breaks, the call whose answer was due fails as it broke, and those behind
 * it as closed. Confined to a lane.
 */
final class HttpConnection {
    private final Opening opening;
    /** Carriers whose request has gone out, in that order. */
    private final ArrayDeque<HttpCarrier> waiting = new ArrayDeque<>(2);
    /** Carriers that wait for the connection to be made. */
    private final ArrayDeque<HttpCarrier> pending = new ArrayDeque<>(2);
    private final List<Runnable> whenOpen = new ArrayList<>();
    private @Nullable Channel channel;
    private @Nullable Runnable givesUp;
    private boolean closed;

    HttpConnection(Opening opening) {
        this.opening = opening;
    }

    /** Makes the connection, and runs {@code whenSettled} once, whether that went well or not. */
    void open(Runnable whenSettled) {
        Channel open = channel;
        if (open != null && open.isActive()) {
            whenSettled.run();
        } else {
            whenOpen.add(whenSettled);
            connect();
        }
    }

    /** Writes the carrier's request, on a connection that is made first where there is none. */
    void send(HttpCarrier carrier) {
        Channel open = channel;
        if (open != null && open.isActive()) {
            waiting.add(carrier);
            carrier.writeTo(open);
        } else {
            pending.add(carrier);
            connect();
        }
    }

    private void connect() {
        if (givesUp != null || closed) {
            return;
        }
        // replaced by what ends the attempt; a result may come before begin returns
        givesUp = () -> {
        };
        Runnable given = opening.begin(made -> made.pipeline().addLast(new Handler()), new Opening.Result() {
            @Override
            public void made(Channel made, long connectNanos, long handshakeNanos) {
                adopt(made, connectNanos, handshakeNanos);
            }

            @Override
            public void failed(FailureKind kind, String detail) {
                givesUp = null;
                settled();
                take(pending).forEach(carrier -> carrier.broken(kind, detail));
            }
        });
        if (givesUp != null) {
            givesUp = given;
        }
    }

    private void adopt(Channel made, long connectNanos, long handshakeNanos) {
        givesUp = null;
        if (closed) {
            made.close();
            return;
        }
        channel = made;
        settled();
        boolean first = true;
        for (HttpCarrier carrier : take(pending)) {
            if (first) {
                carrier.connected(connectNanos, handshakeNanos);
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

    private static List<HttpCarrier> take(ArrayDeque<HttpCarrier> carriers) {
        List<HttpCarrier> taken = List.copyOf(carriers);
        carriers.clear();
        return taken;
    }

    /** Forgets a carrier whose call is given up; a request that is on its way takes the connection with it. */
    void forget(HttpCarrier carrier) {
        Runnable connecting = givesUp;
        if (pending.remove(carrier)) {
            if (pending.isEmpty() && connecting != null && whenOpen.isEmpty()) {
                givesUp = null;
                connecting.run();
            }
        } else if (waiting.remove(carrier)) {
            drop(FailureKind.CLOSED);
        }
    }

    /** Closes the connection; calls that wait for an answer on it fail with {@code kind}. */
    void drop(FailureKind kind) {
        Channel open = channel;
        channel = null;
        if (open != null) {
            open.close();
        }
        if (!waiting.isEmpty()) {
            take(waiting).forEach(carrier -> carrier.broken(kind, ""));
        }
    }

    /** Closes the connection for good; no result follows. */
    void close() {
        closed = true;
        pending.clear();
        waiting.clear();
        Runnable connecting = givesUp;
        if (connecting != null) {
            connecting.run();
        }
        drop(FailureKind.CLOSED);
    }

    /** The answer that is due has broken off or cannot be read. */
    private void fail(FailureKind kind) {
        HttpCarrier due = waiting.pollFirst();
        drop(FailureKind.CLOSED);
        if (due != null) {
            due.broken(kind, "");
        }
    }

    private void read(ByteBuf in) {
        Channel before = channel;
        while (in.isReadable() && channel == before) {
            HttpCarrier due = waiting.peekFirst();
            if (due == null) {
                // nothing was asked for
                drop(FailureKind.CLOSED);
                return;
            }
            switch (due.feed(in)) {
                case MORE -> {
                    return;
                }
                case MALFORMED -> fail(FailureKind.MALFORMED);
                case WHOLE -> {
                    if (in.isReadable() && waiting.size() == 1) {
                        fail(FailureKind.MALFORMED);
                    } else {
                        waiting.pollFirst();
                        whole(due);
                    }
                }
            }
        }
    }

    private void whole(HttpCarrier due) {
        if (!due.keepsConnection()) {
            drop(FailureKind.CLOSED);
        }
        due.whole();
    }

    /** Turns what the channel says into results, for as long as it is this connection's channel. */
    private final class Handler extends ChannelInboundHandlerAdapter {
        @Override
        public void channelRead(ChannelHandlerContext context, Object message) {
            ByteBuf in = (ByteBuf) message;
            try {
                if (context.channel() == channel) {
                    read(in);
                }
            } finally {
                in.release();
            }
        }

        @Override
        public void channelInactive(ChannelHandlerContext context) {
            if (context.channel() != channel) {
                return;
            }
            channel = null;
            HttpCarrier due = waiting.pollFirst();
            List<HttpCarrier> behind = take(waiting);
            if (due != null && due.endsWithConnection()) {
                due.whole();
            } else if (due != null) {
                due.broken(FailureKind.CLOSED, "");
            }
            behind.forEach(carrier -> carrier.broken(FailureKind.CLOSED, ""));
        }

        @Override
        public void exceptionCaught(ChannelHandlerContext context, Throwable cause) {
            if (context.channel() != channel) {
                return;
            }
            if (waiting.isEmpty()) {
                drop(FailureKind.CLOSED);
                return;
            }
            // with TLS 1.3 a server refuses a client's certificate only after the client is done
            FailureKind kind = Failures.kindOf(cause, false);
            if (kind == FailureKind.GENERATOR) {
                LoggerFactory.getLogger(HttpConnection.class).warn("unexpected failure on a connection", cause);
            }
            fail(kind);
        }
    }
}
