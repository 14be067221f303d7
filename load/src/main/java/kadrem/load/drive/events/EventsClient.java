package kadrem.load.drive.events;

import java.io.IOException;
import java.io.InputStream;
import java.net.ConnectException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ArrayNode;
import kadrem.core.measure.FailureKind;
import kadrem.core.study.Body;
import kadrem.core.study.Call;
import kadrem.core.study.Form;
import kadrem.core.study.Wire;
import kadrem.load.drive.CallValues;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.Failures;
import kadrem.load.drive.Slots;
import kadrem.load.drive.Template;
import kadrem.load.drive.TlsContext;
import kadrem.load.content.UnusableCall;
import kadrem.load.drive.blocking.CallFailure;
import kadrem.load.drive.blocking.Client;
import kadrem.load.drive.http.Credentials;
import kadrem.load.drive.http.PercentEncoding;
import org.jspecify.annotations.Nullable;

/** Streams of events from one server, by the JDK's client: each user has a stream of its own while a call goes on. */
final class EventsClient implements Client<HttpRequest> {
    private static final ObjectMapper JSON = new ObjectMapper();
    private static final int GOOD = 200;

    private final DriverOrder order;
    private final HttpClient client;
    private final Credentials credentials;
    private final List<Asked> calls = new ArrayList<>();

    /** A call compiled. */
    private record Asked(Template path, List<Template> headers, int events, String type) {
    }

    EventsClient(DriverOrder order) throws UnusableCall {
        this.order = order;
        credentials = Credentials.of(order.access().signIn(), order.secrets());
        HttpClient.Builder builder = HttpClient.newBuilder().version(HttpClient.Version.HTTP_1_1)
                .connectTimeout(order.timeout());
        if (order.address().secure()) {
            builder.sslContext(
                    TlsContext.of(order.access().tls(), Wire.USUAL, order.secrets().folder()).shared().context());
        }
        client = builder.build();
        Slots slots = order.slots();
        for (Call call : order.workload().calls()) {
            Form form = call.form(EventsProtocol.ID)
                    .orElseThrow(() -> new UnusableCall("the call " + call.name() + " is not asked in events"));
            var headers = new ArrayList<Template>();
            for (Call.Header header : call.headers()) {
                headers.add(Template.of(slots, Body.Kind.TEXT, header.name() + ": " + header.value()));
            }
            calls.add(new Asked(Template.of(slots, PercentEncoding::encode, form.text("path")), headers,
                    form.text("events").isBlank() ? 1 : Integer.parseInt(form.text("events").strip()),
                    form.text("type").strip()));
        }
    }

    @Override
    public HttpRequest ready(int call, CallValues values) {
        Asked asked = calls.get(call);
        HttpRequest.Builder request = HttpRequest
                .newBuilder(URI.create(order.address() + asked.path().fill(values)))
                .header("Accept", "text/event-stream");
        for (Template header : asked.headers()) {
            String[] parts = header.fill(values).split(": ", 2);
            request.setHeader(parts[0], parts[1]);
        }
        credentials.value().ifPresent(value -> request.setHeader(credentials.header(),
                new String(value.get(), StandardCharsets.US_ASCII)));
        return request.build();
    }

    @Override
    public String shown(int call, CallValues values) {
        Asked asked = calls.get(call);
        return "GET " + asked.path().shown(values) + "\nAccept: text/event-stream\n"
                + String.join("\n", asked.headers().stream().map(header -> header.shown(values)).toList());
    }

    @Override
    public UserConnection<HttpRequest> connect() {
        return new Reading();
    }

    @Override
    public String statusWord(int status) {
        return Integer.toString(status);
    }

    @Override
    public void close() {
        client.shutdownNow();
        credentials.close();
    }

    /** One user, who reads one stream at a time. */
    private final class Reading implements UserConnection<HttpRequest> {
        private volatile @Nullable InputStream stream;

        @Override
        public Answer call(int call, HttpRequest ready, boolean keeps, Marks marks)
                throws CallFailure, InterruptedException {
            Asked asked = calls.get(call);
            try {
                HttpResponse<InputStream> response = client.send(ready, HttpResponse.BodyHandlers.ofInputStream());
                try (InputStream in = response.body()) {
                    stream = in;
                    String type = response.headers().firstValue("Content-Type").orElse("");
                    if (response.statusCode() != GOOD || !type.startsWith("text/event-stream")) {
                        throw new CallFailure(FailureKind.UNEXPECTED_STATUS, response.statusCode(),
                                "status " + response.statusCode() + (type.isEmpty() ? "" : " of " + type)
                                        + ", and not 200 of text/event-stream");
                    }
                    try (var events = new EventReader(in)) {
                        return read(asked, events, keeps, marks);
                    }
                }
            } catch (ConnectException cause) {
                // the JDK's client does not say why, and nobody listens is what it is nearly always
                throw new CallFailure(FailureKind.REFUSED, 0, String.valueOf(cause.getMessage()));
            } catch (EventReader.AnswerTooLarge cause) {
                throw new CallFailure(FailureKind.MALFORMED, 0, String.valueOf(cause.getMessage()));
            } catch (IOException cause) {
                throw new CallFailure(Failures.kindOf(cause, false), 0, String.valueOf(cause.getMessage()));
            } finally {
                stream = null;
            }
        }

        private static Answer read(Asked asked, EventReader events, boolean keeps, Marks marks)
                throws IOException, CallFailure {
            ArrayNode kept = JSON.createArrayNode();
            long bytes = 0;
            int count = 0;
            while (count < asked.events()) {
                Optional<EventReader.Event> next = events.next();
                if (next.isEmpty()) {
                    throw new CallFailure(FailureKind.CLOSED, GOOD,
                            "the stream ended after " + count + " of " + asked.events() + " events");
                }
                marks.part();
                bytes += next.get().data().length();
                if (asked.type().isEmpty() || asked.type().equals(next.get().type())) {
                    count++;
                    if (keeps) {
                        kept.addObject().put("type", next.get().type()).put("id", next.get().id()).set("data",
                                data(next.get().data()));
                    }
                }
            }
            return new Answer(GOOD, 0, bytes, count + (count == 1 ? " event" : " events"), "application/json",
                    keeps ? kept.toString().getBytes(StandardCharsets.UTF_8) : new byte[0]);
        }

        /** Data that is JSON is looked into as such. */
        private static JsonNode data(String text) {
            try {
                JsonNode read = JSON.readTree(text);
                return read.isMissingNode() ? JSON.getNodeFactory().textNode(text) : read;
            } catch (JsonProcessingException _) {
                return JSON.getNodeFactory().textNode(text);
            }
        }

        @Override
        public void cancel() {
            InputStream open = stream;
            if (open != null) {
                try {
                    open.close();
                } catch (IOException _) {
                    // it is given up
                }
            }
        }

        @Override
        public boolean isUsable() {
            return true;
        }

        @Override
        public void close() {
            cancel();
        }
    }
}
