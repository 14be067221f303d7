package kadrem.standins.troubled;

import java.io.EOFException;
import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.time.Duration;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;

/** A tide gauge far away, of which each answer is a given time under way. It is asked over a connection a question. */
public final class RemoteGauge implements AutoCloseable {
    private final ServerSocket listener;
    private final ScheduledExecutorService way = Executors
            .newSingleThreadScheduledExecutor(Thread.ofPlatform().daemon().name("gauge-way").factory());
    private final long answerNanos;

    public RemoteGauge(Duration answerAfter) throws IOException {
        answerNanos = answerAfter.toNanos();
        listener = new ServerSocket(0, 256, InetAddress.getLoopbackAddress());
        Thread.ofVirtual().start(this::listen);
    }

    private void listen() {
        try {
            while (true) {
                Socket socket = listener.accept();
                way.schedule(() -> answer(socket), answerNanos, TimeUnit.NANOSECONDS);
            }
        } catch (IOException _) {
            // closed
        }
    }

    private static void answer(Socket socket) {
        try (socket) {
            socket.getOutputStream().write(7);
        } catch (IOException _) {
            // who asked has gone
        }
    }

    /** Waits for an answer. */
    void ask() throws IOException {
        try (var socket = new Socket(listener.getInetAddress(), listener.getLocalPort())) {
            if (socket.getInputStream().read() < 0) {
                throw new EOFException("the gauge does not answer");
            }
        }
    }

    @Override
    public void close() throws IOException {
        listener.close();
        way.shutdownNow();
    }
}
