package kadrem.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.Stream;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.dataformat.yaml.YAMLMapper;
import kadrem.fixtures.Schemas;
import kadrem.standins.berths.DatabaseService;
import kadrem.standins.berths.StoreService;
import kadrem.standins.broker.BrokerService;
import kadrem.standins.broker.ExchangeService;
import kadrem.standins.broker.JournalService;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** Studies whose candidates speak several protocols, from the command line. */
class ProtocolStudiesTest extends CommandLineTest {
    private static final Path SHIPPED = Path.of("../demo");

    @TempDir
    private Path folder;

    static Stream<String> shipped() throws IOException {
        try (var folders = Files.list(SHIPPED)) {
            return folders.map(one -> one.getFileName().toString()).sorted().toList().stream();
        }
    }

    @ParameterizedTest
    @MethodSource("shipped")
    void everyShippedStudyIsValidAndFollowsTheSchema(String name) throws Exception {
        assertThat(kadrem("check", SHIPPED.resolve(name).toString())).as("%s%s", out, err).isZero();
        assertThat(err.toString()).isEmpty();
        JsonNode study = new YAMLMapper().readTree(SHIPPED.resolve(name).resolve("study.yaml").toFile());
        Schemas.openly("study", study);
    }

    /** The shipped study of a database and a store, with those of the test in their places and little load. */
    private Path study(int database, int store) throws IOException {
        String text = Files.readString(SHIPPED.resolve("sql-or-store").resolve("study.yaml"))
                .replaceAll("(?m)^    launch:\\n(      .*\\n)+", "").replace("127.0.0.1:18093", "127.0.0.1:" + database)
                .replace("127.0.0.1:18094", "127.0.0.1:" + store)
                .replace("arrivalsPerSecond: 400", "arrivalsPerSecond: 40")
                .replace("warmUp: 8s", "warmUp: 1s").replace("measured: 10s", "measured: 2s")
                .replace("pause: 1s", "pause: 0s").replace("idle: 2s", "idle: 0s");
        Path study = Files.createDirectories(folder.resolve("study"));
        Files.writeString(study.resolve("study.yaml"), text);
        return study;
    }

    @Test
    void aDatabaseAndAStoreAreRehearsedMeasuredAndCompared() throws Exception {
        try (DatabaseService database = DatabaseService.on(0, List.of()); StoreService store = StoreService.on(0)) {
            String study = study(database.port(), store.port()).toString();
            assertThat(kadrem("rehearse", study)).as("SQL needs the user's word").isNotZero();
            assertThat(err.toString()).contains("call: jdbc:h2:tcp://127.0.0.1:").contains("kadrem allow ");
            allow(study);
            assertThat(kadrem("rehearse", study)).as("%s%s", out, err).isZero();
            assertThat(out.toString()).contains("1 row ").contains("answered").contains("All candidates answer alike");
            assertThat(kadrem("measure", study, "--rounds", "1")).as("%s%s", out, err).isZero();
            try (var runs = Files.list(Path.of(study, "runs"))) {
                for (Path run : runs.toList()) {
                    JsonNode record = new ObjectMapper().readTree(run.resolve("run.json").toFile());
                    assertThat(record.path("outcome").asText()).isEqualTo("complete");
                    assertThat(record.path("fingerprint").path("data").asText()).as("data after the reset")
                            .startsWith("2");
                    assertThat(record.path("figures").path("good").asLong()).isEqualTo(80);
                }
            }
            assertThat(kadrem("compare", study, "--format", "json")).isZero();
            JsonNode compared = new ObjectMapper().readTree(out.toString());
            assertThat(compared.path("study").asText()).isEqualTo("SQL or a key-value store for the berths");
        }
    }

    /** One arrival told in three languages, through the stand-ins that ship. */
    @Test
    void messagesAreRehearsedThroughTheShippedStandIns() throws Exception {
        try (BrokerService broker = BrokerService.on(0);
                ExchangeService exchange = ExchangeService.on(0);
                JournalService journal = JournalService.on(0)) {
            Files.writeString(folder.resolve("study.yaml"),
                    """
                            kadrem: 1
                            name: Arrivals
                            question: {text: "Which?", decide: [{metric: p50, margin: 10%%}]}
                            candidates:
                              - {id: mqtt, address: "mqtt://127.0.0.1:%d", mqtt: {version: 3}}
                              - {id: amqp, address: "amqp://127.0.0.1:%d"}
                              - {id: kafka, address: "kafka://127.0.0.1:%d"}
                            workload:
                              values: [{name: berth, from: 1, to: 2400}]
                              visits:
                                - name: tell
                                  calls:
                                    - name: arrival
                                      mqtt: {topic: arrivals, payload: '{"berth": {{berth}}}', ends: when it has come back}
                                      amqp: {exchange: amq.topic, key: a.b, payload: '{"berth": {{berth}}}', ends: when it has come back}
                                      kafka: {topic: arrivals, payload: '{"berth": {{berth}}}', ends: when it has come back}
                            load: {model: open, arrivalsPerSecond: 50, connections: 8, warmUp: 2s, measured: 4s}
                            """
                            .formatted(broker.port(), exchange.port(), journal.port()));
            allow(folder.toString());
            assertThat(kadrem("rehearse", folder.toString())).as(out + "" + err).isZero();
            assertThat(out.toString()).contains("All candidates answer alike.").contains("written and received");
        }
    }

    /** Nobody listens at either address: that is no agreement. */
    @Test
    void whereNobodyAnsweredNothingIsSaidToBeAlike() throws Exception {
        String study = study(1, 2).toString();
        allow(study);
        assertThat(kadrem("rehearse", study)).isEqualTo(Main.RUN_FAILED);
        assertThat(out + "" + err).contains("No difference among the answers that came.")
                .doesNotContain("answer alike");
    }

    @Test
    void whatIsWrongInAFormIsToldWithItsPlaceAndTheMend() throws Exception {
        Path study = study(1, 2);
        Path file = study.resolve("study.yaml");
        String good = Files.readString(file);
        Files.writeString(file,
                good.replaceFirst("(?s)          resp:\\n            commands: \\[\"HGETALL.*?values: pairs\\n", ""));
        assertThat(kadrem("check", study.toString())).isNotZero();
        assertThat(out + "" + err).contains("workload.visits[0].calls[0]").contains("is not asked in resp")
                .contains("Give it a group resp");
        Files.writeString(file, good.replace("where id = {{berth}}", "where quay = 'Quay {{berth}}'"));
        assertThat(kadrem("check", study.toString())).isNotZero();
        assertThat(out + "" + err).contains("calls[0].sql").contains("{{berth}} inside a text");
        Files.writeString(file, good.replace("rows: 1\n            answer: {at: \"$[0]\"}",
                "row: 1\n            answer: {at: \"$[0]\"}"));
        assertThat(kadrem("check", study.toString())).isZero();
        assertThat(out + "" + err).contains("calls[0].sql.row").contains("Did you mean rows?");
        Files.writeString(file, good.replace("redis://127.0.0.1:2", "carrier-pigeon://loft"));
        assertThat(kadrem("check", study.toString())).isNotZero();
        assertThat(out + "" + err).contains("carrier-pigeon://loft").contains("redis://127.0.0.1:6379");
        Files.writeString(file, good.replace("    address: redis://127.0.0.1:2\n",
                "    address: redis://127.0.0.1:2\n    wire: {cookies: true}\n    signIn: {bearer: \"{{env:T}}\"}\n"));
        kadrem("check", study.toString());
        assertThat(out + "" + err).contains("has no effect over RESP").contains("into its group resp");
        Files.writeString(file, good.replace("    address: redis://127.0.0.1:2\n",
                "    address: redis://127.0.0.1:2\n    password: \"{{env:T}}\"\n"));
        kadrem("check", study.toString());
        assertThat(out + "" + err).contains("It belongs into resp: write resp: {password: ...}");
    }
}
