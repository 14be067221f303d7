package kadrem.load.campaign;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.TreeMap;

import kadrem.core.study.Address;
import kadrem.core.study.Candidate;
import kadrem.core.study.Launch;
import kadrem.core.study.Protocols;
import kadrem.core.study.Study;
import kadrem.core.study.WatchSource;
import kadrem.core.study.Workload;
import kadrem.load.content.ResponseCheck;

/**
 * The user's word: which hosts beyond this machine may be loaded, and which commands of a study may be run here. It is kept
 * in files of the user's own, a line each. A study cannot say it, since it may come from elsewhere.
 */
public final class Consent {
    private final Path hosts;
    private final Path commands;

    /** @param folder where the user's word is kept */
    public Consent(Path folder) {
        hosts = folder.resolve("hosts-i-may-load.txt");
        commands = folder.resolve("commands-i-may-run.txt");
    }

    /** The consent of the user who runs this program. */
    public static Consent ofUser() {
        String folder = System.getenv().getOrDefault("XDG_CONFIG_HOME",
                System.getProperty("user.home", "") + "/.config");
        return new Consent(Path.of(folder, "kadrem"));
    }

    /** Whether calls may go to the address; loopback needs no word. */
    public boolean allows(Address address) {
        if (address.isLoopback()) {
            return true;
        }
        return has(hosts, address.host());
    }

    private static boolean has(Path file, String wanted) {
        try {
            return Files.isRegularFile(file)
                    && Files.readAllLines(file).stream().anyMatch(line -> line.strip().equalsIgnoreCase(wanted));
        } catch (IOException _) {
            return false;
        }
    }

    /**
     * What a candidate would have run on this machine, in words: its launch, its reset, and what its protocol runs. Kadrem's own
     * stand-ins and calls that are only answered are not among it.
     */
    public static List<String> commands(Candidate candidate, Workload workload) {
        var words = new ArrayList<String>();
        String protocol = candidate.address().protocol();
        Protocols.byId(protocol).ifPresent(spoken -> words.addAll(spoken.commands(candidate.address(),
                workload.calls().stream().flatMap(call -> call.form(protocol).stream()).toList())));
        candidate.launch().filter(launch -> !isStandIn(launch)).ifPresent(launch -> {
            var environment = new StringBuilder();
            new TreeMap<>(launch.environment())
                    .forEach((name, value) -> environment.append(name).append('=').append(value).append(' '));
            words.add(environment + String.join(" ", launch.command())
                    + (launch.folder().equals(".") ? "" : "   (in " + launch.folder() + ")"));
        });
        candidate.watch().stream().filter(WatchSource.Counters.class::isInstance).map(WatchSource.Counters.class::cast)
                .forEach(counters -> words
                        .add("SQL on " + counters.database() + ", once a second: " + counters.query()));
        candidate.reset().filter(reset -> !(reset instanceof Candidate.ControlCall))
                .ifPresent(reset -> words.add(reset.words()));
        candidate.data().filter(data -> !(data instanceof Candidate.ControlCall))
                .ifPresent(data -> words.add(data.words()));
        return words;
    }

    private static boolean isStandIn(Launch launch) {
        return launch.command().size() >= 2 && launch.command().getFirst().equals("{{kadrem}}")
                && launch.command().get(1).equals("standin") && launch.environment().isEmpty();
    }

    /** Whether the user has seen the candidate's commands and said that they may be run. */
    public boolean allowsCommands(Candidate candidate, Workload workload, Path studyFolder) {
        return commands(candidate, workload).isEmpty() || has(commands, mark(candidate, workload, studyFolder));
    }

    /** The commands of the study that wait for the user's word. */
    public List<String> waiting(Study study, Path studyFolder) {
        return study.candidates().stream().filter(one -> !allowsCommands(one, study.workload(), studyFolder))
                .flatMap(one -> commands(one, study.workload()).stream().map(words -> one.id() + ": " + words))
                .toList();
    }

    /** Keeps the user's word that the commands of the study may be run, as they are now and from where it lies. */
    public void allowCommands(Study study, Path studyFolder) throws IOException {
        for (Candidate candidate : study.candidates()) {
            if (!allowsCommands(candidate, study.workload(), studyFolder)) {
                add(commands, mark(candidate, study.workload(), studyFolder));
            }
        }
    }

    /** A mark of the commands and the study's place: SHA-256, hexadecimal. */
    private static String mark(Candidate candidate, Workload workload, Path studyFolder) {
        String told = studyFolder.toAbsolutePath().normalize() + "\n" + candidate.launch().map(Launch::command) + "\n"
                + String.join("\n", commands(candidate, workload));
        return ResponseCheck.sha256(told.getBytes(StandardCharsets.UTF_8));
    }

    /** @throws CandidateFailure if the candidate may not be loaded or its commands may not be run; says how to allow it */
    void require(Candidate candidate, Workload workload, Path studyFolder) throws CandidateFailure {
        require(candidate.address());
        if (!allowsCommands(candidate, workload, studyFolder)) {
            throw new CandidateFailure("you have not said yet that its commands may be run here: "
                    + String.join("; ", commands(candidate, workload)) + ". If they may: kadrem allow --commands "
                    + studyFolder);
        }
    }

    /** @throws CandidateFailure if calls may not go to the address; the message says how to allow it */
    private void require(Address address) throws CandidateFailure {
        if (!allows(address)) {
            throw new CandidateFailure(objection(address));
        }
    }

    /** Why nothing is sent to an address that is not allowed, and how to allow it. */
    public static String objection(Address address) {
        return address.host() + " is not on this machine, and you have not said that you may load it. If you may:"
                + " kadrem allow " + address.host();
    }

    /** Keeps the user's word that {@code host} may be loaded. */
    public void allow(String host) throws IOException {
        add(hosts, host.strip().toLowerCase(Locale.ROOT));
    }

    private static void add(Path file, String line) throws IOException {
        Files.createDirectories(file.toAbsolutePath().getParent());
        Files.write(file, List.of(line), StandardCharsets.UTF_8, StandardOpenOption.CREATE, StandardOpenOption.APPEND);
    }
}
