package kadrem.load.drive.blocking;

import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Optional;

import io.netty.channel.EventLoop;
import kadrem.core.measure.FailureKind;
import kadrem.load.content.ResponseCheck;
import kadrem.load.content.ResponseView;
import kadrem.load.drive.CallValues;
import kadrem.load.drive.Carrier;
import kadrem.load.drive.InspectableCarrier;
import kadrem.load.drive.Secrets;
import org.jspecify.annotations.Nullable;

/**
 * The calls of one user of a waiting client. Confined to its lane, but for what {@link UserThread} does, whose results come
 * back to the lane's loop; a result of a call that was given up since is not this carrier's any more.
 */
final class BlockingCarrier<R> implements InspectableCarrier {
    private static final int MAX_TEXT = 4096;

    private final EventLoop loop;
    private final Client<R> client;
    private final ResponseCheck[] checks;
    private final Carrier.Listener listener;
    private final Secrets secrets;
    private @Nullable UserThread<R> user;
    private boolean keepsAll;
    private boolean busy;
    private boolean visitBegins;
    private int call;
    private @Nullable CallValues values;
    private Client.@Nullable Answer answer;
    private String head = "";

    BlockingCarrier(EventLoop loop, Client<R> client, ResponseCheck[] checks, Carrier.Listener listener,
            Secrets secrets) {
        this.loop = loop;
        this.client = client;
        this.checks = checks;
        this.listener = listener;
        this.secrets = secrets;
    }

    private UserThread<R> user() {
        UserThread<R> known = user;
        if (known == null) {
            known = new UserThread<>(client, loop);
            user = known;
        }
        return known;
    }

    @Override
    public void open(Runnable whenSettled) {
        user().open(whenSettled);
    }

    @Override
    public void beginVisit() {
        visitBegins = true;
    }

    @Override
    public void send(int callNumber, CallValues callValues) {
        busy = true;
        call = callNumber;
        values = callValues;
        answer = null;
        head = "";
        UserThread<R> sender = user();
        R ready = client.ready(callNumber, callValues);
        boolean keeps = keepsAll || checks[callNumber].needsBody();
        sender.call(callNumber, ready, keeps, visitBegins, outcome -> {
            if (busy && user == sender) {
                take(outcome);
            }
        });
        visitBegins = false;
    }

    private void take(UserThread.Outcome outcome) {
        busy = false;
        if (outcome.connectNanos() > 0) {
            listener.connected(outcome.connectNanos(), 0);
        }
        Client.Answer whole = outcome.answer();
        CallFailure failure = outcome.failure();
        if (outcome.sentNanos() > 0) {
            listener.sent(outcome.sentNanos(), whole == null ? 0 : Math.toIntExact(whole.bytesOut()));
        }
        for (long part : outcome.partNanos()) {
            listener.part(part);
        }
        if (failure != null || whole == null) {
            CallFailure why = failure == null ? new CallFailure(FailureKind.CLOSED, 0, "") : failure;
            head = (why.status() == 0 ? "" : client.statusWord(why.status()) + " ") + why.detail() + "\n";
            listener.failed(outcome.endNanos(), why.kind(), why.status(), 0, why.detail());
            return;
        }
        answer = whole;
        head = whole.words() + "\n"
                + (whole.contentType().isEmpty() ? "" : "Content-Type: " + whole.contentType() + "\n");
        CallValues mine = values;
        String wrong = mine == null ? "" : checks[call].check(new View(whole), mine.captured());
        if (wrong.isEmpty()) {
            listener.good(outcome.endNanos(), whole.status(), whole.bytesIn());
        } else {
            listener.failed(outcome.endNanos(), FailureKind.FAILED_EXPECTATION, whole.status(), whole.bytesIn(), wrong);
        }
    }

    @Override
    public void abandon(FailureKind kind) {
        if (busy) {
            busy = false;
            dismiss();
            listener.failed(System.nanoTime(), kind, 0, 0, "");
        }
    }

    private void dismiss() {
        UserThread<R> leaving = user;
        user = null;
        if (leaving != null) {
            leaving.dismiss();
        }
    }

    @Override
    public void close() {
        busy = false;
        dismiss();
    }

    @Override
    public boolean timesBesideLane() {
        return true;
    }

    @Override
    public String requestText(int callNumber, CallValues callValues) {
        return requestText(callNumber, callValues, MAX_TEXT);
    }

    @Override
    public String requestText(int callNumber, CallValues callValues, int mostBytes) {
        String shown = secrets.mask(client.shown(callNumber, callValues));
        return shown.length() > mostBytes ? shown.substring(0, mostBytes) : shown;
    }

    @Override
    public String responseText() {
        String text = head + "\n" + new String(answerBody(), StandardCharsets.UTF_8);
        return secrets.mask(text.length() > MAX_TEXT ? text.substring(0, MAX_TEXT) : text);
    }

    @Override
    public void keepAnswers() {
        keepsAll = true;
    }

    @Override
    public String head() {
        return head;
    }

    @Override
    public byte[] answerBody() {
        Client.Answer whole = answer;
        return whole == null ? new byte[0] : whole.content();
    }

    /** An answer as a check sees it. */
    private record View(Client.Answer answer) implements ResponseView {
        @Override
        public List<String> headers(String name) {
            return Optional.of(answer.contentType()).filter(type -> name.equalsIgnoreCase("Content-Type")).stream()
                    .toList();
        }

        @Override
        public byte[] body() {
            return answer.content();
        }
    }
}
