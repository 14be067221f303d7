package kadrem.standins.habits;

import java.io.BufferedInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.net.DatagramPacket;
import java.net.DatagramSocket;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.net.SocketTimeoutException;
import java.nio.charset.StandardCharsets;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicLong;
import java.util.concurrent.atomic.AtomicReference;
import java.util.concurrent.locks.LockSupport;

import javax.net.ssl.SSLContext;
import javax.net.ssl.SSLSocket;

/**
 * A berth board of HTTP/1.1, a virtual thread for each connection, with one {@link Habit}. {@code GET /berths/ANY} answers with the berths
 * of that dock, {@code POST} takes a reservation, {@code GET /health} says that it is up.
 */
public final class HabitService implements AutoCloseable {
    private static final int BERTHS = 24;
    /** Questions a second from which on a board that shortens leaves berths out. */
    private static final int MUCH = 60;
    private static final int ROOM = 8;
    private static final int ONE_IN = 25;
    private static final int GIVES_UP_MILLIS = 1_000;
    private static final int PIECE_BYTES = 400;
    private static final long EVERY = TimeUnit.MILLISECONDS.toNanos(2_500);
    private static final long FOR = TimeUnit.MILLISECONDS.toNanos(200);

    private final Habit habit;
    private final ServerSocket listener;
    private final Optional<Certificates> certificates;
    private final Optional<SSLContext> remembered;
    private final Backend backend;
    private final DatagramSocket silent;
    private final Semaphore room;
    private final AtomicReference<String> cache = new AtomicReference<>("");
    private final AtomicLong questions = new AtomicLong();
    private final Set<Socket> open = ConcurrentHashMap.newKeySet();
    private final long begun = System.nanoTime();
    private long second;
    private long inSecond;

    private HabitService(Habit habit, int port) throws IOException {
        this.habit = habit;
        certificates = habit.speaksTls() ? Optional.of(Certificates.make()) : Optional.empty();
        remembered = habit == Habit.REMEMBERING
                ? Optional.of(certificates.orElseThrow().context())
                : Optional.empty();
        room = new Semaphore(habit == Habit.FULL ? ROOM : Integer.MAX_VALUE);
        backend = new Backend();
        silent = new DatagramSocket(0, InetAddress.getLoopbackAddress());
        listener = new ServerSocket(port, 256, InetAddress.getLoopbackAddress());
    }

    /** @param port 0 for any free one */
    public static HabitService start(Habit habit, int port) throws IOException {
        var service = new HabitService(habit, port);
        Thread.ofVirtual().start(service::listen);
        return service;
    }

    public int port() {
        return listener.getLocalPort();
    }

    private void listen() {
        try {
            while (true) {
                Socket socket = listener.accept();
                if (habit == Habit.SINGLE) {
                    serve(socket);
                } else if (room.tryAcquire()) {
                    Thread.ofVirtual().start(() -> {
                        try {
                            serve(socket);
                        } finally {
                            room.release();
                        }
                    });
                } else {
                    socket.close();
                }
            }
        } catch (IOException _) {
            // closed
        }
    }

    private void serve(Socket plain) {
        open.add(plain);
        try (Socket socket = secured(plain)) {
            plain.setTcpNoDelay(habit != Habit.IN_PIECES);
            var in = new BufferedInputStream(socket.getInputStream());
            boolean goesOn = true;
            while (goesOn) {
                Optional<Request> request = Request.read(in);
                goesOn = request.isPresent() && habit != Habit.CLOSING;
                if (request.isPresent()) {
                    answer(request.get(), socket.getOutputStream());
                }
            }
        } catch (IOException _) {
            // who asked has gone
        } finally {
            open.remove(plain);
        }
    }

    private Socket secured(Socket plain) throws IOException {
        if (certificates.isEmpty()) {
            return plain;
        }
        SSLContext context = remembered.isPresent() ? remembered.get() : certificates.get().context();
        var secured = (SSLSocket) context.getSocketFactory().createSocket(plain, null, plain.getPort(), true);
        secured.setUseClientMode(false);
        return secured;
    }

    private void answer(Request request, OutputStream out) throws IOException {
        if (request.target().equals("/health")) {
            write(out, 204, new byte[0]);
        } else if (request.method().equals("POST")) {
            write(out, habit == Habit.EXPECTING ? backend.handOn(request.body()) : 201, new byte[0]);
        } else {
            write(out, 200, berths(request.target()).getBytes(StandardCharsets.US_ASCII));
        }
    }

    private String berths(String target) throws IOException {
        long question = questions.incrementAndGet();
        if (habit == Habit.PATIENT && question % ONE_IN == 0) {
            askWhoNeverAnswers();
        }
        if (habit == Habit.WRITING) {
            long into = (System.nanoTime() - begun) % EVERY;
            if (into < FOR) {
                LockSupport.parkNanos(FOR - into);
            }
        }
        String all = board(target, habit == Habit.SHORTENING && isMuch() ? BERTHS / 4 : BERTHS);
        if (habit == Habit.CACHED) {
            cache.compareAndSet("", all);
            return cache.get();
        }
        return all;
    }

    /** Whether more was asked for in this second than it likes. */
    private synchronized boolean isMuch() {
        long now = TimeUnit.NANOSECONDS.toSeconds(System.nanoTime() - begun);
        if (now != second) {
            second = now;
            inSecond = 0;
        }
        return ++inSecond > MUCH;
    }

    private static String board(String target, int berths) {
        var text = new StringBuilder("{\"dock\":\"").append(target.replaceAll("[^A-Za-z0-9/]", ""))
                .append("\",\"berths\":[");
        for (int i = 0; i < berths; i++) {
            text.append(i == 0 ? "" : ",").append("{\"berth\":\"").append(i).append("\",\"free\":")
                    .append((target.hashCode() >> i % 31 & 1) == 0).append('}');
        }
        return text.append("]}").toString();
    }

    /** The question goes to a socket at which nobody reads. */
    private void askWhoNeverAnswers() throws IOException {
        try (var asks = new DatagramSocket()) {
            asks.setSoTimeout(GIVES_UP_MILLIS);
            asks.send(new DatagramPacket(new byte[]{1}, 1, silent.getLocalAddress(), silent.getLocalPort()));
            asks.receive(new DatagramPacket(new byte[1], 1));
        } catch (SocketTimeoutException _) {
            // it answers without
        }
    }

    private void write(OutputStream out, int status, byte[] body) throws IOException {
        String words = status == 200 ? "OK" : status == 201 ? "Created" : "No Content";
        byte[] head = ("HTTP/1.1 " + status + " " + words + "\r\nContent-Type: application/json\r\n"
                + (status == 204 ? "" : "Content-Length: " + body.length + "\r\n")
                + (habit == Habit.CLOSING ? "Connection: close\r\n" : "") + "\r\n")
                .getBytes(StandardCharsets.US_ASCII);
        if (habit == Habit.IN_PIECES) {
            out.write(head);
            for (int at = 0; at < body.length; at += PIECE_BYTES) {
                out.write(body, at, Math.min(PIECE_BYTES, body.length - at));
            }
            return;
        }
        var whole = new ByteArrayOutputStream(head.length + body.length);
        whole.write(head);
        whole.write(body);
        out.write(whole.toByteArray());
    }

    @Override
    public void close() throws IOException {
        listener.close();
        silent.close();
        backend.close();
        for (Socket socket : open) {
            socket.close();
        }
    }
}
