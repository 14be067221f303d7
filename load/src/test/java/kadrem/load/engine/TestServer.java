package kadrem.load.engine;

import java.io.BufferedInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.AtomicInteger;

/** A small server on loopback whose behaviour on each connection is given by the test. */
final class TestServer implements AutoCloseable {
    static final byte[] OK = "HTTP/1.1 200 OK\r\nContent-Length: 2\r\n\r\nok"
            .getBytes(java.nio.charset.StandardCharsets.US_ASCII);
    private final ServerSocket listener;
    private final Set<Socket> sockets = ConcurrentHashMap.newKeySet();
    final AtomicInteger requests = new AtomicInteger();

    /** What happens on one connection; called on a thread of its own. */
    interface Behaviour {
        void on(Socket socket, InputStream in) throws IOException, InterruptedException;
    }

    TestServer(Behaviour behaviour) throws IOException {
        listener = new ServerSocket(0, 512, InetAddress.getLoopbackAddress());
        Thread.ofVirtual().start(() -> {
            while (!listener.isClosed()) {
                try {
                    Socket socket = listener.accept();
                    socket.setTcpNoDelay(true);
                    sockets.add(socket);
                    Thread.ofVirtual().start(() -> serve(socket, behaviour));
                } catch (IOException _) {
                    return;
                }
            }
        });
    }

    private void serve(Socket socket, Behaviour behaviour) {
        try (socket) {
            behaviour.on(socket, new BufferedInputStream(socket.getInputStream()));
        } catch (IOException _) {
            // the peer has gone
        } catch (InterruptedException _) {
            Thread.currentThread().interrupt();
        } finally {
            sockets.remove(socket);
        }
    }

    /** A server that answers each request with the same bytes. */
    static TestServer answering(String response) throws IOException {
        byte[] bytes = response.getBytes(java.nio.charset.StandardCharsets.ISO_8859_1);
        var holder = new TestServer[1];
        holder[0] = new TestServer((socket, in) -> {
            while (readRequest(in)) {
                socket.getOutputStream().write(bytes);
                if (response.contains("Connection: close")) {
                    return;
                }
            }
        });
        return holder[0];
    }

    /** Reads a request without body; false at the end of the stream. */
    static boolean readRequest(InputStream in) throws IOException {
        int matched = 0;
        String end = "\r\n\r\n";
        while (matched < end.length()) {
            int b = in.read();
            if (b < 0) {
                return false;
            }
            matched = b == end.charAt(matched) ? matched + 1 : b == '\r' ? 1 : 0;
        }
        return true;
    }

    int port() {
        return listener.getLocalPort();
    }

    @Override
    public void close() throws IOException {
        listener.close();
        for (Socket socket : sockets) {
            socket.close();
        }
    }
}
