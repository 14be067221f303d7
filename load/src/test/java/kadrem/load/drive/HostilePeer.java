package kadrem.load.drive;

import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.locks.LockSupport;

/** A peer that means harm: to each that connects it says what its script says. */
public final class HostilePeer implements AutoCloseable {
    private static final int CHUNK = 1 << 16;
    private final ServerSocket listener;
    private final Set<Socket> connected = ConcurrentHashMap.newKeySet();

    /** What is said on a connection, until it breaks. */
    public interface Script {
        void say(DataInputStream in, DataOutputStream out) throws IOException;
    }

    public HostilePeer(Script script) throws IOException {
        listener = new ServerSocket(0, 256, InetAddress.getLoopbackAddress());
        Thread.ofVirtual().start(() -> {
            while (!listener.isClosed()) {
                try {
                    Socket socket = listener.accept();
                    Thread.ofVirtual().start(() -> talk(script, socket));
                } catch (IOException _) {
                    return;
                }
            }
        });
    }

    private void talk(Script script, Socket socket) {
        connected.add(socket);
        try (socket) {
            script.say(new DataInputStream(socket.getInputStream()), new DataOutputStream(socket.getOutputStream()));
        } catch (IOException _) {
            // the other side has enough
        } finally {
            connected.remove(socket);
        }
    }

    /** How many are still connected when all should have left. */
    int connectedAfter(Duration patience) {
        long deadline = System.nanoTime() + patience.toNanos();
        while (!connected.isEmpty() && System.nanoTime() < deadline) {
            LockSupport.parkNanos(TimeUnit.MILLISECONDS.toNanos(5));
        }
        return connected.size();
    }

    public int port() {
        return listener.getLocalPort();
    }

    @Override
    public void close() throws IOException {
        listener.close();
        for (Socket socket : connected) {
            socket.close();
        }
    }

    // ---- what it can say ------------------------------------------------------------------------------------------

    /** Takes whatever comes and says nothing. */
    public static void silent(DataInputStream in, DataOutputStream out) throws IOException {
        while (in.read() >= 0) {
            out.flush();
        }
    }

    /** The same again and again, while nothing is read. */
    public static void flood(DataOutputStream out, byte... again) throws IOException {
        var chunk = new byte[Math.max(1, CHUNK / again.length) * again.length];
        for (int i = 0; i < chunk.length; i++) {
            chunk[i] = again[i % again.length];
        }
        while (true) {
            out.write(chunk);
        }
    }

    /** After the first byte a beginning, and then one letter without end. */
    public static Script flooding(String beginning, char letter) {
        return (in, out) -> {
            in.read();
            out.write(beginning.getBytes(StandardCharsets.ISO_8859_1));
            flood(out, (byte) letter);
        };
    }

    /** After the first byte a byte now and then, so that something always comes. */
    public static Script dripping(String beginning) {
        return (in, out) -> {
            in.read();
            out.write(beginning.getBytes(StandardCharsets.ISO_8859_1));
            while (true) {
                out.write('x');
                try {
                    Thread.sleep(100);
                } catch (InterruptedException _) {
                    return;
                }
            }
        };
    }
}
