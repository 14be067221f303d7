package kadrem.core.check;

import static kadrem.core.study.grammar.Field.choice;
import static kadrem.core.study.grammar.Field.group;
import static kadrem.core.study.grammar.Field.groups;
import static kadrem.core.study.grammar.Field.line;
import static kadrem.core.study.grammar.Field.list;
import static kadrem.core.study.grammar.Field.named;
import static kadrem.core.study.grammar.Field.number;
import static kadrem.core.study.grammar.Field.oneOf;
import static kadrem.core.study.grammar.Field.pairs;
import static kadrem.core.study.grammar.Field.someGroups;
import static kadrem.core.study.grammar.Field.texts;
import static kadrem.core.study.grammar.Field.time;
import static kadrem.core.study.grammar.Field.whole;

import java.time.Duration;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collection;
import java.util.List;
import java.util.Optional;

import kadrem.core.study.Protocol;
import kadrem.core.study.ValueList;
import kadrem.core.study.grammar.Field;
import kadrem.core.study.grammar.Group;
import kadrem.core.study.grammar.Kind;

/** The fields of the workload: visits, calls, what is expected of their answers, value lists. */
final class WorkloadGrammar {
    private static final double ABOVE_NOTHING = Math.nextUp(0.0);
    private static final Duration NO_TIME = Duration.ZERO;
    private static final Duration HOUR = Duration.ofHours(1);
    private static final Optional<Kind.Form> STATUS = Optional.of(new Kind.Form("[1-9]\\d\\d(-[1-9]\\d\\d)?",
            "Write statuses like this: expect: [200, 300-304]"));

    private static final String THE_LOADS = "the load's";
    private static final String KIND = "kind";
    private static final String[] RANGES = {"numbers", "zipf", "timestamp"};

    private WorkloadGrammar() {
    }

    private static Field expect() {
        Group size = Group.of("length of the body in bytes", whole("least", "at least", 0, Long.MAX_VALUE, "10"),
                whole("most", "at most", 0, Long.MAX_VALUE, "5000"));
        Group group = Group.of("what an answer must be for the call to count as good; any 2xx if left out",
                Field.of("status", new Kind.Texts(true, false, STATUS), "statuses, or ranges of them", "",
                        "[200, 300-304]"),
                time("within", "time", NO_TIME, HOUR, "500ms"),
                pairs("headers", "headers, and what they hold", "{Content-Type: json}"),
                list("holds", "texts that the body holds", "berth"),
                list("matches", "regular expressions (RE2) that match a part of the body", "id.: \\d+"),
                pairs("json", "JSONPaths, and the value there; empty for any", "{$.id: \"7\"}"),
                list("jsonMissing", "JSONPaths where nothing may be", "$.error"),
                pairs("xml", "XPaths, and the value there; empty for any", "{/berth/@id: \"7\"}"),
                line("schema", "JSON Schema, as a file of the study", "values/berth.schema.json"),
                group("size", size, "{least: 10, most: 5000}"),
                line("sha256", "hash of the body", "9f86d081", "[0-9a-fA-F]{8,64}",
                        "Use 8 to 64 hexadecimal digits, as a rehearsal shows them."));
        return Field.of("expect", new Kind.ListOr(new Kind.Texts(false, false, STATUS), group), group.words(), "",
                "[200]");
    }

    private static Field capture() {
        Group source = Group.of("values that later calls of the visit use, each from one place of the answer").needed()
                .way(line("json", "JSONPath", "$.token").needed()).way(line("xml", "XPath", "/order/@id").needed())
                .way(line("pattern", "regular expression (RE2), its first group", "id=(\\d+)").needed())
                .way(line("header", "name of a header", "Location").needed())
                .way(line("cookie", "name of a cookie", "session").needed());
        return named("capture", source, "{token: {json: $.token}}");
    }

    private static Field answer() {
        return group("answer", Group.of("the part that is compared with candidates of other protocols",
                line("at", "JSONPath", "$.rows").usually("$"),
                pairs("names", "other names for its fields", "{berth_id: id}")), "{at: $.rows}");
    }

    private static Field bodyType() {
        return line("bodyType", "kind of a body that is not seen from it: json, xml, text, ndjson; of a file its type",
                "json");
    }

    private static List<List<Field>> bodies(boolean parts) {
        var ways = new ArrayList<>(List.of(List.of(Field.lines("body", "a text", "{\"berth\": {{berth}}}")),
                List.of(pairs("form", "fields of a form", "{berth: \"{{berth}}\"}")),
                List.of(line("file", "a file of the study", "values/photo.png"))));
        if (parts) {
            Group part = new Group("parts of a multipart body",
                    List.of(line("name", "name of the part", "photo").needed(), bodyType()), bodies(false), false);
            ways.add(List.of(groups("parts", part, "{name: photo, file: values/photo.png}")));
        }
        return ways;
    }

    private static Group call(Collection<Protocol> protocols) {
        var fields = new ArrayList<>(List.of(
                line("name", "groups the figures", "one-berth", "[A-Za-z0-9][A-Za-z0-9._-]{0,59}",
                        "Use letters, digits, dots, hyphens and underscores: it becomes a tag in the latency log.")
                        .needed(),
                line("method", "method of HTTP", "POST", "(?:GET|HEAD|POST|PUT|PATCH|DELETE|OPTIONS"
                        + "|get|head|post|put|patch|delete|options)",
                        "Use one of DELETE, GET, HEAD, OPTIONS, PATCH, POST, PUT.").usually("GET"),
                line("path", "path and question of the address; needed for HTTP", "/berths/{{berth}}", "/[!-~]*",
                        "Begin it with a slash, and write what may not stand in an address percent-encoded (RFC 3986)."),
                pairs("headers", "headers of the request", "{Accept: application/json}"), bodyType(),
                LoadGrammar.timeout("after which it is given up").otherwise(THE_LOADS),
                LoadGrammar.thinkTime("pause of a user after it").otherwise(THE_LOADS), expect(), capture(),
                answer()));
        protocols.stream().filter(protocol -> !protocol.isCallsOwnForm()).map(protocol -> {
            var form = new ArrayList<>(protocol.fields());
            form.addAll(List.of(expect(), capture(), answer()));
            return group(protocol.id(), new Group("the same thing in " + protocol.words(), form, List.of(), false),
                    "(the same in that protocol)");
        }).forEach(fields::add);
        return new Group("calls, in their order", fields, bodies(true), false);
    }

    private static Group valueList() {
        return Group.of("rows that vary what calls send, as {{name}}",
                line("name", "stands between the braces", "berth").needed(),
                oneOf(KIND,
                        "numbers, numbers of which few come often (zipf), a column of a file, one picked from a list,"
                                + " identifiers (uuid), a text of random letters, or timestamps",
                        List.of("numbers", "zipf", "column", "pick", "uuid", "text", "timestamp"), "zipf")
                        .otherwise("column where there is a file, numbers where there is none"),
                line("file", "CSV file of the study", "values/days.csv").when(KIND, "column"),
                line("column", "its heading", "day").otherwise("the list's name").when(KIND, "column"),
                line("from", "the least; a timestamp as 2026-07-01T00:00:00Z", "1").when(KIND, RANGES),
                line("to", "the most", "2400").when(KIND, RANGES),
                number("exponent", "how steep", ABOVE_NOTHING, 10, "1.1").usually("1").when(KIND, "zipf"),
                texts("of", "what is picked from", false, "[north, south]").when(KIND, "pick"),
                whole("length", "number of letters", 1, 10_000, "12").usually("12").when(KIND, "text"),
                choice("as", "how it is written", "iso", "seconds").when(KIND, "timestamp"),
                choice("order", "how rows are taken",
                        Arrays.stream(ValueList.Order.values()).map(ValueList.Order::id).toArray(String[]::new))
                        .usually("random"),
                choice("keep", "how long a row stays the same", Arrays.stream(ValueList.Keep.values())
                        .map(ValueList.Keep::id).toArray(String[]::new)).usually("visit").when("order", "random"));
    }

    static Group workload(Collection<Protocol> protocols) {
        Group call = call(protocols);
        Group defaults = Group.of("what calls have that do not say otherwise",
                pairs("headers", "headers of the requests", "{Accept: application/json}"),
                LoadGrammar.timeout("after which a call is given up").otherwise(THE_LOADS),
                LoadGrammar.thinkTime("pause of a user after a call").otherwise(THE_LOADS), expect());
        Group visit = Group.of("what simulated users do", line("name", "what it is", "look for a berth").needed(),
                number("share", "share of the visits, beside the others", ABOVE_NOTHING, Double.MAX_VALUE, "60")
                        .usually("1"),
                whole("repeat", "times that its calls are made in one visit", 1, 10_000, "3").usually("1"),
                someGroups("calls", call, "{name: one-berth, path: /berths/7}"));
        return Group.of("the mix of visits",
                choice("choose", "how a user chooses its next visit", "share", "in-turn"),
                groups("values", valueList(), "{name: berth, from: 1, to: 2400}"),
                group("defaults", defaults, "{timeout: 2s}"),
                groups("first", new Group("calls that each user makes once before its first visit", call.fields(),
                        call.ways(), false), "{name: sign-in, path: /login}"),
                someGroups("visits", visit, "{name: look for a berth}"));
    }
}
