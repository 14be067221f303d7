package kadrem.standins.troubled;

import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.ThreadLocalRandom;

import com.sun.net.httpserver.HttpServer;

/** A berth board on a pool of threads that answers every path alike and has one trouble. */
public final class TroubledService implements AutoCloseable {
    private static final int THREADS = 32;
    private static final double STEADY_MILLIS = 4;
    private static final double THREE_OF_TEN = 0.3;
    private static final int CALLS_BEFORE_DEATH = 400;
    private static final byte[] ANSWER = "{\"berths\":[]}".getBytes(StandardCharsets.US_ASCII);

    private final HttpServer server;
    private final ExecutorService pool = Executors.newFixedThreadPool(THREADS);
    private final Trouble trouble;

    private TroubledService(HttpServer server, Trouble trouble) {
        this.server = server;
        this.trouble = trouble;
        server.setExecutor(pool);
        server.createContext("/health", exchange -> {
            exchange.sendResponseHeaders(204, -1);
            exchange.close();
        });
        server.createContext("/", exchange -> {
            int status = trouble.serve();
            exchange.getRequestBody().readAllBytes();
            exchange.getResponseHeaders().set("Content-Type", "application/json");
            exchange.sendResponseHeaders(status, ANSWER.length);
            try (var out = exchange.getResponseBody()) {
                out.write(ANSWER);
            }
        });
    }

    /**
     * @param kind leak, busy, lock, dependency, steady, refusing, dying, stalling or tiring; some have their trouble in some starts only
     * @param port 0 for any free one
     */
    public static TroubledService start(String kind, int port) throws IOException {
        ThreadLocalRandom random = ThreadLocalRandom.current();
        Trouble trouble = switch (kind) {
            case "leak" -> new Trouble.Leak();
            case "busy" -> new Trouble.Busy(12);
            case "lock" -> new Trouble.Locked(new RemoteGauge(Duration.ofMillis(12)));
            case "dependency" -> new Trouble.Waiting(new RemoteGauge(Duration.ofMillis(150)));
            case "steady" -> new Trouble.Busy(STEADY_MILLIS);
            case "refusing" -> new Trouble.Refusing(random.nextDouble() < THREE_OF_TEN);
            case "dying" -> random.nextBoolean()
                    ? new Trouble.Dying(CALLS_BEFORE_DEATH, () -> Runtime.getRuntime().halt(3))
                    : new Trouble.Refusing(false);
            case "stalling" -> random.nextBoolean() ? new Trouble.Stalling() : new Trouble.Refusing(false);
            case "tiring" -> new Trouble.Tiring();
            default -> throw new IllegalArgumentException("there is no trouble called " + kind);
        };
        HttpServer server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), port), 256);
        var service = new TroubledService(server, trouble);
        server.start();
        return service;
    }

    public int port() {
        return server.getAddress().getPort();
    }

    @Override
    public void close() throws IOException {
        server.stop(0);
        pool.shutdownNow();
        trouble.close();
    }
}
