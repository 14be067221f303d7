package kadrem.standins.habits;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.util.Locale;
import java.util.Optional;

/**
 * A request of HTTP/1.1 whose body, where it has one, has a length (RFC 9112).
 *
 * @param target path and query
 */
record Request(String method, String target, String head, byte[] body) {
    private static final int MAX_HEAD = 64 << 10;
    private static final int MAX_BODY = 8 << 20;

    /** Reads the next one; empty where the connection has ended. */
    static Optional<Request> read(InputStream in) throws IOException {
        String head = head(in);
        if (head.isEmpty()) {
            return Optional.empty();
        }
        String[] first = head.lines().findFirst().orElse("").split(" ");
        if (first.length != 3) {
            throw new IOException("no request of HTTP");
        }
        int length = length(head);
        return Optional.of(new Request(first[0], first[1], head, in.readNBytes(length)));
    }

    /** Everything up to the empty line; empty where nothing comes. */
    static String head(InputStream in) throws IOException {
        var bytes = new ByteArrayOutputStream(512);
        int ends = 0;
        while (ends < 4) {
            int next = in.read();
            if (next < 0) {
                return "";
            }
            bytes.write(next);
            ends = next == (ends % 2 == 0 ? '\r' : '\n') ? ends + 1 : next == '\r' ? 1 : 0;
            if (bytes.size() > MAX_HEAD) {
                throw new IOException("a head without end");
            }
        }
        return bytes.toString(StandardCharsets.ISO_8859_1);
    }

    /** The length of the body that follows a head. */
    static int length(String head) throws IOException {
        String told = head.lines().filter(line -> line.toLowerCase(Locale.ROOT).startsWith("content-length:"))
                .map(line -> line.substring("content-length:".length()).strip()).findFirst().orElse("0");
        if (!told.matches("\\d{1,8}") || Integer.parseInt(told) > MAX_BODY) {
            throw new IOException("a body of " + told + " bytes");
        }
        return Integer.parseInt(told);
    }
}
