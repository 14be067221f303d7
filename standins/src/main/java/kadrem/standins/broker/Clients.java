package kadrem.standins.broker;

import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;

/** A port on 127.0.0.1 whose clients are each talked to on a thread of their own. */
final class Clients implements AutoCloseable {
    private static final int BACKLOG = 256;

    private final ServerSocket listener;
    private final Set<Socket> connected = ConcurrentHashMap.newKeySet();

    /** Talks to one client until it has gone. */
    interface Conversation {
        void talk(Socket client) throws IOException;
    }

    /** @param port 0 for any free one */
    Clients(int port) throws IOException {
        listener = new ServerSocket(port, BACKLOG, InetAddress.getLoopbackAddress());
    }

    int port() {
        return listener.getLocalPort();
    }

    /** Begins to take clients. */
    void each(String name, Conversation conversation) {
        Thread.ofPlatform().daemon().name(name).start(() -> accept(name + "-client", conversation));
    }

    private void accept(String name, Conversation conversation) {
        while (!listener.isClosed()) {
            try {
                Socket client = listener.accept();
                client.setTcpNoDelay(true);
                connected.add(client);
                Thread.ofVirtual().name(name).start(() -> talk(client, conversation));
            } catch (IOException _) {
                // closed, or a client that has gone
            }
        }
    }

    private void talk(Socket client, Conversation conversation) {
        try (client) {
            conversation.talk(client);
        } catch (IOException _) {
            // the client has gone
        } finally {
            connected.remove(client);
        }
    }

    @Override
    public void close() throws IOException {
        listener.close();
        for (Socket client : connected) {
            client.close();
        }
    }
}
