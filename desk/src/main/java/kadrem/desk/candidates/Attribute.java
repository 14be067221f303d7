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
 * @param hint what is shown while it says nothing
 * @param field of the candidate in the study file: one value, or a group that has a form
 */
record Attribute(String name, String hint, Function<Candidate, String> text, Function<Candidate, String> field) {
    private static final String LAUNCH = "launch";

    /** All of them, in the order in which they are shown. */
    static final List<Attribute> ALL = List.of(
            of("name", "what people call it", "name", Candidate::name),
            of("address", "http://127.0.0.1:8080", "address", one -> one.address().toString()),
            of("protocol", "as the address says", "protocol", one -> isNamed(one) ? one.address().protocol() : ""),
            new Attribute("settings", "the usual ones", Attribute::settings, one -> one.address().protocol()),
            of("sign-in", "none", "signIn",
                    one -> one.access().signIn() instanceof SignIn.None ? "" : one.access().signIn().words()),
            of("tls", "certificate checked", "tls",
                    one -> one.access().tls().equals(Tls.USUAL) ? "" : one.access().tls().words()),
            of("wire", "http/1.1, kept connections", "wire", one -> one.access().wire().words()),
            of("launch", "already running", LAUNCH, one -> launch(one, launch -> words(launch.command()))),
            of("working folder", "the study's", LAUNCH,
                    one -> launch(one, launch -> launch.folder().equals(".") ? "" : launch.folder())),
            of("environment", "nothing of its own", LAUNCH, one -> launch(one, launch -> pairs(launch.environment()))),
            of("processor set", "any", LAUNCH, one -> launch(one, launch -> launch.processors().orElse(""))),
            of("ready probe", "/", "ready", Candidate::ready),
            of("ready within", "30s", LAUNCH, one -> launch(one, launch -> Durations.write(launch.readyWithin()))),
            of("reset", "none", "reset", one -> one.reset().map(Candidate.Reset::words).orElse("")),
            of("data", "not asked for", "data", one -> one.data().map(Candidate.Reset::words).orElse("")),
            of("version", "/version", "version", one -> one.version().orElse("")),
            of("stop within", "5s", LAUNCH, one -> launch(one, launch -> Durations.write(launch.stopWithin()))));

    private static Attribute of(String name, String hint, String field, Function<Candidate, String> text) {
        return new Attribute(name, hint, text, _ -> field);
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
