package kadrem.load.host.remote;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.TimeUnit;

import kadrem.core.measure.WatchReading;
import kadrem.core.study.WatchSource;
import kadrem.fixtures.Programs;
import kadrem.load.drive.Secrets;
import kadrem.load.host.SourceFailure;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Assumptions;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A real OpenSSH server on loopback, with keys of its own; this host is what it tells of. */
class OpenSshTest {
    private static final Path SERVER = Path.of("/usr/sbin/sshd");

    @TempDir
    private Path folder;
    private Process server;
    private int port;
    private HostKeys keys;
    private Secrets secrets;

    @BeforeEach
    void start() throws Exception {
        Assumptions.assumeTrue(Programs.isThere(SERVER) && Files.isReadable(Path.of("/proc/stat")),
                "needs OpenSSH's server, /usr/sbin/sshd (Debian: openssh-server), and Linux");
        Files.setPosixFilePermissions(folder, PosixFilePermissions.fromString("rwx------"));
        if ("root".equals(System.getProperty("user.name"))) {
            Files.createDirectories(Path.of("/run/sshd"));
        }
        key("host", "ed25519", "");
        key("user", "ed25519", "");
        key("locked", "ecdsa", "open sesame");
        key("stranger", "ed25519", "");
        Files.writeString(folder.resolve("authorized"),
                Files.readString(folder.resolve("user.pub")) + Files.readString(folder.resolve("locked.pub")));
        try (var socket = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
            port = socket.getLocalPort();
        }
        Path settings = Files.writeString(folder.resolve("sshd_config"), "ListenAddress 127.0.0.1\nPort " + port
                + "\nHostKey " + folder.resolve("host") + "\nAuthorizedKeysFile " + folder.resolve("authorized")
                + "\nStrictModes no\nUsePAM no\nPermitRootLogin yes\nPasswordAuthentication no\nPidFile none\n");
        server = new ProcessBuilder(SERVER.toString(), "-D", "-e", "-f", settings.toString())
                .redirectErrorStream(true).redirectOutput(folder.resolve("log").toFile()).start();
        long until = System.nanoTime() + TimeUnit.SECONDS.toNanos(20);
        for (boolean up = false; !up;) {
            Assumptions.assumeTrue(server.isAlive() && System.nanoTime() < until,
                    () -> "OpenSSH's server does not start here: " + log());
            try (var _ = new Socket(InetAddress.getLoopbackAddress(), port)) {
                up = true;
            } catch (IOException _) {
                Thread.onSpinWait();
            }
        }
        keys = new HostKeys(List.of(folder.resolve("known")), folder.resolve("accepted"));
        Files.writeString(folder.resolve("known"), "[127.0.0.1]:" + port + " "
                + Files.readString(folder.resolve("host.pub")));
        secrets = new Secrets(Map.of("PASSPHRASE", "open sesame"), folder);
    }

    private String log() {
        try {
            return Files.readString(folder.resolve("log"));
        } catch (IOException cause) {
            return String.valueOf(cause.getMessage());
        }
    }

    private void key(String name, String type, String passphrase) throws Exception {
        command(Map.of(), "ssh-keygen", "-q", "-t", type, "-N", passphrase, "-C", name, "-f",
                folder.resolve(name).toString());
    }

    private static String command(Map<String, String> environment, String... words) throws Exception {
        var builder = new ProcessBuilder(words).redirectErrorStream(true);
        builder.environment().putAll(environment);
        Process process = builder.start();
        process.getOutputStream().close();
        String output = new String(process.getInputStream().readAllBytes(), java.nio.charset.StandardCharsets.UTF_8);
        assertThat(process.waitFor()).as(output).isZero();
        return output;
    }

    @AfterEach
    void stop() throws InterruptedException {
        if (server != null) {
            server.descendants().forEach(ProcessHandle::destroy);
            server.destroy();
            server.waitFor(5, TimeUnit.SECONDS);
        }
    }

    private WatchSource.RemoteHost source(String key, String password) {
        return new WatchSource.RemoteHost("this host from outside", System.getProperty("user.name"), "127.0.0.1", port,
                Optional.of(key).filter(one -> !one.isEmpty()), password);
    }

    @Test
    void thisHostIsReadThroughIt() throws Exception {
        try (SshHost host = SshHost.open(source("user", ""), secrets, keys)) {
            host.read();
            List<WatchReading.Value> values = host.read();
            assertThat(values).extracting(value -> value.series().name()).contains("memory in use", "TCP connections",
                    "context switches", "network in", "answers after");
            // it is the same host, whose clock is this one
            assertThat(host.clock()).hasValueSatisfying(
                    clock -> assertThat(Math.abs(clock.seconds())).isLessThan(clock.error() + 0.01));
        }
    }

    @Test
    void aKeyBehindAPassphraseAndAWrongKey() throws Exception {
        try (SshHost host = SshHost.open(source("locked", "{{env:PASSPHRASE}}"), secrets, keys)) {
            assertThat(host.read()).isNotEmpty();
        }
        assertThatThrownBy(() -> SshHost.open(source("stranger", ""), secrets, keys))
                .isInstanceOf(SourceFailure.class).hasMessageContaining("does not let us in by the key stranger");
    }

    @Test
    void aChangedHostKeyIsRefused() throws Exception {
        Files.writeString(folder.resolve("known"), "[127.0.0.1]:" + port + " "
                + Files.readString(folder.resolve("stranger.pub")));
        assertThatThrownBy(() -> SshHost.open(source("user", ""), secrets, keys)).isInstanceOf(SourceFailure.class)
                .hasMessageContaining("has changed");
    }

    @Test
    void aConnectionThatIsLostIsTold() throws Exception {
        try (SshHost host = SshHost.open(source("user", ""), secrets, keys)) {
            host.read();
            server.descendants().forEach(ProcessHandle::destroyForcibly);
            assertThatThrownBy(() -> {
                for (int i = 0; i < 50; i++) {
                    host.read();
                }
            }).isInstanceOf(SourceFailure.class).hasMessageContaining("SSH connection was lost");
        }
    }

    @Test
    void theAgentsKeysLetIn() throws Exception {
        Path socket = folder.resolve("agent");
        Process agent = new ProcessBuilder("ssh-agent", "-D", "-a", socket.toString())
                .redirectOutput(ProcessBuilder.Redirect.DISCARD).start();
        try {
            while (!Files.exists(socket)) {
                assertThat(agent.isAlive()).isTrue();
                Thread.onSpinWait();
            }
            command(Map.of("SSH_AUTH_SOCK", socket.toString()), "ssh-add", "-q", folder.resolve("user").toString());
            try (SshHost host = SshHost.open(source("", ""), secrets, keys, Optional.of(new AgentSocket(socket)))) {
                assertThat(host.read()).isNotEmpty();
            }
        } finally {
            agent.destroy();
        }
    }
}
