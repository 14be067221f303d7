package kadrem.load.drive.kafka;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;

import kadrem.core.measure.FailureKind;
import kadrem.core.rehearsal.RehearsedCall;
import kadrem.core.study.Access;
import kadrem.core.study.Address;
import kadrem.core.study.Call;
import kadrem.core.study.Form;
import kadrem.core.study.SignIn;
import kadrem.core.study.Tls;
import kadrem.core.study.ValueList;
import kadrem.core.study.Visit;
import kadrem.core.study.Wire;
import kadrem.core.study.Workload;
import kadrem.fixtures.Ports;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.Offer;
import kadrem.load.drive.ProtocolDriver;
import kadrem.load.drive.Rehearsed;
import kadrem.load.engine.Load;
import kadrem.load.engine.LoadOrder;
import kadrem.load.net.Transport;
import org.apache.kafka.clients.admin.NewTopic;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Records through Apache Kafka's own broker, in this process. */
class KafkaDriverTest {
    @TempDir
    static Path folder;
    private static KafkaBroker broker;

    @BeforeAll
    static void start() throws Exception {
        broker = new KafkaBroker(folder);
        broker.make(new NewTopic("arrivals", 2, (short) 1), new NewTopic("departures-7", 1, (short) 1));
    }

    @AfterAll
    static void stop() {
        broker.close();
    }

    private static Address at(int port) {
        return Rehearsed.address("kafka", "kafka://127.0.0.1:" + port);
    }

    private static DriverOrder order(Address address, Access access, Workload workload) {
        return Rehearsed.order(address, access, workload, folder);
    }

    private static RehearsedCall one(Address address, Access access, Call call) throws Exception {
        return Rehearsed.all(order(address, access, Rehearsed.workload(call))).getFirst();
    }

    private static Call write(String topic) {
        return Rehearsed.call("kafka", "write", "topic", topic, "key", "7", "payload", "{\"vessel\": \"Tern\"}");
    }

    @ParameterizedTest
    @CsvSource({"all, one for all users", "1, one for each user"})
    void everyRecordComesBack(String acks, String producers) throws Exception {
        Call call = Rehearsed.call("kafka", "round", "topic", "arrivals", "key", "{{berth}}", "payload",
                "{\"vessel\": \"Tern {{berth}}\"}", "ends", "when it has come back");
        Access access = Access.with(Map.of("acks", List.of(acks), "producers", List.of(producers)));
        var workload = new Workload(List.of(new ValueList.NumberRange("berth", 1, 20)),
                List.of(new Visit("v", 1, List.of(call))));
        RehearsedCall made = Rehearsed.all(order(at(broker.plain), access, workload)).getFirst();
        assertThat(made.failure()).as(made.detail()).isEmpty();
        assertThat(Rehearsed.body(made)).startsWith("{\"vessel\": \"Tern ");
        assertThat(made.statusWord()).isEqualTo("written and received");
        long before = count("arrivals");
        Load load = Load.run(new LoadOrder(at(broker.plain), access, workload, Load.arrivals(60, 60, 2), 7, 1),
                Transport.best());
        assertThat(load.figures.failedTotal()).as("%s", load.exchanges).isZero();
        assertThat(load.figures.good()).isEqualTo(60);
        assertThat(load.parts).isEqualTo(60);
        assertThat(count("arrivals") - before).isEqualTo(60);
    }

    private static long count(String topic) throws Exception {
        return Long.parseLong(new KafkaProtocol().ask(order(at(broker.plain), Access.OPEN, Rehearsed.workload()),
                "count " + topic));
    }

    @Test
    void aTopicNamedByAValueIsHeardToo() throws Exception {
        Call call = Rehearsed.call("kafka", "round", "topic", "departures-{{berth}}", "payload", "Tern", "ends",
                "when it has come back");
        var workload = new Workload(List.of(new ValueList.NumberRange("berth", 7, 7)),
                List.of(new Visit("v", 1, List.of(call))));
        RehearsedCall made = Rehearsed.all(order(at(broker.plain), Access.OPEN, workload)).getFirst();
        assertThat(made.failure()).as(made.detail()).isEmpty();
        assertThat(Rehearsed.body(made)).isEqualTo("Tern");
    }

    @Test
    void aClusterTellsOfItselfAndItsTopicsCanBeEmptied() throws Exception {
        assertThat(one(at(broker.plain), Access.OPEN, write("arrivals")).statusWord()).isEqualTo("confirmed");
        var protocol = new KafkaProtocol();
        DriverOrder order = order(at(broker.plain), Access.OPEN, Rehearsed.workload(write("arrivals")));
        assertThat(protocol.fingerprint(order, ProtocolDriver.Questions.NONE)).containsEntry("brokers", "1")
                .containsEntry("topic arrivals", "2 partitions, 1 copies").containsKey("metadata.version");
        assertThat(protocol.offers(order, "topic")).extracting(Offer::text).contains("arrivals", "departures-7");
        assertThat(count("arrivals")).isPositive();
        assertThat(protocol.ask(order, "empty arrivals")).startsWith("records before ");
        assertThat(count("arrivals")).isZero();
        assertThat(protocol.ask(order, "empty nowhere")).as("nothing to empty").isEqualTo("records before 0");
        assertThatThrownBy(() -> protocol.ask(order, "count nowhere"))
                .hasMessageContaining("there is no topic nowhere");
        assertThatThrownBy(() -> protocol.ask(order, "drop arrivals")).hasMessageContaining("count TOPIC");
    }

    /** UNKNOWN_TOPIC_OR_PARTITION is error code 3: Apache Kafka, protocol guide, "Error Codes". */
    @Test
    void aTopicThatIsNotThereIsToldByTheProtocolsCode() throws Exception {
        var order = new DriverOrder(at(broker.plain), Access.OPEN, Rehearsed.workload(write("nowhere")),
                java.time.Duration.ofSeconds(8), order(at(broker.plain), Access.OPEN, Rehearsed.workload()).secrets(),
                Transport.best());
        RehearsedCall made = Rehearsed.all(order).getFirst();
        assertThat(made.failure()).as(made.detail()).contains(FailureKind.UNEXPECTED_STATUS);
        assertThat(made.status()).isEqualTo(1003);
        assertThat(made.detail()).contains("UNKNOWN_TOPIC_OR_PARTITION");
    }

    @Test
    void overTlsTheStudysOwnAuthorityHolds() throws Exception {
        Address secure = Rehearsed.address("kafka", "kafkas://127.0.0.1:" + broker.tls);
        Access trusting = new Access(new SignIn.None(), new Tls(true, Optional.of("cert.pem"), Optional.empty(),
                Optional.empty()), Wire.USUAL, Map.of());
        RehearsedCall made = one(secure, trusting, write("arrivals"));
        assertThat(made.failure()).as(made.detail()).isEmpty();
        assertThat(one(secure, Access.OPEN, write("arrivals")).failure()).contains(FailureKind.TLS);
    }

    @Test
    void whoeverSignsInWronglyIsToldWithoutTheSecret() throws Exception {
        Access right = Access.with(Map.of("user", List.of("harbour"), "password", List.of("{{env:BERTH_TOKEN}}")));
        RehearsedCall made = one(at(broker.signIn), right, write("arrivals"));
        assertThat(made.failure()).as(made.detail()).isEmpty();
        Access wrong = Access.with(Map.of("user", List.of("nobody"), "password", List.of("{{env:BERTH_TOKEN}}")));
        RehearsedCall refused = one(at(broker.signIn), wrong, write("arrivals"));
        assertThat(refused.failure()).as(refused.detail()).contains(FailureKind.NO_CONNECTION);
        assertThat(refused.detail()).doesNotContain("tok-31415");
    }

    @Test
    void loadIsNotLedToAnotherHost() throws Exception {
        RehearsedCall made = one(at(broker.elsewhere), Access.OPEN, write("arrivals"));
        assertThat(made.failure()).as(made.detail()).contains(FailureKind.REDIRECTS);
        assertThat(made.detail()).contains("harbour.invalid:9092").contains("advertise");
        assertThat(one(at(Ports.free()), Access.OPEN, write("arrivals")).failure()).contains(FailureKind.REFUSED);
    }

    @Test
    void whatCannotBeATopicOrASettingIsToldBefore() {
        var protocol = new KafkaProtocol();
        assertThat(protocol.objection(Form.of("kafka", Map.of("topic", List.of("arrivals of today"))))).isPresent();
        assertThat(protocol.objection(Form.of("kafka", Map.of("topic", List.of("arrivals-{{berth}}"))))).isEmpty();
        assertThat(protocol.objection(at(9092), Map.of("linger", List.of("a while")))).isPresent();
        assertThat(protocol.objection(at(9092), Map.of("linger", List.of("5")))).isEmpty();
        assertThat(protocol.objection(at(9092), Map.of("password", List.of("{{env:X}}")))).isPresent();
    }
}
