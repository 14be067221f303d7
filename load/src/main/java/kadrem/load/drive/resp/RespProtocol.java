package kadrem.load.drive.resp;

import java.util.List;
import java.util.Map;
import java.util.Optional;

import kadrem.core.gate.Reach;
import kadrem.core.study.Address;
import kadrem.core.study.grammar.Field;
import kadrem.core.study.Form;
import kadrem.load.drive.Driver;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.Peer;
import kadrem.load.drive.PeerOrder;
import kadrem.load.drive.ProtocolDriver;
import kadrem.load.content.UnusableCall;

/** Commands to a store that speaks RESP, sent together and answered in order. */
public final class RespProtocol implements ProtocolDriver {
    public static final String ID = "resp";
    private static final int PORT = 6379;

    @Override
    public String id() {
        return ID;
    }

    @Override
    public String words() {
        return "RESP (Redis protocol)";
    }

    @Override
    public String exampleAddress() {
        return "redis://127.0.0.1:6379";
    }

    @Override
    public Optional<Address> address(String text) {
        return Address.ofHost(text, ID, "redis", "rediss", PORT)
                .filter(address -> address.basePath().matches("(/\\d{1,4})?"));
    }

    @Override
    public List<Field> fields() {
        return List.of(
                Field.list("commands", "commands, sent together", "GET berth:{{berth}}").needed(),
                Field.choice("values", "values of the answer are", "text", "json", "pairs"),
                Field.line("subscribe", "channel whose message ends the call", "arrivals"));
    }

    @Override
    public List<Field> settings() {
        return List.of(Field.line("user", "user", "harbour"),
                Field.secret("password", "password", "\"{{env:STORE_PASSWORD}}\""));
    }

    @Override
    public Optional<String> objection(Form form) {
        for (String command : form.texts("commands")) {
            try {
                if (Commands.words(command).isEmpty()) {
                    return Optional.of("has an empty command");
                }
            } catch (UnusableCall cause) {
                return Optional.of(String.valueOf(cause.getMessage()));
            }
        }
        return Optional.empty();
    }

    @Override
    public Optional<String> objection(Address address, Map<String, List<String>> settings) {
        return settings.containsKey("user") && !settings.containsKey("password")
                ? Optional.of("has a user and no password")
                : Optional.empty();
    }

    @Override
    public Optional<Peer> peer(PeerOrder order) {
        return order.workload().calls().stream().flatMap(call -> call.form(ID).stream())
                .anyMatch(form -> !form.text("subscribe").isBlank())
                        ? Optional.empty()
                        : Optional.of(RespPeer.of(order));
    }

    @Override
    public Driver open(DriverOrder order) throws UnusableCall {
        return new RespDriver(order);
    }

    @Override
    public List<Reach> reaches(String candidate, Address address, List<Form> forms) {
        return forms.stream().flatMap(form -> form.texts("commands").stream())
                .<Reach>map(command -> new Reach.Tells(candidate, "call", address.toString(), command)).distinct()
                .toList();
    }

    @Override
    public boolean isSafeToStandIns() {
        return true;
    }

    @Override
    public String ask(DriverOrder order, String words) throws java.io.IOException, UnusableCall {
        return RespInfo.answer(order, words);
    }

    @Override
    public Map<String, String> fingerprint(DriverOrder order, Questions questions)
            throws java.io.IOException, UnusableCall {
        return RespInfo.ask(order);
    }
}
