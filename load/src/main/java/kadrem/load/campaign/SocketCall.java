package kadrem.load.campaign;

import java.io.IOException;
import java.net.StandardProtocolFamily;
import java.net.UnixDomainSocketAddress;
import java.nio.ByteBuffer;
import java.nio.channels.ClosedByInterruptException;
import java.nio.channels.SocketChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Duration;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.FutureTask;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;

import kadrem.core.study.Address;

/** A control call over a Unix socket, for which the JDK's client has no way: HTTP/1.1 with a connection of its own. */
final class SocketCall {
    private static final int MOST_BYTES = 1 << 20;

    private SocketCall() {
    }

    static boolean answers(Path socket) {
        try (SocketChannel channel = SocketChannel.open(StandardProtocolFamily.UNIX)) {
            return channel.connect(UnixDomainSocketAddress.of(socket));
        } catch (IOException _) {
            return false;
        }
    }

    static Control.Answer make(Path socket, String method, Address address, String path, Duration limit)
            throws IOException, InterruptedException {
        var task = new FutureTask<>(() -> exchange(socket, method + " " + address.basePath() + path
                + " HTTP/1.1\r\nHost: " + address.authority() + "\r\nContent-Length: 0\r\nConnection: close\r\n\r\n"));
        Thread thread = Thread.ofVirtual().start(task);
        try {
            return task.get(limit.toNanos(), TimeUnit.NANOSECONDS);
        } catch (ExecutionException cause) {
            throw new IOException(cause.getCause() == null ? cause.getMessage() : cause.getCause().getMessage(), cause);
        } catch (TimeoutException cause) {
            throw new IOException("no answer within " + limit.toMillis() + " ms", cause);
        } finally {
            // ends the reading
            thread.interrupt();
        }
    }

    private static Control.Answer exchange(Path socket, String request) throws IOException {
        var received = ByteBuffer.allocate(MOST_BYTES);
        try (SocketChannel channel = SocketChannel.open(UnixDomainSocketAddress.of(socket))) {
            channel.write(ByteBuffer.wrap(request.getBytes(StandardCharsets.US_ASCII)));
            while (received.hasRemaining() && channel.read(received) >= 0) {
                // until the candidate closes
            }
        } catch (ClosedByInterruptException cause) {
            throw new IOException("given up", cause);
        }
        String text = new String(received.array(), 0, received.position(), StandardCharsets.UTF_8);
        String[] parts = text.split("\r\n\r\n", 2);
        if (!parts[0].matches("(?s)HTTP/1\\.\\d [1-5]\\d\\d.*")) {
            throw new IOException("the answer is not HTTP");
        }
        String server = parts[0].lines().filter(line -> line.regionMatches(true, 0, "server:", 0, 7))
                .map(line -> line.substring(7).strip()).findFirst().orElse("");
        return new Control.Answer(Integer.parseInt(parts[0].substring(9, 12)), server,
                parts.length > 1 ? parts[1] : "", "HTTP/1.1", "");
    }
}
