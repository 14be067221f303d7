package kadrem.load.engine;

import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;

import io.netty.bootstrap.ServerBootstrap;
import io.netty.buffer.Unpooled;
import io.netty.channel.Channel;
import io.netty.channel.ChannelHandlerContext;
import io.netty.channel.ChannelInboundHandlerAdapter;
import io.netty.channel.ChannelInitializer;
import io.netty.channel.EventLoopGroup;
import io.netty.channel.MultiThreadIoEventLoopGroup;
import io.netty.channel.nio.NioIoHandler;
import io.netty.channel.socket.nio.NioServerSocketChannel;
import io.netty.handler.codec.http2.DefaultHttp2DataFrame;
import io.netty.handler.codec.http2.DefaultHttp2GoAwayFrame;
import io.netty.handler.codec.http2.DefaultHttp2Headers;
import io.netty.handler.codec.http2.DefaultHttp2HeadersFrame;
import io.netty.handler.codec.http2.DefaultHttp2ResetFrame;
import io.netty.handler.codec.http2.Http2DataFrame;
import io.netty.handler.codec.http2.Http2Error;
import io.netty.handler.codec.http2.Http2FrameCodecBuilder;
import io.netty.handler.codec.http2.Http2Headers;
import io.netty.handler.codec.http2.Http2HeadersFrame;
import io.netty.handler.codec.http2.Http2MultiplexHandler;
import io.netty.handler.codec.http2.Http2Settings;
import io.netty.handler.ssl.SslContext;
import io.netty.util.ReferenceCountUtil;

/** A server of HTTP/2 on loopback, in the clear with prior knowledge or over TLS, whose answer is given by the test. */
public final class Http2TestServer implements AutoCloseable {
    private final EventLoopGroup group = new MultiThreadIoEventLoopGroup(1, NioIoHandler.newFactory());
    private final Channel listener;
    final AtomicInteger connections = new AtomicInteger();
    final AtomicInteger requests = new AtomicInteger();

    /** Answers a request whose last frame has come, on its stream. */
    public interface Answering {
        void answer(Http2Headers request, String body, Channel stream);
    }

    public Http2TestServer(Optional<SslContext> tls, long mostStreams, Answering answering) {
        listener = new ServerBootstrap().group(group).channel(NioServerSocketChannel.class)
                .childHandler(new ChannelInitializer<Channel>() {
                    @Override
                    protected void initChannel(Channel connection) {
                        connections.incrementAndGet();
                        tls.ifPresent(context -> connection.pipeline().addLast(context.newHandler(connection.alloc())));
                        connection.pipeline().addLast(Http2FrameCodecBuilder.forServer()
                                .initialSettings(Http2Settings.defaultSettings().maxConcurrentStreams(mostStreams))
                                .build());
                        connection.pipeline().addLast(new Http2MultiplexHandler(new ChannelInitializer<Channel>() {
                            @Override
                            protected void initChannel(Channel stream) {
                                stream.pipeline().addLast(new Stream(answering));
                            }
                        }));
                    }
                }).bind(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0)).syncUninterruptibly().channel();
    }

    private final class Stream extends ChannelInboundHandlerAdapter {
        private final Answering answering;
        private Http2Headers headers = new DefaultHttp2Headers();
        private final StringBuilder body = new StringBuilder();

        Stream(Answering answering) {
            this.answering = answering;
        }

        @Override
        public void channelRead(ChannelHandlerContext context, Object message) {
            boolean last = false;
            if (message instanceof Http2HeadersFrame frame) {
                headers = frame.headers();
                last = frame.isEndStream();
            } else if (message instanceof Http2DataFrame frame) {
                body.append(frame.content().toString(StandardCharsets.UTF_8));
                last = frame.isEndStream();
            }
            ReferenceCountUtil.release(message);
            if (last) {
                requests.incrementAndGet();
                answering.answer(headers, body.toString(), context.channel());
            }
        }
    }

    public static void ok(Channel stream, String body, String... headers) {
        Http2Headers head = new DefaultHttp2Headers().status("200");
        for (int i = 0; i < headers.length; i += 2) {
            head.add(headers[i], headers[i + 1]);
        }
        stream.write(new DefaultHttp2HeadersFrame(head, body.isEmpty()));
        if (!body.isEmpty()) {
            stream.write(new DefaultHttp2DataFrame(Unpooled.copiedBuffer(body, StandardCharsets.UTF_8), true));
        }
        stream.flush();
    }

    static void reset(Channel stream) {
        stream.writeAndFlush(new DefaultHttp2ResetFrame(Http2Error.INTERNAL_ERROR));
    }

    /** Tells the client to send no further calls on this connection. */
    static void goAway(Channel stream) {
        stream.parent().writeAndFlush(new DefaultHttp2GoAwayFrame(Http2Error.NO_ERROR));
    }

    public int port() {
        return ((InetSocketAddress) listener.localAddress()).getPort();
    }

    @Override
    public void close() {
        listener.close().syncUninterruptibly();
        group.shutdownGracefully(0, 1, TimeUnit.SECONDS).awaitUninterruptibly(3, TimeUnit.SECONDS);
    }
}
