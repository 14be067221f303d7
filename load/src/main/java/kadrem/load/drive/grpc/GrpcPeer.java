package kadrem.load.drive.grpc;

import java.util.List;
import java.util.Map;
import java.util.Optional;

import io.netty.buffer.ByteBuf;
import io.netty.buffer.Unpooled;
import io.netty.channel.ChannelHandler;
import io.netty.channel.ChannelHandlerContext;
import io.netty.handler.codec.http2.DefaultHttp2DataFrame;
import io.netty.handler.codec.http2.DefaultHttp2Headers;
import io.netty.handler.codec.http2.DefaultHttp2HeadersFrame;
import io.netty.handler.codec.http2.Http2DataFrame;
import io.netty.handler.codec.http2.Http2FrameCodecBuilder;
import io.netty.handler.codec.http2.Http2HeadersFrame;
import io.netty.handler.codec.http2.Http2MultiplexHandler;
import io.netty.util.ReferenceCountUtil;
import kadrem.core.study.Wire;
import kadrem.load.drive.ListeningPeer;
import kadrem.load.drive.Peer;
import kadrem.load.drive.PeerHandler;
import kadrem.load.drive.PeerOrder;

/**
 * A peer that answers each call with one empty message, which is one of every type, and the status OK. Source: gRPC over HTTP2
 * (grpc/doc/PROTOCOL-HTTP2.md).
 */
final class GrpcPeer {
    /** Not compressed, of no bytes. */
    private static final ByteBuf EMPTY = Unpooled.unreleasableBuffer(Unpooled.wrappedBuffer(new byte[5]));

    private GrpcPeer() {
    }

    /**
     * @return empty where the candidate itself is asked what its messages look like, or a call waits for an answer before it has sent
     *         everything
     */
    static Optional<Peer> of(PeerOrder order) {
        List<String> descriptors = order.access().settings().getOrDefault("descriptors", List.of());
        boolean waits = order.workload().calls().stream().anyMatch(call -> call.form(GrpcProtocol.ID)
                .filter(form -> form.text("pace").equals("after each answer")).isPresent());
        return descriptors.isEmpty() || waits
                ? Optional.empty()
                : Optional.of(new ListeningPeer(order, Wire.Protocol.HTTP_2, Map.of("descriptors", descriptors),
                        pipeline -> pipeline.addLast(Http2FrameCodecBuilder.forServer().build(),
                                new Http2MultiplexHandler(new Answering()))));
    }

    @ChannelHandler.Sharable
    private static final class Answering extends PeerHandler {
        @Override
        public void channelRead(ChannelHandlerContext context, Object message) {
            boolean ends = message instanceof Http2HeadersFrame head && head.isEndStream()
                    || message instanceof Http2DataFrame data && data.isEndStream();
            ReferenceCountUtil.release(message);
            if (ends) {
                context.write(new DefaultHttp2HeadersFrame(
                        new DefaultHttp2Headers().status("200").add("content-type", "application/grpc"), false));
                context.write(new DefaultHttp2DataFrame(EMPTY.duplicate(), false));
                context.writeAndFlush(
                        new DefaultHttp2HeadersFrame(new DefaultHttp2Headers().add("grpc-status", "0"), true));
            }
        }
    }
}
