package kadrem.cli;

import java.io.IOException;
import java.io.PrintWriter;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Callable;

import kadrem.core.study.WatchSource;
import kadrem.files.study.StudyException;
import kadrem.files.study.StudyFile;
import kadrem.load.campaign.Consent;
import kadrem.load.host.SourceFailure;
import kadrem.load.host.remote.HostKeys;
import kadrem.load.host.remote.SshHost;
import kadrem.load.host.remote.UnknownHostKey;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** {@code kadrem allow HOST}, {@code kadrem allow --commands STUDY} and {@code kadrem allow --host-key HOST:PORT}. */
@Command(name = "allow", mixinStandardHelpOptions = true, description = "Keeps your word that you may load a host beyond this machine, or that the launch and reset commands of a study may"
        + " be run here. Loopback and Kadrem's own stand-ins need none.")
final class AllowCommand implements Callable<Integer> {
    @Spec
    private CommandSpec spec;
    @Parameters(paramLabel = "HOST", arity = "0..1", description = "name or address of the host")
    private Optional<String> host;
    @Option(names = "--commands", paramLabel = "STUDY", description = "folder of the study whose commands are printed and may be run")
    private Optional<Path> study;

    @Option(names = "--host-key", paramLabel = "HOST[:PORT]", description = "host whose key is fetched over SSH, shown, and taken as the right one; compare it with what its keeper says")
    private Optional<String> hostKey;

    AllowCommand() {
        spec = CommandSpec.create();
        host = Optional.empty();
        study = Optional.empty();
        hostKey = Optional.empty();
    }

    @Override
    public Integer call() throws Main.BadInput, StudyException {
        long given = java.util.stream.Stream.of(host, study, hostKey).filter(Optional::isPresent).count();
        if (given != 1) {
            throw new Main.BadInput("Give either a host, or --commands with a study, or --host-key with a host.");
        }
        try {
            if (study.isPresent()) {
                commands(StudyFile.read(study.get()));
            } else if (hostKey.isPresent()) {
                hostKey(hostKey.get());
            } else {
                host(host.orElseThrow());
            }
        } catch (IOException cause) {
            throw new Main.BadInput("Your word could not be kept: " + cause.getMessage());
        }
        return 0;
    }

    private void host(String name) throws Main.BadInput, IOException {
        if (!name.matches("[A-Za-z0-9.:_-]+")) {
            throw new Main.BadInput("\"" + name + "\" is no host. Give its name or address, without http:// and port.");
        }
        Consent.ofUser().allow(name);
        spec.commandLine().getOut().println("Kadrem may load " + name + " now, on your word.");
    }

    private void hostKey(String where) throws Main.BadInput {
        int colon = where.lastIndexOf(':');
        boolean hasPort = colon > 0 && where.substring(colon + 1).matches("\\d{1,5}");
        var source = new WatchSource.RemoteHost("", "nobody", hasPort ? where.substring(0, colon) : where,
                hasPort ? Integer.parseInt(where.substring(colon + 1)) : 22, Optional.empty(), "");
        HostKeys keys = HostKeys.ofUser();
        PrintWriter out = spec.commandLine().getOut();
        try {
            Optional<UnknownHostKey> found = SshHost.unknownKey(source, keys);
            found.ifPresentOrElse(one -> {
                keys.accept(one.host(), one.port(), one.key());
                out.println(where + " is known by the key " + one.fingerprint() + " from now on (" + keys.acceptedFile()
                        + ").");
            }, () -> out.println(where + " is known by a key already. Nothing was changed."));
        } catch (SourceFailure failure) {
            throw new Main.BadInput(failure.reason());
        }
    }

    private void commands(StudyFile file) throws IOException {
        PrintWriter out = spec.commandLine().getOut();
        Consent consent = Consent.ofUser();
        List<String> waiting = consent.waiting(file.study(), file.folder());
        if (waiting.isEmpty()) {
            out.println("There is no command that waits for your word.");
            return;
        }
        waiting.forEach(out::println);
        consent.allowCommands(file.study(), file.folder());
        out.println("Kadrem may run these now, on your word, as long as they stay as they are.");
    }

    /** @throws Main.BadInput if commands of the study wait for the user's word */
    static void require(StudyFile file) throws Main.BadInput {
        List<String> waiting = Consent.ofUser().waiting(file.study(), file.folder());
        if (!waiting.isEmpty()) {
            throw new Main.BadInput("This study would run commands on this machine that you have not allowed yet:\n  "
                    + String.join("\n  ", waiting) + "\nNothing was run. If they may be run: kadrem allow --commands "
                    + file.folder());
        }
    }
}
