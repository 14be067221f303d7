package kadrem.desk.candidates;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.BiFunction;
import java.util.function.Function;
import java.util.stream.Collectors;

import kadrem.core.study.Candidate;
import kadrem.core.study.Launch;
import kadrem.files.study.Durations;
import kadrem.files.study.Edit;
import org.apache.commons.text.StringTokenizer;

/**
 * An attribute of a candidate that the study says, as text, and the edit that changes it.
 *
 * @param hint what is written into the field while it is empty
 */
record Attribute(String name, String hint, Function<Candidate, String> text, BiFunction<String, String, Edit> change) {

    /** All of them, in the order in which they are shown. The edit is made from the candidate's path and the new text. */
    static final List<Attribute> ALL = List.of(
            new Attribute("name", "what people call it", Candidate::name, (path, text) -> put(path, "name", text)),
            new Attribute("address", "http://127.0.0.1:8080", one -> one.address().toString(),
                    (path, text) -> put(path, "address", text)),
            new Attribute("launch", "already running", one -> one.launch().map(Launch::command).map(Attribute::words)
                    .orElse(""), Attribute::launch),
            new Attribute("working folder", "the study's",
                    one -> one.launch().map(Launch::folder).filter(folder -> !folder.equals(".")).orElse(""),
                    (path, text) -> put(path + ".launch", "folder", text)),
            new Attribute("environment", "NAME=value, …", one -> one.launch().map(Launch::environment)
                    .map(Attribute::pairs).orElse(""),
                    (path, text) -> put(path + ".launch", Map.of("environment", map(text)))),
            new Attribute("processor set", "any", one -> one.launch().flatMap(Launch::processors).orElse(""),
                    (path, text) -> put(path + ".launch", "processors", text)),
            new Attribute("ready probe", "/", Candidate::ready, (path, text) -> put(path, "ready", text)),
            new Attribute("ready within", "30s", one -> one.launch().map(Launch::readyWithin).map(Durations::write)
                    .orElse(""), (path, text) -> put(path + ".launch", "readyWithin", text)),
            new Attribute("reset", "POST /reset, or a command", one -> one.reset().map(Attribute::reset).orElse(""),
                    Attribute::reset),
            new Attribute("version", "/version", one -> one.version().orElse(""),
                    (path, text) -> put(path, "version", text)),
            new Attribute("stop within", "5s", one -> one.launch().map(Launch::stopWithin).map(Durations::write)
                    .orElse(""), (path, text) -> put(path + ".launch", "stopWithin", text)));

    private static Edit put(String path, Map<String, Optional<Object>> fields) {
        return new Edit.Put(path, fields);
    }

    private static Edit put(String path, String field, String text) {
        return put(path, Map.of(field, text.isBlank() ? Optional.empty() : Optional.of(text.strip())));
    }

    /** A candidate without a command is one that already runs. */
    private static Edit launch(String path, String text) {
        return text.isBlank()
                ? put(path, Map.of("launch", Optional.empty()))
                : put(path + ".launch", Map.of("command", Optional.of(split(text))));
    }

    private static Edit reset(String path, String text) {
        if (text.isBlank()) {
            return put(path, Map.of("reset", Optional.empty()));
        }
        String[] parts = text.strip().split("\\s+", 2);
        boolean isCall = parts[parts.length - 1].startsWith("/") && (parts.length == 1 || parts[0].matches("[A-Z]+"));
        if (!isCall) {
            return put(path, Map.of("reset", Optional.of(Map.of("command", split(text)))));
        }
        return put(path, Map.of("reset", Optional.of(parts.length == 1
                ? Map.of("path", parts[0])
                : Map.of("method", parts[0], "path", parts[1]))));
    }

    private static String reset(Candidate.Reset reset) {
        return switch (reset) {
            case Candidate.ControlCall call -> call.words();
            case Candidate.ControlCommand command -> words(command.command());
        };
    }

    /** Words as a shell would split them at spaces, with double quotes around those that hold some. */
    static List<String> split(String text) {
        return new StringTokenizer(text, ' ', '"').getTokenList();
    }

    static String words(List<String> command) {
        return command.stream().map(word -> word.contains(" ") ? "\"" + word + "\"" : word)
                .collect(Collectors.joining(" "));
    }

    private static String pairs(Map<String, String> environment) {
        return environment.entrySet().stream().map(entry -> entry.getKey() + "=" + entry.getValue()).sorted()
                .collect(Collectors.joining(", "));
    }

    private static Optional<Object> map(String text) {
        Map<String, String> pairs = new java.util.TreeMap<>();
        new ArrayList<>(Arrays.asList(text.split("\\s*,\\s*"))).stream().filter(pair -> pair.contains("="))
                .forEach(
                        pair -> pairs.put(pair.substring(0, pair.indexOf('=')), pair.substring(pair.indexOf('=') + 1)));
        return pairs.isEmpty() ? Optional.empty() : Optional.of(pairs);
    }
}
