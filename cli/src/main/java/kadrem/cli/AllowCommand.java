package kadrem.cli;

import java.io.IOException;
import java.io.PrintWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Callable;
import java.util.stream.Stream;

import kadrem.core.gate.Shown;
import kadrem.core.study.WatchSource;
import kadrem.files.study.StudyException;
import kadrem.files.study.StudyFile;
import kadrem.load.gate.Consent;
import kadrem.load.host.SourceFailure;
import kadrem.load.host.remote.HostKeys;
import kadrem.load.host.remote.SshHost;
import kadrem.load.host.remote.UnknownHostKey;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** {@code kadrem allow STUDY}, {@code kadrem allow HOST} and what was said with them. */
@Command(name = "allow", mixinStandardHelpOptions = true, description = "Shows what a study would do outside its own folder and asks"
        + " whether it may: commands, statements, connections, secrets, files. Or keeps your word that you may load a host beyond this"
        + " machine with kadrem try. What you make here yourself, and Kadrem's own stand-ins, need no word.")
final class AllowCommand implements Callable<Integer> {
    @Spec
    private CommandSpec spec;
    @Parameters(paramLabel = "STUDY|HOST", arity = "0..1", description = "folder of a study, or name or address of a host")
    private Optional<String> target;
    @Option(names = "--yes", paramLabel = "DIGEST", description = "allow without being asked, as in a build, if what the study would do has"
            + " this digest; kadrem allow STUDY prints it")
    private Optional<String> yes;
    @Option(names = "--own", description = "the study is yours, and needs no word for what you write into it")
    private boolean own;
    @Option(names = "--withdraw", description = "take your word for the study back")
    private boolean withdraw;
    @Option(names = "--list", description = "print what you have allowed")
    private boolean list;
    @Option(names = "--host-key", paramLabel = "HOST[:PORT]", description = "host whose key is fetched over SSH, shown, and taken as the"
            + " right one; compare it with what its keeper says")
    private Optional<String> hostKey;

    AllowCommand() {
        spec = CommandSpec.create();
        target = Optional.empty();
        yes = Optional.empty();
        hostKey = Optional.empty();
    }

    @Override
    public Integer call() throws Main.BadInput, StudyException {
        if (Stream.of(target.isPresent(), list, hostKey.isPresent()).filter(given -> given).count() != 1) {
            throw new Main.BadInput("Give either a study or a host, or --list, or --host-key with a host.");
        }
        if (Stream.of(yes.isPresent(), own, withdraw).filter(given -> given).count() > 1) {
            throw new Main.BadInput("Give one of --yes, --own and --withdraw.");
        }
        try {
            if (list) {
                list();
            } else if (hostKey.isPresent()) {
                hostKey(hostKey.get());
            } else {
                return target(target.orElseThrow());
            }
        } catch (IOException cause) {
            throw new Main.BadInput("Your word could not be kept: " + cause.getMessage());
        }
        return 0;
    }

    private int target(String word) throws Main.BadInput, StudyException, IOException {
        Path folder = Path.of(word);
        if (withdraw) {
            spec.commandLine().getOut().println(Consent.ofUser().withdraw(folder)
                    ? "Your word for " + word + " is taken back."
                    : "There was no word for " + word + ".");
            return 0;
        }
        if (Files.isDirectory(folder) || Files.isRegularFile(folder)) {
            return study(StudyFile.read(folder));
        }
        if (own || yes.isPresent()) {
            throw new Main.BadInput("There is no study " + word + ".");
        }
        host(word);
        return 0;
    }

    private void host(String name) throws Main.BadInput, IOException {
        if (!name.matches("[A-Za-z0-9.:_-]+")) {
            throw new Main.BadInput("\"" + name + "\" is neither a study here nor a host. Give a study's folder, or a"
                    + " host's name or address without http:// and port.");
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

    private void list() {
        PrintWriter out = spec.commandLine().getOut();
        Consent.ofUser().said().forEach((folder, word) -> {
            out.println(
                    Shown.word(folder) + (word.own().isEmpty() ? "   allowed" : "   yours") + " since " + word.at());
            word.deeds().forEach(reach -> reach.lines().forEach(line -> out.println("  " + line)));
        });
    }

    private int study(StudyFile file) throws IOException {
        PrintWriter out = spec.commandLine().getOut();
        Consent consent = Consent.ofUser();
        if (own) {
            consent.own(file.folder());
            out.println("This study is yours. It needs no further word, whatever you write into it.");
            return 0;
        }
        Consent.Asked asked = consent.asks(file.study(), file.folder());
        if (asked.isAllowed()) {
            out.println("There is nothing that waits for your word.");
            return 0;
        }
        if (asked.isChange()) {
            out.println("What it would do has changed since you allowed it.");
        }
        asked.lines().forEach(out::println);
        if (!asked.gone().isEmpty()) {
            out.println("It would no longer:");
            asked.gone().forEach(gone -> gone.lines().forEach(line -> out.println("  " + line)));
        }
        out.flush();
        if (yes.isPresent() ? !yes.get().equals(asked.digest()) : !isAnsweredYes()) {
            out.println(
                    (yes.isPresent() ? "This is not what --yes names. " : "") + "Nothing was allowed. The digest of all"
                            + " that this study would do is " + asked.digest());
            return Main.BAD_INPUT;
        }
        consent.allow(asked, file.folder());
        out.println("The study may do this now, on your word, as long as it stays as it is.");
        return 0;
    }

    private static boolean isAnsweredYes() {
        return Terminal.watched().map(console -> console.readLine("May it? (yes/no) "))
                .filter(answer -> List.of("y", "yes").contains(answer.strip())).isPresent();
    }
}
