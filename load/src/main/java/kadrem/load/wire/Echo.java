package kadrem.load.wire;

import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.util.Arrays;

import kadrem.core.study.Address;

/** Sends back what it is sent, so that the relay's own delay can be measured. */
final class Echo implements AutoCloseable {
    private final ServerSocket server;

    Echo() throws IOException {
        server = new ServerSocket(0, 16, InetAddress.getLoopbackAddress());
        Thread.ofPlatform().daemon().name("kadrem-echo").start(() -> {
            try {
                while (true) {
                    Socket socket = server.accept();
                    Thread.ofPlatform().daemon().start(() -> answer(socket));
                }
            } catch (IOException _) {
                // it was closed
            }
        });
    }

    private static void answer(Socket socket) {
        var bytes = new byte[8192];
        try (socket) {
            socket.setTcpNoDelay(true);
            for (int read = socket.getInputStream().read(bytes); read >= 0; read = socket.getInputStream()
                    .read(bytes)) {
                socket.getOutputStream().write(bytes, 0, read);
            }
        } catch (IOException _) {
            // who asked is gone
        }
    }

    Address address() {
        return new Address("127.0.0.1", server.getLocalPort(), "");
    }

    /** Nanoseconds that a byte and its echo take over one connection, as the median of some. */
    static long median(int port, int times) throws IOException {
        try (var socket = new Socket(InetAddress.getLoopbackAddress(), port)) {
            socket.setTcpNoDelay(true);
            var took = new long[times];
            for (int i = 0; i < times; i++) {
                long begun = System.nanoTime();
                socket.getOutputStream().write(i);
                if (socket.getInputStream().read() < 0) {
                    throw new IOException("the connection was closed");
                }
                took[i] = System.nanoTime() - begun;
            }
            Arrays.sort(took);
            return took[times / 2];
        }
    }

    @Override
    public void close() throws IOException {
        server.close();
    }
}
