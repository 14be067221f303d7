package kadrem.desk.candidates;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.stream.Collectors;

import kadrem.core.study.Candidate;
import kadrem.core.study.Launch;
import kadrem.core.study.Protocols;
import kadrem.core.study.SignIn;
import kadrem.core.study.Tls;
import kadrem.core.study.grammar.Durations;

/**
 * An attribute of a candidate that the study says, as words by which candidates are compared, and the field that it is changed by.
 *
 * @param group that it stands in; essentials are always seen
 * @param hint what is shown while it says nothing
 * @param field of the candidate in the study file: one value, or a group that has a form
 */
record Attribute(Group group, String name, String hint, Function<Candidate, String> text,
        Function<Candidate, String> field) {
    private static final String LAUNCH = "launch";

    /** Attributes that are looked at together. */
    enum Group {
        ESSENTIALS(""), REACHED("How it is reached"), LAUNCHED("How it is launched"), STATE("Its data and version");

        private final String title;

        Group(String title) {
            this.title = title;
        }

        String title() {
            return title;
        }
    }

    /** All of them, group by group, in the order in which they are shown. */
    static final List<Attribute> ALL = List.of(
            of(Group.ESSENTIALS, "name", "what people call it", "name", Candidate::name),
            of(Group.ESSENTIALS, "address", "http://127.0.0.1:8080", "address", one -> one.address().toString()),
            of(Group.ESSENTIALS, LAUNCH, "already running", LAUNCH,
                    one -> launch(one, launch -> words(launch.command()))),
            of(Group.ESSENTIALS, "ready probe", "/", "ready", Candidate::ready),
            of(Group.REACHED, "protocol", "as the address says", "protocol",
                    one -> isNamed(one) ? one.address().protocol() : ""),
            new Attribute(Group.REACHED, "settings", "the usual ones", Attribute::settings,
                    one -> one.address().protocol()),
            of(Group.REACHED, "sign-in", "none", "signIn",
                    one -> one.access().signIn() instanceof SignIn.None ? "" : one.access().signIn().words()),
            of(Group.REACHED, "tls", "certificate checked", "tls",
                    one -> one.access().tls().equals(Tls.USUAL) ? "" : one.access().tls().words()),
            of(Group.REACHED, "wire", "http/1.1, kept connections", "wire", one -> one.access().wire().words()),
            of(Group.LAUNCHED, "working folder", "the study's", LAUNCH,
                    one -> launch(one, launch -> launch.folder().equals(".") ? "" : launch.folder())),
            of(Group.LAUNCHED, "environment", "nothing of its own", LAUNCH,
                    one -> launch(one, launch -> pairs(launch.environment()))),
            of(Group.LAUNCHED, "processor set", "any", LAUNCH,
                    one -> launch(one, launch -> launch.processors().orElse(""))),
            of(Group.LAUNCHED, "ready within", "30s", LAUNCH,
                    one -> launch(one, launch -> Durations.write(launch.readyWithin()))),
            of(Group.LAUNCHED, "stop within", "5s", LAUNCH,
                    one -> launch(one, launch -> Durations.write(launch.stopWithin()))),
            of(Group.STATE, "reset", "none", "reset", one -> one.reset().map(Candidate.Reset::words).orElse("")),
            of(Group.STATE, "data", "not asked for", "data", one -> one.data().map(Candidate.Reset::words).orElse("")),
            of(Group.STATE, "version", "/version", "version", one -> one.version().orElse("")));

    private static Attribute of(Group group, String name, String hint, String field, Function<Candidate, String> text) {
        return new Attribute(group, name, hint, text, _ -> field);
    }

    /** Whether candidates differ in it. */
    boolean differs(List<Candidate> candidates) {
        return candidates.stream().map(text).distinct().count() > 1;
    }

    private static String launch(Candidate candidate, Function<Launch, String> text) {
        return candidate.launch().map(text).orElse("");
    }

    private static boolean isNamed(Candidate candidate) {
        return Protocols.byId(candidate.address().protocol()).filter(one -> !one.isFoundByAddress()).isPresent();
    }

    /** "pool=10 prepared=false"; a list has its name several times. */
    private static String settings(Candidate candidate) {
        return new TreeMap<>(candidate.access().settings()).entrySet().stream()
                .flatMap(one -> one.getValue().stream().map(text -> one.getKey() + "=" + text))
                .collect(Collectors.joining(" "));
    }

    private static String words(List<String> command) {
        return command.stream().map(word -> word.contains(" ") ? "\"" + word + "\"" : word)
                .collect(Collectors.joining(" "));
    }

    private static String pairs(Map<String, String> environment) {
        return new TreeMap<>(environment).entrySet().stream().map(one -> one.getKey() + "=" + one.getValue())
                .collect(Collectors.joining(", "));
    }

    /** The text as it is written into the field; nothing where it is blank. */
    static Optional<Object> typed(String text) {
        return text.isBlank() ? Optional.empty() : Optional.of(text.strip());
    }
}
