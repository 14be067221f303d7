package kadrem.load.drive.http;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;

import io.netty.buffer.ByteBuf;
import org.jspecify.annotations.Nullable;

/**
 * Finds the end of an HTTP/1.1 response (RFC 9112, section 6) without making objects of it: the head is scanned for what frames the body,
 * the body is counted; one file, since it is one state machine. One response at a time; confined to a lane.
 */
final class ResponseScanner {
    /** Larger heads than this are refused: no candidate of good faith sends them, and memory must not grow with them. */
    static final int MAX_HEAD_BYTES = 64 * 1024;
    private static final int HEAD_STEP = 1024;
    private static final byte[] CONTENT_LENGTH = "content-length".getBytes(java.nio.charset.StandardCharsets.US_ASCII);
    private static final byte[] TRANSFER_ENCODING = "transfer-encoding"
            .getBytes(java.nio.charset.StandardCharsets.US_ASCII);
    private static final byte[] CONNECTION = "connection".getBytes(java.nio.charset.StandardCharsets.US_ASCII);
    private static final byte[] CHUNKED = "chunked".getBytes(java.nio.charset.StandardCharsets.US_ASCII);
    private static final byte[] CLOSE = "close".getBytes(java.nio.charset.StandardCharsets.US_ASCII);

    /** What is known after the bytes so far. */
    enum Progress {
        MORE, WHOLE, MALFORMED
    }

    private enum State {
        HEAD, COUNTED_BODY, BODY_TO_CLOSE, CHUNK_SIZE, CHUNK_EXTENSION, CHUNK_DATA, CHUNK_END, TRAILER, DONE
    }

    private byte[] head = new byte[1024];
    private int headLength;
    private State state = State.HEAD;
    private boolean noBody;
    private int status;
    private boolean keepsConnection;
    private boolean chunked;
    private long contentLength;
    private long left;
    private int chunkDigits;
    private int lineLength;
    private boolean lineIsCarriageReturn;
    private int headEnd;
    private @Nullable KeptBody body;
    private @Nullable AnswerSum sum;

    /**
     * Makes ready for the answer to a new request.
     *
     * @param isHead whether that was a HEAD request
     * @param keepIn where the body is put, cleared here; null where it is only counted
     */
    void expect(boolean isHead, @Nullable KeptBody keepIn) {
        expect(isHead, keepIn, null);
    }

    /** @param summed looks at the body's bytes as they pass */
    void expect(boolean isHead, @Nullable KeptBody keepIn, @Nullable AnswerSum summed) {
        sum = summed;
        noBody = isHead;
        body = keepIn;
        headEnd = 0;
        if (keepIn != null) {
            keepIn.clear();
        }
        beginHead();
        status = 0;
    }

    private void beginHead() {
        headLength = 0;
        state = State.HEAD;
        keepsConnection = true;
        chunked = false;
        contentLength = -1;
    }

    /** Status of the response, 0 before it is known. */
    int status() {
        return status;
    }

    /** Whether the connection may carry another call after this response. */
    boolean keepsConnection() {
        return keepsConnection;
    }

    /** Values of all headers of that name, in any case of letters, in order; of the last head that was whole. */
    List<String> headers(String name) {
        var values = new ArrayList<String>();
        byte[] lowerCase = name.toLowerCase(Locale.ROOT).getBytes(StandardCharsets.US_ASCII);
        int line = lineEnd(0, headEnd) + 1;
        while (line < headEnd) {
            int stop = lineEnd(line, headEnd);
            int colon = line + lowerCase.length;
            if (colon < stop && head[colon] == ':' && matches(lowerCase, line)) {
                values.add(new String(head, colon + 1, stop - colon - 1, StandardCharsets.ISO_8859_1).strip());
            }
            line = stop + 1;
        }
        return values;
    }

    /** The last head that was whole, as text. */
    String head() {
        return new String(head, 0, headEnd, StandardCharsets.ISO_8859_1);
    }

    /** Whether the body ends with the connection. */
    boolean endsWithConnection() {
        return state == State.BODY_TO_CLOSE;
    }

    /** Reads {@code in} up to the end of the response; bytes after it are left. */
    Progress feed(ByteBuf in) {
        while (in.isReadable() && state != State.DONE) {
            boolean ok = switch (state) {
                case HEAD -> readHead(in);
                case COUNTED_BODY -> skip(in, State.DONE);
                case BODY_TO_CLOSE -> {
                    take(in, in.readableBytes());
                    yield true;
                }
                case CHUNK_SIZE -> readChunkSize(in.readByte());
                case CHUNK_EXTENSION -> {
                    if (in.readByte() == '\n') {
                        beginChunk();
                    }
                    yield true;
                }
                case CHUNK_DATA -> skip(in, State.CHUNK_END);
                case CHUNK_END -> readChunkEnd(in.readByte());
                case TRAILER -> readTrailer(in.readByte());
                case DONE -> throw new IllegalStateException("the response is whole already");
            };
            if (!ok) {
                keepsConnection = false;
                return Progress.MALFORMED;
            }
        }
        return state == State.DONE ? Progress.WHOLE : Progress.MORE;
    }

    private boolean skip(ByteBuf in, State next) {
        int step = (int) Math.min(left, in.readableBytes());
        take(in, step);
        left -= step;
        if (left == 0) {
            state = next;
        }
        return true;
    }

    private void take(ByteBuf in, int length) {
        KeptBody kept = body;
        if (kept != null) {
            kept.add(in, in.readerIndex(), length);
        }
        AnswerSum looked = sum;
        if (looked != null) {
            looked.add(in, in.readerIndex(), length);
        }
        in.skipBytes(length);
    }

    private boolean readHead(ByteBuf in) {
        int before = headLength;
        // piece by piece, so that little of a body is copied that came with its head
        int taken = Math.min(Math.min(in.readableBytes(), HEAD_STEP), MAX_HEAD_BYTES - headLength);
        if (taken == 0) {
            return false;
        }
        if (head.length < headLength + taken) {
            head = Arrays.copyOf(head, Math.min(MAX_HEAD_BYTES, Math.max(head.length * 2, headLength + taken)));
        }
        in.getBytes(in.readerIndex(), head, headLength, taken);
        headLength += taken;
        int end = endOfHead(Math.max(0, before - 3));
        if (end < 0) {
            in.skipBytes(taken);
            return headLength < MAX_HEAD_BYTES && looksLikeHttp();
        }
        in.skipBytes(end - before);
        return parseHead(end) && beginBody();
    }

    /** Position after the empty line, or -1. */
    private int endOfHead(int from) {
        for (int i = from; i < headLength; i++) {
            if (head[i] == '\n' && i > 0
                    && (head[i - 1] == '\n' || i > 1 && head[i - 1] == '\r' && head[i - 2] == '\n')) {
                return i + 1;
            }
        }
        return -1;
    }

    private boolean looksLikeHttp() {
        String start = "HTTP/1.";
        for (int i = 0; i < Math.min(headLength, start.length()); i++) {
            if (head[i] != start.charAt(i)) {
                return false;
            }
        }
        return true;
    }

    private boolean parseHead(int end) {
        headEnd = end;
        if (end < 14 || !looksLikeHttp() || head[8] != ' ') {
            return false;
        }
        if (!isDigit(head[9]) || !isDigit(head[10]) || !isDigit(head[11])) {
            return false;
        }
        status = (head[9] - '0') * 100 + (head[10] - '0') * 10 + (head[11] - '0');
        if (status < 100 || head[12] != ' ' && head[12] != '\r' && head[12] != '\n') {
            return false;
        }
        keepsConnection = head[7] != '0';
        int line = lineEnd(0, end) + 1;
        while (line < end) {
            int stop = lineEnd(line, end);
            int last = stop > line && head[stop - 1] == '\r' ? stop - 1 : stop;
            if (last > line && !parseHeader(line, last)) {
                return false;
            }
            line = stop + 1;
        }
        return true;
    }

    private static boolean isDigit(byte b) {
        return b >= '0' && b <= '9';
    }

    private int lineEnd(int from, int end) {
        int i = from;
        while (i < end && head[i] != '\n') {
            i++;
        }
        return i;
    }

    private boolean parseHeader(int from, int to) {
        int colon = from;
        while (colon < to && head[colon] != ':') {
            colon++;
        }
        if (colon == from || colon == to) {
            return false;
        }
        int valueFrom = colon + 1;
        while (valueFrom < to && (head[valueFrom] == ' ' || head[valueFrom] == '\t')) {
            valueFrom++;
        }
        int length = colon - from;
        if (length == CONTENT_LENGTH.length && matches(CONTENT_LENGTH, from)) {
            return parseLength(valueFrom, to);
        }
        if (length == TRANSFER_ENCODING.length && matches(TRANSFER_ENCODING, from)) {
            chunked |= contains(CHUNKED, valueFrom, to);
        } else if (length == CONNECTION.length && matches(CONNECTION, from) && contains(CLOSE, valueFrom, to)) {
            keepsConnection = false;
        }
        return true;
    }

    private boolean parseLength(int from, int to) {
        int end = to;
        while (end > from && (head[end - 1] == ' ' || head[end - 1] == '\t')) {
            end--;
        }
        if (end == from || end - from > 18) {
            return false;
        }
        long value = 0;
        for (int i = from; i < end; i++) {
            int digit = head[i] - '0';
            if (digit < 0 || digit > 9) {
                return false;
            }
            value = value * 10 + digit;
        }
        if (contentLength >= 0 && contentLength != value) {
            return false;
        }
        contentLength = value;
        return true;
    }

    private boolean matches(byte[] lowerCase, int at) {
        for (int i = 0; i < lowerCase.length; i++) {
            if (lower(head[at + i]) != lowerCase[i]) {
                return false;
            }
        }
        return true;
    }

    private static int lower(byte b) {
        return b >= 'A' && b <= 'Z' ? b + 32 : b;
    }

    private boolean contains(byte[] lowerCase, int from, int to) {
        for (int i = from; i + lowerCase.length <= to; i++) {
            if (matches(lowerCase, i)) {
                return true;
            }
        }
        return false;
    }

    private boolean beginBody() {
        if (status < 200) {
            if (status == 101) {
                return false;
            }
            beginHead();
            return true;
        }
        if (noBody || status == 204 || status == 304) {
            state = State.DONE;
        } else if (chunked) {
            beginChunkSize();
        } else if (contentLength >= 0) {
            left = contentLength;
            state = left == 0 ? State.DONE : State.COUNTED_BODY;
        } else {
            keepsConnection = false;
            state = State.BODY_TO_CLOSE;
        }
        return true;
    }

    private void beginChunkSize() {
        state = State.CHUNK_SIZE;
        left = 0;
        chunkDigits = 0;
    }

    private boolean readChunkSize(byte b) {
        int digit = Character.digit(b, 16);
        if (digit >= 0) {
            left = left << 4 | digit;
            return ++chunkDigits <= 15;
        }
        if (chunkDigits == 0) {
            return false;
        }
        switch (b) {
            case '\n' -> beginChunk();
            case ';', '\r', ' ', '\t' -> state = State.CHUNK_EXTENSION;
            default -> {
                return false;
            }
        }
        return true;
    }

    private void beginChunk() {
        if (left == 0) {
            state = State.TRAILER;
            lineLength = 0;
            lineIsCarriageReturn = false;
        } else {
            state = State.CHUNK_DATA;
        }
    }

    private boolean readChunkEnd(byte b) {
        if (b == '\n') {
            beginChunkSize();
            return true;
        }
        return b == '\r';
    }

    private boolean readTrailer(byte b) {
        if (b == '\n') {
            if (lineLength == 0 || lineLength == 1 && lineIsCarriageReturn) {
                state = State.DONE;
            }
            lineLength = 0;
            return true;
        }
        lineLength++;
        lineIsCarriageReturn = b == '\r';
        return lineLength < MAX_HEAD_BYTES;
    }
}
