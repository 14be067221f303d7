package kadrem.files.study;

import java.io.IOException;
import java.nio.charset.MalformedInputException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;

import kadrem.core.check.StudyCheck;
import kadrem.core.check.StudyGrammar;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Problem;
import kadrem.core.study.Protocols;
import kadrem.core.study.Study;
import kadrem.core.study.grammar.Grammar;
import kadrem.files.AtomicFile;

/**
 * A {@code study.yaml} as text and as the {@link Study} it means. Edits change the smallest piece of the text that they touch, so that
 * comments, order and fields that Kadrem does not know survive.
 */
public final class StudyFile {
    public static final String NAME = "study.yaml";
    private static final long MAX_BYTES = 8L << 20;

    private final Path path;
    private final String text;
    private final YamlNode.Mapping root;
    private final Study study;
    private final CallDefaults callDefaults;
    private final List<StudyException.Located> warnings;
    private final FileContents files;
    private final Grammar measured;

    private StudyFile(Path path, String text, YamlNode.Mapping root, Study study, CallDefaults callDefaults,
            List<StudyException.Located> warnings, FileContents files, Grammar measured) {
        this.path = path;
        this.files = files;
        this.measured = measured;
        this.text = text;
        this.root = root;
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
        return read(folder, StudyGrammar.measured(Protocols.all()));
    }

    /**
     * The same with another grammar.
     *
     * @param measured the grammar of studies that Kadrem measures
     * @throws StudyException with every problem found, if it cannot be used
     */
    public static StudyFile read(Path folder, Grammar measured) throws StudyException {
        Path file = folder.getFileName() != null && folder.getFileName().toString().equals(NAME)
                ? folder
                : folder.resolve(NAME);
        try {
            // nothing that never ends, and nothing that is taken apart for minutes
            if (Files.exists(file) && !Files.isRegularFile(file)) {
                throw new StudyException(file + " is no plain file.");
            }
            if (Files.exists(file) && Files.size(file) > MAX_BYTES) {
                throw new StudyException(file + " has more than " + (MAX_BYTES >> 20)
                        + " MiB, which no study needs. Values and bodies have files of their own.");
            }
            Path whole = file.toAbsolutePath().normalize();
            return parse(whole, Files.readString(file, StandardCharsets.UTF_8), new FileContents(folderOf(whole)),
                    measured);
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

    private static StudyFile parse(Path file, String text, FileContents files, Grammar measured) throws StudyException {
        YamlNode tree = tree(file, text);
        if (!(tree instanceof YamlNode.Mapping root)) {
            throw new StudyException(file, List.of(new StudyException.Located(tree.line(), Problem.error("",
                    "this is " + tree.kind() + ", and not a study", "A study is a group of fields such as name: and"
                            + " candidates:, see docs/formats.md."))));
        }
        boolean elsewhere = root.entries().containsKey("figures");
        Grammar grammar = elsewhere ? StudyGrammar.ofFigures() : measured;
        var problems = new Problems();
        GrammarCheck.check(root, grammar, problems);
        var reader = new StudyReader(folderOf(file), files);
        Fields fields = Fields.of(root, grammar.root(), problems);
        Study study = elsewhere ? reader.ofFigures(fields) : reader.measured(fields);
        if (!problems.hasError()) {
            problems.list.addAll(StudyCheck.check(study));
        }
        List<StudyException.Located> located = problems.list.stream()
                .map(problem -> new StudyException.Located(problems.lineOf(problem.path()), problem))
                .sorted(Comparator.comparingInt(StudyException.Located::line)).toList();
        if (problems.hasError()) {
            throw new StudyException(file, located.stream().filter(at -> isError(at.problem())).toList());
        }
        return new StudyFile(file, text, root, study, reader.defaults(), located, files, measured);
    }

    private static YamlNode tree(Path file, String text) throws StudyException {
        try {
            return YamlTree.read(text);
        } catch (YamlTree.YamlException cause) {
            throw new StudyException(file, List.of(new StudyException.Located(cause.line(),
                    Problem.error("", String.valueOf(cause.getMessage()), "Mend that line; nothing was changed."))));
        }
    }

    private static boolean isError(Problem problem) {
        return problem.severity() == Problem.Severity.ERROR;
    }

    public Path folder() {
        return folderOf(path);
    }

    /** The folder of a file with a whole path. */
    private static Path folderOf(Path file) {
        return Objects.requireNonNull(file.getParent(), "a file is in a folder");
    }

    /**
     * The study, for those who have seen that it puts its candidates under a load.
     *
     * @throws IllegalStateException if its figures were measured elsewhere
     */
    public MeasuredStudy measured() {
        return study.measured().orElseThrow(() -> new IllegalStateException("there is no load in " + path));
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

    /** The fields that this file may have. */
    public Grammar grammar() {
        return root.entries().containsKey("figures") ? StudyGrammar.ofFigures() : measured;
    }

    /** What the file says at the path, such as {@code candidates[0].launch}: texts, lists and maps of such. */
    public Optional<Object> written(String path) {
        return root.find(path).filter(node -> !GrammarCheck.isMissing(node)).map(PlainTree::of);
    }

    /** Whether the file has a field at the path, such as {@code load.users}. */
    public boolean has(String field) {
        return root.find(field).isPresent();
    }

    /**
     * This file with the values of some fields as somebody typed them.
     *
     * @param fields new values by the path of the field, such as {@code load.measured}
     * @throws StudyException if the study would not be usable; this one stays as it is
     */
    public StudyFile with(Map<String, String> fields) throws StudyException {
        return with(fields.entrySet().stream().map(field -> {
            int dot = field.getKey().lastIndexOf('.');
            return (Edit) new Edit.Put(field.getKey().substring(0, Math.max(0, dot)),
                    Map.of(field.getKey().substring(dot + 1), Optional.of(field.getValue())));
        }).toList());
    }

    /**
     * This file with some places changed, one edit after the other.
     *
     * @throws StudyException if the study would not be usable; this one stays as it is
     */
    public StudyFile with(List<Edit> edits) throws StudyException {
        String changed = text;
        for (Edit edit : edits) {
            changed = TextEdit.with(changed, TypedEdit.of(edit, measured, new YamlText(changed).root()));
        }
        return parse(path, changed, files, measured);
    }

    /** Writes the text to the file. */
    public void save() throws IOException {
        AtomicFile.write(path, text.getBytes(StandardCharsets.UTF_8));
    }
}
