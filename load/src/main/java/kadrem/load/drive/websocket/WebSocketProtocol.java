package kadrem.load.drive.websocket;

import java.util.List;
import java.util.Optional;

import com.google.re2j.Pattern;
import com.google.re2j.PatternSyntaxException;
import kadrem.core.study.Address;
import kadrem.core.study.grammar.Field;
import kadrem.core.study.Form;
import kadrem.load.drive.Driver;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.Peer;
import kadrem.load.drive.PeerOrder;
import kadrem.load.content.UnusableCall;
import kadrem.load.drive.http.OverHttp;

/** Messages over a connection that each user keeps. */
public final class WebSocketProtocol implements OverHttp {
    public static final String ID = "websocket";

    @Override
    public String id() {
        return ID;
    }

    @Override
    public String words() {
        return "WebSocket";
    }

    @Override
    public String exampleAddress() {
        return "ws://127.0.0.1:8080/live";
    }

    @Override
    public Optional<Address> address(String text) {
        return Address.ofHost(text, ID, "ws", "ws", Address.usualPort(false))
                .or(() -> Address.ofHost(text, ID, "ws", "wss", Address.usualPort(true)));
    }

    @Override
    public List<Field> fields() {
        return List.of(Field.choice("does", "the call", "sends and waits", "connects anew", "pings", "only waits"),
                Field.json("send", "message", "{\"berth\": {{berth}}}"),
                Field.line("until", "the message that ends the call matches", "\"berth\":{{berth}}"),
                Field.line("messages", "messages that are waited for", "1"));
    }

    @Override
    public List<Field> settings() {
        return List.of(Field.choice("compress", "messages are compressed where the server agrees", "false", "true"),
                Field.line("subprotocol", "subprotocol", "board.v1"));
    }

    @Override
    public Optional<String> objection(Form form) {
        String messages = form.text("messages").strip();
        if (!messages.isEmpty() && !messages.matches("[1-9]\\d{0,5}")) {
            return Optional.of("waits for \"" + messages + "\" messages; write a whole number above 0");
        }
        boolean sends = form.text("does").isEmpty() || form.text("does").equals("sends and waits");
        if (sends && form.text("send").isBlank()) {
            return Optional.of("has no message to send");
        }
        try {
            Pattern.compile(form.text("until").replaceAll("\\{\\{[^{}]*}}", "x"));
            return Optional.empty();
        } catch (PatternSyntaxException cause) {
            return Optional.of("waits for a pattern that cannot be read: " + cause.getDescription());
        }
    }

    @Override
    public Optional<Peer> peer(PeerOrder order) {
        return WebSocketPeer.of(order);
    }

    @Override
    public Driver open(DriverOrder order) throws UnusableCall {
        return new WebSocketDriver(order);
    }
}
