package kadrem.standins.broker;

import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Properties;
import java.util.concurrent.CountDownLatch;

import io.moquette.broker.Server;
import io.moquette.broker.config.MemoryConfig;

/** A broker that speaks MQTT 3.1.1 and keeps everything in memory: Moquette, for 127.0.0.1 alone. */
public final class BrokerService implements AutoCloseable {
    private final Server server = new Server();
    private final int port;

    private BrokerService(int port) throws IOException {
        Path folder = Files.createTempDirectory("kadrem-broker");
        folder.toFile().deleteOnExit();
        var settings = new Properties();
        settings.setProperty("host", InetAddress.getLoopbackAddress().getHostAddress());
        settings.setProperty("port", Integer.toString(port));
        settings.setProperty("allow_anonymous", "true");
        settings.setProperty("persistence_enabled", "false");
        // it would tell its makers of itself
        settings.setProperty("telemetry_enabled", "false");
        settings.setProperty("data_path", folder.toString());
        server.startServer(new MemoryConfig(settings));
        this.port = port;
    }

    /** @param port 0 for any free one */
    public static BrokerService on(int port) throws IOException {
        return new BrokerService(port == 0 ? free() : port);
    }

    /** The broker does not tell which port it got. */
    private static int free() throws IOException {
        try (var socket = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
            return socket.getLocalPort();
        }
    }

    public int port() {
        return port;
    }

    /** Answers until the process ends. */
    public void serve() throws InterruptedException {
        System.out.println("broker answers on mqtt://127.0.0.1:" + port);
        new CountDownLatch(1).await();
    }

    @Override
    public void close() {
        server.stopServer();
    }
}
