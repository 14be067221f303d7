package kadrem.load.drive.sql;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Duration;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;

import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import kadrem.core.measure.FailureKind;
import kadrem.core.rehearsal.RehearsedCall;
import kadrem.core.study.Access;
import kadrem.core.study.Address;
import kadrem.core.study.Call;
import kadrem.core.study.Capture;
import kadrem.core.study.Expectations;
import kadrem.core.study.Form;
import kadrem.core.study.StatusSet;
import kadrem.core.study.ThinkTime;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.ValueList;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import kadrem.fixtures.Ports;
import kadrem.fixtures.Programs;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.ProtocolDriver;
import kadrem.load.drive.Rehearsed;
import kadrem.load.drive.Secrets;
import kadrem.load.engine.Load;
import kadrem.load.engine.LoadOrder;
import kadrem.load.net.Transport;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** Statements to real databases: PostgreSQL, started from its packaged binaries, SQLite, H2 and HSQLDB. */
class SqlDriverTest {
    @TempDir
    static Path folder;
    private static Optional<EmbeddedPostgres> postgres = Optional.empty();
    private static final Map<String, String> ADDRESSES = new LinkedHashMap<>();

    @BeforeAll
    static void start() throws Exception {
        ADDRESSES.put("H2", "jdbc:h2:mem:drive;DB_CLOSE_DELAY=-1");
        ADDRESSES.put("HSQLDB", "jdbc:hsqldb:mem:drive");
        ADDRESSES.put("SQLite", "jdbc:sqlite:" + folder.resolve("board.db") + "?busy_timeout=20000");
        try {
            EmbeddedPostgres started = EmbeddedPostgres.builder().setOverrideWorkingDirectory(folder.toFile()).start();
            postgres = Optional.of(started);
            ADDRESSES.put("PostgreSQL", started.getJdbcUrl("postgres", "postgres"));
        } catch (java.io.IOException | IllegalStateException cause) {
            Programs.orFail("PostgreSQL", false);
            System.out.println("PostgreSQL cannot be started here, so that its tests are left out: " + cause);
        }
        for (String address : ADDRESSES.values()) {
            Board.fill(address);
        }
    }

    @AfterAll
    static void stop() throws Exception {
        if (postgres.isPresent()) {
            postgres.get().close();
        }
    }

    static Stream<String> databases() {
        return ADDRESSES.keySet().stream();
    }

    private static Address address(String database) {
        return new SqlProtocol().address(ADDRESSES.get(database)).orElseThrow();
    }

    private static Call call(String name, String statement, String... more) {
        return Rehearsed.call(SqlProtocol.ID, name, Stream
                .concat(Stream.of("statement", statement), Stream.of(more)).toArray(String[]::new));
    }

    private static final ValueList BERTH = new ValueList.NumberRange("berth", 1, Board.BERTHS);
    private static final ValueList DAY = new ValueList.Listed("day", "", "", List.of("2026-07-01", "2026-07-14"),
            ValueList.Draw.USUAL);
    private static final ValueList VESSEL = new ValueList.Listed("vessel", "", "", List.of("O'Brien", "Möwe; --"),
            ValueList.Draw.USUAL);

    private static Workload workload(Call... calls) {
        return new Workload(List.of(BERTH, DAY, VESSEL), List.of(new Visit("v", 1, List.of(calls))));
    }

    private static final Call LOOK = call("look", "select id, quay, length from berth where id = {{berth}}", "rows",
            "1");
    private static final Call BOOK = call("book", "insert into stay values ({{berth}}, '{{day}}', {{vessel}})", "rows",
            "1");

    private static Load run(String database, Access access, Workload workload, LoadProfile load) {
        return Load.run(new LoadOrder(address(database), access, workload, load, 7, 1), Transport.best());
    }

    private static List<RehearsedCall> rehearse(Address address, Access access, Workload workload) throws Exception {
        return Rehearsed.all(Rehearsed.order(address, access, workload, folder));
    }

    @ParameterizedTest
    @MethodSource("databases")
    void theDatabaseHoldsARowForEachGoodCall(String database) throws Exception {
        long before = Board.count(ADDRESSES.get(database), "stay");
        Load load = run(database, Access.OPEN, workload(LOOK, BOOK), Load.arrivals(60, 60, 4));
        assertThat(load.figures.failedTotal()).as("%s", load.exchanges).isZero();
        assertThat(load.figures.good()).isEqualTo(120);
        assertThat(Board.count(ADDRESSES.get(database), "stay") - before).isEqualTo(60);
        assertThat(Set.copyOf(Board.column(ADDRESSES.get(database), "select vessel from stay")))
                .as("values are parameters, never part of the statement").isSubsetOf("O'Brien", "Möwe; --", "x");
        assertThat(load.response.getMinValue()).isGreaterThan(1000);
    }

    /** Many rows are kept by the driver unless they are fetched in pieces: then any number may come. */
    @Test
    void rowsThatTakeTooMuchMemoryAreGivenUpUnlessTheyAreFetchedInPieces() throws Exception {
        assertThat(postgres).as("PostgreSQL in this process's care").isPresent();
        Workload many = workload(call("many", "select repeat('x', 1000) from generate_series(1, 80000)"));
        LoadProfile one = new LoadProfile.Closed(1, Duration.ZERO, Duration.ZERO, Duration.ofSeconds(2), Load.PATIENT);
        Load whole = run("PostgreSQL", Access.OPEN, many, one);
        assertThat(whole.figures.good()).isZero();
        assertThat(whole.exchanges).isNotEmpty().as("and not that a connection broke")
                .allMatch(exchange -> exchange.detail().contains("fetched in pieces"));
        Load pieces = run("PostgreSQL",
                Access.with(Map.of("fetch", List.of("500"), "transaction", List.of("visit"))), many, one);
        assertThat(pieces.figures.failedTotal()).as("%s", pieces.exchanges).isZero();
        assertThat(pieces.figures.good()).isPositive();
    }

    private static final int SIZED = 20;

    /** Bytes out and in of a call of one statement that is written out. */
    private static long[] sizes(String statement, int pool) {
        Access access = Access.with(Map.of("pool", List.of(Integer.toString(pool)), "prepared", List.of("false")));
        Load load = run("PostgreSQL", access, workload(call("sized", statement)), Load.arrivals(SIZED, SIZED, 2));
        assertThat(load.figures.good()).as("%s", load.exchanges).isEqualTo(SIZED);
        return new long[]{load.figures.bytesOut() / SIZED, load.figures.bytesIn() / SIZED};
    }

    /**
     * Source: PostgreSQL documentation, chapter "Frontend/Backend Protocol", message formats: the text of a statement goes out as it is, and a
     * row of one value is a DataRow of 1 byte type, 4 bytes length, 2 bytes number of columns, 4 bytes length of the value,
     * and the value.
     */
    @Test
    void sizesAreThoseOfTheWire() {
        assumeTrue(postgres.isPresent(), "needs PostgreSQL");
        long[] one = sizes("select 'abcd'", 0);
        long[] two = sizes("select 'abcd' union all select 'efghij'", 0);
        assertThat(two[0] - one[0]).as("the longer text").isEqualTo(" union all select 'efghij'".length());
        assertThat(two[1] - one[1]).as("one more row").isEqualTo(1 + 4 + 2 + 4 + "efghij".length());
        // a pool may ask a connection whether it still lives
        assertThat(sizes("select 'abcd'", 2)[1]).isBetween(one[1], one[1] + 100);
    }

    @ParameterizedTest
    @MethodSource("databases")
    void rowsAreTheSameJsonFromEachDatabase(String database) throws Exception {
        List<RehearsedCall> calls = rehearse(address(database), Access.OPEN, workload(LOOK));
        RehearsedCall look = calls.getFirst();
        assertThat(look.failure()).as(look.detail()).isEmpty();
        String id = look.request().lines().toList().getLast().replaceFirst("^1 +", "");
        int length = 8 + Integer.parseInt(id) % 7;
        assertThat(new String(look.decoded().toArray(), StandardCharsets.UTF_8))
                .isEqualTo("[{\"id\":" + id + ",\"quay\":\"North Quay\",\"length\":" + length + "}]");
        assertThat(look.request()).startsWith("select id, quay, length from berth where id = ?");
        assertThat(look.header("Content-Type")).isEqualTo("application/json");
    }

    @ParameterizedTest
    @MethodSource("databases")
    void aPoolAndWrittenOutStatementsDoTheSame(String database) throws Exception {
        long before = Board.count(ADDRESSES.get(database), "stay");
        Access access = Access.with(Map.of("pool", List.of("2"), "prepared", List.of("false")));
        Load load = run(database, access, workload(LOOK, BOOK), Load.arrivals(30, 60, 6));
        assertThat(load.figures.failedTotal()).as("%s", load.exchanges).isZero();
        assertThat(Board.count(ADDRESSES.get(database), "stay") - before).isEqualTo(30);
    }

    @ParameterizedTest
    @MethodSource("databases")
    void aVisitIsATransactionThatAFailureTakesBack(String database) throws Exception {
        Access access = Access.with(Map.of("transaction", List.of("visit")));
        long before = Board.count(ADDRESSES.get(database), "stay");
        Call wrong = call("wrong", "insert into berth values ({{berth}}, 'again', 1)");
        Load load = run(database, access, workload(BOOK, wrong), Load.arrivals(10, 60, 1));
        assertThat(load.figures.good()).as("each first insert").isEqualTo(10);
        assertThat(load.failed(FailureKind.UNEXPECTED_STATUS)).isEqualTo(10);
        assertThat(Board.count(ADDRESSES.get(database), "stay")).as("none is left").isEqualTo(before);
        Load whole = run(database, access, workload(BOOK, LOOK), Load.arrivals(10, 60, 1));
        assertThat(whole.figures.failedTotal()).as("%s", whole.exchanges).isZero();
        assertThat(Board.count(ADDRESSES.get(database), "stay")).isEqualTo(before + 10);
    }

    @Test
    void errorsAreToldByTheirSqlState() throws Exception {
        // 23505 unique_violation, 42S02 or 42P01 no such table: the databases' own documents
        for (var expected : Map.of("H2", "23505", "HSQLDB", "23505", "PostgreSQL", "23505").entrySet()) {
            if (!ADDRESSES.containsKey(expected.getKey())) {
                continue;
            }
            Call wrong = call("wrong", "insert into berth values ({{berth}}, 'again', 1)");
            RehearsedCall call = rehearse(address(expected.getKey()), Access.OPEN, workload(wrong)).getFirst();
            assertThat(call.failure()).contains(FailureKind.UNEXPECTED_STATUS);
            assertThat(SqlState.word(call.status())).as(expected.getKey()).isEqualTo(expected.getValue());
        }
        assertThat(SqlState.word(SqlState.number("08P01"))).isEqualTo("08P01");
    }

    @Test
    void whatAnAnswerHoldsIsExpectedAndCapturedAsInHttp() throws Exception {
        Call find = call("find", "select id, length from berth where id = {{berth}}")
                .expecting(new Expectations(StatusSet.ANY_SUCCESS, Optional.empty(),
                        List.of(new Expectations.Expectation.JsonValue("$[0].length", Optional.empty()))))
                .capturing(new Capture("found", new Capture.Source.Json("$[0].length")));
        Call use = call("use", "select count(*) as n from berth where length = cast({{found}} as int)", "rows", "1")
                .expecting(new Expectations(StatusSet.ANY_SUCCESS, Optional.empty(),
                        List.of(new Expectations.Expectation.BodyMatches("\"n\":[1-9]"))));
        Load load = run("H2", Access.OPEN, workload(find, use), Load.arrivals(20, 60, 2));
        assertThat(load.figures.failedTotal()).as("%s", load.exchanges).isZero();
        Call none = call("none", "select id from berth where id = -1", "rows", "1-");
        Load missed = run("H2", Access.OPEN, workload(none), Load.arrivals(5, 60, 1));
        assertThat(missed.failed(FailureKind.FAILED_EXPECTATION)).isEqualTo(5);
        assertThat(missed.exchanges.getFirst().detail()).isEqualTo("0 rows, and not at least 1");
    }

    @Test
    void aStatementThatIsTooSlowIsGivenUpAndItsUserGoesOn() {
        // a cross join of 40^6 rows takes minutes
        Call slow = call("slow", "select count(*) from berth a, berth b, berth c, berth d, berth e, berth f"
                + " where a.length + b.length + c.length + d.length + e.length + f.length = {{berth}}");
        LoadProfile load = new LoadProfile.Closed(1, ThinkTime.NONE, Duration.ZERO, Duration.ofSeconds(2),
                Duration.ofMillis(300));
        Load slowly = run("H2", Access.OPEN, workload(slow), load);
        assertThat(slowly.failed(FailureKind.TIMEOUT)).isBetween(2L, 8L);
    }

    @Test
    void nothingThatListensIsToldAsRefused() throws Exception {
        int port = Ports.free();
        Address nobody = new SqlProtocol().address("jdbc:postgresql://127.0.0.1:" + port + "/x").orElseThrow();
        RehearsedCall call = rehearse(nobody, Access.OPEN, workload(LOOK)).getFirst();
        assertThat(call.failure()).contains(FailureKind.REFUSED);
        var order = new DriverOrder(nobody, Access.OPEN, workload(), Duration.ofSeconds(5),
                new Secrets(Map.of(), folder), Transport.best());
        assertThatThrownBy(() -> new SqlProtocol().probe(order, ProtocolDriver.Questions.NONE))
                .hasMessageContaining("refused");
    }

    @Test
    void addressesTellTheHostThatWouldBeLoaded() {
        var hosts = new HashSet<String>();
        for (String local : List.of("jdbc:sqlite:board.db", "jdbc:h2:mem:x", "jdbc:h2:file:./x", "jdbc:h2:~/x",
                "jdbc:hsqldb:mem:x", "jdbc:duckdb:", "jdbc:postgresql://127.0.0.1/x", "jdbc:postgresql://[::1]:5432/x",
                "jdbc:h2:tcp://localhost:9092/x", "jdbc:mariadb://127.0.0.1:3306/x?useSsl=false")) {
            Address address = new SqlProtocol().address(local).orElseThrow();
            assertThat(address.isLoopback()).as(local).isTrue();
            assertThat(address).hasToString(local);
        }
        for (String far : List.of("jdbc:postgresql://db.example:5432/x", "jdbc:mysql://db.example/x",
                "jdbc:postgresql://127.0.0.1:5432,db.example:5432/x", "jdbc:oracle:thin:@db.example:1521:x",
                "jdbc:oracle:thin:@//db.example:1521/x", "jdbc:sqlserver://db.example:1433;databaseName=x",
                "jdbc:unheard-of:something", "jdbc:postgresql://me@db.example/x",
                "jdbc:postgresql://127.0.0.1/x?PGHOST=db.example", "jdbc:hsqldb:HSQL://db.example/x",
                "jdbc:h2:TCP://db.example/x")) {
            Address address = new SqlProtocol().address(far).orElseThrow();
            assertThat(address.isLoopback()).as(far).isFalse();
            hosts.add(address.host());
        }
        assertThat(hosts).contains("db.example", "jdbc:unheard-of:something");
        assertThat(new SqlProtocol().address("http://127.0.0.1")).isEmpty();
    }

    @Test
    void whatCannotBeAParameterIsRefusedWithTheMend() {
        assertThat(SqlText.objection("select 'Visitor {{vessel}}'").orElseThrow())
                .contains("{{vessel}} inside a text").contains("concat('text ', {{vessel}})");
        assertThat(SqlText.objection("select '{{day}}', 'it''s', {{berth}}")).isEmpty();
        assertThat(SqlText.withMarks(SqlText.pieces("a = '{{day}}' and b = {{berth}}"))).isEqualTo("a = ? and b = ?");
        assertThat(SqlText.withValues(SqlText.pieces("a = '{{day}}' and b = {{berth}}"), List.of("it's", 7L)))
                .isEqualTo("a = 'it''s' and b = 7");
        var protocol = new SqlProtocol();
        assertThat(protocol.objection(protocol.address("jdbc:mariadb://h/x?password=p").orElseThrow(), Map.of()))
                .hasValueSatisfying(why -> assertThat(why).contains("password"));
        assertThat(protocol.objection(Form.of("sql", Map.of("statement", List.of("x"), "rows", List.of("many")))))
                .isPresent();
    }
}
