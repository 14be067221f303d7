package kadrem.core.check;

import static kadrem.core.study.grammar.Field.choice;
import static kadrem.core.study.grammar.Field.flag;
import static kadrem.core.study.grammar.Field.group;
import static kadrem.core.study.grammar.Field.groups;
import static kadrem.core.study.grammar.Field.line;
import static kadrem.core.study.grammar.Field.oneOf;
import static kadrem.core.study.grammar.Field.pairs;
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
import java.util.stream.Stream;

import kadrem.core.measure.SeriesRole;
import kadrem.core.study.Protocol;
import kadrem.core.study.grammar.Field;
import kadrem.core.study.grammar.Group;
import kadrem.core.study.grammar.Kind;

/** The fields of a candidate: where it answers, how it is launched, signed in to, reset and watched. */
final class CandidateGrammar {
    private static final Duration NO_TIME = Duration.ZERO;
    private static final Duration DAY = Duration.ofDays(1);
    private static final Optional<Kind.Form> CODING = Optional
            .of(new Kind.Form("gzip|deflate|br|zstd|identity", "Use gzip, deflate, br, zstd or identity."));
    private static final String JDBC = "Write a JDBC address, such as jdbc:postgresql://127.0.0.1/board.";

    private CandidateGrammar() {
    }

    static Group signIn() {
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

    static Group wire() {
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
                line("authority", "who has signed it", "ca.pem").otherwise("the system's"),
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
                line("name", "what it is called", "database host").otherwise("its kind")).needed()
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

    /** Another entrance for a crowd: a sign-in of its own, or another protocol. */
    private static Group elsewhere(Collection<Protocol> protocols) {
        var fields = new ArrayList<>(List.of(
                line("crowd", "name of the crowd", "publishers").needed(),
                line("address", "where it answers that crowd", "mqtt://127.0.0.1:1883").otherwise("the candidate's"),
                spoken(protocols), group("signIn", signIn(), "{bearer: \"{{env:TOKEN}}\"}"),
                group("tls", tls(), "{authority: ca.pem}"), group("wire", wire(), "{protocol: http/2}")));
        settings(protocols).forEach(fields::add);
        return new Group("where it answers a crowd that does not go to its address, or signs in otherwise", fields,
                List.of(), false);
    }

    private static Field spoken(Collection<Protocol> protocols) {
        return oneOf("protocol", "where the address does not tell it", protocols.stream().map(Protocol::id).toList(),
                "graphql");
    }

    private static Stream<Field> settings(Collection<Protocol> protocols) {
        return protocols.stream().filter(protocol -> !protocol.isCallsOwnForm())
                .map(protocol -> group(protocol.id(),
                        new Group("settings of " + protocol.words(), protocol.settings(), List.of(), false),
                        "(settings)"));
    }

    static Group candidate(Collection<Protocol> protocols) {
        var fields = new ArrayList<>(List.of(
                line("id", "becomes part of folder names", "pool", "[a-z0-9][a-z0-9-]{0,39}",
                        "Use up to 40 lower-case letters, digits and hyphens: it becomes part of folder names.")
                        .needed(),
                line("name", "what people call it", "Thread pool + SQL").otherwise("the id"),
                line("address", "where it answers", "http://127.0.0.1:8080").needed(),
                spoken(protocols),
                group("launch", launch(), "{command: [./serve]}"),
                line("ready", "answers 2xx once load may begin", "/health").usually("/"),
                group("reset", control("what brings it back to its beginning before each run", "POST", "/reset"),
                        "{path: /reset}"),
                line("version", "tells its version, for the fingerprint", "/version"),
                group("data", control("tells what data it holds after its reset; must be alike", "GET", "/admin/count"),
                        "{path: /admin/count}"),
                group("signIn", signIn(), "{bearer: \"{{env:TOKEN}}\"}"), group("tls", tls(), "{authority: ca.pem}"),
                group("wire", wire(), "{protocol: http/2}"),
                groups("watch", watch(), "{process: /run/board.pid}"),
                groups("elsewhere", elsewhere(protocols), "{crowd: publishers, address: \"mqtt://127.0.0.1:1883\"}")));
        settings(protocols).forEach(fields::add);
        return new Group("the alternatives", fields, List.of(), false);
    }
}
