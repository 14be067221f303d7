package kadrem.files.imports;

import java.time.Duration;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;

import kadrem.core.gate.Credentials;
import kadrem.core.study.Call;
import kadrem.core.study.ValueList;
import kadrem.core.study.Workload;
import kadrem.core.study.grammar.Durations;
import kadrem.files.study.Edit;

/**
 * Calls ready to become a visit of a study.
 *
 * @param name of the visit
 * @param kept calls in order
 * @param dropped how many were left out, by reason
 * @param notes what the user should know
 */
public record Imported(String name, List<FoundCall> kept, Map<String, Long> dropped, List<String> notes) {
    private static final Pattern ID = Pattern
            .compile("\\d+|[0-9a-fA-F]{8}-[0-9a-fA-F]{4}-[0-9a-fA-F]{4}-[0-9a-fA-F]{4}-[0-9a-fA-F]{12}|[0-9a-f]{16,}");
    /** A capture must not choose which variable of this machine's is sent: none that is there for another purpose begins like this. */
    private static final String OURS = "KADREM_";
    private static final Duration MIN_PAUSE = Duration.ofMillis(10);

    /** What was captured means itself: braces that would stand for a value or a secret in a study are not taken over. */
    public Imported {
        Map<String, Long> out = new LinkedHashMap<>(dropped);
        long strange = kept.stream().filter(Imported::hasPlaceholders).count();
        if (strange > 0) {
            out.put("with double braces, which would stand for values or secrets", strange);
        }
        Set<String> said = new LinkedHashSet<>(notes);
        kept = kept.stream().filter(call -> !hasPlaceholders(call)).map(call -> withoutCredentials(call, said))
                .toList();
        dropped = java.util.Collections.unmodifiableMap(out);
        notes = List.copyOf(said);
    }

    /** A capture holds what its user signed in with, and a study is passed on. */
    private static FoundCall withoutCredentials(FoundCall call, Set<String> said) {
        String where = call.method() + " " + call.target().split("\\?", 2)[0];
        return new FoundCall(call.method(), call.host(), referring(call.target(), where, said),
                call.headers().stream().map(
                        header -> new Call.Header(header.name(), referring(header.value(), where, said))).toList(),
                referring(call.body(), where, said), call.pause());
    }

    private static String referring(String text, String where, Set<String> said) {
        var kept = new StringBuilder();
        int from = 0;
        for (Credentials.Find find : Credentials.in(text)) {
            String name = find.name().replaceAll("[^A-Za-z0-9]+", "_").replaceAll("^_|_$", "").toUpperCase(Locale.ROOT);
            String variable = OURS + (name.isEmpty() ? "CREDENTIAL" : name);
            kept.append(text, from, find.begin()).append("{{env:").append(variable).append("}}");
            from = find.end();
            said.add(find.what() + " in " + where
                    + " was not taken over, since it looks like a secret: a reference stands"
                    + " in its place, for which the environment variable " + variable + " has to be set");
        }
        return kept.append(text, from, text.length()).toString();
    }

    private static boolean hasPlaceholders(FoundCall call) {
        return Stream.concat(Stream.of(call.target(), call.body()), call.headers().stream().map(Call.Header::value))
                .anyMatch(text -> !Call.placeholders(text).isEmpty());
    }

    /** "12 calls kept; left out: 30 static files, 4 third parties". */
    public String summary() {
        String out = dropped.entrySet().stream().filter(entry -> entry.getValue() > 0)
                .map(entry -> entry.getValue() + " " + entry.getKey()).collect(Collectors.joining(", "));
        return kept.size() + (kept.size() == 1 ? " call kept" : " calls kept")
                + (out.isEmpty() ? "" : "; left out: " + out);
    }

    /** A place where calls that are otherwise the same differ, and what stands there. */
    private record Varying(String list, Set<String> values) {
    }

    /** The edits that add these calls to a study as a visit, with value lists for ids that vary. */
    public List<Edit> edits(Workload workload) {
        var edits = new ArrayList<Edit>();
        Set<String> listNames = workload.values().stream().map(ValueList::name)
                .collect(Collectors.toCollection(HashSet::new));
        Set<String> callNames = workload.calls().stream().map(Call::name)
                .collect(Collectors.toCollection(HashSet::new));
        Map<String, Varying> varying = varying(listNames);
        var calls = new ArrayList<Map<String, Object>>();
        Set<String> written = new HashSet<>();
        for (FoundCall call : kept) {
            String target = placeholders(call, varying);
            if (written.add(call.method() + " " + target + " " + call.body())) {
                calls.add(call(call, target, callNames));
            }
        }
        int lists = workload.values().size();
        for (Varying list : new LinkedHashSet<>(varying.values())) {
            Map<String, Object> item = new LinkedHashMap<>();
            item.put("name", list.list());
            item.put("kind", "pick");
            item.put("of", List.copyOf(list.values()));
            edits.add(new Edit.Insert("workload.values", lists++, item));
        }
        Map<String, Object> visit = new LinkedHashMap<>();
        visit.put("name", name);
        visit.put("share", 10);
        visit.put("calls", calls);
        edits.add(new Edit.Insert("workload.visits", workload.visits().size(), visit));
        return List.copyOf(edits);
    }

    private static String[] segments(String target) {
        return target.split("\\?", 2)[0].split("/", -1);
    }

    /** The target with its ids replaced by a mark: calls with the same shape ask for the same kind of thing. */
    private static String shape(FoundCall call) {
        String path = java.util.Arrays.stream(segments(call.target()))
                .map(segment -> ID.matcher(segment).matches() ? "\0" : segment).collect(Collectors.joining("/"));
        int question = call.target().indexOf('?');
        return call.method() + " " + path + (question < 0 ? "" : call.target().substring(question));
    }

    /** By shape: the value list for the id in it, where at least two calls of that shape have different ids. */
    private Map<String, Varying> varying(Set<String> listNames) {
        Map<String, Set<String>> ids = new LinkedHashMap<>();
        Map<String, String> stems = new LinkedHashMap<>();
        for (FoundCall call : kept) {
            String shape = shape(call);
            if (shape.indexOf('\0') < 0 || shape.indexOf('\0') != shape.lastIndexOf('\0')) {
                continue;
            }
            String[] segments = segments(call.target());
            for (int i = 1; i < segments.length; i++) {
                if (ID.matcher(segments[i]).matches()) {
                    ids.computeIfAbsent(shape, _ -> new LinkedHashSet<>()).add(segments[i]);
                    stems.put(shape, segments[i - 1].isEmpty() ? "id" : segments[i - 1]);
                }
            }
        }
        Map<String, Varying> varying = new LinkedHashMap<>();
        ids.forEach((shape, values) -> {
            if (values.size() > 1) {
                varying.put(shape, new Varying(unused(word(stems.getOrDefault(shape, "id")), listNames), values));
            }
        });
        return varying;
    }

    private static String placeholders(FoundCall call, Map<String, Varying> varying) {
        Varying list = varying.get(shape(call));
        if (list == null) {
            return call.target();
        }
        int question = call.target().indexOf('?');
        String path = java.util.Arrays.stream(segments(call.target()))
                .map(segment -> ID.matcher(segment).matches() ? "{{" + list.list() + "}}" : segment)
                .collect(Collectors.joining("/"));
        return path + (question < 0 ? "" : call.target().substring(question));
    }

    private static Map<String, Object> call(FoundCall found, String target, Set<String> names) {
        Map<String, Object> call = new LinkedHashMap<>();
        String stem = word(found.method().toLowerCase(Locale.ROOT) + "-"
                + target.replaceAll("\\{\\{.*?}}|\\?.*", "").replaceAll("/+", "-"));
        call.put("name", unused(stem, names));
        call.put("method", found.method());
        call.put("path", target);
        if (!found.headers().isEmpty()) {
            Map<String, String> headers = new LinkedHashMap<>();
            found.headers().forEach(header -> headers.merge(header.name(), header.value(), (a, b) -> a + ", " + b));
            call.put("headers", headers);
        }
        if (!found.body().isEmpty()) {
            call.put("body", found.body());
        }
        found.pause().filter(pause -> pause.compareTo(MIN_PAUSE) >= 0)
                .ifPresent(
                        pause -> call.put("thinkTime", Durations.write(Duration.ofMillis(pause.toMillis() / 10 * 10))));
        return call;
    }

    private static String word(String text) {
        String word = text.replaceAll("[^A-Za-z0-9_-]+", "-").replaceAll("-{2,}", "-").replaceAll("^-|-$", "");
        return word.isEmpty() ? "call" : word.substring(0, Math.min(50, word.length()));
    }

    private static String unused(String stem, Set<String> names) {
        String name = stem;
        for (int i = 2; !names.add(name); i++) {
            name = stem + "-" + i;
        }
        return name;
    }

    /** Headers that say something about what is asked; what belongs to a browser, a connection or a sign-in is left out. */
    static Optional<Call.Header> worthKeeping(String name, String value) {
        String lower = name.toLowerCase(Locale.ROOT);
        boolean noise = lower.startsWith(":") || lower.startsWith("sec-") || lower.startsWith("if-")
                || lower.startsWith("proxy-") || lower.startsWith("access-control-")
                || Set.of("host", "connection", "content-length", "accept-encoding", "user-agent", "referer", "origin",
                        "cache-control", "pragma", "dnt", "upgrade-insecure-requests", "te", "trailer",
                        "transfer-encoding", "keep-alive", "priority", "expect", "upgrade", "accept-language")
                        .contains(lower);
        return noise || Credentials.isHeader(lower) ? Optional.empty() : Optional.of(new Call.Header(name, value));
    }

    static String secretNote(String header) {
        return "the header " + header
                + " was not taken over, since it holds a secret: write it as a reference, such as "
                + header + ": \"{{env:NAME}}\"";
    }
}
