package kadrem.files.imports;

import java.time.Duration;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;

import kadrem.core.study.Access;
import kadrem.core.study.Call;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.SignIn;
import kadrem.core.study.Tls;
import kadrem.core.study.ValueList;
import kadrem.core.study.Wire;
import kadrem.core.study.Workload;
import kadrem.core.study.grammar.Durations;
import kadrem.files.study.Edit;
import kadrem.files.study.NewStudy;

/**
 * Calls ready to become a visit of a study; one file, since what is counted, shown and written must be the same calls.
 *
 * @param name of the visit
 * @param kept calls in order
 * @param dropped how many were left out, by reason
 * @param notes what the user should know
 * @param candidate fields of the candidate that were found with the calls, such as its TLS
 */
public record Imported(String name, List<FoundCall> kept, Map<String, Long> dropped, List<String> notes,
        Map<String, Object> candidate) {
    private static final Duration MIN_PAUSE = Duration.ofMillis(10);

    public Imported {
        kept = List.copyOf(kept);
        dropped = Collections.unmodifiableMap(new LinkedHashMap<>(dropped));
        notes = List.copyOf(notes);
        candidate = Collections.unmodifiableMap(new LinkedHashMap<>(candidate));
    }

    static Imported of(String name, List<FoundCall> found, Map<String, Long> dropped, List<String> notes) {
        return of(name, found, dropped, notes, Map.of());
    }

    /**
     * Calls as they were found. What was captured means itself: braces that would stand for values or secrets in a study are not taken
     * over; log-ins are recognised, and other credentials become references.
     */
    static Imported of(String name, List<FoundCall> found, Map<String, Long> dropped, List<String> notes,
            Map<String, Object> candidate) {
        Map<String, Long> out = new LinkedHashMap<>(dropped);
        long strange = found.stream().filter(Imported::hasPlaceholders).count();
        if (strange > 0) {
            out.put("with double braces, which would stand for values or secrets", strange);
        }
        Set<String> said = new LinkedHashSet<>(notes);
        List<FoundCall> kept = LogIns.linked(found.stream().filter(call -> !hasPlaceholders(call)).toList(), said)
                .stream().map(call -> References.inPlaceOfSecrets(call, said)).toList();
        return new Imported(name, kept, out, List.copyOf(said), candidate);
    }

    /** "POST /login": the call without what varies. */
    static String where(FoundCall call) {
        return call.method() + " " + call.target().split("\\?", 2)[0];
    }

    private static boolean hasPlaceholders(FoundCall call) {
        return Stream.of(Stream.of(call.target(), call.body()), call.headers().stream().map(Call.Header::value),
                call.parts().stream().map(FoundCall.Part::text)).flatMap(one -> one)
                .anyMatch(text -> !Call.placeholders(text).isEmpty());
    }

    /** "12 calls kept; left out: 30 static files, 4 third parties": what is kept is what becomes a call of the study. */
    public String summary() {
        int written = written().size();
        Map<String, Long> without = new LinkedHashMap<>(dropped);
        without.put("alike but for an id, for which a value list stands", (long) kept.size() - written);
        String out = without.entrySet().stream().filter(entry -> entry.getValue() > 0)
                .map(entry -> entry.getValue() + " " + entry.getKey()).collect(Collectors.joining(", "));
        return written + (written == 1 ? " call kept" : " calls kept") + (out.isEmpty() ? "" : "; left out: " + out);
    }

    /** The calls that are written into a study, as "GET /berths/{{berths}}". */
    public List<String> written() {
        return distinct(varying(new HashSet<>())).entrySet().stream()
                .map(one -> one.getKey().method() + " " + one.getValue()).toList();
    }

    /** A place where calls that are otherwise the same differ, and what stands there. */
    private record Varying(String list, Set<String> values) {
    }

    /** The calls that differ in more than an id, with their targets as a study has them. */
    private Map<FoundCall, String> distinct(Map<String, Varying> varying) {
        Map<FoundCall, String> distinct = new LinkedHashMap<>();
        Set<List<Object>> sent = new HashSet<>();
        for (FoundCall call : kept) {
            String target = placeholders(call, varying);
            if (sent.add(List.of(call.method(), target, call.body(), call.parts()))) {
                distinct.put(call, target);
            }
        }
        return distinct;
    }

    /** Where most of the calls went; empty where the source does not say. */
    public Optional<String> origin() {
        return kept.stream().map(FoundCall::origin).filter(origin -> !origin.isEmpty())
                .collect(Collectors.groupingBy(origin -> origin, LinkedHashMap::new, Collectors.counting()))
                .entrySet().stream().max(Map.Entry.comparingByValue())
                .map(most -> most.getKey().contains("://") ? most.getKey() : "http://" + most.getKey());
    }

    /**
     * The edits that add these calls to a study as a visit: the call and the address that a new study begins with go, and what was
     * found out about the candidate is written where the study does not say otherwise.
     */
    public List<Edit> edits(MeasuredStudy study) {
        var edits = new ArrayList<>(edits(study.workload()));
        if (NewStudy.isUntouched(study.workload())) {
            edits.add(new Edit.Remove("workload.visits", 0));
        }
        Optional<String> origin = origin();
        for (int i = 0; i < study.candidates().size(); i++) {
            String address = study.candidates().get(i).address().toString();
            boolean beginning = address.equals(NewStudy.ADDRESS);
            if (origin.isPresent() && (beginning || address.equals(origin.get()))) {
                Map<String, Optional<Object>> fields = new LinkedHashMap<>();
                if (beginning) {
                    fields.put("address", Optional.of(origin.get()));
                }
                Access access = study.candidates().get(i).access();
                candidate.forEach((name, value) -> {
                    if (!isSaid(name, access)) {
                        fields.put(name, Optional.of(value));
                    }
                });
                if (!fields.isEmpty()) {
                    edits.add(new Edit.Put("candidates[" + i + "]", fields));
                }
            }
        }
        return List.copyOf(edits);
    }

    private static boolean isSaid(String field, Access access) {
        return switch (field) {
            case "tls" -> !access.tls().equals(Tls.USUAL);
            case "wire" -> !access.wire().equals(Wire.USUAL);
            default -> !(access.signIn() instanceof SignIn.None);
        };
    }

    /** The edits that add these calls to a workload as a visit, with value lists for ids that vary. */
    public List<Edit> edits(Workload workload) {
        var edits = new ArrayList<Edit>();
        Set<String> listNames = workload.values().stream().map(ValueList::name)
                .collect(Collectors.toCollection(HashSet::new));
        Set<String> callNames = workload.calls().stream().map(Call::name)
                .collect(Collectors.toCollection(HashSet::new));
        Map<String, Varying> varying = varying(listNames);
        var calls = new ArrayList<Map<String, Object>>();
        Map<FoundCall, String> distinct = distinct(varying);
        // a visit has a call at least
        boolean onlyFirst = distinct.keySet().stream().allMatch(FoundCall::comesFirst);
        int first = workload.first().size();
        for (Map.Entry<FoundCall, String> found : distinct.entrySet()) {
            Map<String, Object> call = call(found.getKey(), found.getValue(), callNames);
            if (found.getKey().comesFirst() && !onlyFirst) {
                edits.add(new Edit.Insert("workload.first", first++, call));
            } else {
                calls.add(call);
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
        String path = Arrays.stream(segments(call.target()))
                .map(segment -> Naming.isId(segment) ? "\0" : segment).collect(Collectors.joining("/"));
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
                if (Naming.isId(segments[i])) {
                    ids.computeIfAbsent(shape, _ -> new LinkedHashSet<>()).add(segments[i]);
                    stems.put(shape, segments[i - 1].isEmpty() ? "id" : segments[i - 1]);
                }
            }
        }
        Map<String, Varying> varying = new LinkedHashMap<>();
        ids.forEach((shape, values) -> {
            if (values.size() > 1) {
                varying.put(shape,
                        new Varying(Naming.unused(Naming.word(stems.getOrDefault(shape, "id")), listNames), values));
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
        String path = Arrays.stream(segments(call.target()))
                .map(segment -> Naming.isId(segment) ? "{{" + list.list() + "}}" : segment)
                .collect(Collectors.joining("/"));
        return path + (question < 0 ? "" : call.target().substring(question));
    }

    private static Map<String, Object> call(FoundCall found, String target, Set<String> names) {
        Map<String, Object> call = new LinkedHashMap<>();
        call.put("name", Naming.unused(Naming.ofCall(found.method(), target), names));
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
        if (!found.parts().isEmpty()) {
            call.put("parts", found.parts().stream().map(Imported::part).toList());
        }
        if (!found.captures().isEmpty()) {
            Map<String, Object> captures = new LinkedHashMap<>();
            found.captures().forEach((name, path) -> captures.put(name, Map.of("json", path)));
            call.put("capture", captures);
        }
        found.timeout().ifPresent(time -> call.put("timeout", Durations.write(time)));
        found.pause().filter(pause -> pause.compareTo(MIN_PAUSE) >= 0)
                .ifPresent(
                        pause -> call.put("thinkTime", Durations.write(Duration.ofMillis(pause.toMillis() / 10 * 10))));
        return call;
    }

    private static Map<String, Object> part(FoundCall.Part found) {
        Map<String, Object> part = new LinkedHashMap<>();
        part.put("name", found.name());
        part.put("body", found.text());
        if (!found.kind().isEmpty()) {
            part.put("bodyType", found.kind());
        }
        return part;
    }

    /** Headers that say something about what is asked; what belongs to a browser or a connection is left out. */
    static Optional<Call.Header> worthKeeping(String name, String value) {
        String lower = name.toLowerCase(Locale.ROOT);
        boolean noise = lower.startsWith(":") || lower.startsWith("sec-") || lower.startsWith("if-")
                || lower.startsWith("proxy-") || lower.startsWith("access-control-")
                || Set.of("host", "connection", "content-length", "accept-encoding", "user-agent", "referer", "origin",
                        "cache-control", "pragma", "dnt", "upgrade-insecure-requests", "te", "trailer",
                        "transfer-encoding", "keep-alive", "priority", "expect", "upgrade", "accept-language")
                        .contains(lower);
        return noise ? Optional.empty() : Optional.of(new Call.Header(name, value));
    }
}
