package kadrem.load.drive.mqtt;

import java.util.List;
import java.util.Map;
import java.util.Optional;

import kadrem.core.study.Address;
import kadrem.core.study.grammar.Field;
import kadrem.core.study.Form;
import kadrem.load.drive.DriverOrder;
import kadrem.load.content.UnusableCall;
import kadrem.load.drive.blocking.BlockingProtocol;
import kadrem.load.drive.blocking.Client;

/** Messages published to a broker, and how long they take to come back. */
public final class MqttProtocol implements BlockingProtocol {
    public static final String ID = "mqtt";
    private static final int PORT = 1883;
    private static final int TLS_PORT = 8883;

    @Override
    public String id() {
        return ID;
    }

    @Override
    public String words() {
        return "MQTT";
    }

    @Override
    public String exampleAddress() {
        return "mqtt://127.0.0.1:1883";
    }

    @Override
    public Optional<Address> address(String text) {
        return Address.ofHost(text, ID, "mqtt", "mqtts", text.startsWith("mqtts:") ? TLS_PORT : PORT)
                .filter(address -> address.basePath().isEmpty());
    }

    @Override
    public List<Field> fields() {
        return List.of(Field.line("topic", "topic", "arrivals/{{berth}}").needed(),
                Field.json("payload", "message", "{\"vessel\": \"Visitor {{vessel}}\"}"),
                Field.choice("qos", "quality of service", "0", "1", "2"),
                Field.choice("ends", "the call ends", "when it is published", "when it has come back"));
    }

    @Override
    public List<Field> settings() {
        return List.of(Field.choice("version", "version", "5", "3"), Field.line("user", "user", "harbour"),
                Field.secret("password", "password", "\"{{env:BROKER_PASSWORD}}\""));
    }

    @Override
    public Optional<String> objection(Form form) {
        return form.text("topic").matches(".*[#+].*")
                ? Optional.of("has a topic with + or #, to which nothing can be published")
                : Optional.empty();
    }

    @Override
    public Optional<String> objection(Address address, Map<String, List<String>> settings) {
        return settings.containsKey("password") && !settings.containsKey("user")
                ? Optional.of("has a password and no user")
                : Optional.empty();
    }

    @Override
    public Client<?> client(DriverOrder order) throws UnusableCall {
        return new MqttClient(order);
    }
}
