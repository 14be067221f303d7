package kadrem.cli;

import java.io.PrintWriter;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.Callable;

import kadrem.core.measure.RunRecord;
import kadrem.core.study.Study;
import kadrem.files.run.RunFolders;
import kadrem.files.study.StudyException;
import kadrem.files.study.StudyFile;
import kadrem.load.campaign.Sittings;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
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
    @Option(names = "--no-self-check", description = "do not find out first what load this machine can make, which takes up to 10 s; the generator is warmed up all the same")
    private boolean noSelfCheck;

    AgainCommand() {
        spec = CommandSpec.create();
        folder = Path.of(".");
    }

    @Override
    public Integer call() throws StudyException, Main.BadInput {
        PrintWriter err = spec.commandLine().getErr();
        StudyFile file = StudyFile.read(folder);
        file.warnings().forEach(warning -> err.println("note: " + warning));
        Study study = file.study();
        Main.refuseElsewhere(study);
        var store = new RunFolders(file.folder());
        var measuring = new Measuring(spec.commandLine(), file, study, store, !noSelfCheck);
        measuring.clear();
        List<RunRecord> runs = store.runs();
        Sittings.Further further = Sittings.further(study, runs);
        if (further.objection().isPresent()) {
            throw new Main.BadInput(further.objection().get());
        }
        further.changes().forEach(change -> err.println("note: changed since the first run: " + change));
        spec.commandLine().getOut().println(further.words());
        return measuring.upTo(further.lastRound());
    }
}
