package kadrem.load.drive.amqp;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.List;
import java.util.Map;

import kadrem.core.measure.FailureKind;
import kadrem.core.rehearsal.RehearsedCall;
import kadrem.core.study.Access;
import kadrem.core.study.Address;
import kadrem.core.study.Call;
import kadrem.core.study.ValueList;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import kadrem.fixtures.Ports;
import kadrem.load.drive.ProtocolDriver;
import kadrem.load.drive.Rehearsed;
import kadrem.load.engine.Load;
import kadrem.load.engine.LoadOrder;
import kadrem.load.net.Transport;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Messages through Apache Qpid Broker-J, in this process. */
class AmqpDriverTest {
    @TempDir
    static Path folder;
    private static AmqpBroker broker;

    @BeforeAll
    static void start() throws Exception {
        broker = new AmqpBroker(folder);
    }

    @AfterAll
    static void stop() {
        broker.close();
    }

    private static Address broker() {
        return Rehearsed.address("amqp", "amqp://127.0.0.1:" + broker.port() + "/default");
    }

    private RehearsedCall one(Address address, Access access, Call call) throws Exception {
        return Rehearsed.all(Rehearsed.order(address, access, Rehearsed.workload(call), folder)).getFirst();
    }

    @Test
    void everyMessageComesBack() throws Exception {
        Call call = Rehearsed.call("amqp", "round", "exchange", "amq.topic", "key", "arrivals.{{berth}}", "payload",
                "{\"vessel\": \"Tern {{berth}}\"}", "ends", "when it has come back");
        var workload = new Workload(List.of(new ValueList.NumberRange("berth", 1, 20)),
                List.of(new Visit("v", 1, List.of(call))));
        Load load = Load.run(new LoadOrder(broker(), Access.OPEN, workload, Load.arrivals(60, 60, 2), 7, 1),
                Transport.best());
        assertThat(load.figures.failedTotal()).as("%s", load.exchanges).isZero();
        assertThat(load.parts).isEqualTo(60);
    }

    @Test
    void publishingEndsWithTheBrokersWord() throws Exception {
        Call call = Rehearsed.call("amqp", "publish", "exchange", "amq.topic", "key", "arrivals", "payload", "Tern");
        RehearsedCall made = one(broker(), Access.OPEN, call);
        assertThat(made.failure()).as(made.detail()).isEmpty();
        assertThat(made.statusWord()).isEqualTo("confirmed");
        // 404 NOT_FOUND: AMQP 0-9-1, section 1.8, "no such queue or exchange"
        RehearsedCall nowhere = one(broker(), Access.OPEN,
                Rehearsed.call("amqp", "publish", "exchange", "nowhere", "payload", "Tern"));
        assertThat(nowhere.failure()).as(nowhere.detail()).contains(FailureKind.UNEXPECTED_STATUS);
        assertThat(nowhere.status()).isEqualTo(404);
        assertThat(new AmqpProtocol().fingerprint(
                Rehearsed.order(broker(), Access.OPEN, Rehearsed.workload(), folder), ProtocolDriver.Questions.NONE)
                .get("product")).contains("Qpid");
    }

    @Test
    void whoeverMayNotComeInOrFindsNobodyIsTold() throws Exception {
        Call call = Rehearsed.call("amqp", "publish", "exchange", "amq.topic", "payload", "Tern");
        Access wrong = Access.with(Map.of("user", List.of("guest"), "password", List.of("{{env:BERTH_TOKEN}}")));
        RehearsedCall refused = one(broker(), wrong, call);
        assertThat(refused.failure()).contains(FailureKind.NO_CONNECTION);
        assertThat(refused.detail()).doesNotContain("tok-31415");
        assertThat(one(Rehearsed.address("amqp", "amqp://127.0.0.1:" + Ports.free()), Access.OPEN, call).failure())
                .contains(FailureKind.REFUSED);
    }
}
