package kadrem.cli;

import java.io.IOException;
import java.io.PrintWriter;
import java.nio.file.Path;
import java.util.concurrent.Callable;

import kadrem.files.study.StudyException;
import kadrem.files.study.StudyFile;
import kadrem.work.Order;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** {@code kadrem again STUDY}. */
@Command(name = "again", mixinStandardHelpOptions = true, description = "Measures the study's plan once more in a further sitting: on another"
        + " day, after the system was started anew, or on another host. When three sittings are through, and six, and twelve, what is said is said over sittings.")
final class AgainCommand implements Callable<Integer> {
    @Spec
    private CommandSpec spec;
    @Parameters(paramLabel = "STUDY", description = "folder of the study")
    private Path folder;
    @Mixin
    private SelfCheckOption selfCheck;

    AgainCommand() {
        spec = CommandSpec.create();
        selfCheck = new SelfCheckOption();
        folder = Path.of(".");
    }

    @Override
    public Integer call() throws StudyException, Main.BadInput, IOException {
        PrintWriter err = spec.commandLine().getErr();
        StudyFile file = StudyFile.read(folder);
        file.warnings().forEach(warning -> err.println("note: " + warning));
        var measuring = new Measuring(spec.commandLine().getOut(), err, selfCheck);
        return Measuring.exitCode(measuring.run(new Order.Again(file)));
    }
}
