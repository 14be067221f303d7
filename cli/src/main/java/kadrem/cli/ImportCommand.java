package kadrem.cli;

import java.io.IOException;
import java.io.PrintWriter;
import java.nio.file.Path;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.Callable;

import kadrem.core.study.Candidate;
import kadrem.core.study.Workload;
import kadrem.core.study.Written;
import kadrem.files.export.StudyZip;
import kadrem.files.imports.ImportException;
import kadrem.files.imports.Imported;
import kadrem.files.imports.Importing;
import kadrem.files.imports.log.AccessLog;
import kadrem.files.imports.log.LogChoice;
import kadrem.files.study.StudyException;
import kadrem.files.study.StudyFile;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** {@code kadrem import FILE --into STUDY}. */
@Command(name = "import", mixinStandardHelpOptions = true, sortOptions = false, description = "Adds the calls of a file to a study as a visit: a capture (HTTP Archive 1.2), a curl command"
        + " line, a request text, or an OpenAPI 3 description. A log (common or combined format, JSON lines, CSV with a header,"
        + " or instants, plain or gzip) becomes the timeline of its load. An archive from kadrem export becomes the study itself.")
final class ImportCommand implements Callable<Integer> {
    @Spec
    private CommandSpec spec;
    @Parameters(paramLabel = "FILE", description = "what to import")
    private Path file;
    @Option(names = "--into", required = true, paramLabel = "STUDY", description = "folder of the study")
    private Path folder;
    @Option(names = "--as", paramLabel = "KIND", description = "capture, command, request, description or log (default: by the file's look)")
    private Optional<String> kind;
    @Option(names = "--host", paramLabel = "HOST", description = "of a capture, a host whose calls are wanted; may be repeated (default: the busiest)")
    private List<String> hosts;
    @Option(names = "--static", description = "keep style sheets, scripts, pictures and fonts")
    private boolean keepStatic;
    @Option(names = "--field", paramLabel = "TOLD=NAME", description = "of a log in JSON lines or CSV, the field that tells the time, path, method or status (default: by how values look)")
    private Map<String, String> fields;
    @Option(names = "--method", paramLabel = "METHOD", description = "of a log, a method whose lines are taken; may be repeated (default: GET and HEAD)")
    private List<String> methods;
    @Option(names = "--failed", description = "of a log, take lines that were answered 4xx or 5xx, too")
    private boolean failed;
    @Option(names = "--keep", paramLabel = "NAME", description = "of a log, a parameter, or the part of the path before it, whose values are taken although they may tell of people; may be repeated")
    private List<String> keep;
    @Option(names = "--preview", description = "only tell what would be added")
    private boolean preview;

    ImportCommand() {
        spec = CommandSpec.create();
        file = Path.of("");
        folder = Path.of("");
        kind = Optional.empty();
        hosts = List.of();
        fields = Map.of();
        methods = List.of();
        keep = List.of();
    }

    @Override
    public Integer call() throws StudyException, Main.BadInput, IOException {
        PrintWriter out = spec.commandLine().getOut();
        if (kind.isEmpty() && StudyZip.isOne(file)) {
            try {
                StudyZip.unpack(file, folder);
            } catch (IOException cause) {
                throw new Main.BadInput("The study was not unpacked: " + cause.getMessage() + ".");
            }
            out.println("Unpacked " + StudyFile.read(folder).study().name() + " into " + folder + ".");
            return 0;
        }
        StudyFile study = StudyFile.read(folder);
        Imported imported;
        try {
            if (kind() == Importing.Kind.LOG) {
                return log(study, out);
            }
            imported = Importing.file(kind(), file, Set.copyOf(new LinkedHashSet<>(hosts)), keepStatic, _ -> {
            });
        } catch (ImportException cause) {
            throw new Main.BadInput(String.valueOf(cause.getMessage()));
        }
        out.println(imported.summary());
        imported.notes().forEach(note -> out.println("note: " + note));
        Workload before = Main.measured(study).workload();
        StudyFile changed = study.with(imported.edits(Main.measured(study)));
        Workload after = changed.measured().workload();
        after.visits().getLast().calls().forEach(call -> out.println("  " + call.method() + " " + call.path()));
        after.values().stream().skip(before.values().size())
                .forEach(list -> out.println("  value list {{" + list.name() + "}}: " + list.size() + " values"));
        List<Candidate> candidates = Main.measured(study).candidates();
        for (int i = 0; i < candidates.size(); i++) {
            Candidate now = changed.measured().candidates().get(i);
            if (!now.equals(candidates.get(i))) {
                out.println("  candidate " + now.id() + ": " + now.address() + (imported.candidate().isEmpty()
                        ? ""
                        : ", with its " + String.join(", ", imported.candidate().keySet())));
            }
        }
        if (preview) {
            out.println("Nothing was changed.");
        } else {
            changed.save();
            out.println("Added as the visit \"" + imported.name() + "\" to " + folder + ".");
        }
        return 0;
    }

    /** A log becomes calls and the timeline of the load. */
    private int log(StudyFile study, PrintWriter out)
            throws ImportException, StudyException, IOException, Main.BadInput {
        var choice = new LogChoice(fields,
                methods.isEmpty() ? LogChoice.USUAL.methods() : Set.copyOf(new LinkedHashSet<>(methods)), failed,
                Set.copyOf(new LinkedHashSet<>(keep)), LogChoice.USUAL.most());
        AccessLog log = AccessLog.read(file, Main.measured(study), choice, _ -> {
        });
        out.println(log.summary() + ".");
        log.notes().forEach(note -> out.println("note: " + note));
        log.calls().forEach(call -> out.println("  " + call));
        log.lists().forEach(list -> out.println("  value list " + list));
        if (preview) {
            out.println("Nothing was changed.");
            return 0;
        }
        AccessLog.Made written = log.write(folder, _ -> {
        });
        try {
            StudyFile changed = study.with(written.edits());
            changed.save();
            out.println("Its load is " + changed.measured().load().timeline().orElseThrow().arrivals()
                    + " arrivals over " + Written.time(changed.measured().load().measured()) + ", from "
                    + changed.measured().load().timeline().orElseThrow().file() + " in " + folder + ".");
            return 0;
        } catch (StudyException | IOException cause) {
            AccessLog.discard(written.files());
            throw cause;
        }
    }

    private Importing.Kind kind() throws Main.BadInput, ImportException {
        if (kind.isEmpty()) {
            return Importing.guess(file);
        }
        for (Importing.Kind one : Importing.Kind.values()) {
            if (one.id().equals(kind.get())) {
                return one;
            }
        }
        throw new Main.BadInput("\"" + kind.get() + "\" is no kind of import. Use capture, command, request,"
                + " description or log.");
    }
}
