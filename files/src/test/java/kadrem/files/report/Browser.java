package kadrem.files.report;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.WebSocket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.CompletionStage;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;

/** A real browser without a window, steered over its DevTools protocol. */
final class Browser implements AutoCloseable {
    private static final ObjectMapper JSON = new ObjectMapper();
    private static final long SECONDS = 60;

    private final Process process;
    private final WebSocket socket;
    private final BlockingQueue<JsonNode> answers = new LinkedBlockingQueue<>();
    private final List<JsonNode> events = new CopyOnWriteArrayList<>();
    private final HttpClient client = HttpClient.newHttpClient();
    private String session = "";
    private int number;

    /** The browser of this machine, if there is one. */
    static Optional<Path> program() {
        return Stream.of(System.getenv().getOrDefault("PATH", "").split(":"))
                .flatMap(folder -> Stream.of("chromium", "chromium-browser").map(name -> Path.of(folder, name)))
                .filter(Files::isExecutable).findFirst();
    }

    Browser(Path program, Path profile) throws Exception {
        process = new ProcessBuilder(program.toString(), "--headless=new", "--no-sandbox", "--disable-gpu",
                "--disable-background-networking", "--disable-dev-shm-usage", "--remote-debugging-port=0",
                "--user-data-dir=" + profile, "about:blank").redirectErrorStream(true).start();
        var lines = new BufferedReader(new InputStreamReader(process.getInputStream(), StandardCharsets.UTF_8));
        String address = "";
        for (String line = lines.readLine(); line != null && address.isEmpty();) {
            int at = line.indexOf("ws://");
            address = at < 0 ? "" : line.substring(at).strip();
            line = address.isEmpty() ? lines.readLine() : line;
        }
        if (address.isEmpty()) {
            throw new IOException("the browser told no address");
        }
        // what it says further is read and dropped, so that it does not wait for a reader
        Thread.ofVirtual().start(() -> {
            try (lines) {
                while (lines.readLine() != null) {
                    continue;
                }
            } catch (IOException _) {
                // it was closed
            }
        });
        socket = client.newWebSocketBuilder().buildAsync(URI.create(address), new Listener()).get(SECONDS,
                TimeUnit.SECONDS);
        String target = call("Target.createTarget", Map.of("url", "about:blank")).path("targetId").asText();
        session = call("Target.attachToTarget", Map.of("targetId", target, "flatten", true)).path("sessionId").asText();
        call("Network.enable", Map.of());
        call("Page.enable", Map.of());
        call("Runtime.enable", Map.of());
        call("Log.enable", Map.of());
    }

    private final class Listener implements WebSocket.Listener {
        private final StringBuilder text = new StringBuilder();

        @Override
        public CompletionStage<?> onText(WebSocket from, CharSequence part, boolean last) {
            text.append(part);
            if (last) {
                try {
                    JsonNode message = JSON.readTree(text.toString());
                    if (message.has("id")) {
                        answers.add(message);
                    } else {
                        events.add(message);
                    }
                } catch (IOException cause) {
                    throw new IllegalStateException(cause);
                }
                text.setLength(0);
            }
            from.request(1);
            return null;
        }
    }

    JsonNode call(String method, Map<String, Object> parameters) throws Exception {
        var message = new java.util.HashMap<String, Object>(
                Map.of("id", ++number, "method", method, "params", parameters));
        if (!session.isEmpty()) {
            message.put("sessionId", session);
        }
        socket.sendText(JSON.writeValueAsString(message), true).get(SECONDS, TimeUnit.SECONDS);
        JsonNode answer = answers.poll(SECONDS, TimeUnit.SECONDS);
        if (answer == null || answer.path("id").asInt() != number || answer.has("error")) {
            throw new IOException(method + ": " + answer);
        }
        return answer.path("result");
    }

    /** Opens a page and waits until it is there. */
    void open(Path file) throws Exception {
        events.clear();
        call("Page.navigate", Map.of("url", file.toUri().toString()));
        for (int i = 0; i < SECONDS * 20 && events("Page.loadEventFired").isEmpty(); i++) {
            TimeUnit.MILLISECONDS.sleep(50);
        }
    }

    List<JsonNode> events(String method) {
        return events.stream().filter(event -> event.path("method").asText().equals(method))
                .map(event -> event.path("params")).toList();
    }

    /** The value of an expression in the page. */
    JsonNode value(String expression) throws Exception {
        JsonNode result = call("Runtime.evaluate", Map.of("expression", expression, "returnByValue", true));
        if (result.has("exceptionDetails")) {
            throw new IOException(expression + ": " + result.path("exceptionDetails"));
        }
        return result.path("result").path("value");
    }

    @Override
    public void close() {
        socket.abort();
        client.shutdownNow();
        // they write into the profile until they are gone
        List<ProcessHandle> all = process.descendants().toList();
        process.destroyForcibly();
        all.forEach(ProcessHandle::destroyForcibly);
        process.onExit().join();
        all.forEach(one -> one.onExit().join());
    }
}
