package kadrem.load.drive;

import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;

import kadrem.core.plan.LoadStream;
import kadrem.core.rehearsal.RehearsedCall;
import kadrem.core.study.Access;
import kadrem.core.study.Address;
import kadrem.core.study.Call;
import kadrem.core.study.Form;
import kadrem.core.study.Protocols;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import kadrem.load.content.UnusableCall;
import kadrem.load.net.Transport;

/** Calls of other protocols than HTTP, made and rehearsed for tests. */
public final class Rehearsed {
    private Rehearsed() {
    }

    public static Address address(String protocol, String text) {
        return Protocols.byId(protocol).orElseThrow().address(text).orElseThrow();
    }

    /** @param fields names and texts by turns; a text of several lines is a list */
    public static Call call(String protocol, String name, String... fields) {
        var form = new java.util.LinkedHashMap<String, List<String>>();
        for (int i = 0; i < fields.length; i += 2) {
            form.merge(fields[i], List.of(fields[i + 1]),
                    (one, two) -> java.util.stream.Stream.concat(one.stream(), two.stream()).toList());
        }
        return Call.of(name, "GET", "").with(Form.of(protocol, form)).in(protocol);
    }

    public static Workload workload(Call... calls) {
        return new Workload(List.of(), List.of(new Visit("v", 1, List.of(calls))));
    }

    public static DriverOrder order(Address address, Access access, Workload workload, Path folder) {
        return new DriverOrder(address, access, workload, Duration.ofSeconds(20),
                new Secrets(Map.of("BERTH_TOKEN", "tok-31415"), folder), Transport.best());
    }

    /** Every call once, with the values of the stream's first visit. */
    public static List<RehearsedCall> all(DriverOrder order) throws UnusableCall {
        try (Driver driver = Drivers.open(order); Rehearser rehearser = driver.newRehearser()) {
            Workload workload = order.workload();
            LoadStream stream = new LoadStream(workload, 0, 7);
            LoadStream.Draw draw = stream.newDraw();
            stream.draw(0, 0, draw);
            var values = new CallValues(draw, workload.capturedNames().size());
            return IntStream.range(0, workload.calls().size())
                    .mapToObj(number -> rehearser.call("v", number, values)).toList();
        }
    }

    public static String body(RehearsedCall call) {
        return new String(call.decoded().toArray(), StandardCharsets.UTF_8);
    }
}
