package kadrem.standins.host;

import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.security.PublicKey;
import java.util.Collection;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

import org.apache.sshd.common.config.keys.KeyUtils;
import org.apache.sshd.common.keyprovider.KeyPairProvider;
import org.apache.sshd.server.SshServer;
import org.apache.sshd.server.command.AbstractCommandSupport;
import org.apache.sshd.server.session.ServerSession;

/** The made-up host's SSH server on loopback. Of commands it knows {@code date +%s.%N} and {@code cat}, as a shell would. */
public final class SshStandIn implements AutoCloseable {
    public static final String USER = "watcher";
    /** Not a secret: there is nothing behind it. */
    public static final String PASSWORD = "made-up";

    private final SshServer server;

    private SshStandIn(SshServer server) {
        this.server = server;
    }

    /**
     * @param port 0 for any free one
     * @param hostKeys keys by which the host is known
     * @param letIn public keys of those who may come in, beside those who know the password
     */
    public static SshStandIn start(int port, MadeUpHost host, KeyPairProvider hostKeys, Collection<PublicKey> letIn)
            throws IOException {
        SshServer server = SshServer.setUpDefaultServer();
        server.setHost("127.0.0.1");
        server.setPort(port);
        server.setKeyPairProvider(hostKeys);
        server.setPasswordAuthenticator(
                (user, password, _) -> user.equals(USER) && password.equals(PASSWORD));
        server.setPublickeyAuthenticator((user, key, _) -> user.equals(USER)
                && letIn.stream().anyMatch(one -> KeyUtils.compareKeys(one, key)));
        server.setCommandFactory((_, command) -> new Reading(command, host));
        server.start();
        return new SshStandIn(server);
    }

    public int port() {
        return server.getPort();
    }

    /** Cuts the connections that are there, as a network that fails does; new ones are let in. */
    public void cutConnections() {
        server.getActiveSessions().forEach(session -> ((ServerSession) session).close(true));
    }

    @Override
    public void close() throws IOException {
        server.stop(true);
    }

    /** Runs the commands that a watch sends. */
    private static final class Reading extends AbstractCommandSupport {
        private final MadeUpHost host;

        Reading(String command, MadeUpHost host) {
            super(command, null);
            this.host = host;
        }

        @Override
        public void run() {
            int code = 0;
            try {
                for (String one : getCommand().split(";")) {
                    code = perform(List.of(one.strip().split("\\s+")));
                }
            } catch (IOException _) {
                code = 1;
            }
            onExit(code);
        }

        private int perform(List<String> words) throws IOException {
            return switch (words.getFirst().toLowerCase(Locale.ROOT)) {
                case "date" -> write(getOutputStream(), host.date() + "\n");
                case "cat" -> {
                    int code = 0;
                    for (String name : words.subList(1, words.size())) {
                        Optional<String> text = host.file(name);
                        code = text.isPresent()
                                ? write(getOutputStream(), text.get())
                                : 1 + write(getErrorStream(), "cat: " + name + ": No such file or directory\n");
                    }
                    yield code;
                }
                default -> 127 + write(getErrorStream(), words.getFirst() + ": not found\n");
            };
        }

        private static int write(OutputStream out, String text) throws IOException {
            out.write(text.getBytes(StandardCharsets.UTF_8));
            out.flush();
            return 0;
        }
    }
}
