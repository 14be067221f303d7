package kadrem.files.imports;

import java.io.IOException;
import java.net.URI;
import java.net.URISyntaxException;
import java.nio.file.FileSystemNotFoundException;
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
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;

import kadrem.core.study.MeasuredStudy;
import kadrem.files.study.Edit;
import kadrem.files.study.NewStudy;
import kadrem.files.study.StudyException;
import kadrem.files.study.StudyFile;

/**
 * A study that is made of what somebody has who must choose; one file, since what is given together is told apart together. Addresses,
 * with the command that launches what answers there or without, and commands of curl, one for each candidate: each host that is asked is a
 * candidate; hosts that are asked for the same below different paths, such as {@code /v1} and {@code /v2}, are told apart by those. A file,
 * such as a capture or a description, says what is asked; where addresses stand beside it, they are the candidates. Strings with which
 * programs connect to databases, stores and services of gRPC are candidates, too; of gRPC .proto files may stand beside them.
 */
public final class GivenStudy {
    private static final int MAX_CANDIDATES = 26;
    private static final Pattern ADDRESS = Pattern.compile("(https?://\\S+)(?:\\s+launched by\\s+(\\S.*))?",
            Pattern.CASE_INSENSITIVE);

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
     * @param given texts with addresses of HTTP and names of files, each in a line of its own, or curl commands
     * @return what the user should know
     * @throws ImportException if something that is given cannot be read; nothing is written then
     * @throws IOException if the folder holds a study already, or cannot be written
     */
    public static List<String> create(Path folder, String name, List<String> given)
            throws ImportException, IOException, StudyException {
        Set<String> notes = new LinkedHashSet<>();
        Making making = making(given, notes);
        NewStudy.create(folder, name);
        try {
            making.files().copyTo(folder);
            write(folder, making);
        } catch (StudyException | IOException cause) {
            Files.deleteIfExists(folder.resolve(StudyFile.NAME));
            throw cause;
        }
        return List.copyOf(notes);
    }

    private static void write(Path folder, Making making) throws StudyException, IOException {
        try {
            StudyFile file = StudyFile.read(folder);
            file.with(making.edits().of(file.measured())).save();
        } catch (StudyException | IOException cause) {
            making.files().removeFrom(folder);
            throw cause;
        }
    }

    /** What is to be written into a new study, and which files go into its folder. */
    private record Making(Edits edits, ProtoFiles files) {
    }

    private interface Edits {
        List<Edit> of(MeasuredStudy study);
    }

    private static Making making(List<String> given, Set<String> notes) throws ImportException {
        List<String> lines = given.stream().flatMap(String::lines).map(String::strip)
                .filter(line -> !line.isEmpty()).toList();
        List<Path> protos = lines.stream().map(GivenStudy::file).flatMap(Optional::stream)
                .filter(ProtoFiles::isOne).toList();
        List<String> strings = lines.stream().filter(ConnectionStrings::isOne).toList();
        if (strings.isEmpty() && protos.isEmpty()) {
            List<Asked> asked = asked(given, notes);
            return new Making(study -> edits(study, asked, notes), ProtoFiles.NONE);
        }
        Optional<String> beside = lines.stream()
                .filter(line -> !ConnectionStrings.isOne(line) && file(line).filter(ProtoFiles::isOne).isEmpty())
                .findFirst();
        if (beside.isPresent()) {
            throw new ImportException((protos.isEmpty() ? "Connection strings stand" : "A .proto file stands")
                    + " beside something else (" + beside.get() + "). "
                    + (protos.isEmpty()
                            ? "Give them alone, and add what else there is to the study then."
                            : "Beside it belong addresses of servers of gRPC, such as grpc://127.0.0.1:50051."));
        }
        Optional<String> other = strings.stream().filter(one -> !ConnectionStrings.isGrpc(one)).findFirst();
        if (!protos.isEmpty() && other.isPresent()) {
            throw new ImportException(
                    "A .proto file describes services of gRPC, and " + ConnectionStrings.shown(other.get())
                            + " is none. Write its address like grpc://127.0.0.1:50051.");
        }
        bound(strings.size());
        if (strings.isEmpty()) {
            notes.add(
                    "the .proto file does not say where its services answer; Candidates has the address to be filled in");
        }
        ProtoFiles files = ProtoFiles.of(protos);
        List<Edit> edits = ConnectionStrings.edits(
                strings.isEmpty() ? List.of(ConnectionStrings.UNNAMED_SERVER) : strings, files.named(), notes);
        return new Making(_ -> edits, files);
    }

    private static void bound(int candidates) throws ImportException {
        if (candidates > MAX_CANDIDATES) {
            throw new ImportException("That is " + candidates + " candidates; give " + MAX_CANDIDATES + " at most.");
        }
    }

    /** Whether a word of a command line is an address, a connection string or a curl command. */
    public static boolean isGiven(String word) {
        return ConnectionStrings.isOne(word) || ADDRESS.matcher(word.strip()).matches()
                || word.strip().matches("(?is)curl\\s.+");
    }

    private static List<Asked> asked(List<String> given, Set<String> notes) throws ImportException {
        List<Asked> each = new ArrayList<>();
        Sources sources = sources(given);
        for (Imported imported : sources.candidates()) {
            notes.addAll(imported.notes());
            Map<String, List<FoundCall>> byOrigin = new LinkedHashMap<>();
            imported.kept().forEach(call -> byOrigin.computeIfAbsent(call.origin(), _ -> new ArrayList<>()).add(call));
            byOrigin.forEach((origin, calls) -> each.add(new Asked(origin, "", calls, imported.candidate())));
        }
        List<Asked> apart = sources.files().isEmpty() ? apart(each) : ofFiles(sources.files(), each, notes);
        bound(apart.size());
        return apart;
    }

    /**
     * What is asked in files, of whoever it may be.
     *
     * @param beside addresses that stand beside them; where there are none, candidates are the hosts that the files name
     */
    private static List<Asked> ofFiles(List<Imported> files, List<Asked> beside, Set<String> notes)
            throws ImportException {
        var calls = new ArrayList<FoundCall>();
        var origins = new LinkedHashSet<String>();
        for (Imported file : files) {
            notes.addAll(file.notes());
            calls.addAll(file.kept());
            file.origin().ifPresent(origins::add);
        }
        if (calls.isEmpty()) {
            throw new ImportException("The files hold no call: "
                    + files.stream().map(Imported::summary).collect(Collectors.joining("; ")) + ".");
        }
        if (!beside.isEmpty()) {
            return beside.stream()
                    .map(one -> new Asked(one.origin(), path(one.calls().getFirst()).replaceAll("/+$", ""),
                            calls, one.fields()))
                    .toList();
        }
        if (origins.isEmpty()) {
            notes.add("the file does not say where it is asked; Candidates has the address to be filled in");
            origins.add(NewStudy.ADDRESS);
        }
        return origins.stream().map(origin -> new Asked(origin, "", calls, files.getFirst().candidate())).toList();
    }

    /** What was given: candidates by their addresses or commands, and files. */
    private record Sources(List<Imported> candidates, List<Imported> files) {
    }

    /** A line that is an address is one, and one that names a file; the rest is commands. */
    private static Sources sources(List<String> given) throws ImportException {
        var imported = new ArrayList<Imported>();
        var files = new ArrayList<Imported>();
        for (String text : given) {
            var rest = new StringBuilder();
            for (String line : text.lines().toList()) {
                Matcher address = ADDRESS.matcher(line.strip());
                Optional<Path> file = file(line.strip());
                if (address.matches()) {
                    imported.add(ofAddress(address.group(1), Optional.ofNullable(address.group(2))));
                } else if (file.isPresent()) {
                    files.add(Importing.file(Importing.guess(file.get()), file.get(), Set.of(), false, _ -> {
                    }));
                } else {
                    rest.append(line).append('\n');
                }
            }
            if (!rest.toString().isBlank()) {
                imported.add(ofCommand(rest.toString()));
            }
        }
        if (imported.isEmpty() && files.isEmpty()) {
            throw new ImportException(
                    "Nothing is given. Write an address a line, such as http://127.0.0.1:8080/berths/7");
        }
        return new Sources(imported, files);
    }

    /** The file that a line names, where that looks like a log, which says when it is asked, too. */
    public static Optional<Path> log(String line) throws ImportException {
        Optional<Path> file = file(line.strip());
        return file.isPresent() && Importing.guess(file.get()) == Importing.Kind.LOG ? file : Optional.empty();
    }

    private static Optional<Path> file(String line) {
        try {
            Path path = line.startsWith("file:")
                    ? Path.of(URI.create(line))
                    : Path.of(line.replaceAll("^[\"']|[\"']$", ""));
            return line.isEmpty() || !Files.isRegularFile(path) ? Optional.empty() : Optional.of(path);
        } catch (IllegalArgumentException | FileSystemNotFoundException _) {
            return Optional.empty();
        }
    }

    private static Imported ofCommand(String text) throws ImportException {
        if (Importing.guess(text) != Importing.Kind.COMMAND) {
            throw new ImportException("\"" + text.strip()
                    + "\" is neither an address of HTTP nor a curl command, nor is there"
                    + " such a file. Write http://127.0.0.1:8080/berths/7, with \"launched by\" and a command after it where it"
                    + " does not run yet, or begin with curl.");
        }
        return CommandImport.read(text);
    }

    /** @param launch the command that launches what answers there, where it does not run yet */
    private static Imported ofAddress(String text, Optional<String> launch) throws ImportException {
        try {
            var uri = new URI(text);
            if (uri.getHost() == null) {
                throw new ImportException(
                        "\"" + text + "\" names no host. Write it like http://127.0.0.1:8080/berths/7");
            }
            String path = uri.getRawPath() == null || uri.getRawPath().isEmpty() ? "/" : uri.getRawPath();
            var call = new FoundCall("GET", uri.getScheme().toLowerCase(Locale.ROOT) + "://" + uri.getRawAuthority(),
                    path + (uri.getRawQuery() == null ? "" : "?" + uri.getRawQuery()), List.of(), "", Optional.empty());
            return Imported.of("visit 1", List.of(call), Map.of(), List.of(),
                    launch.isEmpty() ? Map.of() : Map.of("launch", launch(launch.get())));
        } catch (URISyntaxException cause) {
            throw new ImportException("\"" + text + "\" is no address: " + cause.getReason()
                    + ". Write what may not stand in one percent-encoded (RFC 3986).");
        }
    }

    /** Where the user is now is where the command works. */
    private static Map<String, Object> launch(String command) throws ImportException {
        List<ShellWords.Command> commands = ShellWords.commands(command);
        if (commands.size() != 1) {
            throw new ImportException("\"" + command + "\" is not one command. Put what takes several into a script.");
        }
        return Map.of("command", commands.getFirst().words(), "folder", Path.of("").toAbsolutePath().toString());
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
