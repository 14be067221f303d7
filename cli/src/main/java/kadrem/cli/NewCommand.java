package kadrem.cli;

import java.io.IOException;
import java.nio.file.Path;
import java.util.concurrent.Callable;

import kadrem.files.study.NewStudy;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** {@code kadrem new STUDY}. */
@Command(name = "new", mixinStandardHelpOptions = true, description = "Makes a study with one candidate and one call, to be filled in.")
final class NewCommand implements Callable<Integer> {
    @Spec
    private CommandSpec spec;
    @Parameters(paramLabel = "STUDY", description = "folder to be made, or an empty one")
    private Path folder;
    @Option(names = "--name", paramLabel = "TEXT", defaultValue = "", description = "name of the study (default: that of the folder)")
    private String name;

    NewCommand() {
        spec = CommandSpec.create();
        folder = Path.of("");
        name = "";
    }

    @Override
    public Integer call() throws Main.BadInput {
        try {
            NewStudy.create(folder, name);
        } catch (IOException cause) {
            throw new Main.BadInput(String.valueOf(cause.getMessage()));
        }
        spec.commandLine().getOut().println("Made " + folder.resolve("study.yaml")
                + ". Open it with kadrem open, or in any editor.");
        return 0;
    }
}
