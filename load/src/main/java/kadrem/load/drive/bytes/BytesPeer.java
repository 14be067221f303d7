package kadrem.load.drive.bytes;

import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

import io.netty.buffer.ByteBuf;
import io.netty.buffer.Unpooled;
import io.netty.channel.ChannelFutureListener;
import io.netty.channel.ChannelHandlerContext;
import io.netty.util.ReferenceCountUtil;
import kadrem.core.study.Wire;
import kadrem.load.drive.ListeningPeer;
import kadrem.load.drive.Peer;
import kadrem.load.drive.PeerHandler;
import kadrem.load.drive.PeerOrder;
import kadrem.load.content.UnusableCall;

/** A peer over TCP that answers what comes at a time with the shortest answer that is whole. */
final class BytesPeer {
    private BytesPeer() {
    }

    /** @return empty over UDP, and where answers end in several ways, or in one of which no answer is known */
    static Optional<Peer> of(PeerOrder order) {
        Set<String> endings = order.workload().calls().stream()
                .flatMap(call -> call.form(BytesProtocol.ID).stream()).map(form -> form.text("until"))
                .collect(Collectors.toSet());
        if (order.address().scheme().equals("udp") || endings.size() != 1) {
            return Optional.empty();
        }
        try {
            return switch (Ending.of(endings.iterator().next())) {
                case Ending.AtLength(int bytes) -> Optional.of(peer(order, new byte[bytes], false));
                case Ending.WithDelimiter(byte[] delimiter) -> Optional.of(peer(order, delimiter, false));
                case Ending.AtClose _ -> Optional.of(peer(order, new byte[1], true));
                case Ending.AtPattern _ -> Optional.empty();
            };
        } catch (UnusableCall _) {
            // told when the calls are made ready for the candidate
            return Optional.empty();
        }
    }

    private static Peer peer(PeerOrder order, byte[] answer, boolean closes) {
        ByteBuf whole = Unpooled.unreleasableBuffer(Unpooled.wrappedBuffer(answer));
        return new ListeningPeer(order, Wire.Protocol.HTTP_1, Map.of(),
                pipeline -> pipeline.addLast(new PeerHandler() {
                    @Override
                    public void channelRead(ChannelHandlerContext context, Object message) {
                        ReferenceCountUtil.release(message);
                    }

                    @Override
                    public void channelReadComplete(ChannelHandlerContext context) {
                        var written = context.writeAndFlush(whole.duplicate());
                        if (closes) {
                            written.addListener(ChannelFutureListener.CLOSE);
                        }
                    }
                }));
    }
}
