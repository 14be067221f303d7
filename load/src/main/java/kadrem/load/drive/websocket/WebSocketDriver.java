package kadrem.load.drive.websocket;

import java.net.URI;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;

import com.google.re2j.Pattern;
import kadrem.core.study.Body;
import kadrem.core.study.Call;
import kadrem.core.study.Form;
import kadrem.core.study.SecretReference;
import kadrem.core.study.Wire;
import kadrem.load.content.ResponseCheck;
import kadrem.load.drive.CallValues;
import kadrem.load.drive.Carrier;
import kadrem.load.drive.CarrierDriver;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.InspectableCarrier;
import kadrem.load.drive.Connector;
import kadrem.load.drive.Template;
import kadrem.load.drive.TlsContext;
import kadrem.load.content.UnusableCall;
import kadrem.load.net.LaneLoop;
import kadrem.load.drive.http.Credentials;

/** The messages of a workload, compiled, for one server. */
final class WebSocketDriver extends CarrierDriver {
    private final List<Exchange> exchanges = new ArrayList<>();
    private final Optional<TlsContext> tls;
    private final Credentials credentials;
    private final boolean variesByUser;

    /** What a call does. */
    enum Does {
        SENDS, CONNECTS, PINGS, WAITS
    }

    /**
     * A call compiled.
     *
     * @param until by values the pattern that a message must match to count; any message where it is empty
     */
    record Exchange(Does does, Template send, Function<CallValues, Optional<Pattern>> until, int messages,
            List<Header> headers) {
    }

    /** A header of the handshake with which a call's connection is made. */
    record Header(String name, Template value) {
    }

    WebSocketDriver(DriverOrder order) throws UnusableCall {
        super(order);
        credentials = Credentials.of(order.access().signIn(), order.secrets());
        tls = order.address().secure()
                ? Optional.of(TlsContext.of(order.access().tls(), Wire.USUAL, order.secrets().folder()))
                : Optional.empty();
        for (Call call : order.workload().calls()) {
            Form form = call.form(WebSocketProtocol.ID)
                    .orElseThrow(() -> new UnusableCall("the call " + call.name() + " is not asked in websocket"));
            exchanges.add(new Exchange(switch (form.text("does")) {
                case "connects anew" -> Does.CONNECTS;
                case "pings" -> Does.PINGS;
                case "only waits" -> Does.WAITS;
                default -> Does.SENDS;
            }, Template.of(order.slots(), Body.Kind.guess(form.text("send")), form.text("send")),
                    until(form.text("until"), order), form.text("messages").isBlank()
                            ? 1
                            : Integer.parseInt(form.text("messages").strip()),
                    headers(call, order)));
        }
        variesByUser = order.workload().calls().getFirst().headers().stream()
                .flatMap(header -> Call.placeholders(header.value()).stream())
                .anyMatch(name -> !SecretReference.isOne(name));
    }

    private static List<Header> headers(Call call, DriverOrder order) throws UnusableCall {
        var headers = new ArrayList<Header>();
        for (Call.Header header : call.headers()) {
            headers.add(new Header(header.name(), Template.of(order.slots(), Body.Kind.TEXT, header.value())));
        }
        return List.copyOf(headers);
    }

    /** Whether a connection cannot be made ahead of a call, since its handshake holds values of that call. */
    boolean variesByUser() {
        return variesByUser;
    }

    private static Function<CallValues, Optional<Pattern>> until(String text, DriverOrder order) throws UnusableCall {
        if (text.isEmpty()) {
            return _ -> Optional.empty();
        }
        if (Call.placeholders(text).isEmpty()) {
            Optional<Pattern> once = Optional.of(Pattern.compile(text));
            return _ -> once;
        }
        Template template = Template.of(order.slots(), Body.Kind.TEXT, text);
        return values -> Optional.of(Pattern.compile(template.fill(values)));
    }

    URI address() {
        return URI.create(order().address().toString());
    }

    Credentials credentials() {
        return credentials;
    }

    List<Exchange> exchanges() {
        return exchanges;
    }

    @Override
    protected InspectableCarrier carrier(LaneLoop loop, Carrier.Listener listener, ResponseCheck[] checks) {
        return new WebSocketCarrier(this, Connector.of(order(), loop, tls), checks, listener);
    }

    @Override
    public void close() {
        credentials.close();
    }
}
