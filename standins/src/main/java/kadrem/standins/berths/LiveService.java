package kadrem.standins.berths;

import java.io.IOException;
import java.net.BindException;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

import com.fasterxml.jackson.core.type.TypeReference;
import com.fasterxml.jackson.databind.ObjectMapper;
import graphql.ExecutionInput;
import graphql.GraphQL;
import graphql.schema.DataFetchingEnvironment;
import graphql.schema.idl.RuntimeWiring;
import graphql.schema.idl.SchemaGenerator;
import graphql.schema.idl.SchemaParser;
import io.netty.buffer.ByteBufUtil;
import io.netty.buffer.Unpooled;
import io.netty.channel.ChannelFutureListener;
import io.netty.channel.ChannelHandlerContext;
import io.netty.channel.SimpleChannelInboundHandler;
import io.netty.handler.codec.http.DefaultFullHttpResponse;
import io.netty.handler.codec.http.DefaultHttpContent;
import io.netty.handler.codec.http.DefaultHttpResponse;
import io.netty.handler.codec.http.FullHttpRequest;
import io.netty.handler.codec.http.HttpHeaderNames;
import io.netty.handler.codec.http.HttpHeaderValues;
import io.netty.handler.codec.http.HttpObjectAggregator;
import io.netty.handler.codec.http.HttpResponseStatus;
import io.netty.handler.codec.http.HttpServerCodec;
import io.netty.handler.codec.http.HttpVersion;
import io.netty.handler.codec.http.LastHttpContent;
import io.netty.handler.codec.http.QueryStringDecoder;
import io.netty.handler.codec.http.websocketx.TextWebSocketFrame;
import io.netty.handler.codec.http.websocketx.WebSocketServerProtocolHandler;
import io.netty.handler.codec.http.websocketx.extensions.compression.WebSocketServerCompressionHandler;

/**
 * The berth board in three further ways over HTTP, on one port and one event loop with the board in memory: GraphQL at {@code /graphql},
 * WebSocket at {@code /live} (a message {"berth": 7} is answered by that berth), and server-sent events at
 * {@code /arrivals?count=10&every=20}, so many of them, so many milliseconds apart.
 */
public final class LiveService implements AutoCloseable {
    private static final int MAX_BYTES = 64 * 1024;
    private static final int MAX_EVENTS = 10_000;
    private static final int MAX_MILLIS = 60_000;
    private static final Pattern ASKED = Pattern.compile("\"berth\"\\s*:\\s*(\\d{1,9})");
    private static final ObjectMapper JSON = new ObjectMapper();
    private static final TypeReference<Map<String, Object>> OBJECT = new TypeReference<>() {
    };
    private static final String SCHEMA = """
            type Query { berth(id: Int!): Berth  day(day: String!): Day }
            type Mutation { reserve(berth: Int!, day: String!, nights: Int!, vessel: String!): Int }
            type Berth { id: Int!  quay: String!  number: Int!  length: Int!  depth: Float!  reservations: [Stay!]! }
            type Stay { reservation: Int!  day: String!  nights: Int!  vessel: String! }
            type Day { day: String!  free: Int!  taken: Int!  berths: [Berth!]! }
            """;

    private final CachedBoard board = new CachedBoard();
    private final GraphQL graph = graph();
    private final Loopback place;

    private LiveService(int port) throws BindException {
        place = Loopback.serve(port, 1, () -> List.of(new HttpServerCodec(), new HttpObjectAggregator(MAX_BYTES),
                new WebSocketServerCompressionHandler(MAX_BYTES),
                new WebSocketServerProtocolHandler("/live", null, true), new Messages(), new Requests()));
    }

    /** @param port 0 for any free one */
    public static LiveService on(int port) throws BindException {
        return new LiveService(port);
    }

    /** An argument that the schema demands, so that it is there. */
    private static int number(DataFetchingEnvironment asked, String name) {
        return Objects.requireNonNull(asked.<Integer>getArgument(name), name);
    }

    private static String text(DataFetchingEnvironment asked, String name) {
        return Objects.requireNonNull(asked.<String>getArgument(name), name);
    }

    private GraphQL graph() {
        RuntimeWiring wiring = RuntimeWiring.newRuntimeWiring()
                .type("Query", type -> type
                        .dataFetcher("berth", asked -> board.berth(number(asked, "id"))
                                .map(LiveService::tree).orElse(null))
                        .dataFetcher("day", asked -> tree(Json.day(board.day(day(text(asked, "day")))))))
                .type("Mutation", type -> type.dataFetcher("reserve", asked -> {
                    var wanted = new Reservation(0, number(asked, "berth"),
                            day(text(asked, "day")), number(asked, "nights"),
                            text(asked, "vessel"));
                    return board.reserve(wanted).orElseThrow(() -> new IllegalStateException("the berth is taken"));
                })).build();
        return GraphQL.newGraphQL(new SchemaGenerator().makeExecutableSchema(new SchemaParser().parse(SCHEMA), wiring))
                .build();
    }

    private static int day(String text) {
        return Json.day(text).orElseThrow(() -> new IllegalArgumentException("give the day as 2026-07-14"));
    }

    private static Map<String, Object> tree(Board.BerthView berth) {
        return tree(Json.berth(berth));
    }

    private static Map<String, Object> tree(byte[] json) {
        try {
            return JSON.readValue(json, OBJECT);
        } catch (IOException impossible) {
            throw new IllegalStateException("written just now", impossible);
        }
    }

    public int port() {
        return place.port();
    }

    /** Answers until the process ends. */
    public void serve() throws InterruptedException {
        System.out.println("berth board live answers on http://127.0.0.1:" + port()
                + "/graphql, ws://127.0.0.1:" + port() + "/live and http://127.0.0.1:" + port() + "/arrivals");
        place.await();
    }

    @Override
    public void close() {
        place.close();
        board.close();
    }

    /** Messages of a WebSocket. */
    private final class Messages extends SimpleChannelInboundHandler<TextWebSocketFrame> {
        @Override
        protected void channelRead0(ChannelHandlerContext context, TextWebSocketFrame frame) {
            Matcher asked = ASKED.matcher(frame.text());
            Optional<Board.BerthView> berth = asked.find()
                    ? board.berth(Integer.parseInt(asked.group(1)))
                    : Optional.empty();
            byte[] answer = berth.map(Json::berth).orElseGet(() -> Json.single("error", "no such berth"));
            context.writeAndFlush(new TextWebSocketFrame(Unpooled.wrappedBuffer(answer)));
        }
    }

    /** Requests that do not become a WebSocket. */
    private final class Requests extends SimpleChannelInboundHandler<FullHttpRequest> {
        @Override
        protected void channelRead0(ChannelHandlerContext context, FullHttpRequest request) {
            var address = new QueryStringDecoder(request.uri());
            switch (address.path()) {
                case "/graphql" -> answer(context, 200, executed(ByteBufUtil.getBytes(request.content())));
                case "/arrivals" -> begin(context, number(address, "count", MAX_EVENTS),
                        number(address, "every", MAX_MILLIS));
                case "/health" -> answer(context, 200, Json.single("status", "up"));
                default -> answer(context, 404, Json.single("error", "no such address"));
            }
        }

        private static int number(QueryStringDecoder address, String name, int most) {
            String text = address.parameters().getOrDefault(name, List.of("10")).getFirst();
            return text.matches("\\d{1,6}") ? Math.min(most, Integer.parseInt(text)) : 10;
        }

        private byte[] executed(byte[] body) {
            try {
                Map<String, Object> asked = JSON.readValue(body, OBJECT);
                Object variables = asked.get("variables");
                var input = ExecutionInput.newExecutionInput(String.valueOf(asked.get("query")))
                        .operationName((String) asked.get("operationName"))
                        .variables(variables == null ? Map.of() : JSON.convertValue(variables, OBJECT));
                return JSON.writeValueAsBytes(graph.execute(input).toSpecification());
            } catch (IOException | ClassCastException cause) {
                return Json.single("error", "this is not a question in GraphQL: " + cause.getMessage());
            }
        }

        private static void answer(ChannelHandlerContext context, int status, byte[] body) {
            var response = new DefaultFullHttpResponse(HttpVersion.HTTP_1_1, HttpResponseStatus.valueOf(status),
                    Unpooled.wrappedBuffer(body));
            response.headers().set(HttpHeaderNames.CONTENT_TYPE, "application/json")
                    .setInt(HttpHeaderNames.CONTENT_LENGTH, body.length);
            context.writeAndFlush(response);
        }

        private static void begin(ChannelHandlerContext context, int count, int every) {
            var response = new DefaultHttpResponse(HttpVersion.HTTP_1_1, HttpResponseStatus.OK);
            response.headers().set(HttpHeaderNames.CONTENT_TYPE, "text/event-stream")
                    .set(HttpHeaderNames.TRANSFER_ENCODING, HttpHeaderValues.CHUNKED);
            context.writeAndFlush(response);
            send(context, 1, count, every);
        }

        private static void send(ChannelHandlerContext context, int number, int count, int every) {
            if (!context.channel().isActive()) {
                return;
            }
            if (number > count) {
                context.writeAndFlush(LastHttpContent.EMPTY_LAST_CONTENT);
                return;
            }
            String event = "id: " + number + "\nevent: arrival\ndata: {\"berth\": " + (number * 37 % 2400 + 1)
                    + "}\n\n";
            context.writeAndFlush(new DefaultHttpContent(
                    Unpooled.copiedBuffer(event, StandardCharsets.UTF_8)))
                    .addListener(ChannelFutureListener.FIRE_EXCEPTION_ON_FAILURE);
            context.executor().schedule(() -> send(context, number + 1, count, every), every, TimeUnit.MILLISECONDS);
        }

        @Override
        public void exceptionCaught(ChannelHandlerContext context, Throwable cause) {
            context.close();
        }
    }
}
