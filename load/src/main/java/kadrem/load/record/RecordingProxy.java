package kadrem.load.record;

import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.function.Consumer;
import java.util.function.Predicate;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import kadrem.core.study.Address;
import kadrem.core.study.Call;

/**
 * A proxy for plain HTTP on loopback: a client that is told to use it sends its requests here, they are passed on
 * (RFC 9110, section 7.6), and each is told with its answer's type. What a client sends over TLS it does not see and
 * refuses.
 */
public final class RecordingProxy implements AutoCloseable {
    private static final Duration LIMIT = Duration.ofSeconds(60);
    private static final int MAX_BODY = 16 * 1024 * 1024;
    /** Headers of one connection, and those that the sending library writes itself. */
    private static final Set<String> NOT_PASSED_ON = Set.of("connection", "keep-alive", "proxy-authenticate",
            "proxy-authorization", "proxy-connection", "te", "trailer", "transfer-encoding", "upgrade", "host",
            "content-length", "expect",
            // answers are read for what later requests carry
            "accept-encoding");

    private final HttpServer server;
    private final ExecutorService work = Executors.newVirtualThreadPerTaskExecutor();
    private final HttpClient client = HttpClient.newBuilder().version(HttpClient.Version.HTTP_1_1)
            .connectTimeout(LIMIT).followRedirects(HttpClient.Redirect.NEVER).build();
    private final Predicate<Address> mayPass;
    private final Consumer<Recorded> told;

    /**
     * One request that passed.
     *
     * @param host with port where it is not the usual one
     * @param target path with query
     * @param contentType of the answer; empty where it has none
     * @param answer text of its body
     */
    public record Recorded(String method, String host, String target, List<Call.Header> headers, String body,
            String contentType, List<Call.Header> answerHeaders, String answer, Instant begun, Duration took) {
        public Recorded {
            headers = List.copyOf(headers);
            answerHeaders = List.copyOf(answerHeaders);
        }
    }

    private RecordingProxy(HttpServer server, Predicate<Address> mayPass, Consumer<Recorded> told) {
        this.server = server;
        this.mayPass = mayPass;
        this.told = told;
        server.setExecutor(work);
        server.createContext("/", this::handle);
        server.start();
    }

    /**
     * Begins to listen.
     *
     * @param port 0 for a free one
     * @param mayPass whether requests may be passed on to an address
     * @param told of each request after its answer, on any thread
     * @throws IOException if the port cannot be had
     */
    public static RecordingProxy on(int port, Predicate<Address> mayPass, Consumer<Recorded> told) throws IOException {
        return new RecordingProxy(
                HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), port), 64), mayPass, told);
    }

    public int port() {
        return server.getAddress().getPort();
    }

    private void handle(HttpExchange exchange) throws IOException {
        try (exchange) {
            URI target = exchange.getRequestURI();
            if (exchange.getRequestMethod().equals("CONNECT") || !"http".equals(target.getScheme())
                    || target.getHost() == null) {
                refuse(exchange, 400, "This proxy records plain HTTP; it was asked for " + target + ".");
                return;
            }
            var address = new Address(target.getHost(), target.getPort() < 0 ? 80 : target.getPort(), "");
            if (!mayPass.test(address)) {
                refuse(exchange, 403, target.getHost() + " is not on this machine, and nothing was passed on to it.");
                return;
            }
            passOn(exchange, target);
        }
    }

    private void passOn(HttpExchange exchange, URI target) throws IOException {
        Instant begun = Instant.now();
        long beganNanos = System.nanoTime();
        byte[] body = exchange.getRequestBody().readNBytes(MAX_BODY + 1);
        if (body.length > MAX_BODY) {
            refuse(exchange, 413, "A body of more than 16 MiB is not recorded.");
            return;
        }
        var headers = new ArrayList<Call.Header>();
        HttpRequest.Builder request = HttpRequest.newBuilder(target).timeout(LIMIT).method(exchange.getRequestMethod(),
                body.length == 0
                        ? HttpRequest.BodyPublishers.noBody()
                        : HttpRequest.BodyPublishers.ofByteArray(body));
        for (Map.Entry<String, List<String>> header : exchange.getRequestHeaders().entrySet()) {
            if (!NOT_PASSED_ON.contains(header.getKey().toLowerCase(Locale.ROOT))) {
                header.getValue().forEach(value -> {
                    headers.add(new Call.Header(header.getKey(), value));
                    request.header(header.getKey(), value);
                });
            }
        }
        HttpResponse<byte[]> answer;
        try {
            answer = client.send(request.build(), HttpResponse.BodyHandlers.ofByteArray());
        } catch (IOException cause) {
            refuse(exchange, 502, target.getAuthority() + " did not answer: " + cause);
            return;
        } catch (InterruptedException _) {
            Thread.currentThread().interrupt();
            return;
        }
        answer.headers().map().forEach((name, values) -> {
            if (!NOT_PASSED_ON.contains(name.toLowerCase(Locale.ROOT)) && !name.startsWith(":")) {
                values.forEach(value -> exchange.getResponseHeaders().add(name, value));
            }
        });
        boolean empty = answer.body().length == 0 || exchange.getRequestMethod().equals("HEAD");
        exchange.sendResponseHeaders(answer.statusCode(), empty ? -1 : answer.body().length);
        if (!empty) {
            exchange.getResponseBody().write(answer.body());
        }
        String query = target.getRawQuery() == null ? "" : "?" + target.getRawQuery();
        String path = target.getRawPath() == null || target.getRawPath().isEmpty() ? "/" : target.getRawPath();
        told.accept(new Recorded(exchange.getRequestMethod(), target.getAuthority(), path + query, headers,
                new String(body, StandardCharsets.UTF_8), answer.headers().firstValue("Content-Type").orElse(""),
                answer.headers().map().entrySet().stream().flatMap(header -> header.getValue().stream()
                        .map(value -> new Call.Header(header.getKey(), value))).toList(),
                new String(answer.body(), StandardCharsets.UTF_8), begun,
                Duration.ofNanos(System.nanoTime() - beganNanos)));
    }

    private static void refuse(HttpExchange exchange, int status, String words) throws IOException {
        byte[] body = words.getBytes(StandardCharsets.UTF_8);
        exchange.getResponseHeaders().set("Content-Type", "text/plain; charset=utf-8");
        exchange.sendResponseHeaders(status, body.length);
        exchange.getResponseBody().write(body);
    }

    @Override
    public void close() {
        server.stop(0);
        work.shutdownNow();
        client.shutdownNow();
    }
}
