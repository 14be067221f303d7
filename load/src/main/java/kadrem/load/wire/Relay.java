package kadrem.load.wire;

import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.time.Duration;
import java.util.concurrent.atomic.LongAdder;

import io.netty.bootstrap.Bootstrap;
import io.netty.bootstrap.ServerBootstrap;
import io.netty.buffer.ByteBuf;
import io.netty.channel.Channel;
import io.netty.channel.ChannelFuture;
import io.netty.channel.ChannelHandlerContext;
import io.netty.channel.ChannelInitializer;
import io.netty.channel.ChannelOption;
import io.netty.channel.EventLoopGroup;
import io.netty.channel.FixedRecvByteBufAllocator;
import io.netty.channel.SimpleChannelInboundHandler;
import kadrem.core.random.SplitMix64;
import kadrem.core.study.Address;
import kadrem.core.study.RoughWire;
import kadrem.load.net.Transport;

/**
 * Listens on loopback, makes a connection to a target for each that is made to it, and passes on what goes either way as the wire's
 * roughness says. What happens to a connection is fixed by the seed and its number. All of it is done by one thread.
 */
public final class Relay implements AutoCloseable {
    /** What fits a packet of Ethernet, so that a rate does not come in bursts. */
    private static final int PIECE = 1448;
    private static final int BACKLOG = 1024;
    private static final int ECHOES = 500;

    private final RoughWire wire;
    private final Address target;
    private final long seed;
    private final EventLoopGroup loop;
    private final Transport transport;
    private final Way there;
    private final Way back;
    private final Channel server;
    private final LongAdder taken = new LongAdder();
    private final LongAdder refused = new LongAdder();
    private final LongAdder cut = new LongAdder();
    private final LongAdder halfOpen = new LongAdder();
    private final LongAdder unreachable = new LongAdder();

    /** How many connections were taken, and what happened to them. */
    public record Counts(long taken, long refused, long cut, long halfOpen, long unreachable) {
    }

    /** What happens to a connection. */
    private enum Fate {
        PASSED, REFUSED, CUT, HALF_OPEN
    }

    private Relay(int port, Address target, RoughWire wire, long seed, Transport transport)
            throws InterruptedException {
        this.target = target;
        this.wire = wire;
        this.seed = seed;
        this.transport = transport;
        there = new Way(wire, seed);
        back = new Way(wire, ~seed);
        loop = transport.newGroup(1, Thread.ofPlatform().name("kadrem-rough-wire").daemon().factory());
        ChannelFuture bound = new ServerBootstrap().group(loop).channel(transport.serverChannelType())
                .option(ChannelOption.SO_BACKLOG, BACKLOG).option(ChannelOption.SO_REUSEADDR, true)
                .childOption(ChannelOption.TCP_NODELAY, true).childOption(ChannelOption.AUTO_READ, false)
                .childOption(ChannelOption.ALLOW_HALF_CLOSURE, true)
                .childOption(ChannelOption.RECVBUF_ALLOCATOR, pieces())
                .childHandler(new ChannelInitializer<>() {
                    @Override
                    protected void initChannel(Channel channel) {
                        take(channel);
                    }
                }).bind(InetAddress.getLoopbackAddress(), port).await();
        if (!bound.isSuccess()) {
            loop.shutdownGracefully(0, 0, java.util.concurrent.TimeUnit.SECONDS);
            throw new IllegalStateException(String.valueOf(bound.cause().getMessage()), bound.cause());
        }
        server = bound.channel();
        if (wire.refused() >= 1) {
            // the port stays known, and nobody listens
            server.close().await();
        }
    }

    /**
     * Begins to listen on loopback.
     *
     * @param port 0 for a free one
     * @param seed fixes what happens to each connection
     * @throws IllegalStateException if the port cannot be had
     */
    public static Relay on(int port, Address target, RoughWire wire, long seed) throws InterruptedException {
        return new Relay(port, target, wire, seed, Transport.best());
    }

    private FixedRecvByteBufAllocator pieces() {
        return new FixedRecvByteBufAllocator(wire.bytesPerSecond().isPresent() ? PIECE : 64 * 1024);
    }

    private Fate fate(long number) {
        double at = SplitMix64.unit(SplitMix64.mix(seed + number * SplitMix64.GAMMA));
        if (at < wire.refused()) {
            return Fate.REFUSED;
        }
        if (at < wire.refused() + wire.cut()) {
            return Fate.CUT;
        }
        return at < wire.refused() + wire.cut() + wire.halfOpen() ? Fate.HALF_OPEN : Fate.PASSED;
    }

    private void take(Channel near) {
        Fate fate = fate(taken.sum());
        taken.increment();
        switch (fate) {
            case REFUSED -> {
                refused.increment();
                reset(near);
            }
            case HALF_OPEN -> {
                halfOpen.increment();
                near.pipeline().addLast(new SimpleChannelInboundHandler<ByteBuf>() {
                    @Override
                    protected void channelRead0(ChannelHandlerContext context, ByteBuf bytes) {
                        // nobody is there
                    }
                });
                near.config().setAutoRead(true);
            }
            case CUT, PASSED -> pass(near, fate == Fate.CUT);
        }
    }

    private void pass(Channel near, boolean cuts) {
        var out = new Passing(there);
        var in = cuts ? new Cutting(near) : new Passing(back);
        near.pipeline().addLast(out);
        new Bootstrap().group(near.eventLoop()).channel(transport.channelType())
                .option(ChannelOption.TCP_NODELAY, true).option(ChannelOption.AUTO_READ, false)
                .option(ChannelOption.ALLOW_HALF_CLOSURE, true).option(ChannelOption.RECVBUF_ALLOCATOR, pieces())
                .handler(in).connect(new InetSocketAddress(target.host(), target.port())).addListener(done -> {
                    if (!done.isSuccess()) {
                        unreachable.increment();
                        reset(near);
                        return;
                    }
                    Channel far = ((ChannelFuture) done).channel();
                    out.begin(near, far);
                    in.begin(far, near);
                });
    }

    private static void reset(Channel channel) {
        channel.config().setOption(ChannelOption.SO_LINGER, 0);
        channel.close();
    }

    /** Resets the connection when the first bytes of an answer come. */
    private final class Cutting extends Passing {
        private final Channel near;

        Cutting(Channel near) {
            super(back);
            this.near = near;
        }

        @Override
        public void channelRead(ChannelHandlerContext context, Object bytes) {
            io.netty.util.ReferenceCountUtil.release(bytes);
            cut.increment();
            reset(near);
            context.close();
        }
    }

    /** The port that it listens on. */
    public int port() {
        return ((InetSocketAddress) server.localAddress()).getPort();
    }

    public Counts counts() {
        return new Counts(taken.sum(), refused.sum(), cut.sum(), halfOpen.sum(), unreachable.sum());
    }

    /**
     * How much longer a byte and its echo take through a relay that does nothing than without one, on this machine: the median of
     * {@value #ECHOES} each.
     */
    public static Duration ownDelay() throws java.io.IOException, InterruptedException {
        try (var echo = new Echo(); Relay relay = on(0, echo.address(), RoughWire.SMOOTH, 1)) {
            // the first ones compile
            Echo.median(relay.port(), ECHOES);
            Echo.median(echo.address().port(), ECHOES);
            return Duration.ofNanos(
                    Math.max(0, Echo.median(relay.port(), ECHOES) - Echo.median(echo.address().port(), ECHOES)));
        }
    }

    @Override
    public void close() {
        server.close();
        loop.shutdownGracefully(0, 2, java.util.concurrent.TimeUnit.SECONDS).awaitUninterruptibly();
    }
}
