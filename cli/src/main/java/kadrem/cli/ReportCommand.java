package kadrem.cli;

import java.io.IOException;
import java.io.PrintWriter;
import java.nio.file.Path;
import java.time.Instant;
import java.util.EnumSet;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.Callable;

import kadrem.files.compare.Results;
import kadrem.files.report.ReportFiles;
import kadrem.files.study.StudyException;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** {@code kadrem report STUDY}. */
@Command(name = "report", mixinStandardHelpOptions = true, description = "Writes what was found as documents: a report"
        + " as one HTML file and as PDF, and the decision as a record in Markdown.")
final class ReportCommand implements Callable<Integer> {
    @Spec
    private CommandSpec spec;
    @Parameters(paramLabel = "STUDY", description = "folder of the study")
    private Path folder;
    @Option(names = "--as", paramLabel = "html|pdf|record", split = ",", description = "which documents; all of them if not said")
    private Set<ReportFiles.Kind> kinds;
    @Option(names = "--into", paramLabel = "FOLDER", description = "where to; the study's folder report if not said")
    private Optional<Path> into;

    ReportCommand() {
        spec = CommandSpec.create();
        folder = Path.of(".");
        kinds = EnumSet.allOf(ReportFiles.Kind.class);
        into = Optional.empty();
    }

    @Override
    public Integer call() throws StudyException, Main.BadInput {
        PrintWriter out = spec.commandLine().getOut();
        Results results = StudyResults.read(folder, spec.commandLine().getErr());
        Path target = into.orElse(results.file().folder().resolve("report"));
        try {
            ReportFiles.write(results, kinds, target, Instant.now()).forEach(out::println);
        } catch (IOException cause) {
            throw new Main.BadInput("The report was not written: " + cause.getMessage() + ".");
        }
        return 0;
    }
}
