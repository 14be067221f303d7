package kadrem.load.drive.sql;

import java.io.FilterInputStream;
import java.io.FilterOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.util.List;
import java.util.Map;

import javax.net.SocketFactory;

/**
 * Sockets of JDBC drivers that can be told whose sockets to take (their property {@code socketFactory}). Such a driver reads
 * and writes on the thread that executes the statement; so the bytes of each thread are counted, whatever connection of a
 * pool they went over. With TLS they are the bytes on the wire.
 * <p>
 * Public, since a driver makes it by its name.
 */
public final class CountedSockets extends SocketFactory {
    /** Beginnings of the addresses whose drivers take the property. */
    private static final List<String> TAKE_IT = List.of("jdbc:postgresql:", "jdbc:mariadb:");
    private static final String PROPERTY = "socketFactory";
    private static final ThreadLocal<Traffic> OF_THREAD = ThreadLocal.withInitial(Traffic::new);

    /** Bytes that a thread has sent and received. */
    static final class Traffic {
        private long sent;
        private long received;

        private Traffic() {
        }

        void restart() {
            sent = 0;
            received = 0;
        }

        long sent() {
            return sent;
        }

        long received() {
            return received;
        }
    }

    /** Properties with which the driver of {@code address} takes these sockets; none where it cannot, or has others. */
    static Map<String, String> properties(String address) {
        return TAKE_IT.stream().anyMatch(address::startsWith) && !address.contains(PROPERTY)
                ? Map.of(PROPERTY, CountedSockets.class.getName())
                : Map.of();
    }

    /** What the present thread has sent and received. */
    static Traffic ofThread() {
        return OF_THREAD.get();
    }

    @Override
    public Socket createSocket() {
        return new Counted();
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
        var made = new Counted();
        try {
            made.bind(new InetSocketAddress(local, localPort));
            made.connect(new InetSocketAddress(host, port));
            return made;
        } catch (IOException cause) {
            made.close();
            throw cause;
        }
    }

    private static Socket connected(InetSocketAddress to) throws IOException {
        var made = new Counted();
        try {
            made.connect(to);
            return made;
        } catch (IOException cause) {
            made.close();
            throw cause;
        }
    }

    private static final class Counted extends Socket {
        @Override
        public InputStream getInputStream() throws IOException {
            return new CountedInput(super.getInputStream());
        }

        @Override
        public OutputStream getOutputStream() throws IOException {
            return new CountedOutput(super.getOutputStream());
        }
    }

    private static final class CountedInput extends FilterInputStream {
        CountedInput(InputStream in) {
            super(in);
        }

        @Override
        public int read() throws IOException {
            int read = in.read();
            if (read >= 0) {
                ofThread().received++;
            }
            return read;
        }

        @Override
        public int read(byte[] into, int offset, int length) throws IOException {
            int read = in.read(into, offset, length);
            if (read > 0) {
                ofThread().received += read;
            }
            return read;
        }
    }

    private static final class CountedOutput extends FilterOutputStream {
        CountedOutput(OutputStream out) {
            super(out);
        }

        @Override
        public void write(int one) throws IOException {
            out.write(one);
            ofThread().sent++;
        }

        @Override
        public void write(byte[] from, int offset, int length) throws IOException {
            out.write(from, offset, length);
            ofThread().sent += length;
        }
    }
}
