package kadrem.load.drive.resp;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import kadrem.core.plan.LoadStream;
import kadrem.core.rehearsal.RehearsedCall;
import kadrem.core.study.Call;
import kadrem.core.study.Form;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import kadrem.load.drive.CallValues;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.UnusableCall;

/** What a store tells of itself: product, version, and how it keeps its data. */
final class RespInfo {
    private static final Workload ASKS = new Workload(List.of(), List.of(new Visit("info", 1, List.of(Call
            .of("info", "GET", "").with(Form.of(RespProtocol.ID, Map.of("commands", List.of("INFO server"))))))));
    private static final List<String> TOLD = List.of("redis_version", "valkey_version", "server_name", "redis_mode",
            "config_file");

    private RespInfo() {
    }

    /** Attributes by name; empty where the store does not know the command. */
    static Map<String, String> ask(DriverOrder order) throws UnusableCall {
        var asking = new DriverOrder(order.address(), order.access(), ASKS.in(RespProtocol.ID), order.timeout(),
                order.secrets(), order.transport());
        try (var driver = new RespDriver(asking); var rehearser = driver.newRehearser()) {
            RehearsedCall answer = rehearser.call("", 0, new CallValues(new LoadStream(ASKS, 0, 0).newDraw(), 0));
            Map<String, String> all = new TreeMap<>();
            if (answer.isGood()) {
                new ObjectMapper().readTree(answer.decoded().toArray()).asText().lines()
                        .map(line -> line.split(":", 2)).filter(pair -> pair.length == 2)
                        .forEach(pair -> all.put(pair[0], pair[1].strip()));
            }
            Map<String, String> told = new LinkedHashMap<>();
            TOLD.stream().filter(all::containsKey).filter(name -> !all.get(name).isEmpty())
                    .forEach(name -> told.put(name.replace('_', '-'), all.get(name)));
            return told;
        } catch (JsonProcessingException | java.io.UncheckedIOException _) {
            return Map.of();
        } catch (java.io.IOException impossible) {
            throw new java.io.UncheckedIOException(impossible);
        }
    }
}
