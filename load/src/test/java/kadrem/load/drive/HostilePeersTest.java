package kadrem.load.drive;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;

import kadrem.core.measure.FailureKind;
import kadrem.core.rehearsal.RehearsedCall;
import kadrem.core.study.Access;
import kadrem.core.study.Address;
import kadrem.core.study.Call;
import kadrem.core.study.Form;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Visit;
import kadrem.core.study.WatchSource;
import kadrem.core.study.Workload;
import kadrem.load.engine.Load;
import kadrem.load.engine.LoadOrder;
import kadrem.load.host.SourceFailure;
import kadrem.load.host.counters.DatabaseCounters;
import kadrem.load.net.Transport;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.api.parallel.Isolated;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.MethodSource;

/**
 * Peers that never end an answer, or turn once they are trusted: each call is given up in time, and all of them together take no more than
 * there is room for. The build runs these with little memory, and ends where it does not suffice.
 */
@Isolated
@Timeout(120)
class HostilePeersTest {
    private static final int USERS = 32;
    private static final Duration LIMIT = Duration.ofSeconds(8);
    private static final Duration LEFT = Duration.ofSeconds(5);
    private static final Duration SHORT = Duration.ofSeconds(1);
    /** Of a load and a rehearsal, each with its connecting, its calls and their ends. */
    private static final Duration MAX = Duration.ofSeconds(20);

    @TempDir
    private Path folder;

    static Stream<Arguments> floods() {
        return Stream.of(
                Arguments.of("bytes", "tcp", "", Map.of("send", List.of("tide"), "until", List.of("\\n"))),
                Arguments.of("resp", "redis", "$400000000\r\n", Map.of("commands", List.of("GET berth"))),
                Arguments.of("events", "http",
                        "HTTP/1.1 200 OK\r\nContent-Type: text/event-stream\r\n\r\ndata: ",
                        Map.of("path", List.of("/live"))));
    }

    private static Workload workload(String protocol, Map<String, List<String>> form) {
        Call call = Call.of("flooded", "", "").with(Form.of(protocol, form)).in(protocol);
        return new Workload(List.of(), List.of(new Visit("v", 1, List.of(call))));
    }

    @ParameterizedTest
    @MethodSource("floods")
    void aLoadEndsInTime(String protocol, String scheme, String beginning, Map<String, List<String>> form)
            throws Exception {
        try (HostilePeer server = new HostilePeer(HostilePeer.flooding(beginning, 'x'))) {
            LoadProfile load = new LoadProfile.Closed(USERS, Duration.ZERO, Duration.ZERO, Duration.ofSeconds(4),
                    LIMIT);
            Load made = Load.run(new LoadOrder(
                    Rehearsed.address(protocol, scheme + "://127.0.0.1:" + server.port()), Access.OPEN,
                    workload(protocol, form), load, 7, 1), Transport.best());
            assertThat(made.figures.good()).isZero();
            assertThat(made.failed(FailureKind.MALFORMED)).as("%s", made.figures.failed()).isPositive();
            assertThat(made.exchanges).anyMatch(one -> one.detail().contains("the answer does not end"));
        }
    }

    @ParameterizedTest
    @MethodSource("floods")
    void aRehearsalEndsInTime(String protocol, String scheme, String beginning, Map<String, List<String>> form)
            throws Exception {
        try (HostilePeer server = new HostilePeer(HostilePeer.flooding(beginning, 'x'))) {
            RehearsedCall made = Rehearsed.all(Rehearsed.order(
                    Rehearsed.address(protocol, scheme + "://127.0.0.1:" + server.port()), Access.OPEN,
                    workload(protocol, form), folder)).getFirst();
            assertThat(made.failure()).hasValue(FailureKind.MALFORMED);
            assertThat(made.detail()).contains("the answer does not end");
        }
    }

    /** Kafka's own client takes the first bytes of whatever answers for a length: here it is more than a gigabyte. */
    @Test
    void whatIsNoBrokerIsNotMadeRoomFor() throws Exception {
        try (HostilePeer server = new HostilePeer(
                HostilePeer.flooding("HTTP/1.1 400 Bad Request\r\n\r\n", 'x'))) {
            RehearsedCall made = Rehearsed.all(Rehearsed.order(
                    Rehearsed.address("kafka", "kafka://127.0.0.1:" + server.port()), Access.OPEN,
                    workload("kafka", Map.of("topic", List.of("arrivals"), "payload", List.of("x"))), folder))
                    .getFirst();
            assertThat(made.detail()).contains("is no broker of Kafka's protocol");
        }
    }

    /** A peer by what it does, and how it is reached. */
    private record Harm(String name, String protocol, String address, Map<String, List<String>> settings,
            Map<String, List<String>> form, HostilePeer.Script script) {
        @Override
        public String toString() {
            return name;
        }
    }

    private static final Map<String, List<String>> MESSAGE = Map.of("payload", List.of("tide"), "ends",
            List.of("when it has come back"));

    private static Harm mqtt(String name, boolean five, byte[] again) {
        var form = new java.util.HashMap<>(MESSAGE);
        form.put("topic", List.of("arrivals"));
        return new Harm((five ? "MQTT 5: " : "MQTT 3.1.1: ") + name, "mqtt", "mqtt://127.0.0.1:%d",
                Map.of("version", List.of(five ? "5" : "3")), form, HostileScripts.mqtt(five, again));
    }

    private static Harm amqp(String name, HostilePeer.Script script) {
        return new Harm("AMQP: " + name, "amqp", "amqp://127.0.0.1:%d", Map.of(), Map.of("exchange",
                List.of("harbour"), "key", List.of("tide"), "payload", List.of("tide")), script);
    }

    private static Harm sql(String name, HostilePeer.Script script) {
        return new Harm("PostgreSQL: " + name, "sql", "jdbc:postgresql://127.0.0.1:%d/board", Map.of(),
                Map.of("statement", List.of("select quay from berth")), script);
    }

    private static Harm grpc(String name, HostilePeer.Script script) {
        return new Harm("gRPC: " + name, "grpc", "grpc://127.0.0.1:%d",
                Map.of("descriptors",
                        List.of(Path.of("../rpc/src/main/protobuf/berths.proto").toAbsolutePath().toString())),
                Map.of("method", List.of("harbour.BerthBoard/GetBerth"), "message", List.of("{}")), script);
    }

    static Stream<Harm> harms() throws IOException {
        var all = new java.util.ArrayList<Harm>();
        for (boolean five : new boolean[]{false, true}) {
            all.add(mqtt("messages of others", five, HostileScripts.mqttMessage(five)));
            all.add(mqtt("the largest message", five, HostileScripts.mqttLargest()));
            all.add(mqtt("zeros", five, new byte[1]));
        }
        all.add(amqp("says nothing", HostilePeer::silent));
        all.add(amqp("is none", HostilePeer.flooding("", 'x')));
        all.add(amqp("the largest frame", HostileScripts.amqp(HostileScripts.amqpLargest())));
        all.add(amqp("a message without end", HostileScripts.amqp(HostileScripts.amqpEndless())));
        all.add(amqp("messages that are given back", HostileScripts.amqp(HostileScripts.amqpReturns())));
        all.add(amqp("nothing but signs of life", HostileScripts.amqp(HostileScripts.amqpHeartbeat())));
        byte[] begins = HostileScripts.postgresBegins();
        all.add(sql("says nothing", HostilePeer::silent));
        all.add(sql("drips", HostilePeer.dripping("N")));
        all.add(sql("is none", HostilePeer.flooding("", 'x')));
        all.add(sql("rows without end", HostileScripts.postgres(begins, HostileScripts.postgresRow())));
        all.add(sql("the largest row", HostileScripts.postgres(all(begins, HostileScripts.postgresLargestRow()),
                (byte) 'x')));
        all.add(sql("columns without end", HostileScripts.postgres(begins, HostileScripts.postgresColumns(9_000))));
        all.add(sql("notices without end", HostileScripts.postgres(begins, HostileScripts.postgresNotice())));
        all.add(sql("the largest error", HostileScripts.postgres(HostileScripts.postgresLargestError(), (byte) 'x')));
        all.add(grpc("says nothing", HostilePeer::silent));
        all.add(grpc("is none", HostilePeer.flooding("HTTP/1.1 200 OK\r\n\r\n", 'x')));
        all.add(grpc("pings", HostileScripts.http2(HostileScripts.http2Ping())));
        all.add(grpc("settings", HostileScripts.http2(HostileScripts.http2Settings())));
        all.add(grpc("empty data", HostileScripts.http2(HostileScripts.http2EmptyData())));
        all.add(grpc("a head without end", HostileScripts.http2(HostileScripts.http2Continued())));
        return all.stream();
    }

    private static byte[] all(byte[] one, byte[] two) {
        byte[] both = java.util.Arrays.copyOf(one, one.length + two.length);
        System.arraycopy(two, 0, both, one.length, two.length);
        return both;
    }

    @ParameterizedTest
    @MethodSource("harms")
    void whoTurnsIsGivenUpInTime(Harm harm) throws Exception {
        try (HostilePeer server = new HostilePeer(harm.script())) {
            Address address = Rehearsed.address(harm.protocol(), harm.address().formatted(server.port()));
            Workload workload = workload(harm.protocol(), harm.form());
            long begun = System.nanoTime();
            LoadProfile load = new LoadProfile.Closed(USERS, Duration.ZERO, Duration.ZERO, Duration.ofSeconds(1),
                    SHORT);
            Load made = Load.run(new LoadOrder(address, Access.with(harm.settings()), workload, load, 7, 1),
                    Transport.best());
            assertThat(made.figures.good()).isZero();
            assertThat(made.failed(FailureKind.GENERATOR)).as("%s", made.exchanges).isZero();
            assertThat(made.figures.failedTotal()).as("%s", made.figures.failed()).isPositive();
            RehearsedCall rehearsed = Rehearsed.all(new DriverOrder(address, Access.with(harm.settings()), workload,
                    SHORT, new Secrets(Map.of(), folder), Transport.best())).getFirst();
            assertThat(rehearsed.isGood()).isFalse();
            // the library for MQTT lingers for ten seconds in each connection that it gave up
            int lingering = harm.protocol().equals("mqtt") ? (int) made.figures.failedTotal() + USERS + 1 : 0;
            assertThat(server.connectedAfter(lingering > 0 ? Duration.ZERO : LEFT)).as("connections that are left open")
                    .isLessThanOrEqualTo(lingering);
            assertThat(Duration.ofNanos(System.nanoTime() - begun)).isLessThan(MAX);
        }
    }

    static Stream<HostilePeer.Script> databases() throws IOException {
        byte[] begins = HostileScripts.postgresBegins();
        return Stream.of(HostilePeer::silent, HostilePeer.dripping("N"),
                HostileScripts.postgres(begins, HostileScripts.postgresRow()),
                HostileScripts.postgres(begins, HostileScripts.postgresNotice()),
                HostileScripts.postgres(all(begins, HostileScripts.postgresLargestRow()), (byte) 'x'));
    }

    /** Drivers wait for ever; what is asked beside the load must not. */
    @ParameterizedTest
    @MethodSource("databases")
    void aDatabaseThatIsAskedBesideTheLoadIsGivenUpToo(HostilePeer.Script script) throws Exception {
        try (HostilePeer server = new HostilePeer(script)) {
            String database = "jdbc:postgresql://127.0.0.1:" + server.port() + "/board";
            Address address = Rehearsed.address("sql", database);
            var secrets = new Secrets(Map.of(), folder);
            var order = new DriverOrder(address, Access.OPEN, new Workload(List.of(), List.of()), SHORT, secrets,
                    Transport.best());
            ProtocolDriver driver = Drivers.of(address).orElseThrow();
            long begun = System.nanoTime();
            assertThatThrownBy(() -> driver.probe(order, new ProtocolDriver.Questions("select 1", Optional.empty())))
                    .isInstanceOf(IOException.class).message().isNotBlank();
            assertThatThrownBy(() -> driver.ask(order, "select quay from berth")).isInstanceOf(IOException.class);
            assertThatThrownBy(() -> {
                try (var counters = DatabaseCounters.open(new WatchSource.Counters("rows", database, "", "",
                        "select quay from berth", List.of()), secrets)) {
                    counters.read();
                }
            }).isInstanceOf(SourceFailure.class);
            assertThat(Duration.ofNanos(System.nanoTime() - begun)).isLessThan(MAX);
        }
    }

    @Test
    void roomThatIsGivenBackIsThereAgain() {
        var room = new AnswerRoom();
        for (int i = 0; i < 100; i++) {
            assertThat(room.take(AnswerRoom.MAX_OF_ONE)).isTrue();
            assertThat(room.take(1)).as("one answer has a bound").isFalse();
            room.release();
        }
    }
}
