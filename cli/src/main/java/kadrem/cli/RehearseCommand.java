package kadrem.cli;

import java.io.IOException;
import java.io.PrintWriter;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.Callable;
import java.util.stream.Stream;

import kadrem.core.examine.Signatures;
import kadrem.core.rehearsal.Difference;
import kadrem.core.rehearsal.Rehearsal;
import kadrem.core.rehearsal.RehearsedCall;
import kadrem.core.rehearsal.UsualDifferences;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Written;
import kadrem.files.rehearsal.RehearsalFile;
import kadrem.files.study.StudyException;
import kadrem.files.study.StudyFile;
import kadrem.work.Acceptance;
import kadrem.work.NotDone;
import kadrem.work.Rehearse;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** {@code kadrem rehearse STUDY}. */
@Command(name = "rehearse", mixinStandardHelpOptions = true, description = "Makes every visit once with every candidate, without load, and compares their answers."
        + " Ends with 0 only where all calls are good and all answers agree.")
final class RehearseCommand implements Callable<Integer> {
    @Spec
    private CommandSpec spec;
    @Parameters(paramLabel = "STUDY", description = "folder of the study")
    private Path folder;
    @Option(names = "--accept-usual", description = "accept what implementations usually differ in, such as ETags and ids that they"
            + " draw themselves, each with the reason; the study keeps both")
    private boolean acceptUsual;
    @Option(names = "--format", paramLabel = "text|json", defaultValue = "text", description = "how to print")
    private Main.Format format;

    RehearseCommand() {
        spec = CommandSpec.create();
        folder = Path.of(".");
        format = Main.Format.text;
    }

    @Override
    public Integer call() throws StudyException, Main.BadInput, InterruptedException, IOException {
        PrintWriter out = spec.commandLine().getOut();
        PrintWriter err = spec.commandLine().getErr();
        StudyFile file = StudyFile.read(folder);
        file.warnings().forEach(warning -> err.println("note: " + warning));
        Rehearsal rehearsal = rehearsal(file, err);
        MeasuredStudy study = acceptUsual ? accepting(file, rehearsal, err) : Main.measured(file);
        if (format == Main.Format.json) {
            out.println(RehearsalFile.json(rehearsal, study.agreement()));
        } else {
            out.print(text(study, rehearsal));
        }
        out.flush();
        boolean up = rehearsal.candidates().stream().allMatch(one -> one.problem().isEmpty());
        return rehearsal.agrees(study.agreement()) ? 0 : up ? Main.DISAGREES : Main.RUN_FAILED;
    }

    /** Rehearses, and tells of each step. */
    static Rehearsal rehearsal(StudyFile file, PrintWriter err) throws Main.BadInput, InterruptedException {
        try {
            Rehearse.Rehearsed made = Rehearse.run(file, _ -> false,
                    (candidate, step) -> err.println(candidate.name() + ": " + step.words() + " …"));
            made.trouble().ifPresent(trouble -> err.println("note: " + trouble));
            return made.rehearsal();
        } catch (NotDone not) {
            throw Main.BadInput.of("Nothing was rehearsed", not.objection());
        }
    }

    /** The study with what is usual accepted, which is saved. */
    static MeasuredStudy accepting(StudyFile file, Rehearsal rehearsal, PrintWriter err)
            throws StudyException, Main.BadInput, IOException {
        MeasuredStudy study = Main.measured(file);
        Map<Difference, String> usual = UsualDifferences.among(rehearsal.open(study.agreement()), study.workload());
        if (usual.isEmpty()) {
            return study;
        }
        StudyFile changed = file.with(Acceptance.edits(study, usual));
        changed.save();
        usual.forEach((one, why) -> err.println("accepted: " + one.sentence() + ": " + why));
        return changed.measured();
    }

    static String text(MeasuredStudy study, Rehearsal rehearsal) {
        var text = new StringBuilder();
        var rows = new ArrayList<List<String>>();
        var head = new ArrayList<>(List.of("visit", "call"));
        rehearsal.candidates().forEach(one -> head.add(one.candidate()));
        rows.add(head);
        List<RehearsedCall> longest = rehearsal.candidates().stream().map(Rehearsal.OfCandidate::calls)
                .max(java.util.Comparator.comparingInt(List::size)).orElse(List.of());
        for (int i = 0; i < longest.size(); i++) {
            var row = new ArrayList<>(List.of(longest.get(i).visit().isEmpty() ? "(first)" : longest.get(i).visit(),
                    longest.get(i).call()));
            for (Rehearsal.OfCandidate one : rehearsal.candidates()) {
                row.add(i < one.calls().size() ? cell(one.calls().get(i)) : "-");
            }
            rows.add(row);
        }
        text.append(Texts.table(rows, Stream.generate(() -> false).limit(head.size()).toList()));
        for (Rehearsal.OfCandidate one : rehearsal.candidates()) {
            if (!one.problem().isEmpty()) {
                text.append('\n').append(one.candidate()).append(": ").append(one.problem()).append('\n');
            }
            one.calls().stream().filter(call -> !call.isGood()).forEach(call -> text.append('\n')
                    .append(one.candidate()).append(", ").append(call.call()).append(": ")
                    .append(call.failure().orElseThrow().id())
                    .append(call.detail().isEmpty() ? "" : ", " + call.detail()).append('\n'));
        }
        rehearsal.candidates().forEach(one -> study.candidate(one.candidate())
                .ifPresent(candidate -> Signatures.ofRehearsal(one, candidate).forEach(found -> text.append('\n')
                        .append(one.candidate()).append(": ").append(found.words()).append('\n'))));
        text.append('\n').append(agreement(study, rehearsal));
        return text.toString();
    }

    private static String cell(RehearsedCall call) {
        return call.statusWord() + "  " + Written.duration(call.timeline().total()) + "  "
                + Written.bytes(call.bytesIn()) + (call.isGood() ? "" : "  FAILED");
    }

    private static String agreement(MeasuredStudy study, Rehearsal rehearsal) {
        var text = new StringBuilder();
        List<Difference> open = rehearsal.open(study.agreement());
        int accepted = rehearsal.differences().size() - open.size();
        if (open.isEmpty()) {
            boolean all = rehearsal.candidates().stream().allMatch(Rehearsal.OfCandidate::isGood);
            text.append(all ? "All candidates answer alike." : "No difference among the answers that came.");
        } else {
            text.append(open.size()).append(open.size() == 1 ? " difference" : " differences")
                    .append(" that the study does not accept:\n");
            Map<Difference, String> usual = UsualDifferences.among(open, study.workload());
            open.forEach(difference -> {
                text.append("  ").append(difference.sentence()).append('\n');
                Optional.ofNullable(usual.get(difference)).ifPresent(why -> text.append("    usual: ").append(why)
                        .append('\n'));
            });
            text.append("Mend the candidates, or accept what does not matter: rehearsal.accepted in study.yaml.");
            if (!usual.isEmpty()) {
                text.append(usual.size() == 1 ? " One of them is" : " " + usual.size() + " of them are")
                        .append(" usual between implementations; --accept-usual accepts ")
                        .append(usual.size() == 1 ? "it" : "them").append(" with the reason.");
            }
        }
        return text.append(accepted == 0 ? "" : " " + accepted + " accepted.").append('\n').toString();
    }
}
