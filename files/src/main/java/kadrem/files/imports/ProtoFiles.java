package kadrem.files.imports;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * .proto files that go into a study's folder, with what they import from beside them.
 *
 * @param named those that were given, by their places in the study
 * @param sources where each file of the study is copied from
 */
record ProtoFiles(List<String> named, Map<String, Path> sources) {
    static final ProtoFiles NONE = new ProtoFiles(List.of(), Map.of());
    private static final String FOLDER = "protos/";
    private static final String ENDING = ".proto";
    private static final long MAX_BYTES = 4L << 20;
    private static final int MAX_FILES = 500;
    /** Language Guide of Protocol Buffers, section Importing Definitions. */
    private static final Pattern IMPORT = Pattern
            .compile("(?m)^\\s*import\\s+(?:public\\s+|weak\\s+)?\"([^\"]+)\"\\s*;");

    ProtoFiles {
        named = List.copyOf(named);
        sources = Map.copyOf(sources);
    }

    static boolean isOne(Path file) {
        return String.valueOf(file.getFileName()).toLowerCase(Locale.ROOT).endsWith(ENDING);
    }

    /** @throws ImportException if one cannot be read */
    static ProtoFiles of(List<Path> given) throws ImportException {
        Map<String, Path> sources = new LinkedHashMap<>();
        for (Path file : given) {
            Path folder = Optional.ofNullable(file.toAbsolutePath().normalize().getParent()).orElse(file);
            add(folder, String.valueOf(file.getFileName()), sources);
        }
        return new ProtoFiles(given.stream().map(file -> FOLDER + file.getFileName()).distinct().toList(), sources);
    }

    /** What is imported is named from the folder of the file that was given. What is not there ships with the compiler, or is told by it. */
    private static void add(Path folder, String name, Map<String, Path> sources) throws ImportException {
        Path file = folder.resolve(name).normalize();
        Path known = sources.putIfAbsent(FOLDER + name, file);
        if (known != null) {
            if (!known.equals(file)) {
                throw new ImportException("Two files are called " + name + ": " + known + " and " + file
                        + ". Give the one, and add the other to the study then.");
            }
            return;
        }
        if (sources.size() > MAX_FILES) {
            throw new ImportException(file + " imports more than " + MAX_FILES
                    + " files. Make a descriptor set of it, and name that as the setting descriptors of the candidates.");
        }
        Matcher imported = IMPORT.matcher(text(file));
        while (imported.find()) {
            if (isBeside(folder, imported.group(1))) {
                add(folder, imported.group(1), sources);
            }
        }
    }

    private static boolean isBeside(Path folder, String name) {
        try {
            Path file = folder.resolve(name).normalize();
            return file.startsWith(folder) && !name.contains("..") && isOne(file) && Files.isRegularFile(file);
        } catch (InvalidPathException _) {
            return false;
        }
    }

    private static String text(Path file) throws ImportException {
        try {
            if (Files.size(file) > MAX_BYTES) {
                throw new ImportException(file + " is larger than 4 MiB.");
            }
            return Files.readString(file, StandardCharsets.UTF_8);
        } catch (IOException cause) {
            throw new ImportException(file + " cannot be read as text: " + cause.getMessage());
        }
    }

    /** @throws IOException if one cannot be written, as where the folder holds something of that name already; none is left then */
    void copyTo(Path study) throws IOException {
        for (Path to : places(study)) {
            if (Files.exists(to)) {
                throw new IOException(to + " is there already. Give the study a folder of its own.");
            }
        }
        try {
            for (Map.Entry<String, Path> one : sources.entrySet()) {
                Path to = study.resolve(one.getKey());
                Files.createDirectories(to.getParent());
                Files.copy(one.getValue(), to);
            }
        } catch (IOException cause) {
            removeFrom(study);
            throw cause;
        }
    }

    /** Takes back what was copied. */
    void removeFrom(Path study) throws IOException {
        for (Path copied : places(study)) {
            Files.deleteIfExists(copied);
        }
    }

    private List<Path> places(Path study) {
        return sources.keySet().stream().map(study::resolve).toList();
    }
}
