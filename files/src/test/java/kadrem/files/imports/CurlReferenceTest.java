package kadrem.files.imports;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.TreeMap;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.TimeUnit;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import kadrem.core.study.Call;
import kadrem.fixtures.Programs;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Commands are read as curl itself reads them. Reference: the program curl, whose requests are looked at as they arrive. */
class CurlReferenceTest {
    private static final Pattern PART = Pattern
            .compile("(?s)name=\"([^\"]+)\"(?:\r\nContent-Type: ([^\r]+))?\r\n\r\n(.*?)\r\n--");
    /** What curl says by itself, and what differs with every request. */
    private static final List<String> OWN = List.of("host", "content-length", "connection", "accept-encoding",
            "expect");

    private final BlockingQueue<Arrived> arrived = new LinkedBlockingQueue<>();
    private HttpServer server;

    private record Arrived(String method, String target, Map<String, String> headers, String body) {
    }

    CurlReferenceTest() throws IOException {
        server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
    }

    @BeforeEach
    void listen() {
        server.createContext("/", this::note);
        server.start();
    }

    @AfterEach
    void close() {
        server.stop(0);
    }

    private void note(HttpExchange exchange) throws IOException {
        Map<String, String> headers = new TreeMap<>();
        exchange.getRequestHeaders().forEach((name, values) -> headers.put(name.toLowerCase(Locale.ROOT),
                String.join(", ", values)));
        arrived.add(new Arrived(exchange.getRequestMethod(), exchange.getRequestURI().toString(), headers,
                new String(exchange.getRequestBody().readAllBytes(), StandardCharsets.UTF_8)));
        exchange.sendResponseHeaders(204, -1);
        exchange.close();
    }

    @ParameterizedTest
    @ValueSource(strings = {"curl URL/berths/7", "curl -s 'URL/berths?day=2026-07-14&free=true'",
            "curl URL/a -d 'berth=7' --data 'nights=2'",
            "curl -XPUT URL/a --data-raw '@home' -H 'Content-Type: text/plain'",
            "curl -sSXDELETE URL/a/7", "curl -G URL/find -d q=1 --data-urlencode 'name=Ada Lovelace & Söhne ~*'",
            "curl URL/a --data-urlencode 'a b=c d'", "curl URL/a --data-urlencode '=c d/é'",
            "curl URL/a --json '{\"berth\": 7}'",
            "curl URL/a --json '{\"berth\":' --json ' 7}' -H 'Accept: text/plain'",
            "curl -I URL/a", "curl --get --head URL/a -d x=1", "curl -A 'board/1' -e http://quay/ -r 0-99 URL/a",
            "curl URL/a --url-query 'q=a b' --url-query +raw=1", "curl URL -H 'X-Empty;' -H 'X-Quay:Alder'",
            "curl $'URL/a' -d $'it\\'s\\ttea\\u0021\\n' -H \"X-Said: \\\"hi\\\"\"",
            "curl URL/one URL/two \\\n -H 'X-Both: yes'", "curl URL/one --next -d a=1 URL/two",
            "curl -F 'note={\"a\": 1};type=application/json' -F who=Ada -F 'q=\"a;b\"' URL/form",
            "curl --form-string 'who=@Ada;type=x' URL/form", "curl --request-target '/b?x' URL/a",
            "curl -X PATCH URL/a -d ''", "curl --data-binary $'a\\nb' URL/a", "curl -d 'a' -G 'URL/a?b'",
            "# a comment\ncurl -s URL/a 2>&1 >/dev/null | cat\ncurl URL/b", "curl -fsSLk -m 5 -o /dev/null URL/a"})
    void commandsSendWhatCurlSends(String command) throws Exception {
        assumeTrue(Programs.isThere("curl"));
        String url = "http://127.0.0.1:" + server.getAddress().getPort();
        String line = command.replace("URL", url);
        Process curl = new ProcessBuilder("bash", "-c", line.replace("curl ", "curl --disable --noproxy '*' "))
                .redirectOutput(ProcessBuilder.Redirect.DISCARD).redirectError(ProcessBuilder.Redirect.DISCARD).start();
        assertThat(curl.waitFor(20, TimeUnit.SECONDS)).isTrue();
        Imported imported = CommandImport.read(line);
        List<Arrived> sent = new ArrayList<>();
        arrived.drainTo(sent);
        assertThat(imported.kept()).hasSameSizeAs(sent).isNotEmpty();
        for (int i = 0; i < sent.size(); i++) {
            FoundCall call = imported.kept().get(i);
            Arrived reference = sent.get(i);
            assertThat(call.origin()).isEqualTo(url);
            assertThat(call.method()).isEqualTo(reference.method());
            assertThat(call.target()).isEqualTo(upper(reference.target()));
            if (call.parts().isEmpty()) {
                assertThat(call.body()).isEqualTo(reference.body());
            } else {
                assertThat(parts(reference.body())).isEqualTo(call.parts().stream()
                        .map(part -> part.name() + "=" + part.text()
                                + (part.kind().isEmpty() ? "" : ", " + part.kind()))
                        .toList());
            }
            assertThat(headers(call)).isEqualTo(spoken(reference, call));
        }
    }

    /** Digits of percent-encoding mean the same in either case (RFC 3986, section 2.1), and curl writes both. */
    private static String upper(String target) {
        return Pattern.compile("%[0-9a-fA-F]{2}").matcher(target)
                .replaceAll(digits -> digits.group().toUpperCase(Locale.ROOT));
    }

    private static List<String> parts(String body) {
        var parts = new ArrayList<String>();
        Matcher matcher = PART.matcher(body);
        while (matcher.find()) {
            parts.add(matcher.group(1) + "=" + matcher.group(3)
                    + (matcher.group(2) == null ? "" : ", " + matcher.group(2).replaceFirst(".*/", "")));
        }
        return parts;
    }

    private static Map<String, String> headers(FoundCall call) {
        Map<String, String> headers = new TreeMap<>();
        for (Call.Header header : call.headers()) {
            headers.put(header.name().toLowerCase(Locale.ROOT), header.value());
        }
        return headers;
    }

    /** The headers that the command asked for. */
    private static Map<String, String> spoken(Arrived reference, FoundCall call) {
        Map<String, String> spoken = new TreeMap<>(reference.headers());
        OWN.forEach(spoken::remove);
        spoken.remove("accept", "*/*");
        if (spoken.getOrDefault("user-agent", "").startsWith("curl/")) {
            spoken.remove("user-agent");
        }
        if (!call.parts().isEmpty()) {
            spoken.remove("content-type");
        }
        return spoken;
    }
}
