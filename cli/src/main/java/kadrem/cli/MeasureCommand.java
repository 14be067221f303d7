package kadrem.cli;

import java.io.IOException;
import java.io.PrintWriter;
import java.nio.file.Path;
import java.util.Optional;
import java.util.concurrent.Callable;

import kadrem.files.compare.Results;
import kadrem.files.export.DataFiles;
import kadrem.files.run.RunFolders;
import kadrem.files.study.StudyException;
import kadrem.files.study.StudyFile;
import kadrem.work.Order;
import kadrem.work.Rounds;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** {@code kadrem measure STUDY}. */
@Command(name = "measure", mixinStandardHelpOptions = true, description = "Measures what of the study's plan is not measured yet. Stop with Ctrl-C; what was measured stays,"
        + " and the next call goes on from there.")
final class MeasureCommand implements Callable<Integer> {
    @Spec
    private CommandSpec spec;
    @Parameters(paramLabel = "STUDY", description = "folder of the study")
    private Path folder;
    @Option(names = "--rounds", paramLabel = "N", description = "measure N rounds now: those not whole yet first, then further ones")
    private Optional<Integer> rounds;
    @Mixin
    private SelfCheckOption selfCheck;

    @Option(names = "--format", paramLabel = "text|json", defaultValue = "text", description = "json prints all runs at the end, and"
            + " progress as messages")
    private Main.Format format;
    @Option(names = "--metrics-port", paramLabel = "N", description = "serve live figures at http://127.0.0.1:N/metrics in the"
            + " OpenMetrics format while it is measured")
    private Optional<Integer> metricsPort;

    MeasureCommand() {
        spec = CommandSpec.create();
        selfCheck = new SelfCheckOption();
        folder = Path.of(".");
        rounds = Optional.empty();
        format = Main.Format.text;
        metricsPort = Optional.empty();
    }

    @Override
    public Integer call() throws StudyException, Main.BadInput, IOException {
        PrintWriter err = spec.commandLine().getErr();
        PrintWriter out = spec.commandLine().getOut();
        StudyFile file = StudyFile.read(folder);
        file.warnings().forEach(warning -> err.println("note: " + warning));
        if (rounds.isPresent() && rounds.get() < 1) {
            throw new Main.BadInput("--rounds must be at least 1.");
        }
        new RunFolders(file.folder()).find().unreadable().forEach(sentence -> err.println("note: " + sentence));
        var measuring = new Measuring(format == Main.Format.text ? out : err, err, selfCheck);
        metricsPort.ifPresent(measuring::serve);
        int code = Measuring.exitCode(measuring.run(new Order.OfStudy(file, rounds.map(Rounds.Further::new))));
        if (format == Main.Format.json) {
            out.println(DataFiles.runs(Results.of(file)));
        }
        return code;
    }
}
