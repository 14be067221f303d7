package kadrem.standins.habits;

import java.io.BufferedInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.net.SocketTimeoutException;
import java.nio.charset.StandardCharsets;
import java.util.Optional;

/**
 * What stands behind a board: a service that takes reservations and knows nothing of expectations, and a client for it that sends its
 * head first and waits for leave to send the body (RFC 9110, section 10.1.1), for a second at most.
 */
final class Backend implements AutoCloseable {
    private static final int LEAVE_MILLIS = 1_000;

    private final ServerSocket listener;

    Backend() throws IOException {
        listener = new ServerSocket(0, 256, InetAddress.getLoopbackAddress());
        Thread.ofVirtual().start(this::listen);
    }

    private void listen() {
        try {
            while (true) {
                Socket socket = listener.accept();
                Thread.ofVirtual().start(() -> serve(socket));
            }
        } catch (IOException _) {
            // closed
        }
    }

    private static void serve(Socket socket) {
        try (socket; var in = new BufferedInputStream(socket.getInputStream())) {
            Optional<Request> request = Request.read(in);
            if (request.isPresent()) {
                socket.getOutputStream().write("HTTP/1.1 201 Created\r\nContent-Length: 0\r\n\r\n"
                        .getBytes(StandardCharsets.US_ASCII));
            }
        } catch (IOException _) {
            // who asked has gone
        }
    }

    /** Hands a body on; the status of what answers. */
    int handOn(byte[] body) throws IOException {
        try (var socket = new Socket(listener.getInetAddress(), listener.getLocalPort())) {
            socket.setTcpNoDelay(true);
            OutputStream out = socket.getOutputStream();
            InputStream in = new BufferedInputStream(socket.getInputStream());
            out.write(("POST /reservations HTTP/1.1\r\nHost: backend\r\nExpect: 100-continue\r\nContent-Length: "
                    + body.length + "\r\n\r\n").getBytes(StandardCharsets.US_ASCII));
            String answer = "";
            try {
                socket.setSoTimeout(LEAVE_MILLIS);
                answer = Request.head(in);
            } catch (SocketTimeoutException _) {
                // it does not say, so the body is sent all the same
            }
            socket.setSoTimeout(0);
            if (answer.isEmpty() || answer.startsWith("HTTP/1.1 100")) {
                out.write(body);
                answer = Request.head(in);
            }
            return Integer.parseInt(answer.split(" ", 3)[1]);
        }
    }

    @Override
    public void close() throws IOException {
        listener.close();
    }
}
