package kadrem.load.record;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.ProxySelector;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.concurrent.CopyOnWriteArrayList;

import com.sun.net.httpserver.HttpServer;
import kadrem.core.study.Address;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

class RecordingProxyTest {
    private final List<RecordingProxy.Recorded> recorded = new CopyOnWriteArrayList<>();
    private HttpServer board;
    private RecordingProxy proxy;
    private HttpClient client;

    @BeforeEach
    void begin() throws IOException {
        board = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 16);
        board.createContext("/", exchange -> {
            byte[] body = (exchange.getRequestMethod() + " " + exchange.getRequestURI() + " "
                    + new String(exchange.getRequestBody().readAllBytes(), StandardCharsets.UTF_8)).getBytes();
            exchange.getResponseHeaders().set("Content-Type", "application/json");
            exchange.getResponseHeaders().set("X-Quay", "Alder");
            exchange.sendResponseHeaders(201, body.length);
            exchange.getResponseBody().write(body);
            exchange.close();
        });
        board.start();
        proxy = RecordingProxy.on(0, Address::isLoopback, recorded::add);
        client = HttpClient.newBuilder().version(HttpClient.Version.HTTP_1_1)
                .proxy(ProxySelector.of(new InetSocketAddress("127.0.0.1", proxy.port()))).build();
    }

    @AfterEach
    void end() {
        client.close();
        proxy.close();
        board.stop(0);
    }

    private HttpResponse<String> send(HttpRequest.Builder request) throws Exception {
        return client.send(request.build(), HttpResponse.BodyHandlers.ofString());
    }

    private String base() {
        return "http://127.0.0.1:" + board.getAddress().getPort();
    }

    @Test
    void whatPassesIsPassedOnAndTold() throws Exception {
        HttpResponse<String> answer = send(HttpRequest.newBuilder(URI.create(base() + "/reservations?x=1"))
                .header("X-Berth", "7").POST(HttpRequest.BodyPublishers.ofString("{\"a\":1}")));
        assertThat(answer.statusCode()).isEqualTo(201);
        assertThat(answer.body()).isEqualTo("POST /reservations?x=1 {\"a\":1}");
        assertThat(answer.headers().firstValue("X-Quay")).hasValue("Alder");
        assertThat(recorded).singleElement().satisfies(one -> {
            assertThat(one.method() + " " + one.target()).isEqualTo("POST /reservations?x=1");
            assertThat(one.host()).isEqualTo("127.0.0.1:" + board.getAddress().getPort());
            assertThat(one.body()).isEqualTo("{\"a\":1}");
            assertThat(one.contentType()).isEqualTo("application/json");
            assertThat(one.headers()).anySatisfy(header -> assertThat(header.value()).isEqualTo("7"))
                    .noneSatisfy(header -> assertThat(header.name()).isEqualToIgnoringCase("host"));
            assertThat(one.took()).isPositive();
        });
    }

    @Test
    void nothingGoesToAHostThatIsNotAllowed() throws Exception {
        HttpResponse<String> answer = send(HttpRequest.newBuilder(URI.create("http://board.example/")));
        assertThat(answer.statusCode()).isEqualTo(403);
        assertThat(answer.body()).contains("board.example is not on this machine");
        assertThat(recorded).isEmpty();
    }

    @Test
    void aServerThatIsNotThereAndARequestThatIsNoneAreTold() throws Exception {
        assertThat(send(HttpRequest.newBuilder(URI.create("http://127.0.0.1:1/"))).statusCode()).isEqualTo(502);
        try (HttpClient direct = HttpClient.newHttpClient()) {
            assertThat(
                    direct.send(HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + proxy.port() + "/x")).build(),
                            HttpResponse.BodyHandlers.ofString()).statusCode())
                    .isEqualTo(400);
        }
        assertThat(recorded).isEmpty();
    }
}
