package kadrem.load.drive.mqtt;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
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
import kadrem.fixtures.Programs;
import kadrem.load.drive.Certificate;
import kadrem.load.drive.Rehearsed;
import kadrem.load.content.UnusableCall;
import kadrem.load.engine.Load;
import kadrem.load.engine.LoadOrder;
import kadrem.load.net.Transport;
import kadrem.standins.broker.BrokerService;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Messages through Debian's mosquitto, where it is installed, and through the stand-in, in this process. */
class MqttDriverTest {
    private static final Path BROKER = Path.of("/usr/sbin/mosquitto");

    @TempDir
    static Path folder;
    private static Optional<Process> broker = Optional.empty();
    private static BrokerService inProcess;
    private static int port;
    private static int tlsPort;

    @BeforeAll
    static void start() throws Exception {
        inProcess = BrokerService.on(0);
        if (!Programs.isThere(BROKER)) {
            System.out.println("there is no " + BROKER + ", so that its tests are left out");
            return;
        }
        port = Ports.free();
        Path settings = folder.resolve("broker.conf");
        tlsPort = Ports.free();
        Certificate.make(folder);
        // a broker that is started by root goes on as another user
        for (Path path : List.of(folder, folder.resolve("cert.pem"), folder.resolve("key.pem"))) {
            Files.setPosixFilePermissions(path, PosixFilePermissions.fromString("rwxr-xr-x"));
        }
        Files.writeString(settings, """
                listener %d 127.0.0.1
                listener %d 127.0.0.1
                certfile %s
                keyfile %s
                cafile %s
                require_certificate true
                allow_anonymous true
                persistence false
                """.formatted(port, tlsPort, folder.resolve("cert.pem"), folder.resolve("key.pem"),
                folder.resolve("cert.pem")));
        broker = Optional.of(new ProcessBuilder(BROKER.toString(), "-c", settings.toString())
                .redirectOutput(folder.resolve("broker.log").toFile()).redirectErrorStream(true).start());
        Ports.await(port);
    }

    @AfterAll
    static void stop() {
        broker.ifPresent(Process::destroy);
        inProcess.close();
    }

    private static Address at(int port) {
        return Rehearsed.address("mqtt", "mqtt://127.0.0.1:" + port);
    }

    @ParameterizedTest
    @CsvSource({"3, 0", "3, 1", "5, 0", "5, 1", "5, 2"})
    void everyMessageComesBack(String version, String qos) throws Exception {
        assumeTrue(broker.isPresent(), "there is no mosquitto here");
        comesBack(port, version, qos);
    }

    @ParameterizedTest
    @CsvSource({"0", "1", "2"})
    void everyMessageComesBackFromABrokerInThisProcess(String qos) throws Exception {
        comesBack(inProcess.port(), "3", qos);
    }

    @Test
    void aBrokerOfTheOlderVersionIsToldWithTheMend() throws Exception {
        RehearsedCall made = Rehearsed.all(Rehearsed.order(at(inProcess.port()), Access.OPEN,
                Rehearsed.workload(Rehearsed.call("mqtt", "publish", "topic", "arrivals", "payload", "Tern")), folder))
                .getFirst();
        assertThat(made.failure()).contains(FailureKind.NO_CONNECTION);
        assertThat(made.detail()).contains("mqtt: {version: 3}");
    }

    private static void comesBack(int port, String version, String qos) throws Exception {
        Call call = Rehearsed.call("mqtt", "round", "topic", "arrivals/{{berth}}", "payload",
                "{\"vessel\": \"Tern {{berth}}\"}", "qos", qos, "ends", "when it has come back");
        Access access = Access.with(Map.of("version", List.of(version)));
        var workload = new Workload(List.of(new ValueList.NumberRange("berth", 1, 20)),
                List.of(new Visit("v", 1, List.of(call))));
        RehearsedCall made = Rehearsed.all(Rehearsed.order(at(port), access, workload, folder)).getFirst();
        assertThat(made.failure()).as(made.detail()).isEmpty();
        assertThat(Rehearsed.body(made)).startsWith("{\"vessel\": \"Tern ");
        assertThat(made.statusWord()).isEqualTo("published and received");
        Load load = Load.run(new LoadOrder(at(port), access, workload, Load.arrivals(60, 60, 2), 7, 1),
                Transport.best());
        assertThat(load.figures.failedTotal()).as("%s", load.exchanges).isZero();
        assertThat(load.figures.good()).isEqualTo(60);
        assertThat(load.parts).isEqualTo(60);
    }

    @Test
    void overTlsTheStudysOwnCertificatesHold() throws Exception {
        assumeTrue(broker.isPresent(), "there is no mosquitto here");
        Call call = Rehearsed.call("mqtt", "round", "topic", "arrivals", "payload", "Tern", "ends",
                "when it has come back");
        Address secure = Rehearsed.address("mqtt", "mqtts://127.0.0.1:" + tlsPort);
        Optional<String> certificate = Optional.of("cert.pem");
        Optional<String> key = Optional.of("key.pem");
        assertThat(one(secure, new Tls(true, certificate, certificate, key), call).failure()).isEmpty();
        assertThat(one(secure, new Tls(false, Optional.empty(), certificate, key), call).failure()).isEmpty();
        // the certificate is not one that the platform trusts
        assertThat(one(secure, new Tls(true, Optional.empty(), certificate, key), call).failure())
                .contains(FailureKind.TLS);
        // the broker wants one of the client's
        assertThat(one(secure, new Tls(true, certificate, Optional.empty(), Optional.empty()), call).failure())
                .isPresent();
        assertThatThrownBy(() -> one(secure, new Tls(true, certificate, certificate, certificate), call))
                .isInstanceOf(UnusableCall.class).hasMessageContaining("holds no private key");
    }

    private static RehearsedCall one(Address address, Tls tls, Call call) throws Exception {
        return Rehearsed.all(Rehearsed.order(address, new Access(new SignIn.None(), tls, Wire.USUAL, Map.of()),
                Rehearsed.workload(call), folder)).getFirst();
    }

    @Test
    void publishingAloneEndsWithTheAcknowledgement() throws Exception {
        assumeTrue(broker.isPresent(), "there is no mosquitto here");
        Call call = Rehearsed.call("mqtt", "publish", "topic", "arrivals", "payload", "Tern", "qos", "1");
        RehearsedCall made = Rehearsed
                .all(Rehearsed.order(at(port), Access.OPEN, Rehearsed.workload(call), folder)).getFirst();
        assertThat(made.failure()).as(made.detail()).isEmpty();
        assertThat(made.statusWord()).isEqualTo("published");
    }

    @Test
    void nobodyListeningIsToldAsRefused() throws Exception {
        Call call = Rehearsed.call("mqtt", "publish", "topic", "arrivals", "payload", "Tern");
        RehearsedCall made = Rehearsed
                .all(Rehearsed.order(at(Ports.free()), Access.OPEN, Rehearsed.workload(call), folder)).getFirst();
        assertThat(made.failure()).as(made.detail()).contains(FailureKind.REFUSED);
        assertThat(new MqttProtocol().objection(Form.of("mqtt", Map.of("topic", List.of("arrivals/#"))))).isPresent();
    }
}
