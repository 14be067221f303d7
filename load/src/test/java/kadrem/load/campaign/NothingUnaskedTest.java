package kadrem.load.campaign;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.Mockito.mock;

import java.io.IOException;
import java.io.InputStream;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicLong;

import kadrem.core.measure.RunOutcome;
import kadrem.core.measure.RunRecord;
import kadrem.core.study.Access;
import kadrem.core.study.Address;
import kadrem.core.study.Call;
import kadrem.core.study.Candidate;
import kadrem.core.study.Form;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Metric;
import kadrem.core.study.Plan;
import kadrem.core.study.Question;
import kadrem.core.study.Study;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import kadrem.load.drive.Rehearsed;
import kadrem.load.generator.LocalLoad;
import kadrem.standins.berths.StoreService;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;

/** No call reaches a candidate that the study did not ask for and the record does not count. */
@Timeout(120)
class NothingUnaskedTest {
    private static final int ROUNDS = 2;

    @TempDir
    private Path folder;
    private final MemoryStore store = new MemoryStore();

    /** Calls that the record says were sent, in a campaign of some rounds that warms the generator up before. */
    private long measured(Address address, Call call, LoadProfile load) throws IOException {
        var candidate = new Candidate("a", "a", address, Optional.empty(), "", Optional.empty(), Optional.empty());
        var study = new Study("s", new Question("?", "a", 0.05, List.of(new Question.Decider(Metric.P50, 0.1))),
                List.of(candidate), new Workload(List.of(), List.of(new Visit("v", 1, List.of(call)))), load,
                new Plan(ROUNDS, 3, Duration.ZERO));
        Consent.ofUser().allowCommands(study, folder);
        var campaign = new Campaign(study, folder, "kadrem", LocalLoad.MAKER, store, Clock.systemUTC(),
                mock(CampaignListener.class));
        campaign.warmUp(Optional.empty());
        List<RunRecord> made = campaign.run(ROUNDS);
        assertThat(made).hasSize(ROUNDS).allMatch(run -> run.outcome() == RunOutcome.COMPLETE);
        return store.summaries.values().stream().flatMap(List::stream).mapToLong(second -> second.sent()).sum();
    }

    private static LoadProfile open() {
        return new LoadProfile.Open(50, LoadProfile.Spacing.CONSTANT, 4, Duration.ofSeconds(1), Duration.ofSeconds(2),
                Duration.ofSeconds(5));
    }

    private static LoadProfile closed() {
        return new LoadProfile.Closed(3, Duration.ofMillis(20), Duration.ofSeconds(1), Duration.ofSeconds(2),
                Duration.ofSeconds(5));
    }

    @Test
    void anHttpServerCountsWhatTheRecordCounts() throws IOException {
        var counted = new AtomicLong();
        try (var listener = new ServerSocket(0, 64, InetAddress.getLoopbackAddress())) {
            Thread.ofVirtual().start(() -> {
                while (!listener.isClosed()) {
                    try {
                        Socket socket = listener.accept();
                        Thread.ofVirtual().start(() -> answer(socket, counted));
                    } catch (IOException _) {
                        return;
                    }
                }
            });
            long sent = measured(new Address("127.0.0.1", listener.getLocalPort(), ""),
                    Call.of("look", "GET", "/berths/7"), open());
            assertThat(sent).isEqualTo(ROUNDS * 150);
            assertThat(counted.get()).isEqualTo(sent);
        }
    }

    private static void answer(Socket socket, AtomicLong counted) {
        try (socket) {
            InputStream in = socket.getInputStream();
            var head = new StringBuilder();
            for (int b = in.read(); b >= 0; b = in.read()) {
                head.append((char) b);
                if (head.toString().endsWith("\r\n\r\n")) {
                    if (head.toString().startsWith("GET /berths/7 ")) {
                        counted.incrementAndGet();
                    }
                    head.setLength(0);
                    socket.getOutputStream().write("HTTP/1.1 200 OK\r\nContent-Length: 2\r\n\r\nok"
                            .getBytes(StandardCharsets.US_ASCII));
                }
            }
        } catch (IOException _) {
            // the test is over
        }
    }

    @Test
    void aStoreCountsWhatTheRecordCounts() throws Exception {
        try (StoreService stand = StoreService.on(0)) {
            Address address = Rehearsed.address("resp", "redis://127.0.0.1:" + stand.port() + "/0");
            Call call = Call.of("count", "GET", "").with(Form.of("resp", Map.of("commands", List.of("INCR asked"))))
                    .in("resp");
            long sent = measured(address, call, closed());
            Call last = Call.of("how-many", "GET", "")
                    .with(Form.of("resp", Map.of("commands", List.of("GET asked")))).in("resp");
            String counted = Rehearsed.body(Rehearsed
                    .all(Rehearsed.order(address, Access.OPEN, Rehearsed.workload(last), folder)).getFirst());
            assertThat(sent).isGreaterThan(100);
            assertThat(counted.replaceAll("\\D", "")).isEqualTo(Long.toString(sent));
        }
    }

    @Test
    void aDatabaseCountsWhatTheRecordCounts() throws Exception {
        String at = "jdbc:h2:mem:unasked;DB_CLOSE_DELAY=-1";
        Address address = Rehearsed.address("sql", at);
        try (var connection = java.sql.DriverManager.getConnection(at); var statement = connection.createStatement()) {
            statement.execute("create table asked (id identity)");
            Call call = Call.of("insert", "GET", "")
                    .with(Form.of("sql", Map.of("statement", List.of("insert into asked default values")))).in("sql");
            long sent = measured(address, call, closed());
            try (var rows = statement.executeQuery("select count(*) from asked")) {
                rows.next();
                assertThat(sent).isGreaterThan(100);
                assertThat(rows.getLong(1)).isEqualTo(sent);
            }
        }
    }
}
