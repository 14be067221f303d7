package kadrem.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Base64;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Executors;
import java.util.stream.Stream;
import java.util.zip.GZIPInputStream;
import java.util.zip.ZipFile;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * Secrets are looked for in everything that the commands print and leave behind, in each form in which they are sent, while a candidate
 * sends back all that it gets.
 */
class CanaryTest extends CommandLineTest {
    private static final String PASSWORD = "c4n\"ary &7/Ä";
    private static final String KEY = "k3y<of>the=harbour";
    /** What the candidate gives to each user who logs in. */
    private static final String TOKEN = "t0ken-of-a-session-42";
    @TempDir
    private Path folder;

    /** Answers with everything that came: the head, the query as it stood and decoded, the body. */
    private static void echo(HttpExchange exchange) throws IOException {
        if (exchange.getRequestURI().getPath().equals("/log-in")) {
            byte[] answer = ("{\"token\": \"" + TOKEN + "\"}").getBytes(StandardCharsets.UTF_8);
            exchange.sendResponseHeaders(200, answer.length);
            try (exchange) {
                exchange.getResponseBody().write(answer);
            }
            return;
        }
        var text = new StringBuilder(exchange.getRequestURI() + "\n" + exchange.getRequestURI().getQuery() + "\n");
        exchange.getRequestHeaders().forEach((name, values) -> text.append(name).append(" = ").append(values)
                .append('\n'));
        text.append(new String(exchange.getRequestBody().readAllBytes(), StandardCharsets.UTF_8));
        byte[] answer = text.toString().getBytes(StandardCharsets.UTF_8);
        Optional.ofNullable(exchange.getRequestHeaders().getFirst("X-Key"))
                .ifPresent(seen -> exchange.getResponseHeaders().set("X-Seen", seen));
        exchange.sendResponseHeaders(exchange.getRequestURI().getPath().equals("/fails") ? 500 : 200, answer.length);
        try (exchange) {
            exchange.getResponseBody().write(answer);
        }
    }

    private static List<String> forms(String secret) {
        byte[] bytes = secret.getBytes(StandardCharsets.UTF_8);
        String form = URLEncoder.encode(secret, StandardCharsets.UTF_8);
        return List.of(secret, form, form.replace("+", "%20"), secret.replace("\"", "\\\""),
                Base64.getEncoder().encodeToString(bytes),
                Base64.getEncoder().encodeToString(("harbour:" + secret).getBytes(StandardCharsets.UTF_8)));
    }

    private static void isClean(String where, byte[] content) {
        String text = new String(content, StandardCharsets.UTF_8);
        for (String secret : List.of(PASSWORD, KEY, TOKEN)) {
            assertThat(forms(secret)).as(where).noneMatch(text::contains);
        }
    }

    private void left(Path in) throws IOException {
        try (Stream<Path> files = Files.walk(in)) {
            for (Path file : files.filter(Files::isRegularFile).toList()) {
                byte[] content = Files.readAllBytes(file);
                isClean(file.toString(), content);
                if (file.toString().endsWith(".gz")) {
                    try (var unpacked = new GZIPInputStream(Files.newInputStream(file))) {
                        isClean(file.toString(), unpacked.readAllBytes());
                    }
                } else if (file.toString().endsWith(".zip")) {
                    try (var zip = new ZipFile(file.toFile())) {
                        for (var entry : java.util.Collections.list(zip.entries())) {
                            isClean(file + " " + entry, zip.getInputStream(entry).readAllBytes());
                        }
                    }
                }
            }
        }
    }

    @Test
    void noSecretIsPrintedOrLeftBehind() throws Exception {
        Path secrets = Files.createDirectories(folder.resolve("secrets"));
        Files.writeString(secrets.resolve("password"), PASSWORD + "\n");
        Files.writeString(secrets.resolve("key"), KEY + "\n");
        HttpServer server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 64);
        server.createContext("/", CanaryTest::echo);
        server.setExecutor(Executors.newVirtualThreadPerTaskExecutor());
        server.start();
        Path study = Files.createDirectories(folder.resolve("study"));
        try {
            Files.writeString(study.resolve("study.yaml"), """
                    kadrem: 1
                    name: Canary
                    question: {text: "Which?", decide: [{metric: p50, margin: 10%%}]}
                    candidates:
                      - id: a
                        address: http://127.0.0.1:%1$d
                        signIn: {basic: {user: harbour, password: "{{file:../secrets/password}}"}}
                      - {id: b, address: "http://127.0.0.1:%1$d"}
                    workload:
                      visits:
                        - name: v
                          calls:
                            - {name: log-in, path: /log-in, capture: {token: {json: $.token}}}
                            - {name: mine, path: /mine, headers: {Authorization: "Bearer {{token}}"}}
                            - name: all
                              method: POST
                              path: "/all?key={{file:../secrets/key}}&p={{file:../secrets/password}}"
                              headers: {X-Key: "{{file:../secrets/key}}"}
                              body: '{"password": "{{file:../secrets/password}}"}'
                            - {name: fails, path: "/fails?key={{file:../secrets/key}}"}
                    load: {model: open, arrivalsPerSecond: 20, warmUp: 1s, measured: 2s}
                    plan: {rounds: 2, pause: 0s, idle: 0s}
                    """.formatted(server.getAddress().getPort()));
            assertThat(kadrem("allow", study.toString())).isEqualTo(Main.BAD_INPUT);
            assertThat(out.toString()).contains("the first line of the file ../secrets/password to http://127.0.0.1:");
            assertThat(kadrem("allow", "--own", study.toString())).isZero();
            List<List<String>> commands = List.of(List.of("check"), List.of("measure", "--no-self-check"),
                    List.of("measure", "--rounds", "1", "--format", "json"), List.of("rehearse"),
                    List.of("rehearse", "--format", "json"), List.of("compare"),
                    List.of("compare", "--format", "json"), List.of("verdict"), List.of("watch"),
                    List.of("report", "--into", folder.resolve("out").toString()),
                    List.of("export", "--zip", folder.resolve("out/study.zip").toString(), "--data",
                            folder.resolve("out/data").toString()));
            for (List<String> command : commands) {
                var words = new java.util.ArrayList<>(command);
                words.add(study.toString());
                kadrem(words.toArray(String[]::new));
                isClean("kadrem " + String.join(" ", command), (out + "" + err).getBytes(StandardCharsets.UTF_8));
            }
        } finally {
            server.stop(0);
        }
        try (Stream<Path> files = Files.walk(study.resolve("runs"))) {
            // a run in which the generator was held up over the whole measured part has only first calls in it
            assertThat(files.filter(file -> file.endsWith("exchanges.jsonl")))
                    .anySatisfy(file -> assertThat(file).content().contains("(secret)").contains("(captured)"));
        }
        assertThat(study.resolve("rehearsal.json")).content().contains("(secret)");
        left(study);
        left(folder.resolve("out"));
    }
}
