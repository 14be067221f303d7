package kadrem.load.drive.grpc;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;

import com.google.protobuf.InvalidProtocolBufferException;
import io.grpc.CallOptions;
import io.grpc.ClientCall;
import io.grpc.ConnectivityState;
import io.grpc.ManagedChannel;
import io.grpc.Metadata;
import io.grpc.Status;
import io.netty.channel.EventLoop;
import kadrem.load.net.LaneConnections;
import kadrem.core.measure.FailureKind;
import kadrem.load.content.ResponseCheck;
import kadrem.load.content.ResponseView;
import kadrem.load.content.UnreadableContent;
import kadrem.load.drive.AnswerRoom;
import kadrem.load.drive.CallValues;
import kadrem.load.drive.InspectableCarrier;
import kadrem.load.drive.Secrets;
import kadrem.load.content.UnusableCall;
import org.jspecify.annotations.Nullable;

/**
 * Calls of gRPC of one user, one at a time; one file, since it is one state machine. Confined to its lane, on whose loop the channel works
 * too.
 */
final class GrpcCarrier implements InspectableCarrier {
    private static final int MAX_TEXT = 4096;
    /** A message has a byte that tells whether it is compressed and four of its length before it. Source: gRPC over HTTP/2. */
    private static final int FRAME = 5;
    /** Bytes that an array of bytes and its place in a list take beside its content, about. */
    private static final int ROOM_BESIDE = 24;

    private final EventLoop loop;
    private final ManagedChannel channel;
    private final LaneConnections.One connection;
    private final List<GrpcCall> calls;
    private final ResponseCheck[] checks;
    private final Listener listener;
    private final Secrets secrets;
    private final List<byte[]> answers = new ArrayList<>();
    private final AnswerRoom room = new AnswerRoom();
    private boolean keepsAll;
    private @Nullable Exchange underWay;
    private GrpcCall call;
    private Status status = Status.UNKNOWN;
    private Metadata headers = new Metadata();

    GrpcCarrier(EventLoop loop, ManagedChannel channel, LaneConnections.One connection, List<GrpcCall> calls,
            ResponseCheck[] checks, Listener listener, Secrets secrets) {
        this.loop = loop;
        this.channel = channel;
        this.connection = connection;
        this.calls = calls;
        this.checks = checks;
        this.listener = listener;
        this.secrets = secrets;
        call = calls.getFirst();
    }

    @Override
    public void open(Runnable whenSettled) {
        ConnectivityState state = channel.getState(true);
        if (state == ConnectivityState.READY || state == ConnectivityState.TRANSIENT_FAILURE
                || state == ConnectivityState.SHUTDOWN) {
            whenSettled.run();
        } else {
            channel.notifyWhenStateChanged(state, () -> open(whenSettled));
        }
    }

    @Override
    public void beginVisit() {
        // nothing is kept from visit to visit
    }

    @Override
    public void send(int callNumber, CallValues values) {
        call = calls.get(callNumber);
        forget();
        status = Status.UNKNOWN;
        headers = new Metadata();
        var exchange = new Exchange(call, checks[callNumber], values);
        underWay = exchange;
        exchange.begin();
    }

    @Override
    public void abandon(FailureKind kind) {
        Exchange given = underWay;
        underWay = null;
        if (given != null) {
            given.cancel();
            listener.failed(System.nanoTime(), kind, 0, given.bytesIn, "");
        }
    }

    @Override
    public void close() {
        Exchange given = underWay;
        underWay = null;
        if (given != null) {
            given.cancel();
        }
        channel.shutdownNow();
        forget();
    }

    private void forget() {
        answers.clear();
        room.release();
    }

    /** One call under way. Once it is given up, what still comes of it belongs to nobody. */
    private final class Exchange extends ClientCall.Listener<byte[]> implements ResponseView {
        private final GrpcCall asked;
        private final ResponseCheck check;
        private final CallValues values;
        private final ClientCall<byte[], byte[]> made;
        private int sent;
        private long bytesIn;
        private boolean begins;
        private boolean closedMeanwhile;

        Exchange(GrpcCall asked, ResponseCheck check, CallValues values) {
            this.asked = asked;
            this.check = check;
            this.values = values;
            CallOptions options = asked.deadlineNanos() > 0
                    ? CallOptions.DEFAULT.withDeadlineAfter(asked.deadlineNanos(), TimeUnit.NANOSECONDS)
                    : CallOptions.DEFAULT;
            made = channel.newCall(asked.method(), options);
        }

        private boolean isMine() {
            return underWay == this;
        }

        void begin() {
            begins = true;
            try {
                start();
            } finally {
                begins = false;
            }
        }

        private void start() {
            try {
                byte[] first = asked.message(0, values);
                made.start(this, asked.metadata(values));
                if (closedMeanwhile) {
                    return;
                }
                made.request(Integer.MAX_VALUE);
                int bytes = send(first);
                while (!asked.onAnswer() && sent < asked.messages()) {
                    bytes += send(asked.message(sent, values));
                }
                endIfAllIsSent();
                if (isMine()) {
                    listener.sent(System.nanoTime(), bytes);
                }
            } catch (UnusableCall cause) {
                // the values make a message that is none; told once the caller is done with sending
                loop.execute(() -> {
                    if (isMine()) {
                        end(FailureKind.MALFORMED, String.valueOf(cause.getMessage()));
                    }
                });
            }
        }

        private int send(byte[] message) {
            made.sendMessage(message);
            sent++;
            return message.length + FRAME;
        }

        private void endIfAllIsSent() {
            if (sent == asked.messages()) {
                made.halfClose();
            }
        }

        void cancel() {
            made.cancel("given up", null);
        }

        @Override
        public void onHeaders(Metadata received) {
            headers = received;
        }

        @Override
        public void onMessage(byte[] message) {
            if (!isMine()) {
                return;
            }
            bytesIn += message.length + FRAME;
            if (!asked.method().getType().serverSendsOneMessage()) {
                listener.part(System.nanoTime());
            }
            if (keepsAll || check.needsBody()) {
                if (!room.take(message.length + ROOM_BESIDE)) {
                    cancel();
                    end(FailureKind.MALFORMED, AnswerRoom.objection());
                    return;
                }
                answers.add(message);
            }
            if (asked.onAnswer() && sent < asked.messages()) {
                try {
                    send(asked.message(sent, values));
                    endIfAllIsSent();
                } catch (UnusableCall cause) {
                    cancel();
                    end(FailureKind.MALFORMED, String.valueOf(cause.getMessage()));
                }
            }
        }

        @Override
        public void onClose(Status closed, Metadata trailers) {
            if (!isMine()) {
                return;
            }
            if (begins) {
                // a channel that has failed says so at once; it is told once the caller is done with sending
                closedMeanwhile = true;
                loop.execute(() -> onClose(closed, trailers));
                return;
            }
            status = closed;
            connection.answered();
            headers.merge(trailers);
            String code = closed.getCode().name();
            if (!asked.isGood(code)) {
                FailureKind kind = GrpcStatus.kind(closed);
                String why = closed.getDescription() == null ? "" : ": " + closed.getDescription();
                end(kind, kind == FailureKind.UNEXPECTED_STATUS
                        ? code + why + ", and not " + asked.expected()
                        : code + why);
                return;
            }
            String wrong = check.check(this, values.captured());
            if (wrong.isEmpty()) {
                underWay = null;
                listener.good(System.nanoTime(), GrpcStatus.number(closed), bytesIn);
            } else {
                end(FailureKind.FAILED_EXPECTATION, wrong);
            }
        }

        private void end(FailureKind kind, String detail) {
            underWay = null;
            boolean answered = kind == FailureKind.UNEXPECTED_STATUS || kind == FailureKind.FAILED_EXPECTATION;
            listener.failed(System.nanoTime(), kind, answered ? GrpcStatus.number(status) : 0, bytesIn,
                    secrets.mask(detail));
        }

        @Override
        public List<String> headers(String name) {
            return GrpcCarrier.this.headerValues(name);
        }

        @Override
        public byte[] body() throws UnreadableContent {
            return json();
        }
    }

    private List<String> headerValues(String name) {
        if (name.equalsIgnoreCase("Content-Type")) {
            return List.of("application/json");
        }
        Iterable<String> values = headers.getAll(Metadata.Key.of(name, Metadata.ASCII_STRING_MARSHALLER));
        var list = new ArrayList<String>();
        if (values != null) {
            values.forEach(list::add);
        }
        return list;
    }

    /** The answer: its message, or an array of the messages of a stream. */
    private byte[] json() throws UnreadableContent {
        try {
            if (call.method().getType().serverSendsOneMessage()) {
                return answers.isEmpty()
                        ? new byte[0]
                        : call.json(answers.getFirst()).getBytes(StandardCharsets.UTF_8);
            }
            var all = new StringBuilder("[");
            for (int i = 0; i < answers.size(); i++) {
                all.append(i == 0 ? "" : ",").append(call.json(answers.get(i)));
            }
            return all.append(']').toString().getBytes(StandardCharsets.UTF_8);
        } catch (InvalidProtocolBufferException cause) {
            throw new UnreadableContent("the answer is not a message of its type: " + cause.getMessage());
        }
    }

    @Override
    public String requestText(int callNumber, CallValues values) {
        return requestText(callNumber, values, MAX_TEXT);
    }

    @Override
    public String requestText(int callNumber, CallValues values, int mostBytes) {
        String shown = secrets.mask(calls.get(callNumber).shown(values));
        return shown.length() > mostBytes ? shown.substring(0, mostBytes) : shown;
    }

    @Override
    public String responseText() {
        String text = head() + "\n" + new String(answerBody(), StandardCharsets.UTF_8);
        return secrets.mask(text.length() > MAX_TEXT ? text.substring(0, MAX_TEXT) : text);
    }

    @Override
    public void keepAnswers() {
        keepsAll = true;
    }

    @Override
    public String head() {
        var head = new StringBuilder(status.getCode().name());
        if (status.getDescription() != null) {
            head.append(": ").append(status.getDescription());
        }
        head.append('\n');
        for (String name : headers.keys()) {
            if (!name.endsWith(Metadata.BINARY_HEADER_SUFFIX) && !name.equalsIgnoreCase("content-type")) {
                headerValues(name).forEach(value -> head.append(name).append(": ").append(value).append('\n'));
            }
        }
        return head.append("Content-Type: application/json\n").toString();
    }

    @Override
    public byte[] answerBody() {
        try {
            return json();
        } catch (UnreadableContent _) {
            return new byte[0];
        }
    }
}
