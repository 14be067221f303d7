package kadrem.files.study;

import java.io.IOException;
import java.nio.charset.MalformedInputException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.regex.Pattern;

import kadrem.core.study.Problem;
import kadrem.core.study.Study;
import kadrem.core.study.StudyCheck;
import kadrem.files.AtomicFile;

/**
 * A {@code study.yaml} as text and as the {@link Study} it means. Edits change single values in the text, so that comments,
 * order and fields that Kadrem does not know survive.
 */
public final class StudyFile {
    public static final String NAME = "study.yaml";
    private static final long MOST_BYTES = 8L << 20;
    private static final Pattern PLAIN = Pattern.compile("[A-Za-z0-9][A-Za-z0-9.%/_-]*");

    private final Path path;
    private final String text;
    private final Study study;
    private final CallDefaults callDefaults;
    private final List<StudyException.Located> warnings;

    private StudyFile(Path path, String text, Study study, CallDefaults callDefaults,
            List<StudyException.Located> warnings) {
        this.path = path;
        this.text = text;
        this.study = study;
        this.callDefaults = callDefaults;
        this.warnings = warnings;
    }

    /**
     * Reads and checks the study in {@code folder}; a path of the study file itself will do too.
     *
     * @throws StudyException with every problem found, if it cannot be used
     */
    public static StudyFile read(Path folder) throws StudyException {
        Path file = folder.getFileName() != null && folder.getFileName().toString().equals(NAME)
                ? folder
                : folder.resolve(NAME);
        try {
            // nothing that never ends, and nothing that is taken apart for minutes
            if (Files.exists(file) && !Files.isRegularFile(file)) {
                throw new StudyException(file + " is no plain file.");
            }
            if (Files.exists(file) && Files.size(file) > MOST_BYTES) {
                throw new StudyException(file + " has more than " + (MOST_BYTES >> 20)
                        + " MiB, which no study needs. Values and bodies have files of their own.");
            }
            return parse(file.toAbsolutePath().normalize(), Files.readString(file, StandardCharsets.UTF_8));
        } catch (NoSuchFileException _) {
            throw new StudyException(Files.isDirectory(folder)
                    ? "There is no " + NAME + " in " + folder + ". A study is a folder that holds one."
                    : "There is no study at " + folder + ". Give the folder that holds its " + NAME + ".");
        } catch (MalformedInputException _) {
            throw new StudyException(file + " is not UTF-8 text. Save it as UTF-8.");
        } catch (IOException cause) {
            throw new StudyException(file + " cannot be read: " + cause.getMessage());
        }
    }

    private static StudyFile parse(Path file, String text) throws StudyException {
        YamlNode root = tree(file, text);
        if (!(root instanceof YamlNode.Mapping)) {
            throw new StudyException(file, List.of(new StudyException.Located(root.line(), Problem.error("",
                    "this is " + root.kind() + ", and not a study", "A study is a group of fields such as name: and"
                            + " candidates:, see docs/formats.md."))));
        }
        var problems = new Fields.Problems();
        var reader = new StudyReader(file.getParent(), problems);
        Study study = reader.read(root);
        if (problems.list.stream().noneMatch(StudyFile::isError)) {
            problems.list.addAll(StudyCheck.check(study));
        }
        List<StudyException.Located> located = problems.list.stream()
                .map(problem -> new StudyException.Located(problems.lineOf(problem.path()), problem)).toList();
        if (problems.list.stream().anyMatch(StudyFile::isError)) {
            throw new StudyException(file, located.stream().filter(at -> isError(at.problem())).toList());
        }
        return new StudyFile(file, text, study, reader.defaults(), located);
    }

    private static YamlNode tree(Path file, String text) throws StudyException {
        try {
            return YamlTree.read(text);
        } catch (YamlTree.YamlException cause) {
            throw new StudyException(file, List.of(new StudyException.Located(cause.line(),
                    Problem.error("", cause.getMessage(), "Mend that line; nothing was changed."))));
        }
    }

    private static boolean isError(Problem problem) {
        return problem.severity() == Problem.Severity.ERROR;
    }

    public Path folder() {
        return path.getParent();
    }

    public Study study() {
        return study;
    }

    /** What calls have that do not say otherwise; the study's calls have it already. */
    public CallDefaults callDefaults() {
        return callDefaults;
    }

    /** What is odd but does not keep the study from being used. */
    public List<StudyException.Located> warnings() {
        return warnings;
    }

    public String text() {
        return text;
    }

    /**
     * This file with the values of some fields replaced, or added to a group that is there.
     *
     * @param fields new values by the path of the field, such as {@code load.measured}
     * @throws StudyException if the study would not be usable; this one stays as it is
     */
    public StudyFile with(Map<String, String> fields) throws StudyException {
        String changed = text;
        for (Map.Entry<String, String> field : fields.entrySet()) {
            changed = with(changed, field.getKey(), field.getValue());
        }
        return parse(path, changed);
    }

    /**
     * This file with some groups changed, one edit after the other.
     *
     * @throws StudyException if the study would not be usable; this one stays as it is
     */
    public StudyFile with(List<Edit> edits) throws StudyException {
        String changed = text;
        for (Edit edit : edits) {
            if (!(tree(path, changed) instanceof YamlNode.Mapping mapping)) {
                throw new StudyException(path + " is no group of fields.");
            }
            try {
                changed = SectionText.with(changed, mapping, edit);
            } catch (IndexOutOfBoundsException _) {
                throw new StudyException(edit.path() + " cannot be changed: it has no such item.");
            }
        }
        return parse(path, changed);
    }

    private String with(String before, String field, String value) throws StudyException {
        String written = PLAIN.matcher(value).matches()
                ? value
                : "\"" + value.replace("\\", "\\\\").replace("\"", "\\\"") + "\"";
        String[] names = field.split("\\.");
        YamlNode at = tree(path, before);
        for (int i = 0; i < names.length; i++) {
            if (!(at instanceof YamlNode.Mapping mapping)) {
                throw new StudyException(field + " cannot be set: " + path + " has no such group.");
            }
            YamlNode.Entry entry = mapping.entries().get(names[i]);
            if (entry == null) {
                return insert(before, mapping, String.join(".", List.of(names).subList(i, names.length)), written);
            }
            at = entry.value();
        }
        if (at instanceof YamlNode.Scalar scalar && !scalar.isNull()) {
            return before.substring(0, scalar.from()) + written + before.substring(scalar.to());
        }
        throw new StudyException(field + " cannot be set: it is " + at.kind() + " in " + path + ".");
    }

    private String insert(String before, YamlNode.Mapping mapping, String name, String written) throws StudyException {
        if (name.indexOf('.') >= 0 || mapping.entries().isEmpty()) {
            throw new StudyException(name + " cannot be added to " + path + ". Add its group by hand.");
        }
        int first = mapping.entries().values().stream().mapToInt(YamlNode.Entry::keyFrom).min().orElseThrow();
        String indent = before.substring(before.lastIndexOf('\n', first - 1) + 1, first);
        boolean flow = indent.indexOf('{') >= 0;
        String added = flow ? name + ": " + written + ", " : name + ": " + written + "\n" + " ".repeat(indent.length());
        return before.substring(0, first) + added + before.substring(first);
    }

    /** Writes the text to the file. */
    public void save() throws IOException {
        AtomicFile.write(path, text.getBytes(StandardCharsets.UTF_8));
    }
}
