package kadrem.core.check;

import static kadrem.core.study.grammar.Field.choice;
import static kadrem.core.study.grammar.Field.flag;
import static kadrem.core.study.grammar.Field.group;
import static kadrem.core.study.grammar.Field.groups;
import static kadrem.core.study.grammar.Field.line;
import static kadrem.core.study.grammar.Field.list;
import static kadrem.core.study.grammar.Field.named;
import static kadrem.core.study.grammar.Field.number;
import static kadrem.core.study.grammar.Field.oneOf;
import static kadrem.core.study.grammar.Field.pairs;
import static kadrem.core.study.grammar.Field.seconds;
import static kadrem.core.study.grammar.Field.secret;
import static kadrem.core.study.grammar.Field.share;
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

import kadrem.core.measure.SeriesRole;
import kadrem.core.study.Factor;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Metric;
import kadrem.core.study.Pacing;
import kadrem.core.study.Protocol;
import kadrem.core.study.SoundnessRule;
import kadrem.core.study.StopRule;
import kadrem.core.study.ValueList;
import kadrem.core.study.grammar.Field;
import kadrem.core.study.grammar.Grammar;
import kadrem.core.study.grammar.Group;
import kadrem.core.study.grammar.Kind;

/**
 * Every field of a study file: its name, how it is written, what it may be, what holds where it is left out, and what it is for.
 * Reader, schema, tables of the documentation and forms of the window all have it from here.
 */
public final class StudyGrammar {
    /** Connections and users that one machine can hold. */
    public static final int MAX_CONNECTIONS = 20_000;
    /** Arrivals a second. */
    public static final double MAX_RATE = 1_000_000;

    private static final double ABOVE_NOTHING = Math.nextUp(0.0);
    private static final Duration NO_TIME = Duration.ZERO;
    private static final Duration HOUR = Duration.ofHours(1);
    private static final Duration DAY = Duration.ofDays(1);
    private static final String TIME = "\\d{1,12}(\\.\\d{1,9})?(ns|us|ms|s|min|h)";
    private static final String THINK_TIME = "\\s*(none|" + TIME.replace("(ns", "\\s*(ns") + "|uniform\\s+" + TIME
            + "\\s+to\\s+" + TIME + "|exponential\\s+" + TIME + "|(log)?normal\\s+" + TIME + "\\s+sd\\s+" + TIME
            + ")\\s*";
    private static final Optional<Kind.Form> STATUS = Optional.of(new Kind.Form("[1-9]\\d\\d(-[1-9]\\d\\d)?",
            "Write statuses like this: expect: [200, 300-304]"));
    private static final Optional<Kind.Form> CODING = Optional
            .of(new Kind.Form("gzip|deflate|br|zstd|identity", "Use gzip, deflate, br, zstd or identity."));
    private static final String JDBC = "Write a JDBC address, such as jdbc:postgresql://127.0.0.1/board.";

    private StudyGrammar() {
    }

    /** The grammar of a study whose figures Kadrem measures. */
    public static Grammar measured(Collection<Protocol> protocols) {
        return new Grammar(Group.of("a study", format(), name(), group("question", question(), "(text and decide)"),
                group("signIn", signIn(), "{bearer: \"{{env:TOKEN}}\"}"),
                group("wire", wire(), "{protocol: http/2}"),
                someGroups("candidates", candidate(protocols), "(a list of candidates)"),
                texts("intendedDifferences", "attributes in which candidates are meant to differ", false, "launch"),
                group("workload", workload(protocols), "(a group with visits)").needed(),
                group("load", load(), "(a group with model, measured and more)").needed(),
                group("plan", plan(), "{rounds: 7}"), group("soundness", soundness(), "{limits: {late: 10%}}"),
                groups("annotations", annotation(), "{run: a1b2c3d4, second: 12, text: the backup began}"),
                group("rehearsal", rehearsal(), "{ignoreHeaders: [ETag]}")));
    }

    /** The grammar of a study whose figures were measured elsewhere. */
    public static Grammar ofFigures() {
        return new Grammar(Group.of("a study of figures that were measured elsewhere", format(), name(),
                group("question", question(), "(text and decide)"),
                someGroups("candidates", Group.of("what the figures are of",
                        line("id", "as the file with the figures has it", "pool",
                                "[\\p{L}\\p{N}][\\p{L}\\p{N} ._+-]{0,59}",
                                "Use up to 60 letters, digits, spaces and . _ + -, as in the file with its figures.")
                                .needed(),
                        line("name", "what people call it", "Thread pool")), "(a list of candidates)"),
                someGroups("figures", Group.of("a table of figures",
                        line("file", "CSV file, seen from the study", "figures/p99.csv").needed(),
                        metric(List.of(Metric.values()), "p99").needed(),
                        line("unit", "of the figures in the file", "ms")), "{file: figures/p99.csv, metric: p99}"),
                group("soundness", soundness(), "{limits: {late: 10%}}"),
                group("plan", plan(), "{rounds: 7}")));
    }

    private static Field format() {
        return line("kadrem", "format of the file", "1", "1", "This Kadrem reads studies of format 1.").needed();
    }

    private static Field name() {
        return line("name", "name of the study", "Harbour berth board").needed();
    }

    // ---- question ---------------------------------------------------------------------------------------------------

    private static Field metric(Collection<Metric> metrics, String example) {
        return oneOf("metric", "which figure", metrics.stream().map(Metric::id).toList(), example);
    }

    private static Field weight() {
        return number("weight", "beside the other metrics and factors", 0, 1000, "2").usually("1");
    }

    private static Group question() {
        Group decide = Group.of("metrics that decide, most important first",
                metric(List.of(Metric.values()), "p99").needed(),
                share("margin",
                        "smallest difference that would matter; 5 %, and 0.1 points of the error share, if left out",
                        0, 10, "5%"),
                weight());
        Group require = Group.of("what a candidate must meet", metric(List.of(Metric.values()), "p99").needed(),
                line("limit", "in the metric's own unit; memory in MiB", "200ms").needed());
        Group score = Group.of("scores by the ids of candidates",
                whole("step", "from 1, " + Factor.SCALE.getFirst() + ", to " + Factor.SCALE.size() + ", "
                        + Factor.SCALE.getLast(), 1, Factor.SCALE.size(), "4").needed(),
                line("reason", "why", "we run two of these").needed());
        Group judge = Group.of("what counts and cannot be measured",
                line("factor", "what it is", "operation").needed(), weight(),
                named("scores", score, "{pool: {step: 4, reason: we run two of these}}"));
        return Group.of("what is to be decided",
                line("text", "the decision in a sentence", "Which implementation do we run next season?").needed(),
                line("baseline", "id of the candidate that the others are compared with; the first if left out",
                        "pool"),
                share("significance", "accepted probability of calling a difference settled where there is none",
                        ABOVE_NOTHING, Math.nextDown(0.5), "0.05").usually("0.05"),
                someGroups("decide", decide, "{metric: p99, margin: 5%}"),
                groups("require", require, "{metric: p99, limit: 200ms}"),
                groups("judge", judge, "{factor: operation}"));
    }

    // ---- candidates -------------------------------------------------------------------------------------------------

    private static Group signIn() {
        Group password = Group.of("user and password in the header Authorization",
                line("user", "name of the user", "harbour").needed(),
                secret("password", "its password", "\"{{env:BOARD_PASSWORD}}\"").needed());
        Group oauth = Group.of("a token that a client is given (OAuth 2, client credentials)",
                line("tokenAddress", "where it is given", "http://127.0.0.1:9000/token").needed(),
                line("client", "id of the client", "kadrem").needed(),
                secret("secret", "its secret", "\"{{env:CLIENT_SECRET}}\"").needed(),
                line("scope", "what it is for", "board"));
        Group header = Group.of("a key in a header", line("name", "name of the header", "X-API-Key").needed(),
                secret("value", "the key", "\"{{env:BOARD_KEY}}\"").needed());
        return Group.of("how its users sign in").way(line("none", "not at all", "true"))
                .way(group("basic", password, "{user: harbour, password: \"{{env:BOARD_PASSWORD}}\"}"))
                .way(group("digest", password, "{user: harbour, password: \"{{env:BOARD_PASSWORD}}\"}"))
                .way(secret("bearer", "a token in the header Authorization", "\"{{env:TOKEN}}\""))
                .way(group("oauth", oauth, "{tokenAddress: \"http://127.0.0.1:9000/token\"}"))
                .way(group("header", header, "{name: X-API-Key, value: \"{{env:BOARD_KEY}}\"}"));
    }

    private static Group wire() {
        return Group.of("how calls travel",
                choice("protocol", "by ALPN over https, by prior knowledge over http", "http/1.1", "http/2"),
                choice("connections", "when a new connection is made", "keep", "per-visit", "per-call"),
                whole("streams", "with http/2: calls that share a connection at the same time", 1, 1000, "20")
                        .usually("1"),
                whole("pipelined", "with http/1.1: calls that share a connection at the same time", 1, 1000, "8")
                        .usually("1"),
                flag("resumption", "whether TLS sessions are resumed", true),
                Field.of("accept", new Kind.Texts(true, false, CODING), "codings that answers may have", "",
                        "[gzip, br]"),
                flag("pack", "whether bodies of requests are compressed with gzip", false),
                whole("redirects", "most redirects that are followed within a call", 0, 50, "5").usually("0"),
                flag("cookies", "whether each user keeps the cookies that it is given", false),
                line("socket", "Unix socket in the place of host and port", "/run/board.sock"),
                share("trace", "share of the calls that carry a trace id (header traceparent)", 0, 1, "1%")
                        .usually("0%"));
    }

    private static Group tls() {
        return Group.of("certificates, as PEM files seen from the study",
                flag("verify", "whether the candidate's certificate is looked at", true),
                line("authority", "who has signed it; the system's if left out", "ca.pem"),
                line("certificate", "the client's own", "me.pem"), line("key", "the client's own", "me.key"));
    }

    private static Group launch() {
        return Group.of("how it is started and stopped; left out for what already runs",
                texts("command", "program and arguments; {{port}} is that of the address", true,
                        "[./serve, --port, \"{{port}}\"]").needed(),
                line("folder", "working folder, seen from the study", "app").usually("."),
                pairs("environment", "variables of its environment", "{MODE: fast}"),
                line("processors", "processor set (Linux)", "\"0-3,6\"", "\\d{1,4}(-\\d{1,4})?(,\\d{1,4}(-\\d{1,4})?)*",
                        "Write it like this: \"0-3,6\""),
                time("readyWithin", "time from the start until the ready probe answers", NO_TIME, DAY, "30s")
                        .usually("30s"),
                time("stopWithin", "time between the request to end and the forced end", NO_TIME, DAY, "5s")
                        .usually("5s"));
    }

    /** A call, a command, SQL, or a question in the candidate's own protocol. */
    private static Group control(String words, String method, String path) {
        return Group.of(words).needed()
                .way(line("path", "a call of HTTP", path).needed(),
                        line("method", "its method", "POST").usually(method))
                .way(texts("command", "program and arguments", true, "[./reset.sh]").needed())
                .way(line("ask", "what the candidate is asked in its own protocol", "select count(*) from berth")
                        .needed())
                .way(Field.of("sql", new Kind.Texts(true, true, Optional.empty()), "statements", "",
                        "[\"truncate reservation\"]").needed(),
                        line("database", "JDBC address", "jdbc:postgresql://127.0.0.1/board", "jdbc:.*", JDBC).needed(),
                        line("user", "who signs in", "board"),
                        secret("password", "its password", "\"{{env:BOARD_PASSWORD}}\""));
    }

    private static Group watch() {
        Group series = Group.of("series that are kept", line("select", "name and labels", "process_open_fds").needed(),
                line("unit", "of its values", "files"),
                choice("role", "what it is drawn beside",
                        Arrays.stream(SeriesRole.values()).map(SeriesRole::id).toArray(String[]::new))
                        .usually(SeriesRole.CUSTOM.id()));
        return Group.of("what is watched while a run goes on, beside this host and the launched process",
                line("name", "what it is called; its kind if left out", "database host")).needed()
                .way(line("process", "a process with its children: a number or a file that holds it", "/run/board.pid")
                        .needed())
                .way(line("cgroup", "a control group", "/sys/fs/cgroup/system.slice/board.service").needed())
                .way(line("jvm", "management port of a Java machine; launched for the one that Kadrem starts",
                        "127.0.0.1:9010", "launched|\\S+:\\d{1,5}",
                        "Use launched for the one that Kadrem starts, or the host and port of its management connection,"
                                + " such as 127.0.0.1:9010.")
                        .needed())
                .way(line("ssh", "another host", "watcher@db.example:22", "[^@\\s]+@\\S+",
                        "Write it like this: ssh: watcher@db.example:22").needed(),
                        line("key", "private key, seen from the study", "id_ed25519"),
                        secret("password", "password of the user or of the key", "\"{{env:WATCHER_PASSWORD}}\""))
                .way(line("metrics", "an endpoint of OpenMetrics", "http://127.0.0.1:9100/metrics",
                        "https?://(\\[[0-9A-Fa-f:.]+\\]|[^\\s/:?#@\\[\\]]+)(:\\d{1,5})?(/\\S*)?",
                        "Write it like this: metrics: http://127.0.0.1:9100/metrics").needed(),
                        someGroups("series", series, "{select: process_open_fds}"))
                .way(line("sql", "a question to a database", "select ...").needed(),
                        line("database", "JDBC address", "jdbc:postgresql://127.0.0.1/board", "jdbc:.*", JDBC).needed(),
                        line("user", "who signs in", "board"),
                        secret("password", "its password", "\"{{env:BOARD_PASSWORD}}\""),
                        texts("counters", "columns that only grow, shown as rates", false, "commits"));
    }

    private static Group candidate(Collection<Protocol> protocols) {
        var fields = new ArrayList<>(List.of(
                line("id", "becomes part of folder names", "pool", "[a-z0-9][a-z0-9-]{0,39}",
                        "Use up to 40 lower-case letters, digits and hyphens: it becomes part of folder names.")
                        .needed(),
                line("name", "what people call it; the id if left out", "Thread pool + SQL"),
                line("address", "where it answers", "http://127.0.0.1:8080").needed(),
                oneOf("protocol", "where the address does not tell it", protocols.stream().map(Protocol::id).toList(),
                        "graphql"),
                group("launch", launch(), "{command: [./serve]}"),
                line("ready", "answers 2xx once load may begin", "/health").usually("/"),
                group("reset", control("what brings it back to its beginning before each run", "POST", "/reset"),
                        "{path: /reset}"),
                line("version", "tells its version, for the fingerprint", "/version"),
                group("data", control("tells what data it holds after its reset; must be alike", "GET", "/admin/count"),
                        "{path: /admin/count}"),
                group("signIn", signIn(), "{bearer: \"{{env:TOKEN}}\"}"), group("tls", tls(), "{authority: ca.pem}"),
                group("wire", wire(), "{protocol: http/2}"),
                groups("watch", watch(), "{process: /run/board.pid}")));
        protocols.stream().filter(protocol -> !protocol.isCallsOwnForm())
                .map(protocol -> group(protocol.id(),
                        new Group("settings of " + protocol.words(), protocol.settings(), List.of(), false),
                        "(settings)"))
                .forEach(fields::add);
        return new Group("the alternatives", fields, List.of(), false);
    }

    // ---- workload ---------------------------------------------------------------------------------------------------

    private static Field thinkTime(String words) {
        return line("thinkTime", words, "uniform 100ms to 500ms", THINK_TIME,
                "Write none, 250ms, uniform 100ms to 500ms, exponential 1s, normal 1s sd 200ms or lognormal 1s sd 500ms.");
    }

    private static Field timeout(String words) {
        return time("timeout", words, Duration.ofMillis(1), Duration.ofMinutes(10), "5s");
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
                timeout("after which it is given up; the load's if left out"),
                thinkTime("pause of a user after it; the load's if left out"), expect(), capture(), answer()));
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
                oneOf("kind", "column where there is a file, numbers otherwise",
                        List.of("numbers", "zipf", "column", "pick", "uuid", "text", "timestamp"), "zipf"),
                line("file", "column: CSV file of the study", "values/days.csv"),
                line("column", "column: its heading; the list's name if left out", "day"),
                line("from", "numbers, zipf, timestamp: the least", "1"),
                line("to", "numbers, zipf, timestamp: the most", "2400"),
                number("exponent", "zipf: how steep", ABOVE_NOTHING, 10, "1.1").usually("1"),
                texts("of", "pick: what is picked from", false, "[north, south]"),
                whole("length", "text: number of letters", 1, 10_000, "12").usually("12"),
                choice("as", "timestamp: how it is written", "iso", "seconds"),
                choice("order", "how rows are taken",
                        Arrays.stream(ValueList.Order.values()).map(ValueList.Order::id).toArray(String[]::new))
                        .usually("random"),
                choice("keep", "how long a row stays the same", Arrays.stream(ValueList.Keep.values())
                        .map(ValueList.Keep::id).toArray(String[]::new)).usually("visit"));
    }

    private static Group workload(Collection<Protocol> protocols) {
        Group call = call(protocols);
        Group defaults = Group.of("what calls have that do not say otherwise",
                pairs("headers", "headers of the requests", "{Accept: application/json}"),
                timeout("after which a call is given up"), thinkTime("pause of a user after a call"), expect());
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

    // ---- load -------------------------------------------------------------------------------------------------------

    private static Group segment() {
        return Group.of("the measured part, piece by piece").needed()
                .way(length("hold", "one level"),
                        number("at", "the level; the one before if left out", 0, MAX_RATE, "50"))
                .way(length("ramp", "evenly from the level before"),
                        number("to", "the level", 0, MAX_RATE, "100").needed())
                .way(length("step", "in equal stairs from the level before"),
                        number("to", "the level", 0, MAX_RATE, "100").needed(),
                        whole("stairs", "number of stairs", 1, 1000, "3").usually("4"))
                .way(length("burst", "another level for a while, and back"),
                        number("at", "the level", 0, MAX_RATE, "300").needed());
    }

    private static Field length(String name, String words) {
        return time(name, words, Duration.ofMillis(1), DAY, "30s").needed();
    }

    private static Group ladder() {
        return Group.of("rising levels, until throughput grows no longer or a requirement breaks",
                number("from", "first level", ABOVE_NOTHING, MAX_RATE, "10").needed(),
                whole("most", "most levels", 2, 100, "12").usually("12"),
                share("gain", "growth of throughput that is one", 0, 1, "5%").usually("5%"))
                .way(number("factor", "how many times the level before", Math.nextUp(1.0), MAX_RATE, "2").usually("2"))
                .way(number("by", "how much above the level before", ABOVE_NOTHING, MAX_RATE, "10"));
    }

    private static Group ceiling() {
        return Group.of("the search for the highest arrival rate that meets the requirements",
                number("from", "a rate that does", ABOVE_NOTHING, MAX_RATE, "100").needed(),
                number("to", "a rate that surely does not", ABOVE_NOTHING, MAX_RATE, "5000").needed(),
                share("precision", "how well it is to be known", ABOVE_NOTHING, Math.nextDown(1.0), "5%").usually("5%"),
                whole("most", "most levels", 2, 100, "12").usually("12"));
    }

    private static Group load() {
        Group stop = Group.of("what ends a run early",
                metric(StopRule.METRICS.stream().sorted().toList(), "p95").needed(),
                line("over", "limit in the metric's own unit", "2s").needed(),
                seconds("for", "so long", Duration.ofSeconds(1), HOUR, "10s").usually("10s"),
                choice("then", "the next run is made, or nothing more", "go-on", "end"));
        return Group.of("users or arrivals over time",
                choice("model", "arrivals, or users who wait", "open", "closed").needed(),
                number("arrivalsPerSecond", "open: arrivals a second", ABOVE_NOTHING, MAX_RATE, "400"),
                choice("spacing", "open: how arrivals follow each other",
                        Arrays.stream(LoadProfile.Spacing.values()).map(LoadProfile.Spacing::id)
                                .toArray(String[]::new)),
                whole("connections", "open: opened ahead, and number of users whose visits come in turn", 1,
                        MAX_CONNECTIONS, "64").usually("64"),
                whole("connectionLimit", "open: while there are fewer, an arrival that finds all held opens another; "
                        + LoadProfile.Open.USUAL_LIMIT + " if left out", 1, MAX_CONNECTIONS, "64"),
                whole("users", "closed: users", 1, MAX_CONNECTIONS, "20"),
                thinkTime("closed: pause of a user after calls that have none of their own"),
                time("pace", "closed: a visit of each user is due so often; without it one follows on the other",
                        Duration.ofMillis(1), HOUR, "2s"),
                seconds("warmUp", "sent before the measured part and not counted", NO_TIME, HOUR, "5s").usually("5s"),
                number("warmUpLevel", "its level; that with which the measured part begins if left out", 0, MAX_RATE,
                        "20"),
                seconds("measured", "length of the measured part", Duration.ofSeconds(1), DAY, "20s"),
                whole("visits", "ends the measured part after so many visits", 1, Long.MAX_VALUE, "1000"),
                seconds("windDown", "time in which the level falls to 0 afterwards; not counted", NO_TIME, HOUR, "5s")
                        .usually("0s"),
                timeout("after which a call is given up").usually("5s"),
                groups("segments", segment(), "{hold: 30s, at: 50}"), group("ladder", ladder(), "{from: 10}"),
                group("ceiling", ceiling(), "{from: 100, to: 5000}"),
                groups("stopWhen", stop, "{metric: p95, over: 2s, for: 20s}"));
    }

    // ---- plan and judgement -----------------------------------------------------------------------------------------

    private static Group plan() {
        return Group.of("how often, and in which order",
                whole("rounds", "planned rounds; each measures every candidate once", 1, 1000, "7").usually("7"),
                whole("seed", "fixes the orders and everything that is sent", "1").usually("1"),
                time("pause", "time between two runs", NO_TIME, DAY, "1s").usually("1s"),
                time("idle",
                        "time before each run in which the hosts are watched at rest; from 3s on it is compared with",
                        NO_TIME, DAY, "5s").usually("5s"),
                choice("order", "of the candidates of a round; together on hosts of their own", "in-turn", "together"),
                group("adaptive", Group.of("rounds are added until every deciding pair is settled",
                        whole("atMost", "most rounds", 1, 1000, "30").needed()), "{atMost: 30}"),
                oneOf("pacing", "how the generator waits; what fits the host if left out",
                        Arrays.stream(Pacing.values()).map(Pacing::id).toList(), "exact"));
    }

    private static Field limit(SoundnessRule rule) {
        String words = (rule.setsAside(true) ? "sets a round aside" : "a finding") + "; usually "
                + rule.written(rule.usualLimit());
        return switch (rule.unit()) {
            case MILLISECONDS -> time(rule.id(), words, NO_TIME, HOUR, "5ms");
            case SECONDS -> time(rule.id(), words, NO_TIME, DAY, "20s");
            case SHARE -> share(rule.id(), words, 0, 1000, "10%");
            case COUNT -> number(rule.id(), words, 0, Double.MAX_VALUE, "50");
        };
    }

    private static Group soundness() {
        Group limits = new Group("limits other than the usual ones; a limit on the host asks for quiet",
                Arrays.stream(SoundnessRule.values()).map(StudyGrammar::limit).toList(), List.of(), false);
        return Group.of("how strictly runs are judged", group("limits", limits, "{late: 10%}"),
                groups("leftOut", Group.of("rounds that enter no comparison; others take their place",
                        whole("round", "its number", 1, Integer.MAX_VALUE, "3").needed(),
                        line("reason", "why", "the backup ran in it").needed()),
                        "{round: 3, reason: the backup ran in it}"),
                groups("takenIn", Group.of("disturbed runs that count all the same",
                        line("run", "its id", "a1b2c3d4").needed(),
                        line("reason", "why", "the burst was in the first second only").needed()),
                        "{run: a1b2c3d4, reason: …}"));
    }

    private static Group annotation() {
        return Group.of("what was noted of moments of runs", line("run", "its id", "a1b2c3d4").needed(),
                whole("second", "of the run", 0, Integer.MAX_VALUE, "12").needed(),
                line("text", "what was noted", "the backup began").needed());
    }

    private static Group rehearsal() {
        return Group.of("when two answers count as the same",
                texts("ignoreHeaders", "headers that may differ", false, "ETag"),
                texts("ignoreJson", "JSONPaths that may differ", false, "$..updatedAt"),
                share("tolerance", "between numbers", 0, Math.nextDown(1.0), "0.1%").usually("0%"),
                choice("arrays", "whether the order of an array counts", "in-order", "as-sets"),
                groups("accepted", Group.of("differences that were looked at and accepted",
                        line("call", "name of the call", "reserve").needed(),
                        line("where", "place in the answer", "$.id").needed(),
                        line("reason", "why", "each database counts by itself").needed()),
                        "{call: reserve, where: $.id, reason: each database counts by itself}"));
    }
}
