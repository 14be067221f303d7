package kadrem.standins.broker;

import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.CountDownLatch;

/**
 * An exchange of messages that speaks AMQP 0-9-1 on 127.0.0.1: direct, fanout and topic exchanges, queues, consumers, confirms.
 * It keeps everything in memory and has no transactions.
 */
public final class ExchangeService implements AutoCloseable {
    private final ServerSocket listener;
    private final Routing routing = new Routing();
    private final Set<Socket> clients = ConcurrentHashMap.newKeySet();

    private ExchangeService(int port) throws IOException {
        listener = new ServerSocket(port, 256, InetAddress.getLoopbackAddress());
        Thread.ofPlatform().daemon().name("exchange").start(this::accept);
    }

    /** @param port 0 for any free one */
    public static ExchangeService on(int port) throws IOException {
        return new ExchangeService(port);
    }

    public int port() {
        return listener.getLocalPort();
    }

    private void accept() {
        while (!listener.isClosed()) {
            try {
                Socket client = listener.accept();
                client.setTcpNoDelay(true);
                clients.add(client);
                var connection = new ExchangeConnection(client, routing);
                Thread.ofVirtual().name("exchange-client").start(() -> {
                    connection.talk();
                    clients.remove(client);
                });
            } catch (IOException _) {
                // closed, or a client that has gone
            }
        }
    }

    /** Answers until the process ends. */
    public void serve() throws InterruptedException {
        System.out.println("exchange answers on amqp://127.0.0.1:" + port() + "/ for the user "
                + ExchangeConnection.USER + " with the password " + ExchangeConnection.USER);
        new CountDownLatch(1).await();
    }

    @Override
    public void close() throws IOException {
        listener.close();
        for (Socket client : clients) {
            client.close();
        }
    }
}
