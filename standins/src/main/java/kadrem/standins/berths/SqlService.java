package kadrem.standins.berths;

import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URI;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;

/** The berth board over SQL, on a bounded pool of threads or on a virtual thread for each request. */
public final class SqlService implements AutoCloseable {
    private static final int POOL_THREADS = 8;
    private static final int VIRTUAL_CONNECTIONS = 16;

    static {
        // without these the JDK's server waits for full packets and drops idle connections beyond 200
        System.setProperty("sun.net.httpserver.nodelay", "true");
        System.setProperty("sun.net.httpserver.maxIdleConnections", "20000");
    }

    private final HttpServer server;
    private final SqlBoard board;
    private final ExecutorService workers;
    private final String name;

    private SqlService(int port, String name, ExecutorService workers, int connections) throws IOException {
        this.name = name;
        this.workers = workers;
        server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), port), 1024);
        board = new SqlBoard(connections);
        var router = new Router(board);
        server.createContext("/", exchange -> handle(exchange, router));
        server.setExecutor(workers);
    }

    public static SqlService onPool(int port) throws IOException {
        return new SqlService(port, "berth-board-pool", Executors.newFixedThreadPool(POOL_THREADS), POOL_THREADS);
    }

    public static SqlService onVirtualThreads(int port) throws IOException {
        return new SqlService(port, "berth-board-virtual", Executors.newVirtualThreadPerTaskExecutor(),
                VIRTUAL_CONNECTIONS);
    }

    private void handle(HttpExchange exchange, Router router) throws IOException {
        try (exchange) {
            URI uri = exchange.getRequestURI();
            byte[] body = exchange.getRequestBody().readNBytes(64 * 1024);
            Router.Answer answer;
            try {
                answer = router.answer(exchange.getRequestMethod(), uri.getPath(),
                        uri.getRawQuery() == null ? "" : uri.getRawQuery(), body);
            } catch (RuntimeException failure) {
                answer = Router.error(500, String.valueOf(failure.getMessage()));
            }
            exchange.getResponseHeaders().set("Content-Type", "application/json");
            exchange.getResponseHeaders().set("Server", name);
            exchange.sendResponseHeaders(answer.status(), answer.body().length);
            exchange.getResponseBody().write(answer.body());
        }
    }

    /** Begins to answer. */
    public SqlService start() {
        server.start();
        return this;
    }

    public int port() {
        return server.getAddress().getPort();
    }

    /** Answers until the process ends. */
    public void serve() throws InterruptedException {
        start();
        System.out.println(name + " answers on 127.0.0.1:" + port());
        new CountDownLatch(1).await();
    }

    @Override
    public void close() {
        server.stop(0);
        workers.shutdownNow();
        board.close();
    }
}
