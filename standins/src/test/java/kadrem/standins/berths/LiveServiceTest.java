package kadrem.standins.berths;

import static org.assertj.core.api.Assertions.assertThat;

import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.net.http.WebSocket;
import java.time.Duration;
import java.util.List;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionStage;
import java.util.concurrent.TimeUnit;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/** The board over GraphQL, WebSocket and server-sent events, asked by the JDK's client, against the same board over REST. */
class LiveServiceTest {
    private static final HttpClient CLIENT = HttpClient.newHttpClient();
    private static final ObjectMapper JSON = new ObjectMapper();
    private static LiveService live;
    private static LoopService rest;

    @BeforeAll
    static void start() throws Exception {
        live = LiveService.on(0);
        rest = LoopService.on(0);
    }

    @AfterAll
    static void stop() {
        live.close();
        rest.close();
    }

    private static HttpResponse<String> get(int port, String path) throws Exception {
        return CLIENT.send(HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + port + path)).build(),
                HttpResponse.BodyHandlers.ofString());
    }

    private static JsonNode graphql(String body) throws Exception {
        return JSON.readTree(CLIENT.send(HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + live.port()
                + "/graphql")).POST(HttpRequest.BodyPublishers.ofString(body)).build(),
                HttpResponse.BodyHandlers.ofString()).body());
    }

    @Test
    void whatIsAskedInGraphqlIsWhatRestAnswers() throws Exception {
        JsonNode answer = graphql(
                """
                        {"query": "query One($id: Int!) { berth(id: $id) { id quay number length depth \
                        reservations { reservation day nights vessel } } }", "operationName": "One", "variables": {"id": 7}}""");
        JsonNode expected = JSON.readTree(get(rest.port(), "/berths/7").body());
        ((com.fasterxml.jackson.databind.node.ObjectNode) expected).withArray("reservations")
                .forEach(stay -> ((com.fasterxml.jackson.databind.node.ObjectNode) stay).remove("berth"));
        assertThat(answer.at("/data/berth")).isEqualTo(expected);
        JsonNode day = graphql("{\"query\": \"{ day(day: \\\"2026-07-14\\\") { free taken } }\"}");
        assertThat(day.at("/data/day/free").asInt() + day.at("/data/day/taken").asInt()).isEqualTo(2400);
    }

    @Test
    void whatIsWrongIsAnErrorInTheAnswer() throws Exception {
        assertThat(graphql("{\"query\": \"{ berth(id: 7) { colour } }\"}").at("/errors/0/message").asText())
                .contains("colour");
        assertThat(graphql("{\"query\": \"{ day(day: \\\"soon\\\") { free } }\"}").path("errors")).hasSize(1);
        String booking = "{\"query\": \"mutation { reserve(berth: 9, day: \\\"2027-02-01\\\", nights: 2, vessel: \\\"Tern\\\") }\"}";
        assertThat(graphql(booking).at("/data/reserve").asInt()).isPositive();
        assertThat(graphql(booking).at("/errors/0/message").asText()).contains("taken");
        assertThat(graphql("not json").path("error").asText()).contains("not a question");
    }

    @Test
    void aMessageIsAnsweredByTheBerthThatItNames() throws Exception {
        var heard = new CompletableFuture<String>();
        WebSocket socket = CLIENT.newWebSocketBuilder().buildAsync(URI.create("ws://127.0.0.1:" + live.port()
                + "/live"), new WebSocket.Listener() {
                    private final StringBuilder text = new StringBuilder();

                    @Override
                    public CompletionStage<?> onText(WebSocket webSocket, CharSequence data, boolean last) {
                        text.append(data);
                        if (last) {
                            heard.complete(text.toString());
                        }
                        webSocket.request(1);
                        return null;
                    }
                }).get(20, TimeUnit.SECONDS);
        socket.sendText("{\"berth\": 7}", true);
        assertThat(heard.get(20, TimeUnit.SECONDS)).isEqualTo(get(rest.port(), "/berths/7").body());
        socket.abort();
    }

    /** Source: HTML Living Standard, section 9.2.6, the event stream format. */
    @Test
    void eventsComeAsManyAndAsFarApartAsAskedFor() throws Exception {
        long begun = System.nanoTime();
        HttpResponse<String> answer = get(live.port(), "/arrivals?count=5&every=20");
        assertThat(answer.headers().firstValue("Content-Type")).contains("text/event-stream");
        List<String> events = List.of(answer.body().split("\n\n"));
        assertThat(events).hasSize(5).allSatisfy(event -> assertThat(event.lines()).element(1)
                .isEqualTo("event: arrival"));
        assertThat(events.getFirst()).isEqualTo("id: 1\nevent: arrival\ndata: {\"berth\": 38}");
        assertThat(Duration.ofNanos(System.nanoTime() - begun)).isGreaterThanOrEqualTo(Duration.ofMillis(80));
        assertThat(get(live.port(), "/nothing").statusCode()).isEqualTo(404);
    }
}
