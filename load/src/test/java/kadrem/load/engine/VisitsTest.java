package kadrem.load.engine;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.UnaryOperator;

import kadrem.core.measure.FailureKind;
import kadrem.core.study.Call;
import kadrem.core.study.Capture;
import kadrem.core.study.Expectations;
import kadrem.core.study.StatusSet;
import kadrem.core.study.ThinkTime;
import kadrem.core.study.ValueList;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import org.junit.jupiter.api.Test;

/** What users do within and between visits: first part, captured values, expectations, pauses, repeats, turns. */
class VisitsTest {
    private static final Call SIGN_IN = Call.of("sign-in", "GET", "/sign-in")
            .capturing(new Capture("token", new Capture.Source.Json("$.token")));
    private static final Call BERTH = Call.of("berth", "GET", "/berth")
            .withHeaders(List.of(new Call.Header("X-Token", "{{token}}")));

    /** A server that answers the head of each request with what {@code answer} makes of it. */
    private static TestServer answering(UnaryOperator<String> answer) throws IOException {
        return new TestServer((socket, in) -> {
            for (String head = head(in); !head.isEmpty(); head = head(in)) {
                socket.getOutputStream().write(answer.apply(head).getBytes(StandardCharsets.UTF_8));
            }
        });
    }

    private static String head(InputStream in) throws IOException {
        var head = new StringBuilder();
        for (int b = in.read(); b >= 0; b = in.read()) {
            head.append((char) b);
            if (head.length() > 4 && head.substring(head.length() - 4).equals("\r\n\r\n")) {
                return head.toString();
            }
        }
        return "";
    }

    private static String response(int status, String body) {
        return "HTTP/1.1 " + status + " x\r\nContent-Length: " + body.length() + "\r\n\r\n" + body;
    }

    private static Workload signedIn() {
        return new Workload(List.of(), List.of(SIGN_IN), List.of(new Visit("v", 1, List.of(BERTH))),
                Workload.Choice.BY_SHARE);
    }

    @Test
    void theFirstPartIsMadeOnceByEachUserAndItsTokenIsSent() throws IOException {
        var given = new AtomicInteger();
        Set<String> sent = ConcurrentHashMap.newKeySet();
        try (TestServer server = answering(head -> {
            if (head.startsWith("GET /sign-in ")) {
                return response(200, "{\"token\":\"t" + given.incrementAndGet() + "\"}");
            }
            String token = head.replaceFirst("(?s).*X-Token: (\\S*)\r\n.*", "$1");
            sent.add(token);
            return response(token.startsWith("t") ? 200 : 401, "{}");
        })) {
            Load load = Load.run(server.port(), signedIn(), Load.closed(3, Duration.ofMillis(20), 1), 1, 1);
            assertThat(load.figures.calls().get(0).good()).isEqualTo(3);
            assertThat(load.figures.calls().get(1).good()).isGreaterThan(6);
            assertThat(load.figures.failedTotal()).isZero();
            assertThat(sent).containsExactlyInAnyOrder("t1", "t2", "t3");
        }
    }

    /** A sign-in that fails is no reason to take the sign-in pages that follow for good answers. */
    @Test
    void aFailedFirstPartFailsTheVisitAndItsCallsAreNotSent() throws IOException {
        try (TestServer server = answering(head -> head.startsWith("GET /sign-in ")
                ? response(200, "{\"error\":\"wrong password\"}")
                : response(200, "a page that says: please sign in"))) {
            Load load = Load.run(server.port(), signedIn(), Load.arrivals(40, 40, 4), 1, 1);
            assertThat(load.figures.good()).isZero();
            assertThat(load.failed(FailureKind.FAILED_EXPECTATION)).isEqualTo(40);
            assertThat(load.figures.calls().get(0).failed().get(FailureKind.FAILED_EXPECTATION)).isEqualTo(40);
            assertThat(load.figures.calls().get(1).failed().get(FailureKind.FIRST_PART)).isEqualTo(40);
            assertThat(load.figures.calls().get(1).sent()).isZero();
            assertThat(load.exchanges.getFirst().detail()).isEqualTo("token was not captured: nothing at JSON $.token");
        }
    }

    @Test
    void aGoodStatusWithAnErrorInItIsAFailedCall() throws IOException {
        Call call = Call.of("berth", "GET", "/berth").expecting(new Expectations(StatusSet.ANY_SUCCESS,
                Optional.empty(), List.of(new Expectations.Expectation.JsonValue("$.free", Optional.of("true")))));
        var workload = new Workload(List.of(), List.of(new Visit("v", 1, List.of(call))));
        var count = new AtomicInteger();
        try (TestServer server = answering(_ -> count.incrementAndGet() % 2 == 0
                ? response(200, "{\"free\":true}")
                : response(200, "{\"error\":\"out of connections\"}"))) {
            Load load = Load.run(server.port(), workload, Load.arrivals(40, 40, 1), 1, 1);
            assertThat(load.figures.good()).isEqualTo(20);
            assertThat(load.failed(FailureKind.FAILED_EXPECTATION)).isEqualTo(20);
            assertThat(load.exchanges.getFirst().detail()).isEqualTo("$.free finds nothing");
        }
    }

    @Test
    void anAnswerThatIsLaterThanItsUsersLikeIsCountedAsSuchAndKeepsItsTime() throws IOException {
        Call call = Call.of("berth", "GET", "/berth")
                .expecting(new Expectations(StatusSet.ANY_SUCCESS, Optional.of(Duration.ofNanos(1)), List.of()));
        var workload = new Workload(List.of(), List.of(new Visit("v", 1, List.of(call))));
        try (TestServer server = answering(_ -> response(200, ""))) {
            Load load = Load.run(server.port(), workload, Load.arrivals(20, 20, 4), 1, 1);
            assertThat(load.failed(FailureKind.TOO_LATE)).isEqualTo(20);
            assertThat(load.figures.good()).isZero();
            assertThat(load.figures.response().count()).as("times of answers").isEqualTo(20);
            assertThat(load.exchanges.getFirst().detail()).startsWith("it took ").endsWith("at most 0 ms");
        }
    }

    @Test
    void visitsComeInTurnRepeatAndPause() throws IOException {
        Visit one = new Visit("one", 9, 3, List.of(Call.of("a", "GET", "/a")));
        Visit other = new Visit("other", 1, 1,
                List.of(Call.of("b", "GET", "/b").thinking(new ThinkTime.Fixed(Duration.ofMillis(5))),
                        Call.of("c", "GET", "/c")));
        var workload = new Workload(List.of(), List.of(), List.of(one, other), Workload.Choice.IN_TURN);
        try (TestServer server = answering(_ -> response(200, ""))) {
            Load load = Load.run(server.port(), workload, Load.arrivals(40, 40, 8), 1, 2);
            assertThat(load.figures.calls()).extracting(call -> call.good()).containsExactly(60L, 20L, 20L);
        }
    }

    /** Two users with rows of their own, a list in order, and values that are new in each call. */
    @Test
    void valuesAreDrawnAsTheirListsSay() throws IOException {
        var lists = List.<ValueList>of(
                new ValueList.Listed("account", "", "", List.of("ada", "bo"),
                        new ValueList.Draw(ValueList.Order.PER_USER, ValueList.Keep.VISIT)),
                new ValueList.NumberRange("turn", 0, 99,
                        new ValueList.Draw(ValueList.Order.SEQUENTIAL, ValueList.Keep.VISIT)),
                new ValueList.Uuid("id", new ValueList.Draw(ValueList.Order.RANDOM, ValueList.Keep.CALL)));
        var workload = new Workload(lists, List.of(new Visit("v", 1, List.of(
                Call.of("a", "GET", "/{{account}}/{{turn}}/{{id}}"),
                Call.of("b", "GET", "/{{account}}/{{turn}}/{{id}}")))));
        Set<String> accounts = ConcurrentHashMap.newKeySet();
        Set<String> turns = ConcurrentHashMap.newKeySet();
        Set<String> ids = ConcurrentHashMap.newKeySet();
        var requests = new AtomicInteger();
        try (TestServer server = answering(head -> {
            String[] parts = head.split(" ")[1].split("/");
            accounts.add(parts[1] + " " + Integer.parseInt(parts[2]) % 2);
            turns.add(parts[2]);
            ids.add(parts[3]);
            requests.incrementAndGet();
            return response(200, "");
        })) {
            Load.run(server.port(), workload, Load.closed(2, Duration.ofMillis(10), 1), 1, 1);
        }
        assertThat(accounts).as("user 0 is ada and takes even turns").containsExactlyInAnyOrder("ada 0", "bo 1");
        assertThat(ids).as("one for each call").hasSize(requests.get()).allSatisfy(id -> assertThat(id)
                .matches("[0-9a-f]{8}-[0-9a-f]{4}-4[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}"));
        assertThat(turns.size()).isBetween(requests.get() / 2 - 1, requests.get() / 2 + 2);
    }
}
