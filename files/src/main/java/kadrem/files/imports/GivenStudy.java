package kadrem.files.imports;

import java.io.IOException;
import java.net.URI;
import java.net.URISyntaxException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

import kadrem.core.study.MeasuredStudy;
import kadrem.files.study.Edit;
import kadrem.files.study.NewStudy;
import kadrem.files.study.StudyException;
import kadrem.files.study.StudyFile;

/**
 * A study that is made of what somebody has who must choose: addresses, or commands of curl, one for each candidate. Each host that is
 * asked is a candidate; hosts that are asked for the same below different paths, such as {@code /v1} and {@code /v2}, are told apart by those.
 */
public final class GivenStudy {
    private static final int MAX_CANDIDATES = 26;

    /** A candidate: where it answers, and what it is asked below that. */
    private record Asked(String origin, String base, List<FoundCall> calls, Map<String, Object> fields) {
        String address() {
            return origin + base;
        }
    }

    private GivenStudy() {
    }

    /**
     * Writes the study into {@code folder}, which is made where it is not there.
     *
     * @param given texts with addresses of HTTP, each in a line of its own, or curl commands
     * @return what the user should know
     * @throws ImportException if something that is given cannot be read; nothing is written then
     * @throws IOException if the folder holds a study already, or cannot be written
     */
    public static List<String> create(Path folder, String name, List<String> given)
            throws ImportException, IOException, StudyException {
        Set<String> notes = new LinkedHashSet<>();
        List<Asked> asked = asked(given, notes);
        NewStudy.create(folder, name);
        try {
            StudyFile file = StudyFile.read(folder);
            file.with(edits(file.measured(), asked, notes)).save();
        } catch (StudyException | IOException cause) {
            Files.deleteIfExists(folder.resolve(StudyFile.NAME));
            throw cause;
        }
        return List.copyOf(notes);
    }

    /** Whether a word of a command line is an address or a curl command. */
    public static boolean isGiven(String word) {
        return word.strip().matches("(?is)(https?://\\S+|curl\\s.+)");
    }

    private static List<Asked> asked(List<String> given, Set<String> notes) throws ImportException {
        List<Asked> each = new ArrayList<>();
        for (Imported imported : imported(given)) {
            notes.addAll(imported.notes());
            Map<String, List<FoundCall>> byOrigin = new LinkedHashMap<>();
            imported.kept().forEach(call -> byOrigin.computeIfAbsent(call.origin(), _ -> new ArrayList<>()).add(call));
            byOrigin.forEach((origin, calls) -> each.add(new Asked(origin, "", calls, imported.candidate())));
        }
        List<Asked> apart = apart(each);
        if (apart.size() > MAX_CANDIDATES) {
            throw new ImportException("That is " + apart.size() + " candidates; give " + MAX_CANDIDATES + " at most.");
        }
        return apart;
    }

    /** A line that is an address is one; the rest is commands. */
    private static List<Imported> imported(List<String> given) throws ImportException {
        var imported = new ArrayList<Imported>();
        for (String text : given) {
            var rest = new StringBuilder();
            for (String line : text.lines().toList()) {
                if (line.strip().toLowerCase(Locale.ROOT).matches("https?://\\S+")) {
                    imported.add(ofAddress(line.strip()));
                } else {
                    rest.append(line).append('\n');
                }
            }
            if (!rest.toString().isBlank()) {
                imported.add(ofCommand(rest.toString()));
            }
        }
        if (imported.isEmpty()) {
            throw new ImportException(
                    "Nothing is given. Write an address a line, such as http://127.0.0.1:8080/berths/7");
        }
        return imported;
    }

    private static Imported ofCommand(String text) throws ImportException {
        if (Importing.guess(text) != Importing.Kind.COMMAND) {
            throw new ImportException("\"" + text.strip() + "\" is neither an address of HTTP nor a curl command. Write"
                    + " http://127.0.0.1:8080/berths/7, or begin with curl.");
        }
        return CommandImport.read(text);
    }

    private static Imported ofAddress(String text) throws ImportException {
        try {
            var uri = new URI(text);
            if (uri.getHost() == null) {
                throw new ImportException(
                        "\"" + text + "\" names no host. Write it like http://127.0.0.1:8080/berths/7");
            }
            String path = uri.getRawPath() == null || uri.getRawPath().isEmpty() ? "/" : uri.getRawPath();
            var call = new FoundCall("GET", uri.getScheme().toLowerCase(Locale.ROOT) + "://" + uri.getRawAuthority(),
                    path + (uri.getRawQuery() == null ? "" : "?" + uri.getRawQuery()), List.of(), "", Optional.empty());
            return Imported.of("visit 1", List.of(call), Map.of(), List.of());
        } catch (URISyntaxException cause) {
            throw new ImportException("\"" + text + "\" is no address: " + cause.getReason()
                    + ". Write what may not stand in one percent-encoded (RFC 3986).");
        }
    }

    /** Those of one host are one candidate, unless they ask for the same thing below different paths. */
    private static List<Asked> apart(List<Asked> each) {
        boolean oneEach = each.stream().allMatch(one -> one.calls().size() == 1);
        String common = oneEach ? commonEnd(each.stream().map(one -> path(one.calls().getFirst())).toList()) : "";
        Map<String, Asked> apart = new LinkedHashMap<>();
        for (Asked one : each) {
            String path = path(one.calls().getFirst());
            boolean below = oneEach && !common.isEmpty() && path.length() > common.length();
            String base = below ? path.substring(0, path.length() - common.length()) : "";
            List<FoundCall> calls = one.calls().stream()
                    .map(call -> call.with(call.target().substring(base.length()), call.headers(), call.body()))
                    .toList();
            apart.merge(one.origin() + base, new Asked(one.origin(), base, calls, one.fields()), GivenStudy::both);
        }
        return List.copyOf(apart.values());
    }

    private static Asked both(Asked one, Asked other) {
        var calls = new ArrayList<>(one.calls());
        other.calls().stream().filter(call -> calls.stream().noneMatch(call::sends)).forEach(calls::add);
        Map<String, Object> fields = new LinkedHashMap<>(other.fields());
        fields.putAll(one.fields());
        return new Asked(one.origin(), one.base(), calls, fields);
    }

    private static String path(FoundCall call) {
        return call.target().split("\\?", 2)[0];
    }

    /** The segments that all paths end with; empty where they end with different ones. */
    private static String commonEnd(List<String> paths) {
        String[] first = paths.getFirst().split("/", -1);
        String common = "";
        for (int i = first.length - 1; i > 0; i--) {
            String longer = "/" + first[i] + common;
            if (!paths.stream().allMatch(path -> path.endsWith(longer))) {
                return common;
            }
            common = longer;
        }
        return common;
    }

    private static List<Edit> edits(MeasuredStudy study, List<Asked> asked, Set<String> notes) {
        Asked first = asked.getFirst();
        var imported = new Imported("visit 1", first.calls(), Map.of(), List.of(), Map.of());
        var edits = new ArrayList<Edit>();
        for (int i = 0; i < asked.size(); i++) {
            Asked one = asked.get(i);
            Map<String, Object> candidate = new LinkedHashMap<>();
            candidate.put("id", String.valueOf((char) ('a' + i)));
            candidate.put("name", one.address().replaceFirst("^https?://", ""));
            candidate.put("address", one.address());
            one.calls().stream().filter(call -> call.method().equals("GET")).findFirst()
                    .ifPresent(call -> candidate.put("ready", call.target()));
            candidate.putAll(one.fields());
            if (i == 0) {
                Map<String, Optional<Object>> changes = new LinkedHashMap<>();
                candidate.forEach((field, value) -> changes.put(field, Optional.of(value)));
                edits.add(new Edit.Put("candidates[0]", changes));
            } else {
                edits.add(new Edit.Insert("candidates", i, candidate));
            }
            if (!one.calls().stream().map(Imported::where).toList()
                    .equals(first.calls().stream().map(Imported::where).toList())) {
                notes.add(one.address() + " was to be asked for something else ("
                        + one.calls().stream().map(Imported::where).reduce((a, b) -> a + ", " + b).orElse("")
                        + "): all candidates are asked for what " + first.address() + " is asked for");
            }
        }
        edits.addAll(imported.edits(study.workload()));
        edits.add(new Edit.Remove("workload.visits", 0));
        return edits;
    }
}
