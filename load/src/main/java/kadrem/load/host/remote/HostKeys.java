package kadrem.load.host.remote;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.security.GeneralSecurityException;
import java.security.PublicKey;
import java.util.ArrayList;
import java.util.List;

import org.apache.sshd.client.config.hosts.KnownHostEntry;
import org.apache.sshd.common.config.keys.AuthorizedKeyEntry;
import org.apache.sshd.common.config.keys.KeyUtils;
import org.apache.sshd.common.config.keys.PublicKeyEntry;
import org.apache.sshd.common.config.keys.PublicKeyEntryResolver;

/**
 * The keys by which remote hosts are known: those of the user's own known_hosts, which are only read, and those that were
 * accepted in Kadrem. The files have the format that sshd(8) describes. Thread-safe.
 */
public final class HostKeys {
    private static final int SSH_PORT = 22;

    private final List<Path> readOnly;
    private final Path accepted;

    /** What is known of a host's key. */
    public enum Standing {
        /** It is the one that was known. */
        KNOWN,
        /** Nothing is known of the host. */
        UNKNOWN,
        /** The host was known by another key. */
        CHANGED,
        /** It was marked as one that must not be trusted. */
        REVOKED
    }

    HostKeys(List<Path> readOnly, Path accepted) {
        this.readOnly = List.copyOf(readOnly);
        this.accepted = accepted;
    }

    /** The keys of the user who runs Kadrem. */
    public static HostKeys ofUser() {
        String home = System.getProperty("user.home", "");
        String folder = System.getenv().getOrDefault("XDG_CONFIG_HOME", home + "/.config");
        return new HostKeys(List.of(Path.of(home, ".ssh", "known_hosts"), Path.of("/etc/ssh/ssh_known_hosts")),
                Path.of(folder, "kadrem", "known_hosts"));
    }

    /** The file to which accepted keys are added. */
    public Path acceptedFile() {
        return accepted;
    }

    /** How {@code key} stands to what is known of the host. */
    Standing standing(String host, int port, PublicKey key) throws IOException {
        Standing standing = Standing.UNKNOWN;
        for (KnownHostEntry entry : entries(host, port)) {
            boolean same = matches(entry, key);
            if (same && "revoked".equals(entry.getMarker())) {
                return Standing.REVOKED;
            }
            if (same) {
                standing = Standing.KNOWN;
            } else
                if (standing == Standing.UNKNOWN && KeyUtils.getKeyType(key)
                        .equals(entry.getKeyEntry().getKeyType())) {
                            standing = Standing.CHANGED;
                        }
        }
        return standing;
    }

    /** Types of the keys by which the host is known; those are asked for first, so that a known host is recognised. */
    List<String> knownTypes(String host, int port) throws IOException {
        return entries(host, port).stream().map(entry -> entry.getKeyEntry().getKeyType()).toList();
    }

    private List<KnownHostEntry> entries(String host, int port) throws IOException {
        var found = new ArrayList<KnownHostEntry>();
        var files = new ArrayList<>(readOnly);
        files.add(accepted);
        for (Path file : files) {
            if (Files.isReadable(file)) {
                KnownHostEntry.readKnownHostEntries(file).stream()
                        .filter(entry -> entry.isHostMatch(host, port) && entry.getKeyEntry() != null)
                        .forEach(found::add);
            }
        }
        return found;
    }

    private static boolean matches(KnownHostEntry entry, PublicKey key) throws IOException {
        try {
            AuthorizedKeyEntry known = entry.getKeyEntry();
            return KeyUtils.compareKeys(known.resolvePublicKey(null, PublicKeyEntryResolver.IGNORING), key);
        } catch (GeneralSecurityException cause) {
            throw new IOException("a line of known_hosts holds no key that can be read", cause);
        }
    }

    /** Keeps {@code key} as the one of the host. */
    public synchronized void accept(String host, int port, PublicKey key) {
        String name = port == SSH_PORT ? host : "[" + host + "]:" + port;
        try {
            Files.createDirectories(accepted.toAbsolutePath().getParent());
            Files.writeString(accepted, name + " " + PublicKeyEntry.toString(key) + System.lineSeparator(),
                    StandardOpenOption.CREATE, StandardOpenOption.APPEND);
        } catch (IOException cause) {
            throw new UncheckedIOException("the key cannot be kept in " + accepted + ": " + cause.getMessage(), cause);
        }
    }
}
