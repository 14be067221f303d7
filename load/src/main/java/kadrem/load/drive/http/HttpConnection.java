package kadrem.load.drive.http;

import java.util.ArrayDeque;
import java.util.List;

import io.netty.buffer.ByteBuf;
import io.netty.channel.Channel;
import io.netty.channel.ChannelHandlerContext;
import io.netty.channel.ChannelInboundHandlerAdapter;
import kadrem.core.measure.FailureKind;
import kadrem.load.drive.Failures;
import kadrem.load.drive.Link;
import kadrem.load.drive.Connector;
import org.slf4j.LoggerFactory;

/**
 * A connection of HTTP/1.1 with the carriers that share it: their requests are pipelined, and answered in the order in which
 * they were sent (RFC 9112, section 9.3.2). When it breaks, the call whose answer was due fails as it broke, and those behind
 * it as closed. Confined to a lane.
 */
final class HttpConnection {
    private final Link link;
    /** Carriers whose request has gone out, in that order. */
    private final ArrayDeque<HttpCarrier> waiting = new ArrayDeque<>(2);
    /** Carriers that wait for the connection to be made. */
    private final ArrayDeque<HttpCarrier> pending = new ArrayDeque<>(2);

    HttpConnection(Connector connector) {
        link = new Link(connector, new Link.Use() {
            @Override
            public void addHandlers(Channel made) {
                made.pipeline().addLast(new Handler());
            }

            @Override
            public boolean greet(Channel made) {
                return true;
            }

            @Override
            public void ready(Channel made) {
                boolean first = true;
                for (HttpCarrier carrier : take(pending)) {
                    if (first) {
                        carrier.connected(link.connectNanos(), link.handshakeNanos());
                        first = false;
                    }
                    send(carrier);
                }
            }

            @Override
            public void failed(FailureKind kind, String detail) {
                take(pending).forEach(carrier -> carrier.broken(kind, detail));
            }
        });
    }

    /** Makes the connection, and runs {@code whenSettled} once, whether that went well or not. */
    void open(Runnable whenSettled) {
        link.open(whenSettled);
    }

    /** Writes the carrier's request, on a connection that is made first where there is none. */
    void send(HttpCarrier carrier) {
        Channel open = link.usable();
        if (open != null) {
            waiting.add(carrier);
            carrier.writeTo(open);
        } else {
            pending.add(carrier);
            link.connect();
        }
    }

    private static List<HttpCarrier> take(ArrayDeque<HttpCarrier> carriers) {
        List<HttpCarrier> taken = List.copyOf(carriers);
        carriers.clear();
        return taken;
    }

    /** Version and cipher of TLS on the last connection; empty without. */
    String tls() {
        return link.tls();
    }

    /** Forgets a carrier whose call is given up; a request that is on its way takes the connection with it. */
    void forget(HttpCarrier carrier) {
        if (pending.remove(carrier)) {
            if (pending.isEmpty()) {
                link.giveUpUnlessAwaited();
            }
        } else if (waiting.remove(carrier)) {
            drop(FailureKind.CLOSED);
        }
    }

    /** Closes the connection; calls that wait for an answer on it fail with {@code kind}. */
    void drop(FailureKind kind) {
        link.drop();
        if (!waiting.isEmpty()) {
            take(waiting).forEach(carrier -> carrier.broken(kind, ""));
        }
    }

    /** Closes the connection for good; no result follows. */
    void close() {
        pending.clear();
        waiting.clear();
        link.close();
    }

    /** The answer that is due has broken off or cannot be read. */
    private void fail(FailureKind kind) {
        HttpCarrier due = waiting.pollFirst();
        drop(FailureKind.CLOSED);
        if (due != null) {
            due.broken(kind, "");
        }
    }

    private void read(Channel from, ByteBuf in) {
        while (in.isReadable() && link.isOf(from)) {
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
        link.answered();
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
                if (link.isOf(context.channel())) {
                    read(context.channel(), in);
                }
            } finally {
                in.release();
            }
        }

        @Override
        public void channelInactive(ChannelHandlerContext context) {
            if (!link.isOf(context.channel())) {
                return;
            }
            link.drop();
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
            if (!link.isOf(context.channel())) {
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
