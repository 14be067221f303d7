package kadrem.load.host.remote;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.io.OutputStream;
import java.nio.file.Path;
import java.security.KeyPair;
import java.security.KeyPairGenerator;
import java.security.spec.ECGenParameterSpec;
import java.time.Duration;
import java.util.Map;
import java.util.Optional;

import kadrem.core.study.WatchSource;
import kadrem.load.drive.HostilePeer;
import kadrem.load.drive.Secrets;
import kadrem.load.host.SourceFailure;
import org.apache.sshd.common.keyprovider.KeyPairProvider;
import org.apache.sshd.server.SshServer;
import org.apache.sshd.server.command.AbstractCommandSupport;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.api.parallel.Execution;
import org.junit.jupiter.api.parallel.ExecutionMode;

/** Hosts that are watched and mean harm: each is given up in time, with words, and takes no more memory than there is room for. */
@Execution(ExecutionMode.CONCURRENT)
@Timeout(120)
class HostileHostTest {
    private static final Duration MAX = Duration.ofSeconds(60);

    @TempDir
    private Path folder;
    private HostKeys keys;

    @BeforeEach
    void start() {
        keys = new HostKeys(java.util.List.of(folder.resolve("none")), folder.resolve("kadrem/known_hosts"));
    }

    private SshHost open(int port) throws SourceFailure {
        return SshHost.open(new WatchSource.RemoteHost("host", "watcher", "127.0.0.1", port, Optional.empty(),
                "{{env:WORD}}"), new Secrets(Map.of("WORD", "ebb-tide"), folder), keys, Optional.empty());
    }

    private void isRefused(HostilePeer.Script script) throws IOException {
        long begun = System.nanoTime();
        try (var peer = new HostilePeer(script)) {
            assertThatThrownBy(() -> open(peer.port())).isInstanceOf(SourceFailure.class).message().isNotBlank();
        }
        assertThat(Duration.ofNanos(System.nanoTime() - begun)).isLessThan(MAX);
    }

    @Test
    void whoSaysNothingIsNotWaitedForForEver() throws Exception {
        isRefused(HostilePeer::silent);
    }

    /** RFC 4253, section 4.2, lets a server send other lines before its version. */
    @Test
    void whoNeverComesToItsVersionIsGivenUp() throws Exception {
        isRefused(HostilePeer.flooding("", '\n'));
        isRefused(HostilePeer.flooding("welcome", 'x'));
    }

    @Test
    void whoSendsRubbishForKeysIsGivenUp() throws Exception {
        isRefused(HostilePeer.flooding("SSH-2.0-harbour\r\n", 'x'));
        isRefused(HostilePeer.flooding("SSH-2.0-harbour\r\n", '\0'));
    }

    /** A server that lets everybody in and answers every command without end. */
    private SshServer talkative(KeyPair key, boolean onError) throws IOException {
        SshServer server = SshServer.setUpDefaultServer();
        server.setHost("127.0.0.1");
        server.setKeyPairProvider(KeyPairProvider.wrap(key));
        server.setPasswordAuthenticator((_, _, _) -> true);
        server.setCommandFactory((_, command) -> new AbstractCommandSupport(command, null) {
            @Override
            public void run() {
                try (OutputStream out = onError ? getErrorStream() : getOutputStream()) {
                    while (true) {
                        out.write("cpu 1 2 3 4\n".repeat(5_000).getBytes(java.nio.charset.StandardCharsets.US_ASCII));
                        out.flush();
                    }
                } catch (IOException _) {
                    onExit(1);
                }
            }
        });
        server.start();
        return server;
    }

    @Test
    void whoAnswersWithoutEndIsGivenUp() throws Exception {
        KeyPairGenerator generator = KeyPairGenerator.getInstance("EC");
        generator.initialize(new ECGenParameterSpec("secp256r1"));
        KeyPair key = generator.generateKeyPair();
        for (boolean onError : new boolean[]{false, true}) {
            SshServer server = talkative(key, onError);
            keys.accept("127.0.0.1", server.getPort(), key.getPublic());
            try (SshHost host = open(server.getPort())) {
                long begun = System.nanoTime();
                assertThatThrownBy(host::read).isInstanceOf(SourceFailure.class)
                        .hasMessageContaining("answers without end");
                assertThat(Duration.ofNanos(System.nanoTime() - begun)).isLessThan(MAX);
            } finally {
                server.stop(true);
            }
        }
    }
}
