package kadrem.load.drive;

import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Future;
import java.util.concurrent.TimeUnit;

import javax.net.ssl.SSLSession;

import io.netty.channel.Channel;
import io.netty.handler.ssl.SslHandler;
import kadrem.load.net.LaneConnections;
import kadrem.core.measure.FailureKind;
import org.jspecify.annotations.Nullable;

/**
 * The connection of one carrier, or of several that share it. It is made when it is asked for, by one attempt at a time, and again after
 * it was lost. Where a protocol greets first (signs in, shakes hands, waits for settings) calls follow only after that. Confined to a
 * lane.
 */
public final class Link {
    private final Connector connector;
    private final Use use;
    private final List<Runnable> whenSettled = new ArrayList<>();
    private @Nullable Channel channel;
    /** Ends the attempt that is under way. */
    private @Nullable Runnable attempt;
    /** The end of the server's time to greet. */
    private @Nullable Future<?> greeting;
    private boolean ready;
    private boolean closed;
    private long connectNanos;
    private long handshakeNanos;
    private String tls = "";
    private LaneConnections.One carried;

    /** What a protocol does with its connection. */
    public interface Use {
        /** Adds the handlers behind TLS. */
        void addHandlers(Channel made);

        /** The channel is made. Returns whether calls may follow at once; otherwise {@link Link#ready()} says when. */
        boolean greet(Channel made);

        /** Calls may follow; those who waited for the connection know. */
        void ready(Channel made);

        /** The connection was not to be had, or was lost. */
        void failed(FailureKind kind, String detail);
    }

    public Link(Connector connector, Use use) {
        this.connector = connector;
        carried = connector.connections().one();
        this.use = use;
    }

    /** The channel, where calls may go over it; else null. */
    public @Nullable Channel usable() {
        Channel open = channel;
        return ready && open != null && open.isActive() ? open : null;
    }

    /** Whether a channel is this connection's present one, and not one that was given up. */
    public boolean isOf(Channel asked) {
        return asked == channel;
    }

    public boolean isReady() {
        return ready;
    }

    /** How long the last connection took to be made, in nanoseconds. */
    public long connectNanos() {
        return connectNanos;
    }

    /** How long its TLS handshake took; 0 without. */
    public long handshakeNanos() {
        return handshakeNanos;
    }

    /** Version and cipher of TLS on the last connection; empty without. */
    public String tls() {
        return tls;
    }

    /** An answer has come over it. */
    public void answered() {
        carried.answered();
    }

    private static String words(Channel made) {
        SslHandler handler = made.pipeline().get(SslHandler.class);
        if (handler == null) {
            return "";
        }
        SSLSession session = handler.engine().getSession();
        return session.getProtocol() + ", " + session.getCipherSuite();
    }

    /** Makes the connection where there is none, and runs {@code settled} once, whether that went well or not. */
    public void open(Runnable settled) {
        if (usable() != null) {
            settled.run();
        } else {
            whenSettled.add(settled);
            connect();
        }
    }

    /** Makes the connection unless it is there, or is being made or greeted. */
    public void connect() {
        Channel open = channel;
        if (attempt != null || closed || open != null && open.isActive()) {
            return;
        }
        // replaced by what ends the attempt; a result may come before begin returns
        attempt = () -> {
        };
        Runnable given = connector.begin(use::addHandlers, new Connector.Result() {
            @Override
            public void made(Channel made, long connect, long handshake) {
                attempt = null;
                if (closed) {
                    made.close();
                    return;
                }
                channel = made;
                carried = connector.connections().one();
                connector.connections().opened();
                made.closeFuture().addListener(_ -> connector.connections().closed());
                ready = false;
                connectNanos = connect;
                handshakeNanos = handshake;
                tls = words(made);
                if (use.greet(made)) {
                    ready();
                } else if (isOf(made)) {
                    greeting = made.eventLoop().schedule(() -> notGreeted(made), connector.patienceMillis(),
                            TimeUnit.MILLISECONDS);
                }
            }

            @Override
            public void failed(FailureKind kind, String detail) {
                attempt = null;
                settle();
                use.failed(kind, detail);
            }
        });
        if (attempt != null) {
            attempt = given;
        }
    }

    private void notGreeted(Channel made) {
        if (isOf(made) && !ready) {
            lost(FailureKind.TIMEOUT, "the server took the connection and said nothing");
        }
    }

    private void greeted() {
        Future<?> limit = greeting;
        greeting = null;
        if (limit != null) {
            limit.cancel(false);
        }
    }

    /** The protocol has greeted: calls may follow. */
    public void ready() {
        Channel made = channel;
        if (made != null && !ready) {
            ready = true;
            greeted();
            settle();
            use.ready(made);
        }
    }

    private void settle() {
        List<Runnable> settled = List.copyOf(whenSettled);
        whenSettled.clear();
        settled.forEach(Runnable::run);
    }

    /** Gives up a connection that is being made or greeted, and for which nobody waits any more. */
    public void giveUpUnlessAwaited() {
        Runnable under = attempt;
        if (whenSettled.isEmpty() && under != null) {
            attempt = null;
            under.run();
        } else if (whenSettled.isEmpty() && !ready) {
            drop();
        }
    }

    /** Closes the connection; nobody is told. It may be made again. */
    public void drop() {
        Channel open = channel;
        greeted();
        channel = null;
        ready = false;
        if (open != null) {
            open.close();
        }
    }

    /** Later calls get another connection, while the present one is left to those who still use it. */
    public void leave() {
        channel = null;
        ready = false;
    }

    /** The connection has broken: closes it and tells why. */
    public void lost(FailureKind kind, String detail) {
        boolean wasGreeting = !ready;
        drop();
        if (wasGreeting) {
            settle();
        }
        use.failed(kind, detail);
    }

    /** Closes the connection for good; no result follows. */
    public void close() {
        closed = true;
        Runnable under = attempt;
        if (under != null) {
            under.run();
        }
        drop();
    }
}
