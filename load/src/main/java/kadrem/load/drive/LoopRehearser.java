package kadrem.load.drive;

import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import java.util.function.Predicate;

import io.netty.channel.EventLoopGroup;
import kadrem.core.measure.FailureKind;
import kadrem.core.rehearsal.RehearsedCall;
import kadrem.core.rehearsal.Timeline;
import kadrem.core.study.Bytes;
import kadrem.core.study.Call;
import kadrem.load.content.Decoding;
import kadrem.load.content.ResponseCheck;
import kadrem.load.content.UnreadableContent;
import kadrem.load.net.LaneLoop;
import kadrem.load.net.Transport;

/**
 * Single exchanges over the carrier that a run uses, with the instants that it tells. One thread at a time.
 */
public final class LoopRehearser implements Rehearser {
    private static final int MAX_TEXT = 256 * 1024;
    private static final int MAX_WORDS = 40;

    /** Where a request shows that it proves its sender. */
    private static final String PROOF = "Authorization: (secret)";

    private final Predicate<Optional<FailureKind>> again;
    private final List<Call> calls;
    private final Secrets secrets;
    private final long usualTimeoutMillis;
    private final EventLoopGroup group;
    private final InspectableCarrier carrier;
    private CompletableFuture<Answer> result = new CompletableFuture<>();
    private volatile long connect;
    private volatile long handshake;
    private volatile long sent;
    private volatile long arrived;

    private volatile String tls = "";

    private record Answer(long nanos, Optional<FailureKind> failure, int status, long bytes, String detail, String head,
            byte[] body) {
    }

    /** Makes the carrier on the loop that is given. */
    public interface CarrierMaker {
        InspectableCarrier on(LaneLoop loop, Carrier.Listener listener);
    }

    public LoopRehearser(List<Call> calls, Secrets secrets, Transport transport, Duration usualTimeout,
            CarrierMaker maker) {
        this(calls, secrets, transport, usualTimeout, maker, _ -> false);
    }

    /** @param again failures after which a call is made once more, where nothing has come and its connection was kept from before */
    public LoopRehearser(List<Call> calls, Secrets secrets, Transport transport, Duration usualTimeout,
            CarrierMaker maker, Predicate<Optional<FailureKind>> again) {
        this.again = again;
        this.calls = List.copyOf(calls);
        this.secrets = secrets;
        usualTimeoutMillis = usualTimeout.toMillis();
        group = transport.newGroup(1, Thread.ofPlatform().name("kadrem-rehearser").daemon().factory());
        carrier = maker.on(new LaneLoop(group.next()), new Told());
        carrier.keepAnswers();
    }

    /** Results of the carrier, on its loop. */
    private final class Told implements Carrier.Listener {
        @Override
        public void sent(long nanos, int bytes) {
            sent = nanos;
        }

        @Override
        public void arriving(long nanos) {
            arrived = nanos;
        }

        @Override
        public void connected(long connectNanos, long handshakeNanos) {
            connect = connectNanos;
            handshake = handshakeNanos;
            tls = carrier.tls();
        }

        @Override
        public void good(long nanos, int status, long bytes) {
            result.complete(new Answer(nanos, Optional.empty(), status, bytes, "", carrier.head(),
                    carrier.answerBody()));
        }

        @Override
        public void failed(long nanos, FailureKind kind, int status, long bytes, String detail) {
            result.complete(new Answer(nanos, Optional.of(kind), status, bytes, detail, carrier.head(),
                    carrier.answerBody()));
        }
    }

    @Override
    public RehearsedCall call(String visit, int number, CallValues values) {
        Call call = calls.get(number);
        long timeout = call.timeout().map(Duration::toMillis).orElse(usualTimeoutMillis);
        String shown = carrier.requestText(number, values, MAX_TEXT);
        long begun = System.nanoTime();
        Answer answer = exchange(number, values, timeout);
        if (again.test(answer.failure()) && answer.status() == 0 && answer.bytes() == 0 && connect == 0) {
            // the server had closed the kept connection meanwhile
            begun = System.nanoTime();
            answer = exchange(number, values, timeout);
        }
        String shownNow = carrier.requestText(number, values, MAX_TEXT);
        if (shownNow.contains(PROOF)) {
            // a challenge was met on the way
            shown = shownNow;
        }
        long total = answer.nanos() - begun;
        byte[] decoded = answer.body();
        String detail = answer.detail();
        List<Call.Header> headers = headers(answer.head());
        String coding = headers.stream().filter(one -> one.name().equalsIgnoreCase("content-encoding"))
                .map(Call.Header::value).findFirst().orElse("");
        try {
            decoded = Decoding.decode(answer.body(), coding);
        } catch (UnreadableContent cause) {
            detail = detail.isEmpty() ? String.valueOf(cause.getMessage()) : detail;
        }
        long within = call.expected().within().map(Duration::toNanos).orElse(Long.MAX_VALUE);
        Optional<FailureKind> failure = answer.failure();
        if (failure.isEmpty() && total > within) {
            failure = Optional.of(FailureKind.TOO_LATE);
            detail = "it took " + total / 1_000_000 + " ms, and should take at most " + within / 1_000_000 + " ms";
        }
        return new RehearsedCall(visit, call.name(), shown, answer.status(), headers, answer.bytes(),
                Bytes.of(secrets.mask(answer.body())), Bytes.of(secrets.mask(decoded)), ResponseCheck.sha256(decoded),
                timeline(begun, answer.nanos()), failure,
                secrets.mask(detail), answered(answer.head()));
    }

    @Override
    public String tls() {
        return tls;
    }

    private Answer exchange(int number, CallValues values, long timeout) {
        connect = 0;
        handshake = 0;
        sent = 0;
        arrived = 0;
        result = new CompletableFuture<>();
        group.execute(() -> carrier.send(number, values));
        return await(timeout);
    }

    /** What is not told apart is waiting. */
    private Timeline timeline(long begun, long ended) {
        long connected = begun + connect + handshake;
        long out = Math.max(connected, sent == 0 ? connected : sent);
        long first = arrived == 0 ? Math.max(out, ended) : arrived;
        return new Timeline(0, connect, handshake, out - connected, Math.max(0, first - out),
                Math.max(0, ended - first));
    }

    /** The first words of a head that is none of HTTP. */
    private String answered(String head) {
        String first = head.lines().findFirst().orElse("").strip();
        if (first.startsWith("HTTP/") || first.contains("Content-Type")) {
            return "";
        }
        String words = secrets.mask(first.split(": ", 2)[0]);
        return words.length() > MAX_WORDS ? words.substring(0, MAX_WORDS) + "…" : words;
    }

    private Answer await(long timeoutMillis) {
        try {
            return result.get(timeoutMillis, TimeUnit.MILLISECONDS);
        } catch (TimeoutException _) {
            group.execute(() -> carrier.abandon(FailureKind.TIMEOUT));
            return result.join();
        } catch (InterruptedException _) {
            Thread.currentThread().interrupt();
            group.execute(() -> carrier.abandon(FailureKind.CLOSED));
            return result.join();
        } catch (ExecutionException impossible) {
            throw new IllegalStateException("a result is never an exception", impossible);
        }
    }

    private List<Call.Header> headers(String head) {
        var headers = new ArrayList<Call.Header>();
        String[] lines = head.split("\r?\n");
        for (int i = 1; i < lines.length; i++) {
            int colon = lines[i].indexOf(':');
            if (colon > 0) {
                headers.add(new Call.Header(lines[i].substring(0, colon),
                        secrets.mask(lines[i].substring(colon + 1).strip())));
            }
        }
        return headers;
    }

    @Override
    public void close() {
        group.execute(carrier::close);
        group.shutdownGracefully(0, 1, TimeUnit.SECONDS).awaitUninterruptibly(2, TimeUnit.SECONDS);
    }
}
