package kadrem.load.drive.resp;

import java.util.Map;

import io.netty.channel.ChannelHandlerContext;
import io.netty.channel.ChannelPipeline;
import io.netty.handler.codec.redis.RedisArrayAggregator;
import io.netty.handler.codec.redis.RedisBulkStringAggregator;
import io.netty.handler.codec.redis.RedisDecoder;
import io.netty.handler.codec.redis.RedisEncoder;
import io.netty.handler.codec.redis.SimpleStringRedisMessage;
import io.netty.util.ReferenceCountUtil;
import kadrem.core.study.Wire;
import kadrem.load.drive.ListeningPeer;
import kadrem.load.drive.Peer;
import kadrem.load.drive.PeerHandler;
import kadrem.load.drive.PeerOrder;

/** A peer that answers every command with OK. */
final class RespPeer {
    private static final int MAX_WORDS = 100_000;
    private static final int MAX_DEPTH = 2;
    private static final SimpleStringRedisMessage OK = new SimpleStringRedisMessage("OK");

    private RespPeer() {
    }

    static Peer of(PeerOrder order) {
        return new ListeningPeer(order, Wire.Protocol.HTTP_1, Map.of(), RespPeer::handlers);
    }

    private static void handlers(ChannelPipeline pipeline) {
        pipeline.addLast(new RedisDecoder(), new RedisBulkStringAggregator(),
                new RedisArrayAggregator(MAX_WORDS, MAX_DEPTH),
                new RedisEncoder(), new PeerHandler() {
                    @Override
                    public void channelRead(ChannelHandlerContext context, Object message) {
                        ReferenceCountUtil.release(message);
                        context.write(OK);
                    }
                });
    }
}
