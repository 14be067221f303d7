package kadrem.standins.host;

import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;

import com.sun.net.httpserver.HttpServer;

/** The made-up host's metrics endpoint on loopback, in the OpenMetrics format. */
public final class MetricsStandIn implements AutoCloseable {
    private final HttpServer server;

    private MetricsStandIn(HttpServer server) {
        this.server = server;
    }

    /** @param port 0 for any free one */
    public static MetricsStandIn start(int port, MadeUpHost host) throws IOException {
        HttpServer server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), port), 16);
        server.createContext("/metrics", exchange -> {
            byte[] text = host.metrics().getBytes(StandardCharsets.UTF_8);
            exchange.getResponseHeaders().set("Content-Type",
                    "application/openmetrics-text; version=1.0.0; charset=utf-8");
            exchange.sendResponseHeaders(200, text.length);
            try (var out = exchange.getResponseBody()) {
                out.write(text);
            }
        });
        server.start();
        return new MetricsStandIn(server);
    }

    public int port() {
        return server.getAddress().getPort();
    }

    @Override
    public void close() {
        server.stop(0);
    }
}
