package kadrem.standins.broker;

import java.io.IOException;
import java.util.concurrent.CountDownLatch;

/**
 * An exchange of messages that speaks AMQP 0-9-1 on 127.0.0.1: direct, fanout and topic exchanges, queues, consumers, confirms.
 * It keeps everything in memory and has no transactions.
 */
public final class ExchangeService implements AutoCloseable {
    private final Clients clients;

    private ExchangeService(int port) throws IOException {
        clients = new Clients(port);
        var routing = new Routing();
        clients.each("exchange", client -> new ExchangeConnection(client, routing).talk());
    }

    /** @param port 0 for any free one */
    public static ExchangeService on(int port) throws IOException {
        return new ExchangeService(port);
    }

    public int port() {
        return clients.port();
    }

    /** Answers until the process ends. */
    public void serve() throws InterruptedException {
        System.out.println("exchange answers on amqp://127.0.0.1:" + port() + "/ for the user "
                + ExchangeConnection.USER + " with the password " + ExchangeConnection.USER);
        new CountDownLatch(1).await();
    }

    @Override
    public void close() throws IOException {
        clients.close();
    }
}
