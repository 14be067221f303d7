package kadrem.load.drive.resp;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;

import io.netty.buffer.ByteBuf;
import io.netty.channel.Channel;
import io.netty.handler.codec.redis.ArrayRedisMessage;
import io.netty.handler.codec.redis.ErrorRedisMessage;
import io.netty.handler.codec.redis.FullBulkStringRedisMessage;
import io.netty.handler.codec.redis.RedisMessage;
import io.netty.util.ReferenceCountUtil;
import kadrem.core.measure.FailureKind;
import kadrem.load.content.ResponseCheck;
import kadrem.load.content.ResponseView;
import kadrem.load.drive.CallValues;
import kadrem.load.drive.InspectableCarrier;
import kadrem.load.drive.Connector;
import kadrem.load.drive.Secrets;
import org.jspecify.annotations.Nullable;

/**
 * One user of a store with a connection of its own, and a second one where it listens to a channel. Confined to its lane.
 */
final class RespCarrier implements InspectableCarrier {
    private static final int MAX_TEXT = 4096;
    static final int GOOD = 1;
    private static final byte[] NONE = {};

    private final List<Commands> calls;
    private final ResponseCheck[] checks;
    private final Listener listener;
    private final Secrets secrets;
    private final ErrorWords words;
    private final RespConnection connection;
    private final RespConnection subscriber;
    private final List<RedisMessage> replies = new ArrayList<>();
    private boolean keepsAll;
    private boolean busy;
    private int call;
    private @Nullable CallValues values;
    private int due;
    private boolean messageDue;
    private String channel = "";
    private String subscribed = "";
    private long bytesBefore;
    private String error = "";
    private byte[] answer = NONE;
    private String head = "";

    RespCarrier(Connector opening, List<String[]> greeting, List<Commands> calls, ResponseCheck[] checks,
            Listener listener, Secrets secrets, ErrorWords words) {
        this.calls = calls;
        this.checks = checks;
        this.listener = listener;
        this.secrets = secrets;
        this.words = words;
        connection = new RespConnection(opening, greeting, new RespConnection.Told() {
            @Override
            public void reply(RedisMessage message) {
                replied(message);
            }

            @Override
            public void broken(FailureKind kind, String detail) {
                fail(kind, 0, detail);
            }
        });
        subscriber = new RespConnection(opening, greeting, new RespConnection.Told() {
            @Override
            public void reply(RedisMessage message) {
                heard(message);
            }

            @Override
            public void broken(FailureKind kind, String detail) {
                subscribed = "";
                fail(kind, 0, detail);
            }
        });
    }

    @Override
    public void open(Runnable whenSettled) {
        connection.open(whenSettled);
    }

    @Override
    public void beginVisit() {
        // nothing is kept from visit to visit
    }

    @Override
    public void send(int callNumber, CallValues callValues) {
        busy = true;
        call = callNumber;
        values = callValues;
        error = "";
        answer = NONE;
        head = "";
        channel = calls.get(callNumber).channel(callValues);
        messageDue = !channel.isEmpty();
        if (messageDue && !channel.equals(subscribed)) {
            subscriber.drop();
            subscriber.open(this::subscribe);
        } else {
            sendCommands();
        }
    }

    /** Begins to listen; the commands go out when the store has said that it will tell. */
    private void subscribe() {
        if (busy && subscriber.isReady()) {
            subscriber.channel().writeAndFlush(Commands.plain("SUBSCRIBE", channel),
                    subscriber.channel().voidPromise());
        }
    }

    private void sendCommands() {
        if (connection.isReady()) {
            write();
        } else {
            connection.open(() -> {
                if (busy && connection.isReady()) {
                    listener.connected(connection.connectNanos(), connection.handshakeNanos());
                    write();
                }
            });
        }
    }

    private void write() {
        CallValues mine = values;
        if (mine == null) {
            return;
        }
        Channel open = connection.channel();
        ByteBuf request = calls.get(call).render(open.alloc(), mine);
        due = calls.get(call).count();
        bytesBefore = connection.bytesIn();
        listener.sent(System.nanoTime(), request.readableBytes());
        open.writeAndFlush(request, open.voidPromise());
    }

    private void replied(RedisMessage message) {
        if (!busy || due == 0) {
            // nothing was asked for
            ReferenceCountUtil.release(message);
            connection.drop();
            return;
        }
        if (message instanceof ErrorRedisMessage refused && error.isEmpty()) {
            error = refused.content();
        }
        if (keepsAll || checks[call].needsBody()) {
            replies.add(message);
        } else {
            ReferenceCountUtil.release(message);
        }
        if (--due == 0) {
            if (!replies.isEmpty()) {
                answer = Replies.json(replies, calls.get(call).values());
                release();
            }
            endIfDone();
        }
    }

    private void release() {
        replies.forEach(ReferenceCountUtil::release);
        replies.clear();
    }

    /** What a channel's connection tells: that it listens, or a message. */
    private void heard(RedisMessage message) {
        try {
            if (message instanceof ArrayRedisMessage array && array.children().size() == 3 && busy) {
                String kind = text(array.children().get(0));
                if (kind.equals("subscribe")) {
                    subscribed = channel;
                    sendCommands();
                } else if (kind.equals("message") && messageDue) {
                    messageDue = false;
                    listener.part(System.nanoTime());
                    endIfDone();
                }
            } else if (message instanceof ErrorRedisMessage refused) {
                fail(FailureKind.UNEXPECTED_STATUS, words.number(refused.content()), refused.content());
            }
        } finally {
            ReferenceCountUtil.release(message);
        }
    }

    private static String text(RedisMessage message) {
        return message instanceof FullBulkStringRedisMessage bulk
                ? bulk.content().toString(StandardCharsets.UTF_8)
                : "";
    }

    private void endIfDone() {
        if (due > 0 || messageDue && error.isEmpty()) {
            return;
        }
        messageDue = false;
        connection.answered();
        long now = System.nanoTime();
        long bytes = connection.bytesIn() - bytesBefore;
        CallValues mine = values;
        head = error.isEmpty() ? "answered\n" : error + "\n";
        busy = false;
        if (!error.isEmpty()) {
            listener.failed(now, FailureKind.UNEXPECTED_STATUS, words.number(error), bytes, secrets.mask(error));
            return;
        }
        String wrong = mine == null ? "" : checks[call].check(new View(answer), mine.captured());
        if (wrong.isEmpty()) {
            listener.good(now, GOOD, bytes);
        } else {
            listener.failed(now, FailureKind.FAILED_EXPECTATION, GOOD, bytes, wrong);
        }
    }

    private void fail(FailureKind kind, int status, String detail) {
        release();
        due = 0;
        if (busy) {
            busy = false;
            head = detail + "\n";
            listener.failed(System.nanoTime(), kind, status, 0, secrets.mask(detail));
        }
    }

    @Override
    public void abandon(FailureKind kind) {
        if (busy) {
            connection.drop();
            subscriber.drop();
            subscribed = "";
            fail(kind, 0, "");
        }
    }

    @Override
    public void close() {
        busy = false;
        release();
        connection.close();
        subscriber.close();
    }

    @Override
    public String requestText(int callNumber, CallValues callValues) {
        return requestText(callNumber, callValues, MAX_TEXT);
    }

    @Override
    public String requestText(int callNumber, CallValues callValues, int mostBytes) {
        String shown = secrets.mask(calls.get(callNumber).shown(callValues));
        return shown.length() > mostBytes ? shown.substring(0, mostBytes) : shown;
    }

    @Override
    public String responseText() {
        String text = head + "\n" + new String(answer, StandardCharsets.UTF_8);
        return secrets.mask(text.length() > MAX_TEXT ? text.substring(0, MAX_TEXT) : text);
    }

    @Override
    public void keepAnswers() {
        keepsAll = true;
    }

    @Override
    public String head() {
        return head + "Content-Type: application/json\n";
    }

    @Override
    public byte[] answerBody() {
        return answer.clone();
    }

    /** Replies as a check sees them. */
    private record View(byte[] body) implements ResponseView {
        @Override
        public List<String> headers(String name) {
            return name.equalsIgnoreCase("Content-Type") ? List.of("application/json") : List.of();
        }
    }
}
