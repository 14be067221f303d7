package kadrem.load.drive.http;

import java.util.ArrayDeque;
import java.util.List;

import io.netty.channel.Channel;
import kadrem.core.measure.FailureKind;
import kadrem.load.drive.Link;
import kadrem.load.drive.Connector;
import org.jspecify.annotations.Nullable;

/**
 * A connection of HTTP/2 with the carriers that share it, each call a stream of its own. After a GOAWAY later calls go over a new
 * connection, while streams that the server still answers go on. Confined to a lane.
 */
final class Http2Connection {
    private final Link link;
    /** Carriers that wait for the connection to be made, or for a stream to be free on it. */
    private final ArrayDeque<Http2Carrier> pending = new ArrayDeque<>();
    /** Streams of the connection that is made or being made. */
    private @Nullable Http2Streams current;

    Http2Connection(Connector connector) {
        var owner = new Owner();
        link = new Link(connector, new Link.Use() {
            @Override
            public void addHandlers(Channel made) {
                Http2Streams streams = new Http2Streams(owner, made);
                current = streams;
                made.pipeline().addLast(streams);
            }

            @Override
            public boolean greet(Channel made) {
                // calls may follow when the server has sent its settings (RFC 9113, section 3.4)
                Http2Streams streams = current;
                return streams != null && streams.hasSettings();
            }

            @Override
            public void ready(Channel made) {
                Http2Carrier first = pending.peek();
                if (first != null) {
                    first.connected(link.connectNanos(), link.handshakeNanos());
                }
                sendPending();
            }

            @Override
            public void failed(FailureKind kind, String detail) {
                List<Http2Carrier> asked = List.copyOf(pending);
                pending.clear();
                asked.forEach(carrier -> carrier.broken(kind, detail));
            }
        });
    }

    /** An answer has come over it. */
    void answered() {
        link.answered();
    }

    void open(Runnable whenSettled) {
        link.open(whenSettled);
    }

    /** Has the carrier write its request when there is a stream for it, on a connection that is made first where there is none. */
    void send(Http2Carrier carrier) {
        pending.add(carrier);
        sendPending();
    }

    private void sendPending() {
        while (!pending.isEmpty()) {
            Http2Streams open = current;
            if (open == null || link.usable() == null) {
                link.connect();
                return;
            }
            if (!open.hasRoom()) {
                return;
            }
            pending.remove().writeTo(open);
        }
    }

    /** Version and cipher of TLS on the last connection; empty without. */
    String tls() {
        return link.tls();
    }

    /** Forgets a carrier whose call is given up before it had a stream. */
    void forget(Http2Carrier carrier) {
        if (pending.remove(carrier) && pending.isEmpty()) {
            link.giveUpUnlessAwaited();
        }
    }

    void drop() {
        sayGoodbye();
        link.drop();
    }

    void close() {
        pending.clear();
        sayGoodbye();
        link.close();
    }

    private void sayGoodbye() {
        Http2Streams open = current;
        if (open != null && link.isOf(open.channel())) {
            open.goodbye();
        }
    }

    /** What its streams say; those of a connection that was left no longer count. */
    private final class Owner implements Http2Owner {
        @Override
        public void greeted(Http2Streams streams) {
            if (link.isOf(streams.channel())) {
                link.ready();
            }
        }

        @Override
        public void roomMade() {
            if (link.isReady()) {
                sendPending();
            }
        }

        @Override
        public void ending(Http2Streams streams) {
            if (link.isOf(streams.channel())) {
                link.leave();
                sendPending();
            }
        }

        @Override
        public void over(Http2Streams streams, FailureKind kind, String detail) {
            if (!link.isOf(streams.channel())) {
                return;
            }
            if (link.isReady()) {
                link.drop();
                sendPending();
            } else {
                link.lost(kind, detail.isEmpty() ? "the server closed before it had sent its settings" : detail);
            }
        }
    }
}
