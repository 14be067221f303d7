package kadrem.load.campaign;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.List;
import java.util.Locale;

import kadrem.core.study.Address;

/**
 * The hosts beyond this machine that the user may load, as the user has said, a line each in a file of the user's own. A
 * study cannot say it, since it may come from elsewhere.
 */
public final class Consent {
    private final Path file;

    public Consent(Path file) {
        this.file = file;
    }

    /** The consent of the user who runs this program. */
    public static Consent ofUser() {
        String folder = System.getenv().getOrDefault("XDG_CONFIG_HOME",
                System.getProperty("user.home", "") + "/.config");
        return new Consent(Path.of(folder, "kadrem", "hosts-i-may-load.txt"));
    }

    /** Whether calls may go to the address; loopback needs no word. */
    public boolean allows(Address address) {
        if (address.isLoopback()) {
            return true;
        }
        try {
            return Files.isRegularFile(file)
                    && Files.readAllLines(file).stream()
                            .anyMatch(line -> line.strip().equalsIgnoreCase(address.host()));
        } catch (IOException _) {
            return false;
        }
    }

    /** @throws CandidateFailure if calls may not go to the address; the message says how to allow it */
    void require(Address address) throws CandidateFailure {
        if (!allows(address)) {
            throw new CandidateFailure(objection(address));
        }
    }

    /** Why nothing is sent to an address that is not allowed, and how to allow it. */
    public static String objection(Address address) {
        return address.host() + " is not on this machine, and you have not said that you may load it. If you may:"
                + " kadrem allow " + address.host();
    }

    /** Keeps the user's word that {@code host} may be loaded. */
    public void allow(String host) throws IOException {
        Files.createDirectories(file.toAbsolutePath().getParent());
        Files.write(file, List.of(host.strip().toLowerCase(Locale.ROOT)), StandardCharsets.UTF_8,
                StandardOpenOption.CREATE, StandardOpenOption.APPEND);
    }
}
