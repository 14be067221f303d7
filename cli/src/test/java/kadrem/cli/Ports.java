package kadrem.cli;

import java.io.IOException;
import java.net.BindException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.util.concurrent.ThreadLocalRandom;

/** Ports of loopback that nobody listens on. */
final class Ports {
    private Ports() {
    }

    static int free() throws IOException {
        // below the ports from which this host's own connections go out
        while (true) {
            int port = ThreadLocalRandom.current().nextInt(15_000, 30_000);
            try (var _ = new ServerSocket(port, 1, InetAddress.getLoopbackAddress())) {
                return port;
            } catch (BindException _) {
                // somebody listens there
            }
        }
    }
}
