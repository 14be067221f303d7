package kadrem.cli;

import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Callable;

import kadrem.files.compare.NewStudyOfFigures;
import kadrem.files.imports.ImportException;
import kadrem.files.study.NewStudy;
import kadrem.files.study.StudyException;
import kadrem.load.gate.Consent;
import kadrem.work.MakeStudy;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** {@code kadrem new STUDY}. */
@Command(name = "new", mixinStandardHelpOptions = true, description = "Makes a study of what there is to choose between; with nothing"
        + " given one candidate and one call, to be filled in; with --figures one of figures that were measured elsewhere.")
final class NewCommand implements Callable<Integer> {
    @Spec
    private CommandSpec spec;
    @Parameters(index = "0", paramLabel = "STUDY", description = "folder to be made, or an empty one")
    private Path folder;
    @Parameters(index = "1..*", paramLabel = "GIVEN", description = "what there is to choose between: addresses, such as"
            + " http://127.0.0.1:8081/berths/7, with \"launched by\" and a command after it where it does not run yet, or curl commands, each in"
            + " quotes; or files, such as a capture, an API description or a .proto file; from them come candidates and calls")
    private List<String> given;
    @Option(names = "--name", paramLabel = "TEXT", defaultValue = "", description = "name of the study (default: that of the folder)")
    private String name;

    @Option(names = "--figures", paramLabel = "FILE", description = "CSV with the columns candidate,round,value; it is copied into the"
            + " study")
    private Optional<Path> figures;
    @Option(names = "--metric", paramLabel = "METRIC", defaultValue = "p99", description = "what the values are: p50, p95, p99, mean,"
            + " throughput, error-share, cpu-per-1000, peak-memory (default ${DEFAULT-VALUE})")
    private String metric;
    @Option(names = "--unit", paramLabel = "UNIT", defaultValue = "ms", description = "unit of the values, as ns, us, ms, s of"
            + " response times, %% of shares, MiB of memory (default ${DEFAULT-VALUE})")
    private String unit;

    NewCommand() {
        spec = CommandSpec.create();
        folder = Path.of("");
        given = List.of();
        name = "";
        figures = Optional.empty();
        metric = "p99";
        unit = "ms";
    }

    @Override
    public Integer call() throws Main.BadInput {
        try {
            if (figures.isPresent() && !given.isEmpty()) {
                throw new Main.BadInput("Give figures, or addresses and commands, not both.");
            }
            if (!given.isEmpty()) {
                MakeStudy.of(folder, name, given)
                        .forEach(note -> spec.commandLine().getErr().println("note: " + note));
            } else {
                if (figures.isPresent()) {
                    NewStudyOfFigures.create(folder, name, figures.get(), metric, unit);
                } else {
                    NewStudy.create(folder, name);
                }
                Consent.ofUser().own(folder);
            }
        } catch (IOException | ImportException | StudyException cause) {
            throw new Main.BadInput(String.valueOf(cause.getMessage()));
        }
        spec.commandLine().getOut().println("Made " + folder.resolve("study.yaml")
                + ". Open it with kadrem open, or in any editor.");
        return 0;
    }
}
