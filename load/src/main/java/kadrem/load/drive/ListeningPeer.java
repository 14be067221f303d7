package kadrem.load.drive;

import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import java.util.function.Consumer;

import io.netty.bootstrap.ServerBootstrap;
import io.netty.channel.Channel;
import io.netty.channel.ChannelHandlerContext;
import io.netty.channel.ChannelInboundHandlerAdapter;
import io.netty.channel.ChannelInitializer;
import io.netty.channel.ChannelOption;
import io.netty.channel.ChannelPipeline;
import io.netty.channel.EventLoopGroup;
import io.netty.channel.MultiThreadIoEventLoopGroup;
import io.netty.channel.nio.NioIoHandler;
import io.netty.channel.socket.nio.NioServerSocketChannel;
import io.netty.handler.ssl.SslContext;
import kadrem.core.study.Access;
import kadrem.core.study.Address;
import kadrem.core.study.Wire;

/** A peer that accepts connections of TCP on one thread of its own, over TLS where the candidate is reached so. */
public final class ListeningPeer implements Peer {
    private final PeerOrder order;
    private final Map<String, List<String>> settings;
    private final EventLoopGroup group = new MultiThreadIoEventLoopGroup(1, NioIoHandler.newFactory());
    private final Channel listener;

    /**
     * @param agreed what TLS agrees on by ALPN, where the candidate is reached over TLS
     * @param settings of the protocol with which it is asked
     * @param handlers adds what answers to the pipeline of a connection
     */
    public ListeningPeer(PeerOrder order, Wire.Protocol agreed, Map<String, List<String>> settings,
            Consumer<ChannelPipeline> handlers) {
        this.order = order;
        this.settings = Map.copyOf(settings);
        Optional<SslContext> tls = order.address().secure()
                ? Optional.of(PeerCertificate.context(agreed))
                : Optional.empty();
        listener = new ServerBootstrap().group(group).channel(NioServerSocketChannel.class)
                .childOption(ChannelOption.TCP_NODELAY, true).childHandler(new ChannelInitializer<>() {
                    @Override
                    protected void initChannel(Channel channel) {
                        tls.ifPresent(context -> channel.pipeline().addLast(context.newHandler(channel.alloc())));
                        handlers.accept(channel.pipeline());
                        channel.pipeline().addLast(new Ending());
                    }
                }).bind(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0)).syncUninterruptibly().channel();
    }

    /** Ends a connection of which something else went wrong than in what answers, such as that it was reset. */
    private static final class Ending extends ChannelInboundHandlerAdapter {
        @Override
        public void exceptionCaught(ChannelHandlerContext context, Throwable cause) {
            context.close();
        }
    }

    @Override
    public Address address() {
        return order.at(((InetSocketAddress) listener.localAddress()).getPort());
    }

    @Override
    public Access access() {
        return order.accessToPeer(settings);
    }

    @Override
    public void close() {
        listener.close();
        group.shutdownGracefully(0, 100, TimeUnit.MILLISECONDS);
    }
}
