package kadrem.load.drive.amqp;

import java.nio.file.Path;
import java.util.HashMap;
import java.util.Map;
import kadrem.fixtures.Ports;
import org.apache.qpid.server.SystemLauncher;

/** Apache Qpid Broker-J in this process, with everything in memory and the user guest. */
public final class AmqpBroker implements AutoCloseable {
    private final SystemLauncher broker = new SystemLauncher();
    private final int port;

    public AmqpBroker(Path folder) throws Exception {
        port = Ports.free();
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
