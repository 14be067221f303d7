package kadrem.load.engine;

import java.util.concurrent.ThreadFactory;

import io.netty.channel.EventLoopGroup;
import io.netty.channel.IoHandlerFactory;
import io.netty.channel.MultiThreadIoEventLoopGroup;
import io.netty.channel.epoll.Epoll;
import io.netty.channel.epoll.EpollIoHandler;
import io.netty.channel.epoll.EpollSocketChannel;
import io.netty.channel.nio.NioIoHandler;
import io.netty.channel.socket.SocketChannel;
import io.netty.channel.socket.nio.NioSocketChannel;

/** The system's way to wait for sockets: native epoll where it is there, the JDK's selector elsewhere. */
public enum Transport {
    EPOLL, NIO;

    public static Transport best() {
        return Epoll.isAvailable() ? EPOLL : NIO;
    }

    public Class<? extends SocketChannel> channelType() {
        return this == EPOLL ? EpollSocketChannel.class : NioSocketChannel.class;
    }

    EventLoopGroup newGroup(int threads, ThreadFactory factory) {
        IoHandlerFactory handlers = this == EPOLL ? EpollIoHandler.newFactory() : NioIoHandler.newFactory();
        return new MultiThreadIoEventLoopGroup(threads, factory, handlers);
    }
}
