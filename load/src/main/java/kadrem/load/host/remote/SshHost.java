package kadrem.load.host.remote;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.GeneralSecurityException;
import java.security.KeyPair;
import java.security.PublicKey;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.concurrent.atomic.AtomicReference;

import kadrem.core.measure.SeriesRole;
import kadrem.core.measure.WatchReading;
import kadrem.core.study.WatchSource;
import kadrem.load.drive.Secrets;
import kadrem.load.content.UnusableCall;
import kadrem.load.host.HostSource;
import kadrem.load.host.Series;
import kadrem.load.host.SourceFailure;
import org.apache.sshd.client.SshClient;
import org.apache.sshd.client.channel.ChannelExec;
import org.apache.sshd.client.channel.ClientChannelEvent;
import org.apache.sshd.client.config.hosts.HostConfigEntryResolver;
import org.apache.sshd.client.session.ClientSession;
import org.apache.sshd.common.NamedFactory;
import org.apache.sshd.common.config.keys.FilePasswordProvider;
import org.apache.sshd.common.config.keys.KeyUtils;
import org.apache.sshd.common.keyprovider.KeyIdentityProvider;
import org.apache.sshd.common.signature.Signature;
import org.apache.sshd.common.util.security.SecurityUtils;

/**
 * A Linux host that is asked over SSH for files under /proc; one file, since opening, reading and closing a session share one state.
 * Nothing is installed there.
 */
public final class SshHost implements HostSource {
    /** A host whose processors are all at work takes many seconds for the key exchange alone. */
    private static final Duration PATIENCE = Duration.ofSeconds(30);
    private static final String COMMAND = "date +%s.%N; cat " + String.join(" ", ProcText.FILES);

    private final SshClient client;
    private final ClientSession session;
    private final Series series;
    private final ProcText proc;
    private Optional<ClockOffset> clock = Optional.empty();
    private final ReadingClock instants = new ReadingClock();

    private SshHost(String name, SshClient client, ClientSession session) {
        this.client = client;
        this.session = session;
        series = new Series(name);
        proc = new ProcText(series);
    }

    /**
     * Connects and signs in.
     *
     * @throws SourceFailure if the host cannot be reached, is not known by its key, or does not let the user in
     */
    public static SshHost open(WatchSource.RemoteHost source, Secrets secrets, HostKeys keys) throws SourceFailure {
        return open(source, secrets, keys, AgentSocket.ofUser());
    }

    /** As above, with the agent that holds the keys where the source names neither a key nor a password. */
    static SshHost open(WatchSource.RemoteHost source, Secrets secrets, HostKeys keys, Optional<AgentSocket> agent)
            throws SourceFailure {
        var refusal = new AtomicReference<String>("");
        SshClient client = client(source, keys, agent,
                (standing, key) -> refusal.set(refused(source, standing, key, keys)));
        ClientSession session = null;
        try {
            session = client.connect(source.user(), source.host(), source.port()).verify(PATIENCE).getSession();
            signIn(session, source, secrets);
            session.auth().verify(PATIENCE);
            return new SshHost(source.name(), client, session);
        } catch (IOException cause) {
            client.stop();
            throw new SourceFailure(refusal.get().isEmpty()
                    ? (session == null
                            ? "no SSH connection to " + source.where() + ": " + words(cause)
                            : source.where() + " does not let us in by "
                                    + way(source) + ": " + words(cause))
                    : refusal.get(), cause);
        } catch (SourceFailure failure) {
            client.stop();
            throw failure;
        }
    }

    /**
     * The key of a host that nothing is known of; empty where the host is known, by this or another key.
     *
     * @throws SourceFailure if the host cannot be reached
     */
    public static Optional<UnknownHostKey> unknownKey(WatchSource.RemoteHost source, HostKeys keys)
            throws SourceFailure {
        var found = new AtomicReference<Optional<UnknownHostKey>>(Optional.empty());
        SshClient client = client(source, keys, Optional.empty(), (standing, key) -> {
            if (standing == HostKeys.Standing.UNKNOWN) {
                found.set(Optional.of(new UnknownHostKey(source.host(), source.port(), key,
                        KeyUtils.getFingerPrint(key))));
            }
        });
        try (ClientSession session = client.connect(source.user(), source.host(), source.port()).verify(PATIENCE)
                .getSession()) {
            session.waitFor(EnumSet.of(ClientSession.ClientSessionEvent.WAIT_AUTH,
                    ClientSession.ClientSessionEvent.CLOSED), PATIENCE);
        } catch (IOException cause) {
            throw new SourceFailure("no SSH connection to " + source.where() + ": " + words(cause), cause);
        } finally {
            client.stop();
        }
        return found.get();
    }

    /** Told of a host key that was not accepted. */
    private interface Refusal {
        void of(HostKeys.Standing standing, PublicKey key);
    }

    private static SshClient client(WatchSource.RemoteHost source, HostKeys keys, Optional<AgentSocket> agent,
            Refusal refusal)
            throws SourceFailure {
        SshClient client = SshClient.setUpDefaultClient();
        client.setHostConfigEntryResolver(HostConfigEntryResolver.EMPTY);
        client.setKeyIdentityProvider(KeyIdentityProvider.EMPTY_KEYS_PROVIDER);
        if (source.key().isEmpty() && source.password().isEmpty()) {
            agent.ifPresent(client::setAgentFactory);
        }
        try {
            List<String> known = keys.knownTypes(source.host(), source.port());
            var ordered = new ArrayList<NamedFactory<Signature>>(client.getSignatureFactories());
            ordered.sort(Comparator.comparing(factory -> known.stream().noneMatch(
                    type -> type.equals(KeyUtils.getCanonicalKeyType(factory.getName())))));
            client.setSignatureFactories(ordered);
        } catch (IOException cause) {
            throw new SourceFailure("known_hosts cannot be read: " + cause.getMessage(), cause);
        }
        client.setServerKeyVerifier((_, _, key) -> {
            try {
                HostKeys.Standing standing = keys.standing(source.host(), source.port(), key);
                if (standing != HostKeys.Standing.KNOWN) {
                    refusal.of(standing, key);
                }
                return standing == HostKeys.Standing.KNOWN;
            } catch (IOException _) {
                return false;
            }
        });
        client.start();
        return client;
    }

    private static String refused(WatchSource.RemoteHost source, HostKeys.Standing standing, PublicKey key,
            HostKeys keys) {
        String where = source.host() + ":" + source.port();
        return switch (standing) {
            case UNKNOWN, KNOWN -> "the key of " + where + " is not known yet (" + KeyUtils.getFingerPrint(key)
                    + "); if it is the right one, accept it: kadrem allow --host-key " + where;
            case CHANGED -> "the key of " + where + " has changed (now " + KeyUtils.getFingerPrint(key)
                    + "): somebody may stand between, or the host was made anew. If you know why, take its old line out of "
                    + "known_hosts or " + keys.acceptedFile();
            case REVOKED -> "the key of " + where + " is marked as revoked in known_hosts";
        };
    }

    private static String way(WatchSource.RemoteHost source) {
        return source.key().map(file -> "the key " + file)
                .orElse(source.password().isEmpty() ? "the keys of the agent" : "password");
    }

    private static String words(IOException cause) {
        String message = String.valueOf(cause.getMessage());
        return message.isBlank() ? cause.getClass().getSimpleName() : message;
    }

    private static void signIn(ClientSession session, WatchSource.RemoteHost source, Secrets secrets)
            throws SourceFailure {
        try {
            String password = secrets.fill(source.password());
            if (source.key().isPresent()) {
                // where both are given, the password opens the key's file
                for (KeyPair pair : keyPairs(source.key().get(), password, secrets)) {
                    session.addPublicKeyIdentity(pair);
                }
            } else if (!password.isEmpty()) {
                session.addPasswordIdentity(password);
            }
        } catch (UnusableCall cause) {
            throw new SourceFailure(String.valueOf(cause.getMessage()), cause);
        }
    }

    private static List<KeyPair> keyPairs(String name, String password, Secrets secrets) throws SourceFailure {
        String home = System.getProperty("user.home", "");
        Path file = name.startsWith("~/") ? Path.of(home, name.substring(2)) : secrets.folder().resolve(name);
        try (var in = Files.newInputStream(file)) {
            var pairs = new ArrayList<KeyPair>();
            Iterable<KeyPair> read = SecurityUtils.loadKeyPairIdentities(null, () -> name, in,
                    password.isEmpty() ? FilePasswordProvider.EMPTY : FilePasswordProvider.of(password));
            if (read != null) {
                read.forEach(pairs::add);
            }
            if (pairs.isEmpty()) {
                throw new SourceFailure("the file " + name + " holds no private key");
            }
            return pairs;
        } catch (IOException | GeneralSecurityException cause) {
            throw new SourceFailure("the private key in " + name + " cannot be read: " + cause.getMessage(), cause);
        }
    }

    @Override
    public List<WatchReading.Value> read() throws SourceFailure {
        if (!session.isOpen()) {
            throw new SourceFailure("the SSH connection was lost");
        }
        long sent = System.nanoTime();
        long sentMillis = System.currentTimeMillis();
        String answer = ask();
        long took = System.nanoTime() - sent;
        int end = answer.indexOf('\n');
        if (end < 0) {
            throw new SourceFailure("the host answers nothing that tells of it: is it a Linux host?");
        }
        OptionalDouble told = seconds(answer.substring(0, end));
        series.at(instants.at(sent, took, told));
        told.ifPresent(seconds -> time(seconds, sentMillis, took));
        try {
            proc.read(answer.substring(end + 1));
        } catch (NumberFormatException | ArrayIndexOutOfBoundsException cause) {
            throw new SourceFailure("the host's /proc is not that of Linux: " + cause.getMessage(), cause);
        }
        series.level("answers after", "ms", SeriesRole.NETWORK, took / 1e6);
        return series.values();
    }

    /** What the host's clock says, in seconds since 1970; empty for a date without nanoseconds, as of small systems. */
    private static OptionalDouble seconds(String text) {
        try {
            return OptionalDouble.of(Double.parseDouble(text));
        } catch (NumberFormatException _) {
            return OptionalDouble.empty();
        }
    }

    /** The host's clock was read between question and answer, nearly at once after the question arrived. */
    private void time(double seconds, long sentMillis, long took) {
        double offset = seconds - (sentMillis / 1e3 + took / 2e9);
        double error = took / 2e9;
        if (clock.isEmpty() || clock.get().error() > error) {
            clock = Optional.of(new ClockOffset(offset, error));
        }
    }

    private String ask() throws SourceFailure {
        try (ChannelExec channel = session.createExecChannel(COMMAND, null, Map.of());
                var out = new Told();
                var error = new Told()) {
            channel.setOut(out);
            channel.setErr(error);
            channel.open().verify(PATIENCE);
            if (!channel.waitFor(EnumSet.of(ClientChannelEvent.CLOSED), PATIENCE)
                    .contains(ClientChannelEvent.CLOSED)) {
                throw new SourceFailure("the host did not answer within " + PATIENCE.toSeconds() + " s");
            }
            if (out.isTooLong || error.isTooLong) {
                session.close(true);
                throw new SourceFailure("the host answers without end: more than " + (Told.MAX >> 20)
                        + " MiB came where a few KiB are usual");
            }
            return out.bytes.toString(StandardCharsets.UTF_8);
        } catch (IOException | IllegalStateException cause) {
            throw new SourceFailure("the SSH connection was lost: " + cause.getMessage(), cause);
        }
    }

    /** What a host tells. Thrown away, with the channel, where it does not end. */
    private static final class Told extends OutputStream {
        /** A host of 4,096 processors with 10,000 disks and interfaces tells 2 MiB of them. */
        static final int MAX = 8 << 20;
        private final ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        private volatile boolean isTooLong;

        @Override
        public void write(int one) throws IOException {
            write(new byte[]{(byte) one}, 0, 1);
        }

        @Override
        public void write(byte[] from, int offset, int length) throws IOException {
            if (bytes.size() + length > MAX) {
                isTooLong = true;
                throw new IOException("there is no room for more");
            }
            bytes.write(from, offset, length);
        }
    }

    @Override
    public Optional<ClockOffset> clock() {
        return clock;
    }

    @Override
    public void close() {
        session.close(true);
        client.stop();
    }
}
