package kadrem.load.drive.command;

import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;

import kadrem.core.gate.Reach;
import kadrem.core.study.Address;
import kadrem.core.study.grammar.Field;
import kadrem.core.study.Form;
import kadrem.load.drive.DriverOrder;
import kadrem.load.content.UnusableCall;
import kadrem.load.drive.blocking.BlockingProtocol;
import kadrem.load.drive.blocking.Client;

/** A program that is started for each call on this machine. */
public final class CommandProtocol implements BlockingProtocol {
    public static final String ID = "command";

    @Override
    public String id() {
        return ID;
    }

    @Override
    public String words() {
        return "command";
    }

    @Override
    public String exampleAddress() {
        return "command:.";
    }

    /** {@code command:FOLDER}: the folder in which programs are started, seen from the study. */
    @Override
    public Optional<Address> address(String text) {
        return text.startsWith("command:") && text.length() > "command:".length()
                ? Optional.of(new Address(ID, "command", "localhost", 0, text.substring("command:".length()), false))
                : Optional.empty();
    }

    @Override
    public List<Field> fields() {
        return List.of(Field.list("command", "program and its arguments", "./tides --station {{station}}").needed(),
                Field.lines("input", "what it reads", "{{day}}"),
                Field.line("codes", "exit codes that are good", "0"));
    }

    @Override
    public Optional<String> objection(Form form) {
        return form.text("codes").isBlank() || form.text("codes").matches("[\\d\\s,]+")
                ? Optional.empty()
                : Optional.of("has \"" + form.text("codes") + "\" as its exit codes; write them like this: 0, 1");
    }

    @Override
    public List<Reach> reaches(String candidate, Address address, List<Form> forms) {
        return forms.stream().<Reach>map(form -> new Reach.Runs(candidate, "call", form.texts("command"),
                address.basePath(), Map.of(), form.text("input"), Map.of())).distinct().toList();
    }

    /** The folder in which programs are started. */
    static Path folder(DriverOrder order) {
        return order.secrets().folder().resolve(order.address().basePath());
    }

    @Override
    public String probe(DriverOrder order, Questions questions) throws IOException {
        if (!folder(order).toFile().isDirectory()) {
            throw new IOException("there is no folder " + folder(order));
        }
        return "";
    }

    @Override
    public Client<?> client(DriverOrder order) throws UnusableCall {
        return new CommandClient(order);
    }

    @Override
    public Map<String, String> fingerprint(DriverOrder order, Questions questions) {
        return Map.of("folder", order.address().basePath());
    }
}
