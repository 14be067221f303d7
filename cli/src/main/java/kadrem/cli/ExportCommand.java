package kadrem.cli;

import java.io.IOException;
import java.io.PrintWriter;
import java.nio.file.Path;
import java.util.Optional;
import java.util.concurrent.Callable;

import kadrem.files.compare.Results;
import kadrem.files.export.DataFiles;
import kadrem.files.export.SecretsFound;
import kadrem.files.export.StudyZip;
import kadrem.files.study.StudyException;
import kadrem.load.drive.Secrets;
import picocli.CommandLine.ArgGroup;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** {@code kadrem export STUDY}. */
@Command(name = "export", mixinStandardHelpOptions = true, description = "Writes a study for other places and other programs: the"
        + " whole of it as one archive, which kadrem import takes in again, or its figures as tables.")
final class ExportCommand implements Callable<Integer> {
    @Spec
    private CommandSpec spec;
    @Parameters(paramLabel = "STUDY", description = "folder of the study")
    private Path folder;
    @ArgGroup(exclusive = false, multiplicity = "1")
    private Targets targets;

    @Option(names = "--even-so", description = "write the archive although it holds what looks like secrets")
    private boolean evenSo;

    /** Where to; at least one of them. */
    static final class Targets {
        @Option(names = "--zip", paramLabel = "FILE", description = "the whole study as a zip archive; reports, hidden files and"
                + " private keys stay behind")
        private Optional<Path> zip = Optional.empty();
        @Option(names = "--data", paramLabel = "FOLDER", description = "runs, comparison and samples as CSV and JSON, latencies as"
                + " HdrHistogram logs")
        private Optional<Path> data = Optional.empty();
    }

    ExportCommand() {
        spec = CommandSpec.create();
        folder = Path.of(".");
        targets = new Targets();
    }

    @Override
    public Integer call() throws StudyException, Main.BadInput {
        PrintWriter out = spec.commandLine().getOut();
        PrintWriter err = spec.commandLine().getErr();
        try {
            Results results = StudyResults.read(folder, err);
            if (targets.zip.isPresent()) {
                Path study = results.file().folder();
                StudyZip.Packed packed = StudyZip.pack(study, targets.zip.get(),
                        Secrets.formsIn(study, results.file().text()), evenSo);
                packed.leftOut().forEach(sentence -> err.println("note: left out: " + sentence));
                packed.secrets()
                        .forEach(sentence -> err.println("note: it holds what looks like a secret: " + sentence));
                out.println(packed.file() + ", " + packed.files() + " files");
            }
            if (targets.data.isPresent()) {
                DataFiles.write(results, targets.data.get()).forEach(out::println);
            }
        } catch (SecretsFound found) {
            throw new Main.BadInput("The archive was not written: " + found.getMessage()
                    + ", or write it all the same: --even-so.");
        } catch (IOException cause) {
            throw new Main.BadInput("The export was not written: " + cause.getMessage() + ".");
        }
        return 0;
    }
}
