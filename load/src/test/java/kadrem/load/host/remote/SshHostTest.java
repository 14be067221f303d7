package kadrem.load.host.remote;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.GeneralSecurityException;
import java.security.KeyPair;
import java.security.KeyPairGenerator;
import java.security.spec.ECGenParameterSpec;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.TimeUnit;
import java.util.function.Predicate;

import kadrem.core.measure.WatchReading;
import kadrem.core.measure.WatchedSource;
import kadrem.core.study.WatchSource;
import kadrem.load.drive.Secrets;
import kadrem.load.host.SourceFailure;
import kadrem.load.host.Watching;
import kadrem.standins.host.MadeUpHost;
import kadrem.standins.host.SshStandIn;
import org.apache.sshd.common.config.keys.KeyUtils;
import org.apache.sshd.common.config.keys.writer.openssh.OpenSSHKeyPairResourceWriter;
import org.apache.sshd.common.keyprovider.KeyPairProvider;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A made-up Linux host behind a real SSH server: what it makes up is what is read. */
class SshHostTest {
    private static final long AHEAD_MILLIS = 90_000;

    @TempDir
    private Path folder;
    private final KeyPair hostKey = newKey();
    private final KeyPair userKey = newKey();
    private final MadeUpHost host = new MadeUpHost(System::nanoTime, () -> System.currentTimeMillis() + AHEAD_MILLIS);
    private SshStandIn server;
    private HostKeys keys;
    private Secrets secrets;

    private static KeyPair newKey() {
        try {
            KeyPairGenerator generator = KeyPairGenerator.getInstance("EC");
            generator.initialize(new ECGenParameterSpec("secp256r1"));
            return generator.generateKeyPair();
        } catch (GeneralSecurityException cause) {
            throw new IllegalStateException(cause);
        }
    }

    @BeforeEach
    void start() throws IOException {
        server = SshStandIn.start(0, host, KeyPairProvider.wrap(hostKey), List.of(userKey.getPublic()));
        keys = new HostKeys(List.of(folder.resolve("user-known-hosts")), folder.resolve("kadrem/known_hosts"));
        secrets = new Secrets(Map.of("HOST_PASSWORD", SshStandIn.PASSWORD, "WRONG", "guess"), folder);
    }

    @AfterEach
    void stop() throws IOException {
        server.close();
    }

    private WatchSource.RemoteHost source(Optional<String> key, String password) {
        return new WatchSource.RemoteHost("db host", SshStandIn.USER, "127.0.0.1", server.port(), key, password);
    }

    private WatchSource.RemoteHost byPassword() {
        return source(Optional.empty(), "{{env:HOST_PASSWORD}}");
    }

    private void acceptKey() {
        keys.accept("127.0.0.1", server.port(), hostKey.getPublic());
    }

    private String keyFile(KeyPair pair) throws IOException, GeneralSecurityException {
        Path file = folder.resolve("key-" + pair.hashCode());
        try (var out = Files.newOutputStream(file)) {
            OpenSSHKeyPairResourceWriter.INSTANCE.writePrivateKey(pair, "", null, out);
        }
        return file.getFileName().toString();
    }

    private static Map<String, Double> values(List<WatchReading.Value> values) {
        var map = new HashMap<String, Double>();
        values.forEach(value -> map.put(value.series().name(), value.value()));
        return map;
    }

    @Test
    void itsFiguresAreThoseThatTheHostMakesUp() throws Exception {
        acceptKey();
        try (SshHost open = SshHost.open(byPassword(), secrets, keys)) {
            open.read();
            // rates need some time between two readings
            long until = System.nanoTime() + TimeUnit.SECONDS.toNanos(1);
            while (System.nanoTime() < until) {
                Thread.onSpinWait();
            }
            Map<String, Double> values = values(open.read());
            assertThat(values.get("CPU")).isCloseTo(100 * MadeUpHost.BUSY, within(1.0));
            assertThat(values.get("taken by the machine below")).isCloseTo(100 * MadeUpHost.STOLEN, within(0.5));
            assertThat(values.get("memory in use")).isEqualTo(3.0 * (1L << 30));
            assertThat(values.get("network in")).isCloseTo(MadeUpHost.NETWORK_IN_PER_SECOND, within(1.2e5));
            assertThat(values.get("network out")).isCloseTo(2.0 * MadeUpHost.NETWORK_IN_PER_SECOND, within(2.4e5));
            assertThat(values.get("disk written")).isCloseTo(MadeUpHost.DISK_WRITTEN_PER_SECOND, within(4.2e5));
            assertThat(values.get("TCP connections")).isEqualTo(12);
            assertThat(values.get("tasks ready to run")).isEqualTo(2);
            assertThat(open.clock()).hasValueSatisfying(clock -> assertThat(clock.seconds())
                    .isCloseTo(AHEAD_MILLIS / 1e3, within(clock.error() + 0.01)));
        }
    }

    @Test
    void aKeyLetsInAndAnotherDoesNot() throws Exception {
        acceptKey();
        try (SshHost open = SshHost.open(source(Optional.of(keyFile(userKey)), ""), secrets, keys)) {
            assertThat(open.read()).isNotEmpty();
        }
        String wrong = keyFile(newKey());
        assertThatThrownBy(() -> SshHost.open(source(Optional.of(wrong), ""), secrets, keys))
                .isInstanceOf(SourceFailure.class).hasMessageContaining("does not let us in by the key " + wrong);
        assertThatThrownBy(() -> SshHost.open(source(Optional.of("nowhere"), ""), secrets, keys))
                .hasMessageContaining("private key in nowhere cannot be read");
        Files.writeString(folder.resolve("no-key"), "ahoy\n");
        assertThatThrownBy(() -> SshHost.open(source(Optional.of("no-key"), ""), secrets, keys))
                .hasMessageContaining("no-key");
    }

    @Test
    void aWrongPasswordIsToldWithoutIt() {
        acceptKey();
        assertThatThrownBy(() -> SshHost.open(source(Optional.empty(), "{{env:WRONG}}"), secrets, keys))
                .isInstanceOf(SourceFailure.class).hasMessageContaining("does not let us in by password")
                .hasMessageNotContaining("guess");
    }

    @Test
    void anUnknownHostIsAskedAboutOnceAndThenKnown() throws Exception {
        assertThatThrownBy(() -> SshHost.open(byPassword(), secrets, keys)).isInstanceOf(SourceFailure.class)
                .hasMessageContaining("is not known yet (SHA256:")
                .hasMessageContaining("kadrem allow --host-key 127.0.0.1:" + server.port());
        UnknownHostKey found = SshHost.unknownKey(byPassword(), keys).orElseThrow();
        assertThat(KeyUtils.compareKeys(found.key(), hostKey.getPublic())).isTrue();
        keys.accept(found.host(), found.port(), found.key());
        assertThat(SshHost.unknownKey(byPassword(), keys)).isEmpty();
        try (SshHost open = SshHost.open(byPassword(), secrets, keys)) {
            assertThat(open.read()).isNotEmpty();
        }
    }

    @Test
    void aChangedHostKeyIsRefused() {
        keys.accept("127.0.0.1", server.port(), newKey().getPublic());
        assertThatThrownBy(() -> SshHost.open(byPassword(), secrets, keys)).isInstanceOf(SourceFailure.class)
                .hasMessageContaining("has changed (now SHA256:");
    }

    @Test
    void aRevokedKeyIsRefused() throws IOException {
        acceptKey();
        Files.writeString(folder.resolve("user-known-hosts"),
                "@revoked " + Files.readString(folder.resolve("kadrem/known_hosts")));
        assertThatThrownBy(() -> SshHost.open(byPassword(), secrets, keys)).hasMessageContaining("revoked");
    }

    @Test
    void aHostThatIsNotThereIsTold() throws IOException {
        WatchSource.RemoteHost source = byPassword();
        server.close();
        assertThatThrownBy(() -> SshHost.open(source, secrets, keys)).isInstanceOf(SourceFailure.class)
                .hasMessageContaining("no SSH connection to " + SshStandIn.USER + "@127.0.0.1");
    }

    @Test
    void aConnectionLostInTheMiddleIsToldAndOpenedAgain() throws Exception {
        acceptKey();
        WatchSource.RemoteHost source = byPassword();
        BlockingQueue<WatchReading> told = new LinkedBlockingQueue<>();
        List<WatchedSource> how;
        try (Watching watching = Watching
                .begin(List.of(new Watching.Source(source.name(), source.kind(), source.where(),
                        () -> SshHost.open(source, secrets, keys))), java.time.Duration.ZERO)) {
            watching.on(System.nanoTime(), 0, told::add);
            await(told, reading -> !reading.values().isEmpty());
            server.cutConnections();
            assertThat(await(told, reading -> !reading.trouble().isEmpty()).trouble())
                    .contains("SSH connection was lost");
            await(told, reading -> !reading.values().isEmpty());
            how = watching.end();
        }
        assertThat(how).singleElement().satisfies(one -> {
            assertThat(one.readings()).isGreaterThanOrEqualTo(2);
            assertThat(one.troubles()).isNotEmpty();
            assertThat(one.cpuMillis()).isPositive();
            assertThat(one.clockOffset().orElseThrow()).isCloseTo(AHEAD_MILLIS / 1e3,
                    within(one.clockError().orElseThrow() + 0.01));
        });
    }

    private static WatchReading await(BlockingQueue<WatchReading> told, Predicate<WatchReading> wanted)
            throws InterruptedException {
        while (true) {
            WatchReading next = told.poll(60, TimeUnit.SECONDS);
            assertThat(next).as("a reading within a minute").isNotNull();
            if (wanted.test(next)) {
                return next;
            }
        }
    }
}
