package kadrem.load.drive.http;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

import io.netty.buffer.ByteBuf;
import io.netty.buffer.ByteBufAllocator;
import io.netty.buffer.Unpooled;
import io.netty.handler.codec.http.HttpHeaderNames;
import io.netty.handler.codec.http2.Http2Headers;
import kadrem.core.measure.FailureKind;
import kadrem.core.study.Wire;
import kadrem.load.content.ResponseCheck;
import kadrem.load.content.ResponseView;
import kadrem.load.content.UnreadableContent;
import kadrem.load.drive.CallValues;
import kadrem.load.drive.InspectableCarrier;
import kadrem.load.net.LaneLoop;
import org.jspecify.annotations.Nullable;

/**
 * Calls of HTTP/2, one at a time, each a stream of a connection that may be shared; one file, since it is one state machine. Confined to
 * its lane.
 */
final class Http2Carrier implements InspectableCarrier {
    private final HttpParts parts;
    private final Http2Connection connection;
    private final HttpExchange exchange;
    private final Listener listener;
    private final LaneLoop loop;
    private final Runnable departure = this::depart;
    private final View view = new View();
    private final KeptBody body = new KeptBody();
    /** Where values of headers are written before they are texts. */
    private final ByteBuf scratch = Unpooled.buffer(64);
    private final boolean ownConnection;
    /** The connection on which the request was written, with its stream there; null before, and when the answer is over. */
    private @Nullable Http2Streams streams;
    private @Nullable Http2Stream stream;
    private @Nullable Http2Headers answer;
    private int status;
    private boolean keepsBody;
    private long bodyBytes;
    private boolean keepsAll;
    private boolean busy;
    private boolean again;
    private long bytesIn;
    private final AnswerPieces pieces = new AnswerPieces();
    private final AnswerSum sum;

    Http2Carrier(HttpParts parts, Http2Connection connection, LaneLoop loop, ResponseCheck[] checks,
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
            whenSettled.run();
        } else {
            connection.open(whenSettled);
        }
    }

    @Override
    public void beginVisit() {
        if (ownConnection) {
            connection.drop();
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
        request();
    }

    private void request() {
        streams = null;
        stream = null;
        answer = null;
        status = 0;
        bodyBytes = 0;
        body.clear();
        keepsBody = keepsAll || exchange.needsBody();
        connection.send(this);
    }

    void connected(long connectNanos, long handshakeNanos) {
        listener.connected(connectNanos, handshakeNanos);
    }

    /** Writes the request now due on a stream of its own. */
    void writeTo(Http2Streams open) {
        if (!busy) {
            return;
        }
        ByteBuf content = exchange.body(ByteBufAllocator.DEFAULT);
        Http2Headers head = exchange.headers(scratch, content.readableBytes());
        Http2Stream made = open.write(this, head, content);
        if (made == null) {
            connection.send(this);
            return;
        }
        streams = open;
        stream = made;
        loop.depart(departure);
    }

    /** Hands what was written to the system, unless the call was given up since. */
    private void depart() {
        Http2Streams open = streams;
        Http2Stream mine = stream;
        if (open == null || mine == null) {
            return;
        }
        long now = System.nanoTime();
        open.flush();
        if (busy && !again) {
            listener.sent(now, mine.bytesOut);
        }
    }

    @Override
    public void abandon(FailureKind kind) {
        if (busy) {
            busy = false;
            connection.forget(this);
            Http2Streams open = streams;
            Http2Stream mine = stream;
            count();
            if (open != null && mine != null) {
                open.cancel(mine);
            }
            failed(kind, "");
        }
    }

    @Override
    public void close() {
        busy = false;
        connection.close();
        // large bodies go with the connection, whoever still knows this carrier
        body.clear();
    }

    /** The stream or its connection has broken before the answer was whole. */
    void broken(FailureKind kind, String detail) {
        if (busy) {
            busy = false;
            count();
            failed(kind, detail);
        }
    }

    private void count() {
        Http2Stream mine = stream;
        streams = null;
        stream = null;
        if (mine != null) {
            bytesIn += mine.bytesIn;
        }
    }

    private void failed(FailureKind kind, String detail) {
        listener.failed(System.nanoTime(), kind, status, bytesIn, detail);
    }

    /** Three digits of which the first is 1 to 5 (RFC 9110, section 15); 0 for anything else. */
    static int status(@Nullable CharSequence code) {
        if (code == null || code.length() != 3) {
            return 0;
        }
        int number = 0;
        for (int i = 0; i < 3; i++) {
            int digit = code.charAt(i) - '0';
            if (digit < 0 || digit > 9) {
                return 0;
            }
            number = number * 10 + digit;
        }
        return number >= 100 && number < 600 ? number : 0;
    }

    /** The head of the final answer. */
    void head(int code, Http2Headers headers) {
        long now = System.nanoTime();
        pieces.piece(now);
        if (keepsAll) {
            listener.arriving(now);
        }
        status = code;
        answer = headers;
    }

    /** Bytes of the answer's body. */
    void data(ByteBuf content) {
        int length = content.readableBytes();
        bodyBytes += length;
        sum.add(content, content.readerIndex(), length);
        if (keepsBody) {
            body.add(content, content.readerIndex(), length);
        }
    }

    /** A body has the length that its head tells (RFC 9113, section 8.1.1). */
    private boolean hasToldLength() {
        Http2Headers known = answer;
        CharSequence told = known == null ? null : known.get(HttpHeaderNames.CONTENT_LENGTH);
        if (told == null || exchange.isHead() || status == 304) {
            return true;
        }
        try {
            return Long.parseLong(told, 0, told.length(), 10) == bodyBytes;
        } catch (NumberFormatException _) {
            return false;
        }
    }

    /** The answer is whole. */
    void whole() {
        count();
        connection.answered();
        if (parts.wire().reuse() == Wire.Reuse.PER_CALL) {
            connection.drop();
        }
        if (!hasToldLength()) {
            broken(FailureKind.MALFORMED, "the body has " + bodyBytes + " bytes, and not what its head says");
        } else if (busy && exchange.goesOn(view, status)) {
            again = true;
            request();
        } else if (busy) {
            busy = false;
            long now = System.nanoTime();
            Optional<FailureKind> failure = exchange.failure();
            if (failure.isEmpty()) {
                pieces.tell(now, listener);
                sum.tell(listener);
                listener.good(now, status, bytesIn);
            } else {
                listener.failed(now, failure.get(), status, bytesIn, exchange.detail());
            }
            if (!keepsAll) {
                // a body that was looked into takes no room from those that come
                body.clear();
            }
        }
    }

    @Override
    public String requestText(int callNumber, CallValues callValues) {
        return exchange.shown(callNumber, callValues, HttpCarrier.MAX_TEXT);
    }

    @Override
    public String requestText(int callNumber, CallValues callValues, int mostBytes) {
        return exchange.shown(callNumber, callValues, mostBytes);
    }

    @Override
    public String responseText() {
        return parts.secrets().mask(head() + body.text(HttpCarrier.MAX_TEXT));
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
        Http2Headers known = answer;
        if (known == null) {
            return "";
        }
        var text = new StringBuilder("HTTP/2 ").append(status).append("\r\n");
        known.forEach(header -> {
            if (header.getKey().length() > 0 && header.getKey().charAt(0) != ':') {
                text.append(header.getKey()).append(": ").append(header.getValue()).append("\r\n");
            }
        });
        return text.append("\r\n").toString();
    }

    @Override
    public byte[] answerBody() {
        return body.soFar();
    }

    /** The answer that has just become whole. */
    private final class View implements ResponseView {
        @Override
        public List<String> headers(String name) {
            var values = new ArrayList<String>();
            Http2Headers known = answer;
            if (known != null) {
                known.getAll(name.toLowerCase(Locale.ROOT)).forEach(value -> values.add(value.toString()));
            }
            return values;
        }

        @Override
        public byte[] body() throws UnreadableContent {
            return body.whole();
        }
    }
}
