package kadrem.load.generator;

import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.EOFException;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.ByteBuffer;
import java.util.Optional;

/** Frames on a stream: a byte that tells what follows, the length, the bytes. Any thread may write; one reads. */
final class Frames {
    /** A {@link Message}. */
    static final int MESSAGE = 1;
    /** A second: four bytes of the session's number, then a {@link TallyFrame}. */
    static final int SECOND = 2;
    /** No order or second of good faith is larger. */
    private static final int MAX_BYTES = 512 * 1024 * 1024;

    private final DataInputStream in;
    private final DataOutputStream out;

    /** One frame. */
    record Frame(int kind, byte[] bytes) {
        int session() {
            return ByteBuffer.wrap(bytes).getInt();
        }
    }

    Frames(InputStream in, OutputStream out) {
        this.in = new DataInputStream(in);
        this.out = new DataOutputStream(out);
    }

    void send(Message message) throws IOException {
        send(MESSAGE, MessageJson.write(message), new byte[0]);
    }

    void send(int session, byte[] second) throws IOException {
        send(SECOND, ByteBuffer.allocate(Integer.BYTES).putInt(session).array(), second);
    }

    private synchronized void send(int kind, byte[] first, byte[] rest) throws IOException {
        out.writeByte(kind);
        out.writeInt(first.length + rest.length);
        out.write(first);
        out.write(rest);
        out.flush();
    }

    /** The next frame; empty at the end of the stream. */
    Optional<Frame> next() throws IOException {
        try {
            int kind = in.readUnsignedByte();
            int length = in.readInt();
            if (length < 0 || length > MAX_BYTES) {
                throw new IOException("a frame of " + length + " bytes");
            }
            byte[] bytes = new byte[length];
            in.readFully(bytes);
            return Optional.of(new Frame(kind, bytes));
        } catch (EOFException _) {
            return Optional.empty();
        }
    }
}
