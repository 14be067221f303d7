package kadrem.load.generator;

import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Pattern;

import io.netty.bootstrap.ServerBootstrap;
import io.netty.buffer.ByteBuf;
import io.netty.buffer.Unpooled;
import io.netty.channel.Channel;
import io.netty.channel.ChannelHandler;
import io.netty.channel.ChannelHandlerContext;
import io.netty.channel.ChannelInboundHandlerAdapter;
import io.netty.channel.ChannelInitializer;
import io.netty.channel.ChannelOption;
import io.netty.channel.EventLoopGroup;
import io.netty.channel.MultiThreadIoEventLoopGroup;
import io.netty.channel.nio.NioIoHandler;
import io.netty.channel.socket.nio.NioServerSocketChannel;
import io.netty.handler.codec.http.DefaultFullHttpResponse;
import io.netty.handler.codec.http.HttpHeaderNames;
import io.netty.handler.codec.http.HttpRequest;
import io.netty.handler.codec.http.HttpResponseStatus;
import io.netty.handler.codec.http.HttpServerCodec;
import io.netty.handler.codec.http.HttpVersion;
import io.netty.handler.codec.http.LastHttpContent;
import io.netty.handler.codec.http2.DefaultHttp2DataFrame;
import io.netty.handler.codec.http2.DefaultHttp2Headers;
import io.netty.handler.codec.http2.DefaultHttp2HeadersFrame;
import io.netty.handler.codec.http2.Http2DataFrame;
import io.netty.handler.codec.http2.Http2FrameCodecBuilder;
import io.netty.handler.codec.http2.Http2HeadersFrame;
import io.netty.handler.codec.http2.Http2MultiplexHandler;
import io.netty.handler.ssl.SslContext;
import io.netty.util.AttributeKey;
import io.netty.util.ReferenceCountUtil;
import kadrem.core.rehearsal.RehearsedCall;
import kadrem.core.study.Access;
import kadrem.core.study.Address;
import kadrem.core.study.Call;
import kadrem.core.study.SignIn;
import kadrem.core.study.Tls;
import kadrem.core.study.Wire;

/**
 * A peer on loopback that answers each call at once, with the answer that it had in a rehearsal, over the wire of a candidate: in the
 * clear or over TLS, HTTP/1.1 or HTTP/2.
 */
public final class AnsweringPeer implements AutoCloseable {
    private static final Answer UNKNOWN = new Answer("", Pattern.compile(".*"), 200,
            List.of(new Call.Header("Content-Type", "application/json")),
            Unpooled.unreleasableBuffer(Unpooled.copiedBuffer("{}", StandardCharsets.US_ASCII)));

    private static final AttributeKey<Answer> ASKED = AttributeKey.valueOf(AnsweringPeer.class, "asked");

    private static final Tls UNVERIFIED = new Tls(false, Optional.empty(), Optional.empty(), Optional.empty());

    private final boolean secure;
    private final EventLoopGroup group = new MultiThreadIoEventLoopGroup(1, NioIoHandler.newFactory());
    private final Channel listener;
    private final List<Answer> answers;

    /** What is answered to requests of a method whose path matches. */
    private record Answer(String method, Pattern path, int status, List<Call.Header> headers, ByteBuf body) {
    }

    /** A peer that speaks HTTP/1.1 in the clear. */
    public AnsweringPeer(List<Call> calls, List<RehearsedCall> rehearsed) {
        this(calls, rehearsed, Wire.Protocol.HTTP_1, false);
    }

    /**
     * @param rehearsed answers by the names of their calls; a call without one gets an empty object
     * @param secure whether over TLS, with a certificate that nobody trusts
     */
    public AnsweringPeer(List<Call> calls, List<RehearsedCall> rehearsed, Wire.Protocol protocol, boolean secure) {
        this.secure = secure;
        Optional<SslContext> tls = secure ? Optional.of(PeerCertificate.context(protocol)) : Optional.empty();
        answers = answers(calls, rehearsed);
        listener = new ServerBootstrap().group(group).channel(NioServerSocketChannel.class)
                .childOption(ChannelOption.TCP_NODELAY, true).childHandler(new ChannelInitializer<>() {
                    @Override
                    protected void initChannel(Channel channel) {
                        tls.ifPresent(context -> channel.pipeline().addLast(context.newHandler(channel.alloc())));
                        if (protocol == Wire.Protocol.HTTP_2) {
                            channel.pipeline().addLast(Http2FrameCodecBuilder.forServer().build(),
                                    new Http2MultiplexHandler(new AnsweringStream()));
                        } else {
                            channel.pipeline().addLast(new HttpServerCodec(), new Answering());
                        }
                    }
                }).bind(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0)).syncUninterruptibly().channel();
    }

    public int port() {
        return ((InetSocketAddress) listener.localAddress()).getPort();
    }

    /** Where it is to be asked. */
    public Address address() {
        return new Address("127.0.0.1", port(), "", secure);
    }

    /** How it is to be asked, over the wire of a candidate: without its sign-in, and with a certificate that is not looked at. */
    public static Access access(Wire wire) {
        return new Access(new SignIn.None(), UNVERIFIED, wire.overPort());
    }

    private static List<Answer> answers(List<Call> calls, List<RehearsedCall> rehearsed) {
        var made = new ArrayList<Answer>();
        for (Call call : calls) {
            Optional<RehearsedCall> answer = rehearsed.stream().filter(one -> one.call().equals(call.name()))
                    .findFirst();
            answer.ifPresent(one -> made.add(new Answer(call.method(), path(call.path()), one.status(),
                    one.headers().stream().filter(AnsweringPeer::isKept).toList(),
                    Unpooled.unreleasableBuffer(Unpooled.wrappedBuffer(one.body().toArray())))));
        }
        return List.copyOf(made);
    }

    /** The connection is the peer's own, and the body has its whole length. */
    private static boolean isKept(Call.Header header) {
        return !List.of("transfer-encoding", "content-length", "connection", "keep-alive")
                .contains(header.name().toLowerCase(Locale.ROOT));
    }

    private static Pattern path(String template) {
        List<String> parts = Call.split(template);
        var pattern = new StringBuilder();
        for (int i = 0; i < parts.size(); i++) {
            pattern.append(i % 2 == 0 ? Pattern.quote(parts.get(i)) : "[^/?&]*");
        }
        return Pattern.compile(pattern.toString());
    }

    private Answer answerTo(String method, String path) {
        for (Answer answer : answers) {
            if (answer.method().equals(method) && answer.path().matcher(path).matches()) {
                return answer;
            }
        }
        return UNKNOWN;
    }

    private final class Answering extends ChannelInboundHandlerAdapter {
        private Answer next = UNKNOWN;

        @Override
        public void channelRead(ChannelHandlerContext context, Object message) {
            if (message instanceof HttpRequest request) {
                next = answerTo(request.method().name(), request.uri());
            }
            if (message instanceof LastHttpContent) {
                var response = new DefaultFullHttpResponse(HttpVersion.HTTP_1_1,
                        HttpResponseStatus.valueOf(next.status()), next.body().duplicate());
                next.headers().forEach(header -> response.headers().add(header.name(), header.value()));
                response.headers().set(HttpHeaderNames.CONTENT_LENGTH, next.body().readableBytes());
                context.write(response);
            }
            ReferenceCountUtil.release(message);
        }

        @Override
        public void channelReadComplete(ChannelHandlerContext context) {
            context.flush();
        }

        @Override
        public void exceptionCaught(ChannelHandlerContext context, Throwable cause) {
            context.close();
        }
    }

    /** Answers streams of HTTP/2 with the same answers. */
    @ChannelHandler.Sharable
    private final class AnsweringStream extends ChannelInboundHandlerAdapter {
        @Override
        public void channelRead(ChannelHandlerContext context, Object message) {
            try {
                if (message instanceof Http2HeadersFrame head) {
                    context.channel().attr(ASKED).set(answerTo(String.valueOf(head.headers().method()),
                            String.valueOf(head.headers().path())));
                }
                if (message instanceof Http2HeadersFrame head && head.isEndStream()
                        || message instanceof Http2DataFrame data && data.isEndStream()) {
                    answer(context);
                }
            } finally {
                ReferenceCountUtil.release(message);
            }
        }

        private void answer(ChannelHandlerContext context) {
            Answer asked = context.channel().attr(ASKED).get();
            Answer next = asked == null ? UNKNOWN : asked;
            var head = new DefaultHttp2Headers().status(Integer.toString(next.status()));
            next.headers().forEach(header -> head.add(header.name().toLowerCase(Locale.ROOT), header.value()));
            context.write(new DefaultHttp2HeadersFrame(head, false));
            context.writeAndFlush(new DefaultHttp2DataFrame(next.body().duplicate(), true));
        }

        @Override
        public void exceptionCaught(ChannelHandlerContext context, Throwable cause) {
            context.close();
        }
    }

    @Override
    public void close() {
        listener.close();
        group.shutdownGracefully(0, 100, java.util.concurrent.TimeUnit.MILLISECONDS);
    }
}
