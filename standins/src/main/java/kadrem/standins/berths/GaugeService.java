package kadrem.standins.berths;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.net.DatagramPacket;
import java.net.DatagramSocket;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.net.SocketException;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.Locale;
import java.util.concurrent.CountDownLatch;
import java.util.stream.Collectors;

/**
 * A tide gauge that is asked by a line of text, over TCP and, on the same port, over UDP: {@code tide north-mole 2026-07-14} is answered
 * by the heights of that day in metres, {@code stations} by the names; anything else by a line that begins with {@code error}.
 */
public final class GaugeService implements AutoCloseable {
    private static final int MAX_LINE = 200;

    private final ServerSocket lines;
    private final DatagramSocket datagrams;

    private GaugeService(int port) throws IOException {
        InetAddress loopback = InetAddress.getLoopbackAddress();
        lines = new ServerSocket(port, 256, loopback);
        datagrams = new DatagramSocket(new InetSocketAddress(loopback, lines.getLocalPort()));
        Thread.ofPlatform().daemon().name("gauge-lines").start(this::accept);
        Thread.ofPlatform().daemon().name("gauge-datagrams").start(this::receive);
    }

    /** @param port 0 for any free one */
    public static GaugeService on(int port) throws IOException {
        return new GaugeService(port);
    }

    public int port() {
        return lines.getLocalPort();
    }

    /** Answers until the process ends. */
    public void serve() throws InterruptedException {
        System.out.println("tide gauge answers on tcp://127.0.0.1:" + port() + " and udp://127.0.0.1:" + port());
        new CountDownLatch(1).await();
    }

    private static String answer(String line) {
        String[] words = line.strip().split(" ");
        if (words.length == 1 && words[0].equals("stations")) {
            return String.join(" ", Tides.stations());
        }
        if (words.length != 3 || !words[0].equals("tide")) {
            return "error: ask tide STATION DAY, or stations";
        }
        return Json.day(words[2]).map(day -> Tides.day(words[1], day)
                .map(heights -> Arrays.stream(heights)
                        .map(height -> String.format(Locale.ROOT, "%.3f", Json.metres(height)))
                        .collect(Collectors.joining(" ")))
                .orElse("error: no such station")).orElse("error: give the day as 2026-07-14");
    }

    private void accept() {
        while (!lines.isClosed()) {
            try {
                Socket client = lines.accept();
                client.setTcpNoDelay(true);
                Thread.ofVirtual().start(() -> talk(client));
            } catch (IOException _) {
                // closed, or a client that has gone
            }
        }
    }

    private static void talk(Socket client) {
        try (client;
                var reader = new BufferedReader(new InputStreamReader(client.getInputStream(),
                        StandardCharsets.UTF_8))) {
            for (String line = reader.readLine(); line != null && line.length() <= MAX_LINE; line = reader
                    .readLine()) {
                client.getOutputStream().write((answer(line) + "\n").getBytes(StandardCharsets.UTF_8));
            }
        } catch (IOException _) {
            // the client has gone
        }
    }

    private void receive() {
        byte[] buffer = new byte[MAX_LINE];
        while (!datagrams.isClosed()) {
            try {
                var asked = new DatagramPacket(buffer, buffer.length);
                datagrams.receive(asked);
                byte[] answer = answer(new String(buffer, 0, asked.getLength(), StandardCharsets.UTF_8))
                        .getBytes(StandardCharsets.UTF_8);
                datagrams.send(new DatagramPacket(answer, answer.length, asked.getSocketAddress()));
            } catch (SocketException _) {
                // closed
            } catch (IOException _) {
                // an answer that cannot be sent is lost, as datagrams may be
            }
        }
    }

    @Override
    public void close() throws IOException {
        lines.close();
        datagrams.close();
    }
}
