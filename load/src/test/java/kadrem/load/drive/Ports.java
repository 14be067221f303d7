package kadrem.load.drive;

import java.util.concurrent.ThreadLocalRandom;
import java.net.BindException;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.ServerSocket;
import java.net.Socket;

/** Ports of 127.0.0.1 for servers that tests start. */
public final class Ports {
    private static final int TIMES = 200;
    private static final int MILLIS = 50;

    private Ports() {
    }

    /** One at which nothing listens now. */
    public static int free() throws IOException {
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

    /** Waits until somebody accepts connections. */
    public static void await(int port) throws InterruptedException {
        for (int i = 0; i < TIMES; i++) {
            try (var socket = new Socket()) {
                socket.connect(new InetSocketAddress("127.0.0.1", port), 1000);
                return;
            } catch (IOException _) {
                Thread.sleep(MILLIS);
            }
        }
        throw new AssertionError("the server does not come up");
    }
}
