package kadrem.cli;

import java.io.PrintWriter;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.Callable;

import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import kadrem.files.study.StudyException;
import kadrem.files.study.StudyFile;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** {@code kadrem check STUDY}. */
@Command(name = "check", mixinStandardHelpOptions = true, description = "Says whether a study can be used, with every problem and"
        + " its place. Nothing is sent.")
final class CheckCommand implements Callable<Integer> {
    @Spec
    private CommandSpec spec;
    @Parameters(paramLabel = "STUDY", description = "folder of the study")
    private Path folder;
    @Option(names = "--format", paramLabel = "text|json", defaultValue = "text", description = "how to print")
    private Main.Format format;

    CheckCommand() {
        spec = CommandSpec.create();
        folder = Path.of(".");
        format = Main.Format.text;
    }

    @Override
    public Integer call() throws StudyException {
        List<StudyException.Located> warnings = List.of();
        List<StudyException.Located> errors = List.of();
        try {
            warnings = StudyFile.read(folder).warnings();
        } catch (StudyException cause) {
            if (cause.problems().isEmpty() || format == Main.Format.text) {
                throw cause;
            }
            errors = cause.problems();
        }
        PrintWriter out = spec.commandLine().getOut();
        if (format == Main.Format.json) {
            ObjectNode root = new ObjectMapper().createObjectNode();
            root.put("usable", errors.isEmpty());
            add(root.putArray("errors"), errors);
            add(root.putArray("warnings"), warnings);
            out.println(root.toPrettyString());
        } else {
            warnings.forEach(warning -> out.println("note: " + warning));
            out.println(folder + " can be used.");
        }
        return errors.isEmpty() ? 0 : Main.BAD_INPUT;
    }

    private static void add(ArrayNode to, List<StudyException.Located> problems) {
        problems.forEach(one -> to.addObject().put("line", one.line()).put("path", one.problem().path())
                .put("what", one.problem().what()).put("mend", one.problem().mend()));
    }
}
