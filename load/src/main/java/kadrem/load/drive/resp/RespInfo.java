package kadrem.load.drive.resp;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

import com.fasterxml.jackson.databind.ObjectMapper;
import kadrem.core.plan.LoadStream;
import kadrem.core.rehearsal.RehearsedCall;
import kadrem.core.study.Call;
import kadrem.core.study.Form;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import kadrem.load.drive.CallValues;
import kadrem.load.drive.DriverOrder;
import kadrem.load.content.UnusableCall;

/** What a store tells of itself: product, version, and how it keeps its data. */
final class RespInfo {
    private static final List<String> TOLD = List.of("redis_version", "valkey_version", "server_name", "redis_mode",
            "config_file");

    private RespInfo() {
    }

    /** Attributes by name; empty where the store does not know the command. */
    static Map<String, String> ask(DriverOrder order) throws UnusableCall {
        try {
            Map<String, String> all = new TreeMap<>();
            new ObjectMapper().readTree(answer(order, "INFO server")).asText().lines().map(line -> line.split(":", 2))
                    .filter(pair -> pair.length == 2).forEach(pair -> all.put(pair[0], pair[1].strip()));
            Map<String, String> told = new LinkedHashMap<>();
            TOLD.stream().filter(name -> !all.getOrDefault(name, "").isEmpty())
                    .forEach(name -> told.put(name.replace('_', '-'), all.getOrDefault(name, "")));
            return told;
        } catch (IOException _) {
            return Map.of();
        }
    }

    /** The answer to a command, as JSON. */
    static String answer(DriverOrder order, String command) throws IOException, UnusableCall {
        Call call = Call.of("asked", "GET", "")
                .with(Form.of(RespProtocol.ID, Map.of("commands", List.of(command)))).in(RespProtocol.ID);
        var asks = new Workload(List.of(), List.of(new Visit("asked", 1, List.of(call))));
        try (var driver = new RespDriver(order.asking(asks)); var rehearser = driver.newRehearser()) {
            RehearsedCall answer = rehearser.call("", 0, new CallValues(new LoadStream(asks, 0, 0).newDraw(), 0));
            if (!answer.isGood()) {
                throw new IOException(answer.detail().isEmpty()
                        ? answer.failure().orElseThrow().id()
                        : answer.detail());
            }
            return new String(answer.decoded().toArray(), StandardCharsets.UTF_8);
        }
    }
}
