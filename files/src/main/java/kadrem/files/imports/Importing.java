package kadrem.files.imports;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Optional;
import java.util.Set;
import java.util.function.DoubleConsumer;
import java.util.regex.Pattern;

/** Chooses the reader that fits what is to be imported. */
public final class Importing {
    private static final long MAX_TEXT = 32L * 1024 * 1024;

    /** Comments and a prompt may stand before it. */
    private static final Pattern COMMAND_LINES = Pattern
            .compile("(?:#[^\\n]*\\n\\s*)*(?:\\$\\s+)?(?:\\S*/)?curl\\s");

    private static final Pattern LOGS = Pattern.compile(".*\\.(log|csv|jsonl|ndjson|gz)");
    /** A line with a request in quotes after a time in brackets, two objects a line each, or instants. */
    private static final Pattern LOG_LINES = Pattern
            .compile("[^\\n\\[]*\\[\\d\\d/[A-Z][a-z]{2}/\\d{4}:[^\\n]*\\] \"[A-Z]+ "
                    + "|\\{[^\\n]*\\}\\s*\\n\\{|\\d{4}-\\d\\d-\\d\\d[T ]\\d\\d:|\\d+(\\.\\d+)?\\s*\\n");

    private Importing() {
    }

    /** What can be imported. */
    public enum Kind {
        CAPTURE("capture"), COMMAND("command"), REQUEST("request"), DESCRIPTION("description"),
        /** Of which a timeline is made, see {@code AccessLog}. */
        LOG("log");

        private final String id;

        Kind(String id) {
            this.id = id;
        }

        /** The word used on the command line. */
        public String id() {
            return id;
        }
    }

    /** What a file looks like, by its name and its first characters. */
    public static Kind guess(Path file) throws ImportException {
        String name = String.valueOf(file.getFileName()).toLowerCase(java.util.Locale.ROOT);
        if (name.endsWith(".har")) {
            return Kind.CAPTURE;
        }
        if (LOGS.matcher(name).matches()) {
            return Kind.LOG;
        }
        try (var in = Files.newInputStream(file)) {
            return guess(new String(in.readNBytes(4096), StandardCharsets.UTF_8));
        } catch (IOException cause) {
            throw new ImportException(file + " cannot be read: " + cause.getMessage());
        }
    }

    /** What a pasted text looks like, by its beginning. */
    public static Kind guess(String text) {
        String start = text.stripLeading();
        if (COMMAND_LINES.matcher(start).lookingAt()) {
            return Kind.COMMAND;
        }
        if (start.contains("openapi")) {
            return Kind.DESCRIPTION;
        }
        if (LOG_LINES.matcher(start).lookingAt()) {
            return Kind.LOG;
        }
        return start.startsWith("{") ? Kind.CAPTURE : Kind.REQUEST;
    }

    /** Reads a pasted text that is no capture. */
    public static Imported text(Kind kind, String text) throws ImportException {
        return switch (kind) {
            case COMMAND -> CommandImport.read(text);
            case REQUEST -> RequestTextImport.read(text);
            case DESCRIPTION -> OpenApiImport.read(text);
            case CAPTURE -> throw new ImportException("A capture is imported as a file.");
            case LOG -> throw new ImportException("A log is imported as a file.");
        };
    }

    /**
     * Reads a file.
     *
     * @param hosts of a capture, those whose calls are wanted; the busiest where none is named
     * @param keepStatic of a capture, whether static files stay
     */
    public static Imported file(Kind kind, Path file, Set<String> hosts, boolean keepStatic, DoubleConsumer progress)
            throws ImportException {
        if (!Files.isRegularFile(file)) {
            throw new ImportException("There is no file " + file + ".");
        }
        if (kind == Kind.CAPTURE) {
            Set<String> wanted = hosts;
            if (wanted.isEmpty()) {
                Optional<String> busiest = HarImport.survey(file, _ -> {
                }).busiest();
                wanted = busiest.map(Set::of).orElseThrow(
                        () -> new ImportException(file + " holds no call over HTTP that is not a static file."));
            }
            return HarImport.read(file, wanted, keepStatic, progress);
        }
        try {
            if (Files.size(file) > MAX_TEXT) {
                throw new ImportException(file + " is larger than 32 MiB.");
            }
            return text(kind, Files.readString(file, StandardCharsets.UTF_8));
        } catch (IOException cause) {
            throw new ImportException(file + " cannot be read as text: " + cause.getMessage());
        }
    }
}
