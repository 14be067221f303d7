package kadrem.work;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

import kadrem.core.study.Candidate;
import kadrem.core.study.MeasuredStudy;
import kadrem.files.imports.GivenStudy;
import kadrem.files.imports.ImportException;
import kadrem.files.imports.log.AccessLog;
import kadrem.files.imports.log.LogChoice;
import kadrem.files.study.NewStudy;
import kadrem.files.study.Edit;
import kadrem.files.study.StudyException;
import kadrem.files.study.StudyFile;
import kadrem.load.campaign.Control;
import kadrem.load.drive.Offer;
import kadrem.load.gate.Consent;

/**
 * Makes a study of what somebody has who must choose. Where candidates of gRPC stand in it, by their addresses or by .proto files, it has
 * a call for each method that takes one message.
 */
public final class MakeStudy {
    private static final String GRPC = "grpc";
    private static final String METHOD = "method";
    private static final String MESSAGE = "message";
    private static final int MAX_CALLS = 40;
    private static final String CALLS = "workload.visits[0].calls";

    private MakeStudy() {
    }

    /**
     * Writes the study into {@code folder}, which is made where it is not there. It is the user's own, and waits for no further word.
     *
     * @param given texts with addresses, commands and names of files, as {@link GivenStudy} takes them
     * @return what the user should know, in clauses
     * @throws ImportException if something that is given cannot be read; nothing is written then
     * @throws IOException if the folder holds a study already, or cannot be written
     */
    public static List<String> of(Path folder, String name, List<String> given)
            throws ImportException, IOException, StudyException {
        var logs = new ArrayList<Path>();
        var others = new ArrayList<String>();
        for (String line : given.stream().flatMap(String::lines).filter(one -> !one.isBlank()).toList()) {
            Optional<Path> log = GivenStudy.log(line);
            log.ifPresentOrElse(logs::add, () -> others.add(line));
        }
        if (logs.size() > 1) {
            throw new ImportException("Two logs are given. Give one, and import the other into the study then.");
        }
        var notes = new ArrayList<String>();
        if (logs.isEmpty()) {
            notes.addAll(GivenStudy.create(folder, name, given));
        } else {
            notes.addAll(ofLog(folder, name, others, logs.getFirst()));
        }
        Consent.ofUser().own(folder);
        StudyFile file = StudyFile.read(folder);
        MeasuredStudy study = file.measured();
        if (study.candidates().stream().anyMatch(one -> one.address().protocol().equals(GRPC))) {
            notes.addAll(callsOfGrpc(file, study));
        }
        return List.copyOf(notes);
    }

    /** What is asked, and when, stands in a log; of whom, in the addresses beside it. */
    private static List<String> ofLog(Path folder, String name, List<String> others, Path log)
            throws ImportException, IOException, StudyException {
        var notes = new ArrayList<String>();
        if (others.isEmpty()) {
            NewStudy.create(folder, name);
            notes.add("the log does not say where it is asked; Candidates has the address to be filled in");
        } else {
            notes.addAll(GivenStudy.create(folder, name, List.of(String.join("\n", others))));
        }
        var written = new ArrayList<Path>();
        try {
            StudyFile file = StudyFile.read(folder);
            AccessLog read = AccessLog.read(log, file.measured(), LogChoice.USUAL, _ -> {
            });
            AccessLog.Made made = read.write(folder, _ -> {
            });
            written.addAll(made.files());
            var edits = new ArrayList<>(made.edits());
            // what the addresses ask by themselves gives way, where the log says what is asked
            if (!read.calls().isEmpty() && !NewStudy.isUntouched(file.measured().workload())) {
                file.measured().workload().visits().forEach(_ -> edits.add(new Edit.Remove("workload.visits", 0)));
            }
            file.with(edits).save();
            notes.add(read.summary());
            notes.addAll(read.notes());
            return notes;
        } catch (ImportException | StudyException | IOException cause) {
            AccessLog.discard(written);
            Files.deleteIfExists(folder.resolve(StudyFile.NAME));
            throw cause;
        }
    }

    private static List<String> callsOfGrpc(StudyFile file, MeasuredStudy study) throws IOException, StudyException {
        var control = Control.ofUser(file.folder(), study.workload());
        List<Offer> methods = List.of();
        var why = new ArrayList<String>();
        for (Candidate one : study.candidates()) {
            List<Offer> offered = methods.isEmpty() ? control.offers(one, METHOD) : List.of();
            if (!offered.isEmpty()) {
                methods = offered.stream().filter(method -> method.beside().containsKey(MESSAGE))
                        .filter(method -> !method.text().startsWith("grpc.")).toList();
            } else if (methods.isEmpty()) {
                why.add(one.address() + " does not tell its methods" + control.why(one));
            }
        }
        if (methods.isEmpty()) {
            why.add("each candidate is asked for its health (grpc.health.v1.Health/Check); give a .proto file beside the"
                    + " addresses, or write what your service asks into Workload");
            return why;
        }
        var edits = new ArrayList<Edit>();
        Set<String> taken = new HashSet<>();
        for (Offer method : methods.subList(0, Math.min(MAX_CALLS, methods.size()))) {
            Map<String, Object> call = new LinkedHashMap<>();
            call.put("name", name(method.text(), taken));
            call.put(GRPC, Map.of(METHOD, method.text(), MESSAGE, method.beside().get(MESSAGE)));
            edits.add(new Edit.Insert(CALLS, edits.size() + 1, call));
        }
        edits.add(new Edit.Remove(CALLS, 0));
        file.with(edits).save();
        var notes = new ArrayList<String>();
        notes.add(
                "each method that takes one message became a call, with a message in which nothing is said; write into"
                        + " Workload what your service expects, and take out what is not to be asked");
        if (methods.size() > MAX_CALLS) {
            notes.add(methods.size() - MAX_CALLS + " more methods were left out");
        }
        return notes;
    }

    /** "GetBerth" of harbour.BerthBoard/GetBerth becomes get-berth, and with its service in front where two services have one. */
    private static String name(String method, Set<String> taken) {
        String[] parts = method.split("/", 2);
        String service = parts[0].substring(parts[0].lastIndexOf('.') + 1);
        String name = words(parts[parts.length - 1]);
        if (taken.add(name)) {
            return name;
        }
        String longer = words(service) + "-" + name;
        String free = longer;
        for (int i = 2; !taken.add(free); i++) {
            free = longer + "-" + i;
        }
        return free;
    }

    private static String words(String camel) {
        return camel.replaceAll("(?<=[a-z0-9])(?=[A-Z])", "-").toLowerCase(Locale.ROOT).replaceAll("[^a-z0-9-]+", "-");
    }
}
