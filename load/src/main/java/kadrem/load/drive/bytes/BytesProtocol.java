package kadrem.load.drive.bytes;

import java.io.IOException;
import java.util.List;
import java.util.Optional;

import kadrem.core.study.Address;
import kadrem.core.study.grammar.Field;
import kadrem.core.study.Form;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.Peer;
import kadrem.load.drive.PeerOrder;
import kadrem.load.content.UnusableCall;
import kadrem.load.drive.blocking.BlockingProtocol;
import kadrem.load.drive.blocking.Client;

/** Bytes over TCP, TCP with TLS, or UDP. */
public final class BytesProtocol implements BlockingProtocol {
    public static final String ID = "bytes";

    @Override
    public String id() {
        return ID;
    }

    @Override
    public String words() {
        return "TCP or UDP";
    }

    @Override
    public String exampleAddress() {
        return "tcp://127.0.0.1:7000";
    }

    @Override
    public Optional<Address> address(String text) {
        return Address.ofHost(text, ID, "tcp", "tls", 0).or(() -> Address.ofHost(text, ID, "udp", "udp", 0))
                .filter(address -> address.basePath().isEmpty());
    }

    @Override
    public List<Field> fields() {
        return List.of(
                Field.lines("send", "what is sent; \\n, \\r, \\t, \\0 and \\xHH stand for single bytes",
                        "TIDE {{station}}\\n").needed(),
                Field.choice("as", "it is written as", "text", "hex"),
                Field.line("until",
                        "the answer ends: with a delimiter such as \\n, after 12 bytes, at /pattern/, or at close",
                        "\\n"));
    }

    @Override
    public Optional<String> objection(Form form) {
        try {
            Ending.of(form.text("until"));
            if (form.text("as").equals("hex")
                    && !form.text("send").replaceAll("\\{\\{[^{}]*}}|\\s", "").matches("([0-9A-Fa-f]{2})*")) {
                return Optional.of("sends what is not hexadecimal: two digits for each byte");
            }
            return Optional.empty();
        } catch (UnusableCall cause) {
            return Optional.of(String.valueOf(cause.getMessage()));
        }
    }

    @Override
    public String probe(DriverOrder order, Questions questions) throws IOException, UnusableCall {
        // a port of UDP does not tell whether somebody listens
        return order.address().scheme().equals("udp") ? "" : BlockingProtocol.super.probe(order, questions);
    }

    @Override
    public Optional<Peer> peer(PeerOrder order) {
        return BytesPeer.of(order);
    }

    @Override
    public Client<?> client(DriverOrder order) throws UnusableCall {
        return new BytesClient(order);
    }
}
