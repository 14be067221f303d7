package kadrem.cli;

import java.util.concurrent.Callable;

import picocli.AutoComplete;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Spec;

/** {@code kadrem completion}. */
@Command(name = "completion", mixinStandardHelpOptions = true, description = "Prints a script by which bash and zsh complete"
        + " commands and options: source <(kadrem completion)")
final class CompletionCommand implements Callable<Integer> {
    @Spec
    private CommandSpec spec;

    CompletionCommand() {
        spec = CommandSpec.create();
    }

    @Override
    public Integer call() {
        spec.commandLine().getOut().print(AutoComplete.bash("kadrem", spec.root().commandLine()));
        spec.commandLine().getOut().flush();
        return 0;
    }
}
