package kadrem.load.drive.websocket;

import java.util.Map;
import java.util.Optional;

import com.google.re2j.Pattern;
import io.netty.channel.ChannelHandlerContext;
import io.netty.handler.codec.http.HttpObjectAggregator;
import io.netty.handler.codec.http.HttpServerCodec;
import io.netty.handler.codec.http.websocketx.TextWebSocketFrame;
import io.netty.handler.codec.http.websocketx.WebSocketServerProtocolConfig;
import io.netty.handler.codec.http.websocketx.WebSocketServerProtocolHandler;
import io.netty.util.ReferenceCountUtil;
import kadrem.core.study.Call;
import kadrem.core.study.Form;
import kadrem.core.study.Wire;
import kadrem.load.drive.ListeningPeer;
import kadrem.load.drive.Peer;
import kadrem.load.drive.PeerHandler;
import kadrem.load.drive.PeerOrder;

/** A peer that sends every message back. */
final class WebSocketPeer {
    private static final int MAX_REQUEST = 64 * 1024;
    private static final String PLACES = "\\{\\{[^{}]*}}";

    private WebSocketPeer() {
    }

    /** @return empty where a call waits for something else than an answer to what it sent */
    static Optional<Peer> of(PeerOrder order) {
        if (!order.workload().calls().stream().allMatch(WebSocketPeer::isAnswered)) {
            return Optional.empty();
        }
        var config = WebSocketServerProtocolConfig.newBuilder().websocketPath("/").checkStartsWith(true).build();
        return Optional.of(new ListeningPeer(order, Wire.Protocol.HTTP_1, Map.of(),
                pipeline -> pipeline.addLast(new HttpServerCodec(), new HttpObjectAggregator(MAX_REQUEST),
                        new WebSocketServerProtocolHandler(config), new Echo())));
    }

    private static boolean isAnswered(Call call) {
        Form form = call.form(WebSocketProtocol.ID).orElse(null);
        if (form == null) {
            return false;
        }
        String messages = form.text("messages").strip();
        return switch (form.text("does")) {
            case "", "sends and waits" -> (messages.isEmpty() || messages.equals("1"))
                    && Pattern.compile(form.text("until").replaceAll(PLACES, "x"))
                            .matcher(form.text("send").replaceAll(PLACES, "x")).find();
            case "pings", "connects anew" -> true;
            default -> false;
        };
    }

    private static final class Echo extends PeerHandler {
        @Override
        public void channelRead(ChannelHandlerContext context, Object message) {
            if (message instanceof TextWebSocketFrame text) {
                context.write(new TextWebSocketFrame(text.content()));
            } else {
                ReferenceCountUtil.release(message);
            }
        }
    }
}
