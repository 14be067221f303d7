package kadrem.load.drive.sql;

import java.io.FilterInputStream;
import java.io.FilterOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

import javax.net.SocketFactory;

import kadrem.load.drive.AnswerRoom;

/**
 * Sockets of JDBC drivers that can be told whose sockets to take (their property {@code socketFactory}). Such a driver reads
 * and writes on the thread that executes the statement; so the bytes of each thread are counted, whatever connection of a
 * pool they went over. With TLS they are the bytes on the wire.
 * <p>
 * Public, since a driver makes it by its name.
 */
public class CountedSockets extends SocketFactory {
    private static final String POSTGRESQL = "jdbc:postgresql:";
    private static final String MAX_ROWS = "maxResultBuffer";
    /** Beginnings of the addresses whose drivers take the property. */
    private static final List<String> TAKE_IT = List.of(POSTGRESQL, "jdbc:mariadb:");
    private static final String PROPERTY = "socketFactory";
    static final String TOO_MUCH = "the answer takes too much memory, or does not end; ask for fewer rows, or have them"
            + " fetched in pieces (fetch, and a transaction by visit)";
    private static final ThreadLocal<Traffic> OF_THREAD = ThreadLocal.withInitial(Traffic::new);

    /** Bytes that a thread has sent and received, and the room that the answer takes which it reads. */
    static final class Traffic {
        /** What a driver makes of a byte of rows that it keeps, about; and of one of what it may send beside them, such as warnings. */
        private static final int BYTES_A_BYTE = 4;
        private static final int BYTES_A_BYTE_AT_MOST = 32;
        private final AnswerRoom room = AnswerRoom.upToAll();
        private long sent;
        private long received;
        private boolean reads;
        private int bytesAByte = BYTES_A_BYTE;

        private Traffic() {
        }

        /** A statement is executed from now on. */
        void begin() {
            begin(BYTES_A_BYTE);
        }

        /** A question is asked whose answer is small, from now on. */
        void beginBeside() {
            begin(BYTES_A_BYTE_AT_MOST);
        }

        private void begin(int countsAs) {
            sent = 0;
            received = 0;
            reads = true;
            bytesAByte = countsAs;
        }

        /** The rows so far are not kept any more, since they are fetched in pieces. */
        void passed() {
            room.release();
        }

        /** Its answer is not kept any more. */
        void end() {
            reads = false;
            room.release();
        }

        long sent() {
            return sent;
        }

        long received() {
            return received;
        }
    }

    /** As below, for one answer at a time. */
    public static Map<String, String> properties(String address) {
        return properties(address, AnswerRoom.MAX_OF_ONE);
    }

    /**
     * Properties with which the driver of {@code address} takes these sockets; none where it cannot, or has others.
     *
     * @param mostRows bytes of rows for which a driver makes room because the database says that they will come
     */
    static Map<String, String> properties(String address, long mostRows) {
        var properties = new HashMap<String, String>();
        if (TAKE_IT.stream().anyMatch(address::startsWith) && !address.contains(PROPERTY)) {
            properties.put(PROPERTY,
                    (address.startsWith(POSTGRESQL) ? OfPostgres.class : CountedSockets.class).getName());
        }
        if (address.startsWith(POSTGRESQL) && !address.contains(MAX_ROWS)) {
            properties.put(MAX_ROWS, Long.toString(mostRows));
        }
        return properties;
    }

    /** Whether a driver failed since there was no room for an answer. */
    static boolean isTooMuch(Throwable failure) {
        return failure instanceof AnswerWithoutEnd || String.valueOf(failure.getMessage()).contains(MAX_ROWS);
    }

    /** What the present thread has sent and received. */
    static Traffic ofThread() {
        return OF_THREAD.get();
    }

    /** Sockets whose messages are followed, too. Public, since a driver makes it by its name. */
    public static final class OfPostgres extends CountedSockets {
        @Override
        public Socket createSocket() {
            return new Counted(Optional.of(new PostgresFrames(AnswerRoom.MAX_OF_ONE)));
        }
    }

    @Override
    public Socket createSocket() {
        return new Counted(Optional.empty());
    }

    @Override
    public Socket createSocket(String host, int port) throws IOException {
        return connected(new InetSocketAddress(host, port));
    }

    @Override
    public Socket createSocket(InetAddress host, int port) throws IOException {
        return connected(new InetSocketAddress(host, port));
    }

    @Override
    public Socket createSocket(String host, int port, InetAddress local, int localPort) throws IOException {
        return createSocket(InetAddress.getByName(host), port, local, localPort);
    }

    @Override
    public Socket createSocket(InetAddress host, int port, InetAddress local, int localPort) throws IOException {
        Socket made = createSocket();
        try {
            made.bind(new InetSocketAddress(local, localPort));
            made.connect(new InetSocketAddress(host, port));
            return made;
        } catch (IOException cause) {
            made.close();
            throw cause;
        }
    }

    private Socket connected(InetSocketAddress to) throws IOException {
        Socket made = createSocket();
        try {
            made.connect(to);
            return made;
        } catch (IOException cause) {
            made.close();
            throw cause;
        }
    }

    private static final class Counted extends Socket {
        private final Optional<PostgresFrames> frames;

        Counted(Optional<PostgresFrames> frames) {
            this.frames = frames;
        }

        @Override
        public InputStream getInputStream() throws IOException {
            return new CountedInput(super.getInputStream(), frames);
        }

        @Override
        public OutputStream getOutputStream() throws IOException {
            return new CountedOutput(super.getOutputStream(), frames);
        }
    }

    /** Counts, and gives up what does not end. */
    private static final class CountedInput extends FilterInputStream {
        /** Most that comes beside the answers to statements, as when a connection is made. */
        private static final long MAX_BESIDE = 64L << 20;
        private final Optional<PostgresFrames> frames;
        private long beside;

        CountedInput(InputStream in, Optional<PostgresFrames> frames) {
            super(in);
            this.frames = frames;
        }

        private void count(int read) throws IOException {
            Traffic traffic = ofThread();
            traffic.received += read;
            beside += traffic.reads ? 0 : read;
            if (beside > MAX_BESIDE || traffic.reads && !traffic.room.take((long) traffic.bytesAByte * read)) {
                throw new AnswerWithoutEnd();
            }
        }

        @Override
        public int read() throws IOException {
            var one = new byte[1];
            return read(one, 0, 1) < 0 ? -1 : one[0] & 0xff;
        }

        @Override
        public int read(byte[] into, int offset, int length) throws IOException {
            int read = in.read(into, offset, length);
            if (read > 0) {
                count(read);
                if (frames.isPresent()) {
                    frames.get().received(into, offset, read);
                }
            }
            return read;
        }
    }

    /** More came than there is room for. */
    static final class AnswerWithoutEnd extends IOException {
        private static final long serialVersionUID = 1L;

        AnswerWithoutEnd() {
            super(TOO_MUCH);
        }
    }

    private static final class CountedOutput extends FilterOutputStream {
        private final Optional<PostgresFrames> frames;

        CountedOutput(OutputStream out, Optional<PostgresFrames> frames) {
            super(out);
            this.frames = frames;
        }

        @Override
        public void write(int one) throws IOException {
            write(new byte[]{(byte) one}, 0, 1);
        }

        @Override
        public void write(byte[] from, int offset, int length) throws IOException {
            frames.ifPresent(followed -> followed.sent(from, offset, length));
            out.write(from, offset, length);
            ofThread().sent += length;
        }
    }
}
