package kadrem.files.rehearsal;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.DateTimeException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Optional;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.SerializationFeature;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import kadrem.core.measure.Exchange;
import kadrem.core.measure.FailureKind;
import kadrem.core.rehearsal.Difference;
import kadrem.core.rehearsal.RehearsedCall;
import kadrem.core.rehearsal.Rehearsal;
import kadrem.core.rehearsal.Timeline;
import kadrem.core.study.Agreement;
import kadrem.core.study.Bytes;
import kadrem.core.study.Call;
import kadrem.files.AtomicFile;

/** The last rehearsal of a study, {@code rehearsal.json} in its folder; the schema is docs/schemas/rehearsal.schema.json. */
public final class RehearsalFile {
    public static final String NAME = "rehearsal.json";
    private static final int FORMAT = 1;
    private static final int MAX_BODY = 64 * 1024;
    private static final ObjectMapper MAPPER = new ObjectMapper().enable(SerializationFeature.INDENT_OUTPUT);

    private RehearsalFile() {
    }

    /** Writes {@code rehearsal} into the study's folder; bodies are cut to 64 KiB. */
    public static void write(Path studyFolder, Rehearsal rehearsal, Agreement agreement) throws IOException {
        AtomicFile.write(studyFolder.resolve(NAME), json(rehearsal, agreement).getBytes(StandardCharsets.UTF_8));
    }

    /** The rehearsal as JSON. */
    public static String json(Rehearsal rehearsal, Agreement agreement) {
        ObjectNode root = MAPPER.createObjectNode();
        root.put("kadremRehearsal", FORMAT).put("at", rehearsal.at().toString()).put("loadDigest",
                rehearsal.loadDigest()).put("agrees", rehearsal.agrees(agreement));
        ArrayNode candidates = root.putArray("candidates");
        for (Rehearsal.OfCandidate one : rehearsal.candidates()) {
            ObjectNode node = candidates.addObject().put("candidate", one.candidate()).put("problem", one.problem());
            ArrayNode calls = node.putArray("calls");
            one.calls().forEach(call -> calls.add(call(call)));
        }
        ArrayNode differences = root.putArray("differences");
        for (Difference difference : rehearsal.differences()) {
            ObjectNode node = differences.addObject().put("call", difference.call())
                    .put("candidate", difference.candidate()).put("where", difference.where())
                    .put("baseline", difference.baseline()).put("value", difference.value());
            agreement.reason(difference.call(), difference.where())
                    .ifPresentOrElse(reason -> node.put("accepted", reason), () -> node.putNull("accepted"));
        }
        try {
            return MAPPER.writeValueAsString(root);
        } catch (JsonProcessingException impossible) {
            throw new IllegalStateException(impossible);
        }
    }

    private static ObjectNode call(RehearsedCall call) {
        ObjectNode node = MAPPER.createObjectNode();
        node.put("visit", call.visit()).put("call", call.call()).put("good", call.isGood());
        call.failure().ifPresentOrElse(kind -> node.put("failure", kind.id()), () -> node.putNull("failure"));
        node.put("detail", call.detail()).put("request", Exchange.mask(call.request())).put("status", call.status());
        if (!call.answered().isEmpty()) {
            node.put("answered", call.answered());
        }
        ArrayNode headers = node.putArray("headers");
        call.headers().forEach(header -> headers.addObject().put("name", header.name()).put("value",
                secret(header.name()) ? "(removed)" : header.value()));
        node.put("bytesIn", call.bytesIn()).put("bodyBytes", call.decoded().size()).put("sha256", call.sha256());
        put(node, call.decoded());
        Timeline time = call.timeline();
        node.putObject("nanos").put("resolve", time.resolve()).put("connect", time.connect())
                .put("tls", time.tls())
                .put("sending", time.sending()).put("waiting", time.waiting()).put("receiving", time.receiving());
        return node;
    }

    private static boolean secret(String header) {
        return header.equalsIgnoreCase("set-cookie") || header.equalsIgnoreCase("authorization");
    }

    /** The body as text where it is text, in Base64 where it is not. */
    private static void put(ObjectNode node, Bytes body) {
        byte[] bytes = body.toArray();
        byte[] kept = bytes.length > MAX_BODY ? java.util.Arrays.copyOf(bytes, MAX_BODY) : bytes;
        String text = new String(kept, StandardCharsets.UTF_8);
        if (text.indexOf('\uFFFD') < 0 || bytes.length > MAX_BODY) {
            node.put("body", text);
        } else {
            node.put("bodyBase64", Base64.getEncoder().encodeToString(kept));
        }
    }

    /** The rehearsal that the study's folder holds; empty where it holds none that can be read. */
    public static Optional<Rehearsal> read(Path studyFolder) {
        Path file = studyFolder.resolve(NAME);
        if (!Files.isRegularFile(file)) {
            return Optional.empty();
        }
        try {
            JsonNode root = MAPPER.readTree(Files.readAllBytes(file));
            if (root == null || root.path("kadremRehearsal").asInt() != FORMAT) {
                return Optional.empty();
            }
            var candidates = new ArrayList<Rehearsal.OfCandidate>();
            root.path("candidates").forEach(node -> {
                var calls = new ArrayList<RehearsedCall>();
                node.path("calls").forEach(call -> calls.add(call(call)));
                candidates.add(new Rehearsal.OfCandidate(node.path("candidate").asText(), calls,
                        node.path("problem").asText()));
            });
            var differences = new ArrayList<Difference>();
            root.path("differences").forEach(node -> differences.add(new Difference(node.path("call").asText(),
                    node.path("candidate").asText(), node.path("where").asText(), node.path("baseline").asText(),
                    node.path("value").asText())));
            return Optional.of(new Rehearsal(Instant.parse(root.path("at").asText()), root.path("loadDigest").asText(),
                    candidates, differences));
        } catch (IOException | DateTimeException | IllegalArgumentException _) {
            // a rehearsal can be made again at any time
            return Optional.empty();
        }
    }

    private static RehearsedCall call(JsonNode node) {
        List<Call.Header> headers = new ArrayList<>();
        node.path("headers").forEach(
                header -> headers.add(new Call.Header(header.path("name").asText(), header.path("value").asText())));
        byte[] body = node.has("bodyBase64")
                ? Base64.getDecoder().decode(node.path("bodyBase64").asText())
                : node.path("body").asText().getBytes(StandardCharsets.UTF_8);
        JsonNode nanos = node.path("nanos");
        return new RehearsedCall(node.path("visit").asText(), node.path("call").asText(),
                node.path("request").asText(), node.path("status").asInt(), headers, node.path("bytesIn").asLong(),
                Bytes.of(body), Bytes.of(body), node.path("sha256").asText(),
                new Timeline(nanos.path("resolve").asLong(), nanos.path("connect").asLong(), nanos.path("tls").asLong(),
                        nanos.path("sending").asLong(), nanos.path("waiting").asLong(),
                        nanos.path("receiving").asLong()),
                node.path("failure").isTextual()
                        ? Optional.of(FailureKind.byId(node.path("failure").asText()))
                        : Optional.empty(),
                node.path("detail").asText(), node.path("answered").asText(""));
    }
}
