package kadrem.load.drive.amqp;

import java.io.IOException;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

import kadrem.core.study.Address;
import kadrem.core.study.grammar.Field;
import kadrem.load.drive.DriverOrder;
import kadrem.load.content.UnusableCall;
import kadrem.load.drive.blocking.BlockingProtocol;
import kadrem.load.drive.blocking.Client;

/** Messages published to an exchange of a broker, and how long they take to come back. */
public final class AmqpProtocol implements BlockingProtocol {
    public static final String ID = "amqp";
    private static final int PORT = 5672;
    private static final int TLS_PORT = 5671;

    @Override
    public String id() {
        return ID;
    }

    @Override
    public String words() {
        return "AMQP 0-9-1";
    }

    @Override
    public String exampleAddress() {
        return "amqp://127.0.0.1:5672";
    }

    @Override
    public Optional<Address> address(String text) {
        return Address.ofHost(text, ID, "amqp", "amqps", text.startsWith("amqps:") ? TLS_PORT : PORT);
    }

    @Override
    public List<Field> fields() {
        return List.of(Field.line("exchange", "exchange", "amq.topic").needed(),
                Field.line("key", "routing key", "arrivals.{{berth}}"),
                Field.json("payload", "message", "{\"vessel\": \"Visitor {{vessel}}\"}"),
                Field.choice("persistent", "the broker keeps it on disk", "false", "true"),
                Field.choice("ends", "the call ends", "when it is confirmed", "when it has come back"));
    }

    @Override
    public List<Field> settings() {
        return List.of(Field.line("user", "user", "guest"),
                Field.secret("password", "password", "\"{{env:BROKER_PASSWORD}}\""));
    }

    @Override
    public Client<?> client(DriverOrder order) throws UnusableCall {
        return new AmqpClient(order);
    }

    @Override
    public Map<String, String> fingerprint(DriverOrder order, Questions questions) throws IOException, UnusableCall {
        Map<String, String> told = new LinkedHashMap<>();
        AmqpClient.about(order).forEach((name, value) -> {
            if (List.of("product", "version", "platform").contains(name)) {
                told.put(name.equals("version") ? "server-version" : name, String.valueOf(value));
            }
        });
        return told;
    }
}
