package kadrem.standins.berths;

import java.net.BindException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;

import io.netty.buffer.Unpooled;
import io.netty.channel.Channel;
import io.netty.channel.ChannelHandlerContext;
import io.netty.channel.SimpleChannelInboundHandler;
import io.netty.handler.codec.redis.ArrayRedisMessage;
import io.netty.handler.codec.redis.ErrorRedisMessage;
import io.netty.handler.codec.redis.FullBulkStringRedisMessage;
import io.netty.handler.codec.redis.IntegerRedisMessage;
import io.netty.handler.codec.redis.RedisArrayAggregator;
import io.netty.handler.codec.redis.RedisBulkStringAggregator;
import io.netty.handler.codec.redis.RedisDecoder;
import io.netty.handler.codec.redis.RedisEncoder;
import io.netty.handler.codec.redis.RedisMessage;
import io.netty.handler.codec.redis.SimpleStringRedisMessage;

/**
 * The berths in a key-value store that speaks RESP: hashes berth:N, lists stays:N and a counter, all in memory and all on one
 * thread. It knows the few commands that the board needs.
 */
public final class StoreService implements AutoCloseable {
    private static final int MAX_ELEMENTS = 1024;
    private static final int MAX_DEPTH = 4;

    private final Loopback place;
    private final Map<String, Object> data = new HashMap<>();
    private final Map<String, Set<Channel>> subscribers = new HashMap<>();

    private StoreService(int port) throws BindException {
        fill();
        place = Loopback.serve(port, 1, () -> List.of(new RedisDecoder(), new RedisBulkStringAggregator(),
                new RedisArrayAggregator(MAX_ELEMENTS, MAX_DEPTH), new RedisEncoder(), new Handler()));
    }

    /** @param port 0 for any free one */
    public static StoreService on(int port) throws BindException {
        return new StoreService(port);
    }

    private void fill() {
        data.clear();
        for (Berth berth : SeedData.berths()) {
            Map<String, String> fields = new LinkedHashMap<>();
            fields.put("id", Integer.toString(berth.id()));
            fields.put("quay", berth.quay());
            fields.put("number", Integer.toString(berth.number()));
            fields.put("length", Integer.toString(berth.length()));
            fields.put("depth", Integer.toString(berth.depth()));
            data.put("berth:" + berth.id(), fields);
        }
    }

    public int port() {
        return place.port();
    }

    /** Answers until the process ends. */
    public void serve() throws InterruptedException {
        System.out.println("berth store answers on 127.0.0.1:" + port());
        place.await();
    }

    @Override
    public void close() {
        place.close();
    }

    private static RedisMessage text(String value) {
        return new FullBulkStringRedisMessage(Unpooled.copiedBuffer(value, StandardCharsets.UTF_8));
    }

    private static RedisMessage texts(Iterable<String> values) {
        var all = new ArrayList<RedisMessage>();
        values.forEach(value -> all.add(text(value)));
        return new ArrayRedisMessage(all);
    }

    private RedisMessage answer(List<String> words, Channel client) {
        String name = words.getFirst().toUpperCase(Locale.ROOT);
        int arguments = words.size() - 1;
        try {
            return switch (name + "/" + arguments) {
                case "PING/0" -> new SimpleStringRedisMessage("PONG");
                case "PING/1", "ECHO/1" -> text(words.get(1));
                case "SELECT/1" -> new SimpleStringRedisMessage("OK");
                case "GET/1" -> data.containsKey(words.get(1))
                        ? text((String) data.get(words.get(1)))
                        : FullBulkStringRedisMessage.NULL_INSTANCE;
                case "SET/2" -> {
                    data.put(words.get(1), words.get(2));
                    yield new SimpleStringRedisMessage("OK");
                }
                case "INCR/1" -> {
                    long next = Long.parseLong((String) data.getOrDefault(words.get(1), "0")) + 1;
                    data.put(words.get(1), Long.toString(next));
                    yield new IntegerRedisMessage(next);
                }
                case "HGETALL/1" -> {
                    var all = new ArrayList<String>();
                    hash(words.get(1)).forEach((field, value) -> {
                        all.add(field);
                        all.add(value);
                    });
                    yield texts(all);
                }
                case "RPUSH/2" -> {
                    list(words.get(1)).add(words.get(2));
                    yield new IntegerRedisMessage(list(words.get(1)).size());
                }
                case "LLEN/1" -> new IntegerRedisMessage(list(words.get(1)).size());
                case "LRANGE/3" -> texts(range(words));
                case "DBSIZE/0" -> new IntegerRedisMessage(data.size());
                case "FLUSHALL/0" -> {
                    fill();
                    yield new SimpleStringRedisMessage("OK");
                }
                case "INFO/0", "INFO/1" -> text("# Server\r\nserver_name:berth-store\r\nredis_version:1.0.0\r\n");
                case "SUBSCRIBE/1" -> {
                    subscribers.computeIfAbsent(words.get(1), _ -> new HashSet<>()).add(client);
                    yield new ArrayRedisMessage(List.of(text("subscribe"), text(words.get(1)),
                            new IntegerRedisMessage(1)));
                }
                case "PUBLISH/2" -> new IntegerRedisMessage(publish(words.get(1), words.get(2)));
                default -> new ErrorRedisMessage("ERR unknown command '" + words.getFirst() + "' with " + arguments
                        + " arguments");
            };
        } catch (ClassCastException _) {
            return new ErrorRedisMessage("WRONGTYPE Operation against a key holding the wrong kind of value");
        } catch (NumberFormatException _) {
            return new ErrorRedisMessage("ERR value is not an integer or out of range");
        }
    }

    private List<String> range(List<String> words) {
        List<String> all = list(words.get(1));
        int from = Math.clamp(Long.parseLong(words.get(2)), 0, all.size());
        long last = Long.parseLong(words.get(3));
        int to = Math.clamp(last < 0 ? all.size() + last + 1 : last + 1, from, all.size());
        return List.copyOf(all.subList(from, to));
    }

    private long publish(String name, String message) {
        Set<Channel> clients = subscribers.getOrDefault(name, Set.of());
        clients.removeIf(client -> !client.isActive());
        clients.forEach(client -> client.writeAndFlush(
                new ArrayRedisMessage(List.of(text("message"), text(name), text(message)))));
        return clients.size();
    }

    @SuppressWarnings("unchecked")
    private Map<String, String> hash(String key) {
        Object known = data.get(key);
        return known == null ? Map.of() : (Map<String, String>) known;
    }

    @SuppressWarnings("unchecked")
    private List<String> list(String key) {
        return (List<String>) data.computeIfAbsent(key, _ -> new ArrayList<String>());
    }

    /** All on the one thread of the store. */
    private final class Handler extends SimpleChannelInboundHandler<RedisMessage> {
        @Override
        protected void channelRead0(ChannelHandlerContext context, RedisMessage message) {
            if (message instanceof ArrayRedisMessage array && !array.isNull() && !array.children().isEmpty()) {
                List<String> words = array.children().stream()
                        .map(word -> word instanceof FullBulkStringRedisMessage bulk
                                ? bulk.content().toString(StandardCharsets.UTF_8)
                                : "")
                        .toList();
                context.write(answer(words, context.channel()));
            } else {
                context.write(new ErrorRedisMessage("ERR Protocol error: expected an array of bulk strings"));
            }
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
}
