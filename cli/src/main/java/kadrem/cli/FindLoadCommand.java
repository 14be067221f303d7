package kadrem.cli;

import java.io.IOException;
import java.io.PrintWriter;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Callable;

import kadrem.core.proposal.Probe;
import kadrem.core.study.Written;
import kadrem.files.study.StudyException;
import kadrem.files.study.StudyFile;
import kadrem.work.FindLoad;
import kadrem.work.NotDone;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** {@code kadrem find-load STUDY}. */
@Command(name = "find-load", mixinStandardHelpOptions = true, description = "Asks every candidate gently for a few seconds, by 1, 2, 4 and 8 users, and"
        + " proposes a load that the slowest bears with ease and a plan that settles a difference of the margin.")
final class FindLoadCommand implements Callable<Integer> {
    @Spec
    private CommandSpec spec;
    @Parameters(paramLabel = "STUDY", description = "folder of the study")
    private Path folder;
    @Option(names = "--accept", description = "write the proposed load and plan into the study")
    private boolean accept;

    FindLoadCommand() {
        spec = CommandSpec.create();
        folder = Path.of(".");
    }

    @Override
    public Integer call() throws StudyException, Main.BadInput, InterruptedException, IOException {
        PrintWriter out = spec.commandLine().getOut();
        PrintWriter err = spec.commandLine().getErr();
        StudyFile file = StudyFile.read(folder);
        file.warnings().forEach(warning -> err.println("note: " + warning));
        FindLoad.Found found = find(file, err);
        out.print(text(found));
        found.proposed().ifPresent(proposed -> {
            out.println();
            proposed.reasons().forEach(out::println);
        });
        found.troubles().forEach(err::println);
        if (found.proposed().isEmpty()) {
            return Main.RUN_FAILED;
        }
        if (accept) {
            file.with(FindLoad.edits(found.proposed().get())).save();
            out.println("The study has this load and plan now.");
        } else {
            out.println("With --accept the study takes them.");
        }
        return 0;
    }

    /** Probes, and tells of each step. */
    static FindLoad.Found find(StudyFile file, PrintWriter err) throws Main.BadInput, InterruptedException {
        try {
            return FindLoad.run(file, _ -> false,
                    (candidate, step) -> err.println(candidate.name() + ": " + step.words() + " …"));
        } catch (NotDone not) {
            throw Main.BadInput.of("No candidate was asked", not.objection());
        }
    }

    private static String text(FindLoad.Found found) {
        var rows = new ArrayList<List<String>>();
        rows.add(List.of("candidate", "users", "calls/s", "p50", "failed"));
        for (Probe probe : found.probes()) {
            probe.steps().forEach(step -> rows.add(List.of(probe.candidate(), Integer.toString(step.users()),
                    Written.significant(step.callsPerSecond()),
                    step.callsPerSecond() > 0 ? Written.duration(step.p50Nanos()) : "-",
                    Written.significant(step.errorShare() * 100) + " %")));
        }
        return Texts.table(rows, List.of(false, true, true, true, true));
    }
}
