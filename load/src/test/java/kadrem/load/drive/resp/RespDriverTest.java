package kadrem.load.drive.resp;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;

import io.netty.buffer.ByteBuf;
import kadrem.core.measure.FailureKind;
import kadrem.core.rehearsal.RehearsedCall;
import kadrem.core.study.Access;
import kadrem.core.study.Address;
import kadrem.core.study.Call;
import kadrem.core.study.Capture;
import kadrem.core.study.Expectations;
import kadrem.core.study.Form;
import kadrem.core.study.StatusSet;
import kadrem.core.study.ValueList;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import kadrem.fixtures.Ports;
import kadrem.fixtures.Programs;
import kadrem.load.drive.Rehearsed;
import kadrem.load.engine.Load;
import kadrem.load.engine.LoadOrder;
import kadrem.load.net.Transport;
import kadrem.standins.berths.StoreService;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** Commands to the stand-in, and to Debian's redis-server where it is installed. */
class RespDriverTest {
    private static final Path SERVER = Path.of("/usr/bin/redis-server");
    private static final String PASSWORD = "tok-31415";

    @TempDir
    static Path folder;
    private static StoreService standIn;
    private static Optional<Process> server = Optional.empty();
    private static int serverPort;

    @BeforeAll
    static void start() throws Exception {
        standIn = StoreService.on(0);
        if (Programs.isThere(SERVER)) {
            serverPort = Ports.free();
            server = Optional.of(new ProcessBuilder(SERVER.toString(), "--port", Integer.toString(serverPort), "--bind",
                    "127.0.0.1", "--save", "", "--dir", folder.toString(), "--requirepass", PASSWORD)
                    .redirectOutput(folder.resolve("redis.log").toFile()).redirectErrorStream(true).start());
            Ports.await(serverPort);
        } else {
            System.out.println("there is no " + SERVER + ", so that its tests are left out");
        }
    }

    @AfterAll
    static void stop() {
        standIn.close();
        server.ifPresent(Process::destroy);
    }

    record Store(String name, Address address, Access access) {
        @Override
        public String toString() {
            return name;
        }
    }

    static Stream<Store> stores() {
        var stores = new ArrayList<Store>();
        stores.add(new Store("stand-in", at(standIn.port()), Access.OPEN));
        if (server.isPresent()) {
            stores.add(new Store("redis-server", at(serverPort),
                    Access.with(Map.of("password", List.of("{{env:BERTH_TOKEN}}")))));
        }
        return stores.stream();
    }

    private static Address at(int port) {
        return Rehearsed.address("resp", "redis://127.0.0.1:" + port + "/0");
    }

    private static Call call(String name, String... commands) {
        return Call.of(name, "GET", "").with(Form.of("resp", Map.of("commands", List.of(commands)))).in("resp");
    }

    private static String answer(Store store, Call call) throws Exception {
        RehearsedCall made = Rehearsed
                .all(Rehearsed.order(store.address(), store.access(), Rehearsed.workload(call), folder)).getFirst();
        assertThat(made.failure()).as(made.detail()).isEmpty();
        return Rehearsed.body(made);
    }

    @ParameterizedTest
    @MethodSource("stores")
    void whatIsSetIsGotAndSeveralCommandsAreAnsweredInOrder(Store store) throws Exception {
        assertThat(answer(store, call("c", "SET greeting 'Möwe \"1\"'", "GET greeting", "GET nothing", "LLEN quays")))
                .isEqualTo("[\"OK\",\"Möwe \\\"1\\\"\",null,0]");
        assertThat(answer(store, call("c", "RPUSH quays Alder", "RPUSH quays Birch", "LRANGE quays 0 -1")))
                .contains("[\"Alder\",\"Birch\"");
        assertThat(answer(store, call("c", "PING"))).isEqualTo("\"PONG\"");
        Call json = Call.of("j", "GET", "").with(Form.of("resp", Map.of("commands", List.of("ECHO '{\"id\": 7}'"),
                "values", List.of("json")))).in("resp");
        assertThat(answer(store, json)).isEqualTo("{\"id\":7}");
    }

    @ParameterizedTest
    @MethodSource("stores")
    void theStoreHasCountedEveryGoodCall(Store store) throws Exception {
        String key = "counted-" + System.nanoTime();
        Call count = call("count", "INCR " + key).expecting(new Expectations(StatusSet.ANY_SUCCESS, Optional.empty(),
                List.of(new Expectations.Expectation.BodyMatches("^\\d+$"))))
                .capturing(new Capture("n", new Capture.Source.Json("$")));
        Call push = call("push", "RPUSH list-" + key + " {{n}}-{{berth}}");
        var workload = new Workload(List.of(new ValueList.NumberRange("berth", 1, 2400)),
                List.of(new Visit("v", 1, List.of(count, push))));
        Load load = Load.run(new LoadOrder(store.address(), store.access(), workload, Load.arrivals(200, 200, 4), 7, 1),
                Transport.best());
        assertThat(load.figures.failedTotal()).as("%s", load.exchanges).isZero();
        assertThat(answer(store, call("c", "GET " + key, "LLEN list-" + key))).isEqualTo("[\"200\",200]");
        assertThat(load.figures.bytesIn()).isPositive();
    }

    @ParameterizedTest
    @MethodSource("stores")
    void errorsAreToldByTheirFirstWord(Store store) throws Exception {
        Call wrong = call("c", "RPUSH a-list x", "INCR a-list");
        var order = Rehearsed.order(store.address(), store.access(), Rehearsed.workload(wrong), folder);
        try (var driver = new RespDriver(order); var rehearser = driver.newRehearser()) {
            RehearsedCall made = rehearser.call("v", 0, new kadrem.load.drive.CallValues(
                    new kadrem.core.plan.LoadStream(order.workload(), 0, 7).newDraw(), 0));
            assertThat(made.failure()).contains(FailureKind.UNEXPECTED_STATUS);
            assertThat(driver.statusWord(made.status())).isEqualTo("WRONGTYPE");
        }
    }

    @ParameterizedTest
    @MethodSource("stores")
    void aMessageComesBackThroughAChannel(Store store) {
        Call round = Call.of("round", "GET", "").with(Form.of("resp", Map.of("commands",
                List.of("PUBLISH arrivals {{berth}}"), "subscribe", List.of("arrivals")))).in("resp");
        var workload = new Workload(List.of(new ValueList.NumberRange("berth", 1, 2400)),
                List.of(new Visit("v", 1, List.of(round))));
        Load load = Load.run(new LoadOrder(store.address(), store.access(), workload, Load.arrivals(50, 100, 1), 7, 1),
                Transport.best());
        assertThat(load.figures.failedTotal()).as("%s", load.exchanges).isZero();
        assertThat(load.figures.good()).isEqualTo(50);
    }

    @Test
    void aWrongPasswordIsNoConnectionAndIsNotShown() throws Exception {
        assumeTrue(server.isPresent(), "there is no redis-server here");
        RehearsedCall made = Rehearsed.all(Rehearsed.order(at(serverPort), Access.OPEN,
                Rehearsed.workload(call("c", "PING")), folder)).getFirst();
        assertThat(made.failure()).contains(FailureKind.NO_CONNECTION);
        assertThat(made.detail()).contains("NOAUTH");
        var wrong = Rehearsed.order(at(serverPort), Access.with(Map.of("password", List.of("{{env:WRONG}}"))),
                Rehearsed.workload(call("c", "PING")), folder);
        var other = new kadrem.load.drive.DriverOrder(wrong.address(), wrong.access(), wrong.workload(),
                wrong.timeout(), new kadrem.load.drive.Secrets(Map.of("WRONG", "not-the-word"), folder),
                Transport.best());
        RehearsedCall refused = Rehearsed.all(other).getFirst();
        assertThat(refused.failure()).contains(FailureKind.NO_CONNECTION);
        assertThat(refused.detail()).contains("WRONGPASS").doesNotContain("not-the-word");
        assertThat(RespInfo.ask(Rehearsed.order(at(serverPort),
                Access.with(Map.of("password", List.of("{{env:BERTH_TOKEN}}"))), Rehearsed.workload(), folder)))
                .containsKey("redis-version");
    }

    /** Source: "Redis serialization protocol specification": LLEN mylist as an array of bulk strings. */
    @Test
    void aCommandIsWrittenAsTheSpecificationSays() throws Exception {
        ByteBuf sent = Commands.plain("LLEN", "mylist");
        assertThat(sent.toString(StandardCharsets.US_ASCII)).isEqualTo("*2\r\n$4\r\nLLEN\r\n$6\r\nmylist\r\n");
        assertThat(Commands.words("SET a 'b c' \"d \\\"e\\\"\" {{berth}}")).containsExactly("SET", "a", "b c",
                "d \"e\"",
                "{{berth}}");
        assertThat(Commands.words("HGETALL berth:{{ berth }}")).containsExactly("HGETALL", "berth:{{ berth }}");
        assertThat(new RespProtocol().objection(Form.of("resp", Map.of("commands", List.of("SET a 'b"))))).isPresent();
    }

    /** Source: the same specification's examples of replies, sent by a server of the test's own. */
    @Test
    void repliesAreReadAsTheSpecificationSays() throws Exception {
        for (var example : Map.of("+OK\r\n", "\"OK\"", ":1000\r\n", "1000", "$5\r\nhello\r\n", "\"hello\"",
                "$0\r\n\r\n", "\"\"", "$-1\r\n", "null", "*0\r\n", "[]", "*-1\r\n", "null",
                "*2\r\n$5\r\nhello\r\n$5\r\nworld\r\n", "[\"hello\",\"world\"]", "*3\r\n:1\r\n:2\r\n:3\r\n", "[1,2,3]",
                "*2\r\n*3\r\n:1\r\n:2\r\n:3\r\n*2\r\n+Hello\r\n$5\r\nWorld\r\n",
                "[[1,2,3],[\"Hello\",\"World\"]]").entrySet()) {
            try (var socket = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
                Thread.ofVirtual().start(() -> {
                    try (Socket client = socket.accept()) {
                        client.getInputStream().readNBytes("*1\r\n$4\r\nPING\r\n".length());
                        client.getOutputStream().write(example.getKey().getBytes(StandardCharsets.US_ASCII));
                        client.getInputStream().read();
                    } catch (IOException _) {
                        // the test is over
                    }
                });
                var store = new Store("example",
                        Rehearsed.address("resp", "redis://127.0.0.1:" + socket.getLocalPort()),
                        Access.OPEN);
                assertThat(answer(store, call("c", "PING"))).as(example.getKey()).isEqualTo(example.getValue());
            }
        }
    }
}
