package kadrem.load.drive.http;

import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Optional;

import io.netty.buffer.ByteBuf;
import io.netty.buffer.Unpooled;
import io.netty.channel.Channel;
import kadrem.core.measure.FailureKind;
import kadrem.core.study.Wire;
import kadrem.load.content.ResponseCheck;
import kadrem.load.content.ResponseView;
import kadrem.load.content.UnreadableContent;
import kadrem.load.drive.CallValues;
import kadrem.load.drive.InspectableCarrier;
import kadrem.load.net.LaneLoop;
import org.jspecify.annotations.Nullable;

/** Calls of HTTP/1.1, one at a time, on a connection that may be shared. Confined to its lane. */
final class HttpCarrier implements InspectableCarrier {
    /** Bytes of a message that are kept for an example. */
    static final int MAX_TEXT = 4096;

    private final HttpParts parts;
    private final HttpConnection connection;
    private final LaneLoop loop;
    private final Runnable departure = this::depart;
    private final HttpExchange exchange;
    private final Listener listener;
    private final View view = new View();
    private final ResponseScanner scanner = new ResponseScanner();
    /** The beginning of a response that came in several reads. */
    private final ByteBuf earlier = Unpooled.buffer(0, MAX_TEXT);
    private final boolean ownConnection;
    private ByteBuf current = Unpooled.EMPTY_BUFFER;
    /** The body of a response that a check looks into; made when the first such call is sent. */
    private @Nullable KeptBody body;
    /** Where a request is written and not yet handed to the system. */
    private @Nullable Channel departing;
    private int departingBytes;
    private boolean keepsAll;
    private int currentStart;
    private int currentEnd;
    private boolean busy;
    private boolean again;
    private long bytesIn;
    private final AnswerPieces pieces = new AnswerPieces();
    private final AnswerSum sum;

    HttpCarrier(HttpParts parts, HttpConnection connection, LaneLoop loop, ResponseCheck[] checks,
            Listener listener) {
        this.parts = parts;
        this.connection = connection;
        this.loop = loop;
        this.listener = listener;
        exchange = new HttpExchange(parts, checks);
        sum = new AnswerSum(exchange);
        ownConnection = parts.wire().reuse() != Wire.Reuse.KEEP;
    }

    @Override
    public void open(Runnable whenSettled) {
        if (ownConnection) {
            // each visit or call makes its own
            whenSettled.run();
        } else {
            connection.open(whenSettled);
        }
    }

    @Override
    public void beginVisit() {
        if (ownConnection) {
            connection.drop(FailureKind.CLOSED);
        }
    }

    @Override
    public void send(int callNumber, CallValues callValues) {
        busy = true;
        again = false;
        bytesIn = 0;
        exchange.begin(callNumber, callValues);
        sum.begin();
        pieces.begin();
        expect();
        connection.send(this);
    }

    private void expect() {
        earlier.clear();
        scanner.expect(exchange.isHead(), keepsAll || exchange.needsBody() ? bodyToKeep() : null, sum);
    }

    /** Writes the request now due. */
    void writeTo(Channel open) {
        ByteBuf request = exchange.request(open.alloc());
        departing = open;
        departingBytes = request.readableBytes();
        open.write(request, open.voidPromise());
        loop.depart(departure);
    }

    /** Hands what was written to the system, unless the call was given up since. */
    private void depart() {
        Channel open = departing;
        departing = null;
        if (open == null) {
            return;
        }
        if (busy && !again) {
            listener.sent(System.nanoTime(), departingBytes);
        }
        open.flush();
    }

    void connected(long connectNanos, long handshakeNanos) {
        listener.connected(connectNanos, handshakeNanos);
    }

    @Override
    public void abandon(FailureKind kind) {
        if (busy) {
            busy = false;
            connection.forget(this);
            failed(kind, "");
        }
    }

    @Override
    public void close() {
        busy = false;
        connection.close();
        // large bodies go with the connection, whoever still knows this carrier
        scanner.expect(false, null);
        KeptBody kept = body;
        body = null;
        if (kept != null) {
            kept.clear();
        }
    }

    /** The connection has broken before the answer was whole. */
    void broken(FailureKind kind, String detail) {
        if (busy) {
            busy = false;
            failed(kind, detail);
        }
    }

    private void failed(FailureKind kind, String detail) {
        listener.failed(System.nanoTime(), kind, scanner.status(), bytesIn, detail);
    }

    /** Reads what is this call's of {@code in}. */
    ResponseScanner.Progress feed(ByteBuf in) {
        if (keepsAll && bytesIn == 0) {
            listener.arriving(System.nanoTime());
        }
        current = in;
        currentStart = in.readerIndex();
        ResponseScanner.Progress progress = scanner.feed(in);
        currentEnd = in.readerIndex();
        bytesIn += currentEnd - currentStart;
        if (progress == ResponseScanner.Progress.MORE) {
            pieces.piece(System.nanoTime());
            int room = Math.min(MAX_TEXT - earlier.readableBytes(), currentEnd - currentStart);
            if (room > 0) {
                earlier.writeBytes(in, currentStart, room);
            }
            current = Unpooled.EMPTY_BUFFER;
            currentStart = 0;
            currentEnd = 0;
        }
        return progress;
    }

    boolean keepsConnection() {
        return scanner.keepsConnection() && parts.wire().reuse() != Wire.Reuse.PER_CALL;
    }

    boolean endsWithConnection() {
        return scanner.endsWithConnection();
    }

    /** The answer is whole. */
    void whole() {
        try {
            if (busy && exchange.goesOn(view, scanner.status())) {
                again = true;
                expect();
                connection.send(this);
            } else if (busy) {
                busy = false;
                long now = System.nanoTime();
                Optional<FailureKind> failure = exchange.failure();
                if (failure.isEmpty()) {
                    pieces.tell(now, listener);
                    sum.tell(listener);
                    listener.good(now, scanner.status(), bytesIn);
                } else {
                    listener.failed(now, failure.get(), scanner.status(), bytesIn, exchange.detail());
                }
            }
        } finally {
            current = Unpooled.EMPTY_BUFFER;
            currentStart = 0;
            currentEnd = 0;
            forgetBody();
        }
    }

    /** A body that was looked into takes no room from those that come. */
    private void forgetBody() {
        KeptBody kept = body;
        if (kept != null && !keepsAll) {
            kept.clear();
        }
    }

    private KeptBody bodyToKeep() {
        KeptBody made = body;
        if (made == null) {
            made = new KeptBody();
            body = made;
        }
        return made;
    }

    @Override
    public String requestText(int callNumber, CallValues callValues) {
        return exchange.shown(callNumber, callValues, MAX_TEXT);
    }

    @Override
    public String requestText(int callNumber, CallValues callValues, int mostBytes) {
        return exchange.shown(callNumber, callValues, mostBytes);
    }

    @Override
    public String responseText() {
        String first = earlier.toString(StandardCharsets.UTF_8);
        int more = Math.min(MAX_TEXT - earlier.readableBytes(), currentEnd - currentStart);
        return parts.secrets()
                .mask(more <= 0 ? first : first + current.toString(currentStart, more, StandardCharsets.UTF_8));
    }

    @Override
    public void keepAnswers() {
        keepsAll = true;
    }

    @Override
    public String tls() {
        return connection.tls();
    }

    @Override
    public String head() {
        return scanner.head();
    }

    @Override
    public byte[] answerBody() {
        KeptBody kept = body;
        return kept == null ? new byte[0] : kept.soFar();
    }

    /** The response that has just become whole. */
    private final class View implements ResponseView {
        @Override
        public List<String> headers(String name) {
            return scanner.headers(name);
        }

        @Override
        public byte[] body() throws UnreadableContent {
            KeptBody kept = body;
            return kept == null ? new byte[0] : kept.whole();
        }
    }
}
