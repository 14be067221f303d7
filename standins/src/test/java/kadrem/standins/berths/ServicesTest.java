package kadrem.standins.berths;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.io.IOException;
import java.net.BindException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.time.LocalDate;
import java.util.List;
import java.util.concurrent.Executors;
import java.util.stream.IntStream;
import java.util.concurrent.Future;
import java.util.Optional;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** The three services are built differently and must answer the same. */
class ServicesTest {
    private static final HttpClient CLIENT = HttpClient.newHttpClient();
    private static final ObjectMapper JSON = new ObjectMapper();
    private static SqlService pool;
    private static SqlService virtual;
    private static LoopService loop;
    private static List<Integer> ports;

    @BeforeAll
    static void start() throws IOException {
        pool = SqlService.onPool(0).start();
        virtual = SqlService.onVirtualThreads(0).start();
        loop = LoopService.on(0);
        ports = List.of(pool.port(), virtual.port(), loop.port());
    }

    @AfterAll
    static void stop() {
        pool.close();
        virtual.close();
        loop.close();
    }

    private static HttpResponse<String> call(int port, String method, String path, String body) throws Exception {
        return CLIENT.send(HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + port + path))
                .method(method, HttpRequest.BodyPublishers.ofString(body)).build(),
                HttpResponse.BodyHandlers.ofString());
    }

    /** The answer of all three, which must be the same to the byte. */
    private static HttpResponse<String> all(String method, String path, String body) throws Exception {
        HttpResponse<String> first = call(ports.getFirst(), method, path, body);
        for (int port : ports.subList(1, 3)) {
            HttpResponse<String> other = call(port, method, path, body);
            assertThat(other.statusCode()).isEqualTo(first.statusCode());
            assertThat(other.body()).isEqualTo(first.body());
            assertThat(other.headers().firstValue("Server")).isNotEqualTo(first.headers().firstValue("Server"));
            assertThat(other.headers().firstValue("Content-Type")).hasValue("application/json");
        }
        return first;
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', value = {"GET | /berths | 400", "GET | /berths?day=soon | 400", "GET | /berths/0 | 404",
            "GET | /berths/99999 | 404", "GET | /tides/nowhere?day=2026-07-14 | 404", "GET | /tides/north-mole | 400",
            "GET | /nothing | 404", "DELETE | /berths/7 | 405", "POST | /nothing | 404", "POST | /reservations | 400"})
    void mistakesAreAnsweredAlike(String method, String path, int status) throws Exception {
        HttpResponse<String> answer = all(method, path, "");
        assertThat(answer.statusCode()).isEqualTo(status);
        assertThat(JSON.readTree(answer.body()).path("error").asText()).isNotEmpty();
    }

    @ParameterizedTest
    @ValueSource(strings = {"{", "[]", "{\"berth\":7}", "{\"berth\":7,\"day\":\"x\",\"nights\":1,\"vessel\":\"T\"}",
            "{\"berth\":7,\"day\":\"2026-12-01\",\"nights\":15,\"vessel\":\"T\"}",
            "{\"berth\":7,\"day\":\"2026-12-01\",\"nights\":1,\"vessel\":\" \"}"})
    void bookingsThatAreNoneAreRefusedAlike(String body) throws Exception {
        assertThat(all("POST", "/reservations", body).statusCode()).isEqualTo(400);
    }

    /** Of many who want the same berth at the same time, one gets it, whatever the service is built like. */
    @Test
    void aBerthIsBookedOnce() throws Exception {
        for (int port : ports) {
            call(port, "POST", "/admin/reset", "");
            String booking = "{\"berth\":9,\"day\":\"2027-03-01\",\"nights\":3,\"vessel\":\"Gannet\"}";
            try (var together = Executors.newVirtualThreadPerTaskExecutor()) {
                List<Future<Integer>> answers = IntStream.range(0, 12)
                        .mapToObj(_ -> together.submit(
                                () -> call(port, "POST", "/reservations", booking).statusCode()))
                        .toList();
                int booked = 0;
                for (Future<Integer> answer : answers) {
                    booked += answer.get() == 201 ? 1 : 0;
                }
                assertThat(booked).isEqualTo(1);
            }
            call(port, "POST", "/admin/reset", "");
        }
    }

    @Test
    void answersAreTheSameToTheByteBeforeAndAfterBookingAndReset() throws Exception {
        String day = "/berths?day=2026-07-14";
        String before = all("GET", day, "").body();
        JsonNode view = JSON.readTree(before);
        int berth = view.path("berths").get(0).path("id").asInt();
        assertThat(view.path("berths")).hasSize(40);
        assertThat(view.path("free").asInt() + view.path("taken").asInt()).isEqualTo(2400);
        String booking = "{\"berth\":" + berth + ",\"day\":\"2026-07-14\",\"nights\":2,\"vessel\":\"Tern 7\"}";
        assertThat(all("POST", "/reservations", booking).statusCode()).isEqualTo(201);
        assertThat(all("POST", "/reservations", booking).statusCode()).isEqualTo(409);
        JsonNode after = JSON.readTree(all("GET", day, "").body());
        assertThat(after.path("free").asInt()).isEqualTo(view.path("free").asInt() - 1);
        assertThat(all("GET", "/berths/" + berth, "").body()).contains("Tern 7");
        assertThat(all("POST", "/admin/reset", "").statusCode()).isEqualTo(200);
        assertThat(all("GET", day, "").body()).isEqualTo(before);
        assertThat(all("GET", "/berths/" + berth, "").body()).doesNotContain("Tern 7");
        assertThat(JSON.readTree(all("POST", "/reservations", booking).body()).path("reservation").asInt())
                .isEqualTo(SeedData.reservations().size() + 1);
        all("POST", "/admin/reset", "");
    }

    @Test
    void badQuestionsGetTheSameAnswers() throws Exception {
        assertThat(all("GET", "/berths?day=tomorrow", "").statusCode()).isEqualTo(400);
        assertThat(all("GET", "/berths/99999", "").statusCode()).isEqualTo(404);
        assertThat(all("GET", "/tides/nowhere?day=2026-07-14", "").statusCode()).isEqualTo(404);
        assertThat(all("GET", "/nowhere", "").statusCode()).isEqualTo(404);
        assertThat(all("POST", "/reservations", "{\"berth\":").statusCode()).isEqualTo(400);
        assertThat(all("POST", "/reservations", "{\"berth\":1,\"day\":\"2026-07-14\",\"nights\":99,\"vessel\":\"x\"}")
                .statusCode()).isEqualTo(400);
        assertThat(all("PUT", "/berths/1", "").statusCode()).isEqualTo(405);
        assertThat(all("GET", "/health", "").body()).isEqualTo("{\"status\":\"up\"}");
        assertThat(all("GET", "/admin/version", "").statusCode()).isEqualTo(200);
    }

    /**
     * M2 alone has a period of 360 / 28.9841042 = 12.4206 h (Schureman 1958), so the heights of the day after are those of
     * 24.84 h later: high water comes about 50 minutes later each day.
     */
    @Test
    void highWaterComesFiftyMinutesLaterEachDay() throws Exception {
        assertThat(all("GET", "/tides/north-mole?day=2026-07-14", "").statusCode()).isEqualTo(200);
        int day = (int) LocalDate.of(2026, 7, 14).toEpochDay();
        double later = 0;
        for (int i = 0; i < 14; i++) {
            later += firstHighWater(day + i + 1) - firstHighWater(day + i);
        }
        // over a fortnight the other constituents come round; one tide may pass midnight, which is 745 minutes
        double mean = ((later % 745) + 745) % 745 / 14;
        assertThat(mean).isCloseTo(50.5, within(6.0));
    }

    private static int firstHighWater(int day) {
        Tides.Height[] heights = Tides.day("north-mole", day).orElseThrow();
        for (int i = 1; i < heights.length - 1; i++) {
            if (heights[i].metres() > heights[i - 1].metres() && heights[i].metres() >= heights[i + 1].metres()) {
                return heights[i].minute();
            }
        }
        throw new IllegalStateException("a day without high water");
    }

    @Test
    void theSeedDataIsAYearOfAFewThousandBerths() {
        assertThat(SeedData.berths()).hasSize(2400);
        assertThat(SeedData.reservations()).hasSizeBetween(20_000, 40_000);
        assertThat(SeedData.reservations().stream().mapToInt(Reservation::day).max().orElseThrow())
                .isBetween(SeedData.FIRST_DAY + 360, SeedData.FIRST_DAY + 365);
        assertThat(Tides.stations()).hasSize(3);
        assertThat(Optional.of(SeedData.reservations())).hasValue(SeedData.reservations());
    }

    @Test
    void aPortInUseIsSaid() {
        assertThatThrownBy(() -> LoopService.on(pool.port())).isInstanceOf(BindException.class);
        assertThatThrownBy(() -> SqlService.onPool(pool.port())).isInstanceOf(BindException.class);
    }
}
