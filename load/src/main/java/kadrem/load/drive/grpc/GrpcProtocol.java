package kadrem.load.drive.grpc;

import java.io.IOException;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;

import io.grpc.Status;
import kadrem.core.study.Address;
import kadrem.core.study.grammar.Field;
import kadrem.core.study.Form;
import kadrem.load.drive.Driver;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.Offer;
import kadrem.load.drive.Peer;
import kadrem.load.drive.PeerOrder;
import kadrem.load.drive.ProtocolDriver;
import kadrem.load.content.UnusableCall;

/** Calls of gRPC, unary and streaming, over HTTP/2. */
public final class GrpcProtocol implements ProtocolDriver {
    public static final String ID = "grpc";
    private static final int PLAIN_PORT = 80;
    private static final int TLS_PORT = 443;

    @Override
    public String id() {
        return ID;
    }

    @Override
    public String words() {
        return "gRPC";
    }

    @Override
    public String exampleAddress() {
        return "grpc://127.0.0.1:50051";
    }

    @Override
    public Optional<Address> address(String text) {
        return Address.ofHost(text, ID, "grpc", "grpcs", text.startsWith("grpcs:") ? TLS_PORT : PLAIN_PORT)
                .filter(address -> address.basePath().isEmpty());
    }

    @Override
    public boolean heedsWire() {
        return true;
    }

    @Override
    public boolean heedsSignIn() {
        return true;
    }

    @Override
    public boolean sendsHeaders() {
        return true;
    }

    @Override
    public List<Field> fields() {
        return List.of(Field.line("method", "service and method", "harbour.BerthBoard/GetBerth").needed().asked(),
                Field.json("message", "message", "{\"id\": {{berth}}}"),
                Field.list("messages", "messages, where the client sends several", "{\"id\": 1}"),
                Field.choice("pace", "several messages go out", "at once", "after each answer"),
                Field.line("codes", "status codes that are good", "OK, NOT_FOUND"),
                Field.line("deadline", "deadline that is sent", "200ms"));
    }

    @Override
    public List<Field> settings() {
        return List.of(
                Field.list("descriptors",
                        "descriptor set or .proto files; asked by reflection where there are none",
                        "protos/berths.proto"),
                Field.line("authority", "the host's name in calls", "board.example"));
    }

    @Override
    public Optional<String> objection(Form form) {
        String method = form.text("method").strip();
        if (!method.isEmpty() && !method.matches("[A-Za-z_][\\w.]*/[A-Za-z_]\\w*")) {
            return Optional.of("names the method \"" + method + "\"; write it like this: harbour.BerthBoard/GetBerth");
        }
        if (!form.text("message").isBlank() && !form.texts("messages").isEmpty()) {
            return Optional.of("has a message and messages; remove one of them");
        }
        if (!form.text("deadline").isBlank() && GrpcCall.deadline(form).isEmpty()) {
            return Optional.of("has the deadline \"" + form.text("deadline") + "\"; write it like this: 200ms");
        }
        for (String code : codes(form)) {
            if (Arrays.stream(Status.Code.values()).noneMatch(known -> known.name().equals(code))) {
                return Optional.of("expects the status code \"" + code + "\"; use some of "
                        + String.join(", ", Arrays.stream(Status.Code.values()).map(Enum::name).toList()));
            }
        }
        return Optional.empty();
    }

    static List<String> codes(Form form) {
        String codes = form.text("codes").strip();
        return codes.isEmpty() ? List.of("OK") : List.of(codes.split("[\\s,]+"));
    }

    @Override
    public Optional<Peer> peer(PeerOrder order) {
        return GrpcPeer.of(order);
    }

    @Override
    public Driver open(DriverOrder order) throws UnusableCall {
        return new GrpcDriver(order);
    }

    @Override
    public List<Offer> offers(DriverOrder order, String field) throws UnusableCall {
        return field.equals("method") ? Descriptions.offered(order) : List.of();
    }

    @Override
    public List<String> files(Map<String, List<String>> settings) {
        return settings.getOrDefault("descriptors", List.of());
    }

    @Override
    public Map<String, String> fingerprint(DriverOrder order, Questions questions) throws IOException, UnusableCall {
        return Map.of("descriptors", Descriptions.words(order));
    }
}
