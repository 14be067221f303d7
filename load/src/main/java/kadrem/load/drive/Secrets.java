package kadrem.load.drive;

import java.io.IOException;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Base64;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.Stream;

import com.fasterxml.jackson.core.io.JsonStringEncoder;
import kadrem.core.study.Call;
import kadrem.core.study.SecretReference;
import kadrem.load.content.UnusableCall;
import kadrem.load.gate.StudyPath;
import org.apache.commons.text.StringEscapeUtils;

/** Reads secrets where a study says they are kept, and takes them out of texts that are kept or shown. Thread-safe. */
public final class Secrets {
    private static final String MASK = "(secret)";
    /** Shorter ones would take harmless pieces out of a text. */
    private static final int MIN_MASKED = 4;

    private final Map<String, String> environment;
    private final Path folder;
    private final Set<String> seen = ConcurrentHashMap.newKeySet();
    private volatile List<String> longestFirst = List.of();

    /** @param folder folder to which relative paths of secret files are relative */
    public Secrets(Map<String, String> environment, Path folder) {
        this.environment = Map.copyOf(environment);
        this.folder = folder;
    }

    /** The secrets of this process's environment. */
    public static Secrets ofProcess(Path folder) {
        return new Secrets(System.getenv(), folder);
    }

    /** @throws UnusableCall if the secret is not where the reference says; the message never holds the secret */
    public String resolve(SecretReference reference) throws UnusableCall {
        String secret = switch (reference.kind()) {
            case ENVIRONMENT -> {
                String value = environment.get(reference.where());
                if (value == null) {
                    throw new UnusableCall("the environment variable " + reference.where()
                            + " is not set; a call needs it as a secret");
                }
                yield value;
            }
            case FILE -> firstLine(reference.where());
        };
        remember(secret);
        return secret;
    }

    /**
     * {@code template} with each reference replaced by its secret.
     *
     * @throws UnusableCall if a secret is not where its reference says
     */
    public String fill(String template) throws UnusableCall {
        var text = new StringBuilder();
        List<String> parts = Call.split(template);
        for (int i = 0; i < parts.size(); i++) {
            text.append(i % 2 == 1 ? resolve(SecretReference.parse(parts.get(i))) : parts.get(i));
        }
        return text.toString();
    }

    private String firstLine(String where) throws UnusableCall {
        String home = System.getProperty("user.home", "");
        Path file = where.startsWith("~/") ? Path.of(home, where.substring(2)) : folder.resolve(where);
        try (var lines = Files.lines(file, StandardCharsets.UTF_8)) {
            return lines.findFirst().orElse("").strip();
        } catch (IOException | java.io.UncheckedIOException cause) {
            throw new UnusableCall("the secret file " + where + " cannot be read: " + cause.getClass().getSimpleName());
        }
    }

    /**
     * Counts {@code secret} among those that {@link #mask} replaces, as a token that was made from one: as it is, and as addresses,
     * forms, JSON, XML and Basic sign-in write it, in which a candidate may send it back.
     */
    public synchronized void remember(String secret) {
        if (secret.length() < MIN_MASKED) {
            return;
        }
        forms(secret).forEach(seen::add);
        // the longest first, so that none leaves the rest of another
        longestFirst = seen.stream().sorted(Comparator.comparingInt(String::length).reversed()).toList();
    }

    private static Stream<String> forms(String secret) {
        byte[] bytes = secret.getBytes(StandardCharsets.UTF_8);
        String form = URLEncoder.encode(secret, StandardCharsets.UTF_8);
        return Stream.of(secret, form, form.replace("+", "%20"),
                new String(JsonStringEncoder.getInstance().quoteAsString(secret)),
                StringEscapeUtils.escapeXml10(secret),
                Base64.getEncoder().encodeToString(bytes), Base64.getEncoder().withoutPadding().encodeToString(bytes),
                Base64.getUrlEncoder().withoutPadding().encodeToString(bytes));
    }

    /**
     * The secrets to which a study refers, as far as they are there, in every form in which they might stand in a file of it. Files outside
     * the study are not looked into for it.
     *
     * @param text of the study's file
     */
    public static Set<String> formsIn(Path study, String text) {
        Secrets secrets = ofProcess(study);
        for (String placeholder : Call.placeholders(text)) {
            if (SecretReference.isOne(placeholder)) {
                SecretReference reference = SecretReference.parse(placeholder);
                boolean inside = reference.kind() == SecretReference.Kind.ENVIRONMENT
                        || !StudyPath.isOutside(study, reference.where());
                try {
                    if (inside) {
                        secrets.resolve(reference);
                    }
                } catch (UnusableCall _) {
                    // it is not there, so that it cannot be in a file either
                }
            }
        }
        return Set.copyOf(secrets.seen);
    }

    /** Folder to which files that the study names are relative. */
    public Path folder() {
        return folder;
    }

    /** {@code text} with every secret resolved so far replaced. */
    public String mask(String text) {
        String masked = text;
        for (String secret : longestFirst) {
            masked = masked.replace(secret, MASK);
        }
        return masked;
    }

    /** Likewise for bytes that may be anything. */
    public byte[] mask(byte[] bytes) {
        // a character for each byte, so that nothing but the secrets becomes another
        String text = new String(bytes, StandardCharsets.ISO_8859_1);
        String masked = text;
        for (String secret : longestFirst) {
            masked = masked.replace(
                    new String(secret.getBytes(StandardCharsets.UTF_8), StandardCharsets.ISO_8859_1), MASK);
        }
        return masked.equals(text) ? bytes : masked.getBytes(StandardCharsets.ISO_8859_1);
    }
}
