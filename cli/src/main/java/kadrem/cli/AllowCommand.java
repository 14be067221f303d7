package kadrem.cli;

import java.io.IOException;
import java.util.concurrent.Callable;

import kadrem.load.campaign.Consent;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** {@code kadrem allow HOST}. */
@Command(name = "allow", mixinStandardHelpOptions = true, description = "Keeps your word that you may load a host beyond this machine. Loopback needs none.")
final class AllowCommand implements Callable<Integer> {
    @Spec
    private CommandSpec spec;
    @Parameters(paramLabel = "HOST", description = "name or address of the host")
    private String host;

    AllowCommand() {
        spec = CommandSpec.create();
        host = "";
    }

    @Override
    public Integer call() throws Main.BadInput {
        if (!host.matches("[A-Za-z0-9.:_-]+")) {
            throw new Main.BadInput("\"" + host + "\" is no host. Give its name or address, without http:// and port.");
        }
        try {
            Consent.ofUser().allow(host);
        } catch (IOException cause) {
            throw new Main.BadInput("Your word could not be kept: " + cause.getMessage());
        }
        spec.commandLine().getOut().println("Kadrem may load " + host + " now, on your word.");
        return 0;
    }
}
