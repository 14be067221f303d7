package kadrem.load.drive.http;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Pattern;

import io.netty.buffer.ByteBuf;
import io.netty.buffer.Unpooled;
import io.netty.channel.ChannelHandler;
import io.netty.channel.ChannelHandlerContext;
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
import io.netty.util.AttributeKey;
import io.netty.util.ReferenceCountUtil;
import kadrem.core.rehearsal.RehearsedCall;
import kadrem.core.study.Access;
import kadrem.core.study.Address;
import kadrem.core.study.Call;
import kadrem.core.study.Wire;
import kadrem.core.study.Workload;
import kadrem.load.drive.ListeningPeer;
import kadrem.load.drive.Peer;
import kadrem.load.drive.PeerHandler;
import kadrem.load.drive.PeerOrder;

/**
 * A peer that answers each call at once, with the answer that it had in a rehearsal, over the wire of a candidate: in the clear or over
 * TLS, HTTP/1.1 or HTTP/2.
 */
public final class HttpPeer {
    private static final Answer UNKNOWN = new Answer("", Pattern.compile(".*"), 200,
            List.of(new Call.Header("Content-Type", "application/json")),
            Unpooled.unreleasableBuffer(Unpooled.copiedBuffer("{}", StandardCharsets.US_ASCII)));

    private static final AttributeKey<Answer> ASKED = AttributeKey.valueOf(HttpPeer.class, "asked");

    private final List<Answer> answers;

    /** What is answered to requests of a method whose path matches. */
    private record Answer(String method, Pattern path, int status, List<Call.Header> headers, ByteBuf body) {
    }

    private HttpPeer(List<Answer> answers) {
        this.answers = answers;
    }

    /** Starts it. A call of which no answer is known gets an empty object. */
    public static Peer of(PeerOrder order) {
        Wire.Protocol protocol = order.access().wire().protocol();
        var peer = new HttpPeer(answers(order.workload().calls(), order.answers()));
        return new ListeningPeer(order, protocol, Map.of(), pipeline -> {
            if (protocol == Wire.Protocol.HTTP_2) {
                pipeline.addLast(Http2FrameCodecBuilder.forServer().build(),
                        new Http2MultiplexHandler(peer.new AnsweringStream()));
            } else {
                pipeline.addLast(new HttpServerCodec(), peer.new Answering());
            }
        });
    }

    /** The peer of a workload over HTTP in the clear. */
    public static Peer of(Workload workload, Wire wire) {
        return of(new PeerOrder(new Address("127.0.0.1", 0, ""), Access.over(wire), workload, List.of()));
    }

    private static List<Answer> answers(List<Call> calls, List<RehearsedCall> rehearsed) {
        var made = new ArrayList<Answer>();
        for (Call call : calls) {
            Optional<RehearsedCall> answer = rehearsed.stream().filter(one -> one.call().equals(call.name()))
                    .findFirst();
            answer.ifPresent(one -> made.add(new Answer(call.method(), path(call.path()), one.status(),
                    one.headers().stream().filter(HttpPeer::isKept).toList(),
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

    private final class Answering extends PeerHandler {
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
    }

    /** Answers streams of HTTP/2 with the same answers. */
    @ChannelHandler.Sharable
    private final class AnsweringStream extends PeerHandler {
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
    }
}
