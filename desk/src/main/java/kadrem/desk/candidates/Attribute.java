package kadrem.desk.candidates;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.function.BiFunction;
import java.util.function.Function;
import java.util.stream.Collectors;

import kadrem.core.study.Candidate;
import kadrem.core.study.Launch;
import kadrem.core.study.Protocols;
import kadrem.core.study.SignIn;
import kadrem.core.study.Tls;
import kadrem.core.study.grammar.Durations;
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
            new Attribute("protocol", "as the address says", one -> isNamed(one) ? one.address().protocol() : "",
                    (path, text) -> put(path, "protocol", text)),
            new Attribute("settings", "of another protocol, as sql pool=10", Attribute::settings, Attribute::settings),
            new Attribute("sign-in", "none, or as bearer {{env:TOKEN}}", one -> signIn(one.access().signIn()),
                    Attribute::signIn),
            new Attribute("tls", "certificate checked, or no-verify", one -> tls(one.access().tls()), Attribute::tls),
            new Attribute("wire", "http/1.1, kept connections", one -> WireText.write(one.access().wire()),
                    WireText::edit),
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
            new Attribute("reset", "POST /reset, a command, or sql …",
                    one -> one.reset().map(Attribute::control).orElse(""),
                    (path, text) -> control(path, "reset", text)),
            new Attribute("data", "GET /admin/count, ask select count(*) …",
                    one -> one.data().map(Attribute::control).orElse(""), (path, text) -> control(path, "data", text)),
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

    private static boolean isNamed(Candidate candidate) {
        return Protocols.byId(candidate.address().protocol()).filter(one -> !one.isFoundByAddress()).isPresent();
    }

    /** "sql pool=10 prepared=false": the protocol, then its settings; a list has its name several times. */
    private static String settings(Candidate candidate) {
        var words = new ArrayList<String>();
        new TreeMap<>(candidate.access().settings())
                .forEach((name, texts) -> texts.forEach(text -> words.add(name + "=" + text)));
        if (!words.isEmpty()) {
            words.addFirst(candidate.address().protocol());
        }
        return words(words);
    }

    private static Edit settings(String path, String text) {
        List<String> words = split(text);
        Map<String, Optional<Object>> groups = new LinkedHashMap<>();
        Protocols.all().stream().filter(protocol -> !protocol.settings().isEmpty())
                .forEach(protocol -> groups.put(protocol.id(), Optional.empty()));
        Map<String, Object> group = new LinkedHashMap<>();
        for (String word : words.subList(Math.min(1, words.size()), words.size())) {
            String[] pair = word.split("=", 2);
            String value = pair.length > 1 ? pair[1] : "";
            group.merge(pair[0], value, (one, two) -> {
                var all = new ArrayList<Object>(one instanceof List<?> several ? several : List.of(one));
                all.add(two);
                return all;
            });
        }
        if (!words.isEmpty()) {
            groups.put(words.getFirst(), Optional.of(group));
        }
        return put(path, groups);
    }

    /** "basic USER PASSWORD", "digest USER PASSWORD", "bearer TOKEN", "key HEADER VALUE", "oauth ADDRESS CLIENT SECRET SCOPE". */
    private static String signIn(SignIn signIn) {
        return switch (signIn) {
            case SignIn.None() -> "";
            case SignIn.Basic(String user, String password) -> words(List.of("basic", user, password));
            case SignIn.Digest(String user, String password) -> words(List.of("digest", user, password));
            case SignIn.Bearer(String token) -> words(List.of("bearer", token));
            case SignIn.Key(String header, String value) -> words(List.of("key", header, value));
            case SignIn.ClientCredentials(String address, String client, String secret, String scope) ->
                words(scope.isEmpty()
                        ? List.of("oauth", address, client, secret)
                        : List.of("oauth", address, client, secret, scope));
        };
    }

    private static Edit signIn(String path, String text) {
        List<String> words = split(text);
        if (words.isEmpty()) {
            return put(path, Map.of("signIn", Optional.empty()));
        }
        String kind = words.getFirst();
        Object written = switch (kind) {
            case "basic", "digest" -> Map.of(kind, Map.of("user", word(words, 1), "password", word(words, 2)));
            case "bearer" -> Map.of(kind, word(words, 1));
            case "key" -> Map.of("header", Map.of("name", word(words, 1), "value", word(words, 2)));
            case "oauth" -> Map.of(kind, Map.of("tokenAddress", word(words, 1), "client", word(words, 2), "secret",
                    word(words, 3), "scope", word(words, 4)));
            // told as an unknown way by the study's own check
            default -> Map.of(kind, word(words, 1));
        };
        return put(path, Map.of("signIn", Optional.of(written)));
    }

    private static String word(List<String> words, int place) {
        return place < words.size() ? words.get(place) : "";
    }

    /** "no-verify", "authority FILE", "certificate FILE key FILE", in any order. */
    private static String tls(Tls tls) {
        var words = new ArrayList<String>();
        if (!tls.verify()) {
            words.add("no-verify");
        }
        tls.authority().ifPresent(file -> words.addAll(List.of("authority", file)));
        tls.certificate().ifPresent(file -> words.addAll(List.of("certificate", file)));
        tls.key().ifPresent(file -> words.addAll(List.of("key", file)));
        return words(words);
    }

    private static Edit tls(String path, String text) {
        Map<String, String> group = new java.util.TreeMap<>();
        List<String> words = split(text);
        for (int i = 0; i < words.size(); i++) {
            if (words.get(i).equals("no-verify")) {
                group.put("verify", "false");
            } else {
                group.put(words.get(i), word(words, ++i));
            }
        }
        return put(path, Map.of("tls", group.isEmpty() ? Optional.empty() : Optional.of(group)));
    }

    /** A candidate without a command is one that already runs. */
    private static Edit launch(String path, String text) {
        return text.isBlank()
                ? put(path, Map.of("launch", Optional.empty()))
                : put(path + ".launch", Map.of("command", Optional.of(split(text))));
    }

    /**
     * "POST /reset", "sql ADDRESS USER PASSWORD STATEMENT …" with a hyphen for what is not needed, "ask WORDS" of its own protocol, or
     * a command.
     *
     * @param field of the study file: reset or data
     */
    private static Edit control(String path, String field, String text) {
        if (text.isBlank()) {
            return put(path, Map.of(field, Optional.empty()));
        }
        List<String> all = split(text);
        if (all.getFirst().equals("ask")) {
            return put(path, Map.of(field, Optional.of(Map.of("ask", text.strip().substring("ask".length()).strip()))));
        }
        if (all.getFirst().equals("sql")) {
            Map<String, Object> group = new java.util.LinkedHashMap<>();
            group.put("database", word(all, 1));
            for (int i = 0; i < 2 && !word(all, 2 + i).replace("-", "").isEmpty(); i++) {
                group.put(i == 0 ? "user" : "password", word(all, 2 + i));
            }
            group.put("sql", all.subList(Math.min(4, all.size()), all.size()));
            return put(path, Map.of(field, Optional.of(group)));
        }
        String[] parts = text.strip().split("\\s+", 2);
        boolean isCall = parts[parts.length - 1].startsWith("/") && (parts.length == 1 || parts[0].matches("[A-Z]+"));
        if (!isCall) {
            return put(path, Map.of(field, Optional.of(Map.of("command", split(text)))));
        }
        return put(path, Map.of(field, Optional.of(parts.length == 1
                ? Map.of("path", parts[0])
                : Map.of("method", parts[0], "path", parts[1]))));
    }

    private static String control(Candidate.Reset reset) {
        return switch (reset) {
            case Candidate.ControlCall call -> call.words();
            case Candidate.ControlCommand command -> words(command.command());
            case Candidate.ControlAsk(String words) -> "ask " + words;
            case Candidate.ControlSql sql -> words(java.util.stream.Stream.concat(
                    java.util.stream.Stream.of("sql", sql.database(), sql.user().isEmpty() ? "-" : sql.user(),
                            sql.password().isEmpty() ? "-" : sql.password()),
                    sql.statements().stream()).toList());
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
