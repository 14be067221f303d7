package kadrem.standins.berths;

import java.net.BindException;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

import io.netty.buffer.ByteBufUtil;
import io.netty.buffer.Unpooled;
import io.netty.channel.ChannelFutureListener;
import io.netty.channel.ChannelHandlerContext;
import io.netty.channel.SimpleChannelInboundHandler;
import io.netty.handler.codec.http.DefaultFullHttpResponse;
import io.netty.handler.codec.http.FullHttpRequest;
import io.netty.handler.codec.http.HttpHeaderNames;
import io.netty.handler.codec.http.HttpObjectAggregator;
import io.netty.handler.codec.http.HttpResponseStatus;
import io.netty.handler.codec.http.HttpServerCodec;
import io.netty.handler.codec.http.HttpUtil;
import io.netty.handler.codec.http.HttpVersion;

/** The berth board on one event loop: state and finished answers in memory, database writes behind. */
public final class LoopService implements AutoCloseable {
    private static final String NAME = "berth-board-loop";
    private static final int CACHED_ANSWERS = 5_000;

    private final CachedBoard board = new CachedBoard();
    private final Router router = new Router(board);
    private final Loopback place;
    /** Finished answers by address; only the event loop touches it. */
    private final Map<String, Router.Answer> answers = new LinkedHashMap<>(CACHED_ANSWERS, 0.75f, true) {
        private static final long serialVersionUID = 1L;

        @Override
        protected boolean removeEldestEntry(Map.Entry<String, Router.Answer> eldest) {
            return size() > CACHED_ANSWERS;
        }
    };

    private LoopService(int port) throws BindException {
        place = Loopback.serve(port, 1,
                () -> List.of(new HttpServerCodec(), new HttpObjectAggregator(64 * 1024), new Handler()));
    }

    public static LoopService on(int port) throws BindException {
        return new LoopService(port);
    }

    public int port() {
        return place.port();
    }

    /** Answers until the process ends. */
    public void serve() throws InterruptedException {
        System.out.println(NAME + " answers on 127.0.0.1:" + port());
        place.await();
    }

    private Router.Answer answer(String method, String address, byte[] body) {
        int question = address.indexOf('?');
        String path = question < 0 ? address : address.substring(0, question);
        String query = question < 0 ? "" : address.substring(question + 1);
        if (method.equals("GET")) {
            Router.Answer known = answers.get(address);
            if (known != null) {
                return known;
            }
            Router.Answer made = router.answer(method, path, query, body);
            boolean plain = query.isEmpty() || query.startsWith("day=") && query.indexOf('&') < 0;
            if (made.status() == 200 && plain) {
                answers.put(address, made);
            }
            return made;
        }
        Router.Answer made = router.answer(method, path, query, body);
        if (made.status() == 201) {
            Json.wanted(body).ifPresent(this::forget);
        } else if (path.equals("/admin/reset")) {
            answers.clear();
        }
        return made;
    }

    private void forget(Reservation booked) {
        answers.remove("/berths/" + booked.berth());
        for (int day = booked.day(); day < booked.day() + booked.nights(); day++) {
            answers.remove("/berths?day=" + Json.date(day));
        }
    }

    @Override
    public void close() {
        place.close();
        board.close();
    }

    private final class Handler extends SimpleChannelInboundHandler<FullHttpRequest> {
        @Override
        protected void channelRead0(ChannelHandlerContext context, FullHttpRequest request) {
            Router.Answer answer;
            try {
                answer = answer(request.method().name(), request.uri(), ByteBufUtil.getBytes(request.content()));
            } catch (RuntimeException failure) {
                answer = Router.error(500, String.valueOf(failure.getMessage()));
            }
            var response = new DefaultFullHttpResponse(HttpVersion.HTTP_1_1,
                    HttpResponseStatus.valueOf(answer.status()), Unpooled.wrappedBuffer(answer.body()));
            response.headers().set(HttpHeaderNames.CONTENT_TYPE, "application/json")
                    .set(HttpHeaderNames.SERVER, NAME)
                    .setInt(HttpHeaderNames.CONTENT_LENGTH, answer.body().length);
            boolean keep = HttpUtil.isKeepAlive(request);
            var written = context.writeAndFlush(response);
            if (!keep) {
                written.addListener(ChannelFutureListener.CLOSE);
            }
        }

        @Override
        public void exceptionCaught(ChannelHandlerContext context, Throwable cause) {
            context.close();
        }
    }
}
