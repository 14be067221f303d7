package kadrem.load.net;

import java.net.SocketAddress;
import java.net.UnixDomainSocketAddress;
import java.nio.file.Path;
import java.util.concurrent.ThreadFactory;

import io.netty.channel.Channel;
import io.netty.channel.EventLoopGroup;
import io.netty.channel.IoHandlerFactory;
import io.netty.channel.MultiThreadIoEventLoopGroup;
import io.netty.channel.epoll.Epoll;
import io.netty.channel.epoll.EpollDomainSocketChannel;
import io.netty.channel.epoll.EpollIoHandler;
import io.netty.channel.epoll.EpollSocketChannel;
import io.netty.channel.nio.NioIoHandler;
import io.netty.channel.epoll.EpollServerSocketChannel;
import io.netty.channel.socket.ServerSocketChannel;
import io.netty.channel.socket.SocketChannel;
import io.netty.channel.socket.nio.NioServerSocketChannel;
import io.netty.channel.socket.nio.NioDomainSocketChannel;
import io.netty.channel.socket.nio.NioSocketChannel;
import io.netty.channel.unix.DomainSocketAddress;

/** The system's way to wait for sockets: native epoll where it is there, the JDK's selector elsewhere. */
public enum Transport {
    EPOLL, NIO;

    public static Transport best() {
        return Epoll.isAvailable() ? EPOLL : NIO;
    }

    public Class<? extends SocketChannel> channelType() {
        return this == EPOLL ? EpollSocketChannel.class : NioSocketChannel.class;
    }

    /** Channels that listen. */
    public Class<? extends ServerSocketChannel> serverChannelType() {
        return this == EPOLL ? EpollServerSocketChannel.class : NioServerSocketChannel.class;
    }

    /** A channel that is not connected yet. */
    public SocketChannel newChannel() {
        return this == EPOLL ? new EpollSocketChannel() : new NioSocketChannel();
    }

    /** Channels over Unix sockets. */
    public Class<? extends Channel> domainChannelType() {
        return this == EPOLL ? EpollDomainSocketChannel.class : NioDomainSocketChannel.class;
    }

    /** The address of a Unix socket, in the form that its channels want. */
    public SocketAddress socketAddress(Path path) {
        return this == EPOLL ? new DomainSocketAddress(path.toFile()) : UnixDomainSocketAddress.of(path);
    }

    /** What makes a loop wait for sockets. */
    public IoHandlerFactory handlers() {
        return this == EPOLL ? EpollIoHandler.newFactory() : NioIoHandler.newFactory();
    }

    /** A new group of event loops. */
    public EventLoopGroup newGroup(int threads, ThreadFactory factory) {
        return new MultiThreadIoEventLoopGroup(threads, factory, handlers());
    }
}
