package kadrem.standins.berths;

import java.net.BindException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.util.List;
import java.util.concurrent.TimeUnit;
import java.util.function.Supplier;

import io.netty.bootstrap.ServerBootstrap;
import io.netty.channel.Channel;
import io.netty.channel.ChannelHandler;
import io.netty.channel.ChannelInitializer;
import io.netty.channel.ChannelOption;
import io.netty.channel.EventLoopGroup;
import io.netty.channel.MultiThreadIoEventLoopGroup;
import io.netty.channel.nio.NioIoHandler;
import io.netty.channel.socket.SocketChannel;
import io.netty.channel.socket.nio.NioServerSocketChannel;

/** A port on 127.0.0.1 that is served by event loops. */
final class Loopback implements AutoCloseable {
    private static final int BACKLOG = 1024;

    private final EventLoopGroup group;
    private final Channel channel;

    private Loopback(EventLoopGroup group, Channel channel) {
        this.group = group;
        this.channel = channel;
    }

    /**
     * @param port 0 for any free one
     * @param handlers makes those of a connection, in their order
     * @throws BindException if the port cannot be used
     */
    static Loopback serve(int port, int loops, Supplier<List<ChannelHandler>> handlers) throws BindException {
        EventLoopGroup group = new MultiThreadIoEventLoopGroup(loops, NioIoHandler.newFactory());
        var bound = new ServerBootstrap().group(group).channel(NioServerSocketChannel.class)
                .option(ChannelOption.SO_BACKLOG, BACKLOG).childOption(ChannelOption.TCP_NODELAY, true)
                .childHandler(new ChannelInitializer<SocketChannel>() {
                    @Override
                    protected void initChannel(SocketChannel made) {
                        handlers.get().forEach(made.pipeline()::addLast);
                    }
                }).bind(new InetSocketAddress(InetAddress.getLoopbackAddress(), port)).awaitUninterruptibly();
        if (!bound.isSuccess()) {
            group.shutdownGracefully(0, 1, TimeUnit.SECONDS);
            throw new BindException(String.valueOf(bound.cause().getMessage()));
        }
        return new Loopback(group, bound.channel());
    }

    int port() {
        return ((InetSocketAddress) channel.localAddress()).getPort();
    }

    /** Waits until the port is closed. */
    void await() throws InterruptedException {
        channel.closeFuture().sync();
    }

    @Override
    public void close() {
        group.shutdownGracefully(0, 1, TimeUnit.SECONDS).awaitUninterruptibly();
    }
}
