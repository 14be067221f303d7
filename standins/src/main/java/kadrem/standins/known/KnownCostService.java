package kadrem.standins.known;

import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;

/**
 * Answers {@code /N/anything} after N rounds of SHA-256, so that {@code /1080/} takes eight per cent more work than
 * {@code /1000/}, in the same process and with the same compiled code. N is at most {@value #MAX}. Other
 * paths take the work that is set, so that two versions of known cost can be launched.
 */
public final class KnownCostService implements AutoCloseable {
    private static final int MAX = 10_000_000;
    private static final int THREADS = 8;
    private static final byte[] ANSWER = "{\"berths\":[]}".getBytes(StandardCharsets.US_ASCII);

    private final HttpServer server;
    private final ExecutorService pool = Executors.newFixedThreadPool(THREADS);

    private KnownCostService(HttpServer server, int otherwise) {
        this.server = server;
        server.setExecutor(pool);
        server.createContext("/", exchange -> answer(exchange, otherwise));
    }

    /**
     * @param port 0 for any free one
     * @param otherwise rounds of SHA-256 for paths that do not say how many, at most {@value #MAX}
     */
    public static KnownCostService start(int port, int otherwise) throws IOException {
        if (otherwise < 0 || otherwise > MAX) {
            throw new IllegalArgumentException("ROUNDS is " + otherwise + "; it may be from 0 to " + MAX);
        }
        var service = new KnownCostService(
                HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), port), 64), otherwise);
        service.server.start();
        return service;
    }

    private static void answer(HttpExchange exchange, int otherwise) throws IOException {
        exchange.getRequestBody().readAllBytes();
        int rounds = rounds(exchange.getRequestURI().getPath(), otherwise);
        work(rounds);
        exchange.getResponseHeaders().set("Content-Type", "application/json");
        exchange.sendResponseHeaders(rounds < 0 ? 404 : 200, ANSWER.length);
        try (var out = exchange.getResponseBody()) {
            out.write(ANSWER);
        }
    }

    /** N of the path; {@code otherwise} where there is none, below 0 where it is too large. */
    static int rounds(String path, int otherwise) {
        String first = path.split("/", 3).length > 1 ? path.split("/", 3)[1] : "";
        if (!first.matches("\\d{1,9}")) {
            return otherwise;
        }
        int rounds = Integer.parseInt(first);
        return rounds > MAX ? -1 : rounds;
    }

    /** The hash of a hash and so on. */
    static byte[] work(int rounds) {
        try {
            MessageDigest digest = MessageDigest.getInstance("SHA-256");
            byte[] text = new byte[64];
            for (int i = 0; i < rounds; i++) {
                byte[] sum = digest.digest(text);
                System.arraycopy(sum, 0, text, 0, sum.length);
            }
            return text;
        } catch (NoSuchAlgorithmException cause) {
            throw new IllegalStateException("every Java has SHA-256", cause);
        }
    }

    public int port() {
        return server.getAddress().getPort();
    }

    @Override
    public void close() {
        server.stop(0);
        pool.shutdownNow();
    }
}
