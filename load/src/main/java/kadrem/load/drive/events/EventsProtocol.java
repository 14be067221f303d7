package kadrem.load.drive.events;

import java.util.List;
import java.util.Optional;

import kadrem.core.study.Address;
import kadrem.core.study.grammar.Field;
import kadrem.core.study.Form;
import kadrem.load.drive.DriverOrder;
import kadrem.load.content.UnusableCall;
import kadrem.load.drive.blocking.BlockingProtocol;
import kadrem.load.drive.blocking.Client;
import kadrem.load.drive.http.OverHttp;

/** A stream of events over HTTP (HTML Living Standard, section "Server-sent events"), read until so many have come. */
public final class EventsProtocol implements OverHttp, BlockingProtocol {
    public static final String ID = "events";

    @Override
    public String id() {
        return ID;
    }

    @Override
    public String words() {
        return "server-sent events";
    }

    @Override
    public String exampleAddress() {
        return "http://127.0.0.1:8080 (with protocol: events)";
    }

    @Override
    public Optional<Address> address(String text) {
        return Address.ofHost(text, ID, "http", "http", Address.usualPort(false))
                .or(() -> Address.ofHost(text, ID, "http", "https", Address.usualPort(true)));
    }

    @Override
    public boolean isFoundByAddress() {
        return false;
    }

    @Override
    public List<Field> fields() {
        return List.of(Field.line("path", "address", "/tides/live?station={{station}}").needed(),
                Field.line("events", "events that are waited for", "1"),
                Field.line("type", "only events of the type", "tide"));
    }

    @Override
    public Optional<String> objection(Form form) {
        String events = form.text("events").strip();
        if (!events.isEmpty() && !events.matches("[1-9]\\d{0,6}")) {
            return Optional.of("waits for \"" + events + "\" events; write a whole number above 0");
        }
        return form.text("path").startsWith("/")
                ? Optional.empty()
                : Optional.of("has a path without a slash before it");
    }

    @Override
    public Client<?> client(DriverOrder order) throws UnusableCall {
        return new EventsClient(order);
    }
}
