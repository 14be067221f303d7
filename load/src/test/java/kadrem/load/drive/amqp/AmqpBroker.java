package kadrem.load.drive.amqp;

import java.net.InetAddress;
import java.net.ServerSocket;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.Map;
import org.apache.qpid.server.SystemLauncher;

/** Apache Qpid Broker-J in this process, with everything in memory and the user guest. */
public final class AmqpBroker implements AutoCloseable {
    private final SystemLauncher broker = new SystemLauncher();
    private final int port;

    public AmqpBroker(Path folder) throws Exception {
        try (var socket = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
            port = socket.getLocalPort();
        }
        Map<String, Object> attributes = new HashMap<>();
        attributes.put("type", "Memory");
        attributes.put("initialConfigurationLocation",
                AmqpBroker.class.getResource("/amqp-broker.json").toExternalForm());
        attributes.put("startupLoggedToSystemOut", false);
        attributes.put("context", Map.of("kadrem.amqp.port", Integer.toString(port), "qpid.work_dir",
                folder.toString()));
        broker.startup(attributes);
    }

    public int port() {
        return port;
    }

    @Override
    public void close() {
        broker.shutdown();
    }
}
