package kadrem.load.gate;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.regex.Pattern;
import java.util.stream.Stream;

import kadrem.core.gate.Reach;
import kadrem.core.study.Address;
import kadrem.core.study.Body;
import kadrem.core.study.Call;
import kadrem.core.study.Candidate;
import kadrem.core.study.Form;
import kadrem.core.study.Http;
import kadrem.core.study.Launch;
import kadrem.core.study.Protocol;
import kadrem.core.study.Protocols;
import kadrem.core.study.SecretReference;
import kadrem.core.study.SignIn;
import kadrem.core.study.Study;
import kadrem.core.study.Tls;
import kadrem.core.study.ValueList;
import kadrem.core.study.WatchSource;
import kadrem.core.study.Workload;
import kadrem.load.content.ResponseCheck;

/**
 * All that a study would have done outside its own folder, read from the study alone; one file, since whoever adds a way out must see the
 * others. Nothing is run, asked or resolved for it; only files that its commands name are read, for their digests.
 */
public final class Reaches {
    /** Where a shell writes to: POSIX.1-2017, Shell Command Language, 2.7 Redirection. */
    private static final Pattern WRITTEN = Pattern.compile("(?<!<)>{1,2}\\|?\\s*[^\\s;|&()<>'\"]+");

    private final Candidate candidate;
    private final Workload workload;
    private final Path studyFolder;
    private final Set<Reach> found = new LinkedHashSet<>();

    private Reaches(Candidate candidate, Workload workload, Path studyFolder) {
        this.candidate = candidate;
        this.workload = workload;
        this.studyFolder = studyFolder;
    }

    /** What the whole study would do, each thing once, candidate by candidate; nothing where there is nothing to send. */
    public static List<Reach> of(Study study, Path studyFolder) {
        return study.measured().stream().flatMap(one -> one.candidates().stream()
                .flatMap(candidate -> of(candidate, one.workload(), studyFolder).stream())).toList();
    }

    /** What is done for one candidate, at all of its entrances. */
    public static List<Reach> of(Candidate candidate, Workload workload, Path studyFolder) {
        var all = new LinkedHashSet<Reach>(atAddress(candidate, workload, studyFolder));
        new TreeMap<>(candidate.elsewhere()).values()
                .forEach(entrance -> all.addAll(atAddress(candidate.at(entrance), workload, studyFolder)));
        return List.copyOf(all);
    }

    private static List<Reach> atAddress(Candidate candidate, Workload workload, Path studyFolder) {
        var reaches = new Reaches(candidate, workload, studyFolder);
        reaches.launch();
        reaches.calls();
        reaches.questions();
        reaches.signIn();
        reaches.secretsOfCalls();
        reaches.files();
        candidate.watch().forEach(reaches::watch);
        return List.copyOf(reaches.found);
    }

    /** Whether a launch starts one of Kadrem's own stand-ins and nothing else. */
    private static boolean isStandIn(Launch launch) {
        return launch.command().size() >= 2 && launch.command().getFirst().equals("{{kadrem}}")
                && launch.command().get(1).equals("standin") && launch.environment().isEmpty();
    }

    private boolean isOurStandIn() {
        return candidate.launch().filter(Reaches::isStandIn).isPresent();
    }

    private String to() {
        return candidate.access().wire().socket().map(socket -> "the socket " + socket)
                .orElse(candidate.address().toString());
    }

    private void runs(String purpose, List<String> command, Map<String, String> environment, String input) {
        String folder = candidate.launch().map(Launch::folder).orElse(".");
        runs(new Reach.Runs(candidate.id(), purpose, command, folder, environment, input, Map.of()));
    }

    private void runs(Reach.Runs run) {
        var files = new TreeMap<String, String>();
        Path folder = studyFolder.resolve(run.folder());
        Stream.concat(run.command().stream(), run.environment().values().stream()).flatMap(Reaches::named).distinct()
                .forEach(word -> digest(folder, word).ifPresent(digest -> files.put(word, digest)));
        Stream.concat(run.command().stream(), Stream.of(run.input())).forEach(word -> files.putAll(rows(word)));
        found.add(run.withFiles(files));
    }

    /**
     * What may name a file in a word of a command: the word, and what stands in it as in "./fill.sh && ./serve.sh" or "-javaagent:x.jar".
     * What a shell writes, as in "./serve.sh >> served.log", is another file each time and is not read here.
     */
    private static Stream<String> named(String word) {
        return Stream.concat(Stream.of(word),
                Stream.of(WRITTEN.matcher(word).replaceAll(" ").split("[\\s;|&()<>'\"=:,]+")));
    }

    /** The value lists of which a row is filled into a text that is carried out, by a digest of their rows. */
    private Map<String, String> rows(String text) {
        var digests = new TreeMap<String, String>();
        Call.placeholders(text).forEach(name -> workload.values().stream().filter(list -> list.name().equals(name))
                .filter(ValueList.Listed.class::isInstance).map(ValueList.Listed.class::cast)
                .forEach(list -> digests.put("{{" + name + "}}", ResponseCheck.sha256(
                        String.join("\n", list.rows()).getBytes(StandardCharsets.UTF_8)))));
        return digests;
    }

    /** What a file is that a word names and that came with the study; absolute names are of this machine. */
    private static Optional<String> digest(Path folder, String word) {
        try {
            Path file = folder.resolve(word);
            if (word.isEmpty() || Path.of(word).isAbsolute() || !Files.isRegularFile(file)) {
                return Optional.empty();
            }
            return Optional.of(FileDigests.of(file));
        } catch (java.nio.file.InvalidPathException _) {
            return Optional.empty();
        } catch (IOException _) {
            return Optional.of("(cannot be read)");
        }
    }

    private void launch() {
        candidate.launch().filter(launch -> !isStandIn(launch))
                .ifPresent(launch -> runs("launch", launch.command(), launch.environment(), ""));
        // what Kadrem has started itself on this machine needs no further word: its launch has one
        if (candidate.launch().isEmpty() || !candidate.address().isLoopback()) {
            found.add(new Reach.Goes(candidate.id(), "load", to(), sent()));
        }
    }

    /** Each call as it goes out, whole; none where the protocol tells them itself. */
    private List<String> sent() {
        String protocol = candidate.address().protocol();
        if (Protocols.byId(protocol)
                .filter(spoken -> !spoken.reaches(candidate.id(), candidate.address(), forms()).isEmpty())
                .isPresent()) {
            return List.of();
        }
        return workload.calls().stream().map(call -> protocol.equals(Http.ID)
                ? overHttp(call)
                : call.form(protocol).map(Reaches::inItsForm).orElse(call.words())).distinct().toList();
    }

    private static String overHttp(Call call) {
        var words = new StringBuilder(call.method() + " " + call.path());
        call.headers().forEach(header -> words.append(" | ").append(header.name()).append(": ")
                .append(header.value()));
        body(call.body()).ifPresent(body -> words.append(" | ").append(body));
        return words.toString();
    }

    private static Optional<String> body(Body body) {
        return switch (body) {
            case Body.Text text -> Optional.of(text.template()).filter(template -> !template.isEmpty());
            case Body.Form form -> Optional.of(String.join("&",
                    form.fields().stream().map(field -> field.name() + "=" + field.value()).toList()));
            case Body.FromFile file -> Optional.of("the file " + file.file());
            case Body.Multipart parts -> Optional.of(String.join(" + ", parts.parts().stream()
                    .map(part -> part.name() + "=" + body(part.content()).orElse("")).toList()));
        };
    }

    private static String inItsForm(Form form) {
        var words = new StringBuilder(form.protocol());
        new TreeMap<>(form.fields()).forEach((name, texts) -> words.append(" | ").append(name).append(": ")
                .append(String.join(" ", texts)));
        return words.toString();
    }

    private List<Form> forms() {
        return workload.calls().stream().flatMap(call -> call.form(candidate.address().protocol()).stream()).toList();
    }

    private void calls() {
        Protocols.byId(candidate.address().protocol()).ifPresent(spoken -> spoken
                .reaches(candidate.id(), candidate.address(), forms()).forEach(reach -> {
                    switch (reach) {
                        case Reach.Runs run -> runs(run);
                        case Reach.Tells told -> {
                            if (!spoken.isSafeToStandIns() || !isOurStandIn()) {
                                found.add(told.withRows(rows(told.said())));
                            }
                        }
                        default -> found.add(reach);
                    }
                }));
    }

    /** The ready probe and the version where they are statements, and the reset and the question for the data. */
    private void questions() {
        if (isStatement(candidate.ready())) {
            found.add(new Reach.Tells(candidate.id(), "ready", to(), candidate.ready()));
        }
        candidate.version().filter(this::isStatement)
                .ifPresent(version -> found.add(new Reach.Tells(candidate.id(), "version", to(), version)));
        candidate.reset().ifPresent(reset -> control("reset", reset));
        candidate.data().ifPresent(data -> control("data", data));
    }

    /** Whether a question is no path that is asked for over HTTP; a comment of SQL begins like one. */
    private boolean isStatement(String question) {
        boolean overHttp = Protocols.byId(candidate.address().protocol()).filter(Protocol::sendsHeaders).isPresent();
        return !question.isBlank() && !question.equals(Candidate.USUAL_READY)
                && !(overHttp && question.startsWith("/"));
    }

    private void control(String purpose, Candidate.Reset control) {
        switch (control) {
            case Candidate.ControlCall call -> {
                if (candidate.launch().isEmpty()) {
                    found.add(new Reach.Goes(candidate.id(), purpose, to(), List.of(call.words())));
                }
            }
            case Candidate.ControlCommand command -> runs(purpose, command.command(),
                    candidate.launch().map(Launch::environment).orElse(Map.of()), "");
            case Candidate.ControlAsk(String words) -> found
                    .add(new Reach.Tells(candidate.id(), purpose, to(), words));
            case Candidate.ControlSql sql -> {
                sql.statements().forEach(statement -> found
                        .add(new Reach.Tells(candidate.id(), purpose, sql.database(), statement)));
                secrets(purpose, sql.password(), sql.database());
            }
        }
    }

    private void signIn() {
        SignIn signIn = candidate.access().signIn();
        String to = to();
        if (signIn instanceof SignIn.ClientCredentials oauth) {
            to = oauth.tokenAddress();
            found.add(new Reach.Goes(candidate.id(), "sign-in", to, List.of()));
        }
        for (String secret : signIn.secrets()) {
            secrets("sign-in", secret, to);
        }
    }

    private void secrets(String purpose, String template, String to) {
        Call.placeholders(template).stream().filter(SecretReference::isOne).map(SecretReference::parse)
                .forEach(secret -> found.add(new Reach.Reveals(candidate.id(), purpose, switch (secret.kind()) {
                    case ENVIRONMENT -> "the environment variable " + secret.where();
                    case FILE -> "the first line of the file " + secret.where();
                }, to)));
    }

    private void secretsOfCalls() {
        candidate.access().settings().values().stream().flatMap(List::stream)
                .forEach(text -> secrets("settings", text, to()));
        workload.calls().stream().map(call -> call.in(candidate.address().protocol()))
                .flatMap(call -> call.placeholders().stream())
                .forEach(placeholder -> secrets("calls", "{{" + placeholder + "}}", to()));
    }

    private void files() {
        Tls tls = candidate.access().tls();
        tls.authority().ifPresent(file -> reads("trust", file));
        tls.certificate().ifPresent(file -> reads("own certificate", file));
        tls.key().ifPresent(file -> reads("own key", file));
        Protocols.byId(candidate.address().protocol()).stream()
                .flatMap(spoken -> spoken.files(candidate.access().settings()).stream())
                .forEach(file -> reads("settings", file));
    }

    private void reads(String purpose, String file) {
        if (StudyPath.isOutside(studyFolder, file)) {
            found.add(new Reach.Reads(candidate.id(), purpose, file));
        }
    }

    private void watch(WatchSource source) {
        String purpose = "watch " + source.name();
        switch (source) {
            case WatchSource.ProcessTree tree -> {
                if (!tree.which().matches("\\d+")) {
                    reads(purpose, tree.which());
                }
            }
            case WatchSource.ControlGroup group -> reads(purpose, group.folder());
            case WatchSource.JavaMachine machine -> machine.address()
                    .ifPresent(address -> found.add(new Reach.Goes(candidate.id(), purpose, address, List.of())));
            case WatchSource.RemoteHost remote -> {
                found.add(new Reach.Goes(candidate.id(), purpose, remote.where() + ", by SSH", List.of()));
                remote.key().ifPresent(key -> reads(purpose, key));
                secrets(purpose, remote.password(), remote.where());
            }
            case WatchSource.MetricsEndpoint metrics -> {
                if (!isOfItsOwn(metrics.address())) {
                    found.add(new Reach.Goes(candidate.id(), purpose, metrics.address(), List.of()));
                }
            }
            case WatchSource.Counters counters -> {
                found.add(new Reach.Tells(candidate.id(), purpose + ", once a second", counters.database(),
                        counters.query()));
                secrets(purpose, counters.password(), counters.database());
            }
        }
    }

    /** Whether an address is answered by the candidate that Kadrem starts itself. */
    private boolean isOfItsOwn(String address) {
        Address own = candidate.address();
        return candidate.launch().isPresent() && own.isLoopback() && own.hasPort()
                && address.matches("http://(127\\.0\\.0\\.1|localhost):" + own.port() + "(/.*)?");
    }
}
