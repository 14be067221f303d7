package kadrem.cli;

import java.io.PrintWriter;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.concurrent.Callable;

import kadrem.core.measure.WatchReading;
import kadrem.core.study.Candidate;
import kadrem.core.study.Written;
import kadrem.files.study.StudyException;
import kadrem.files.study.StudyFile;
import kadrem.load.drive.Secrets;
import kadrem.load.host.HostSources;
import kadrem.load.host.SourceTrial;
import kadrem.load.host.Watching;
import kadrem.load.host.remote.HostKeys;
import kadrem.work.Objection;
import kadrem.work.Preflight;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** {@code kadrem watch STUDY}. */
@Command(name = "watch", mixinStandardHelpOptions = true, description = "Tries what a study would have watched while its runs go on, and prints what each source tells now. Nothing is launched"
        + " and no load is sent.")
final class WatchCommand implements Callable<Integer> {
    @Spec
    private CommandSpec spec;
    @Parameters(paramLabel = "STUDY", description = "folder of the study")
    private Path folder;
    @Option(names = "--candidate", paramLabel = "ID", description = "only this candidate's sources")
    private Optional<String> only;

    WatchCommand() {
        spec = CommandSpec.create();
        folder = Path.of(".");
        only = Optional.empty();
    }

    @Override
    public Integer call() throws StudyException, Main.BadInput, InterruptedException {
        PrintWriter out = spec.commandLine().getOut();
        StudyFile file = StudyFile.read(folder);
        Optional<Objection> objection = Preflight.toAsking(file);
        if (objection.isPresent()) {
            throw Main.BadInput.of("Nothing was asked", objection.get());
        }
        List<Candidate> candidates = file.study().candidates().stream()
                .filter(one -> only.isEmpty() || one.id().equals(only.get())).toList();
        if (candidates.isEmpty()) {
            throw new Main.BadInput("There is no candidate " + only.orElse("") + " in this study.");
        }
        var sources = new HostSources(file.folder(), Secrets.ofProcess(file.folder()), HostKeys.ofUser(),
                OptionalLong::empty);
        boolean silent = false;
        for (Candidate candidate : candidates) {
            out.println(candidate.id());
            for (Watching.Source source : sources.of(candidate)) {
                boolean launched = source.where().startsWith("the launched");
                SourceTrial trial = launched ? null : SourceTrial.of(source);
                out.println("  " + source.name() + " (" + source.kind() + ", " + source.where() + ")");
                if (trial == null) {
                    out.println("    is told of while a run goes on");
                } else if (trial.trouble().isPresent()) {
                    silent = true;
                    out.println("    tells nothing: " + trial.trouble().get());
                } else {
                    print(out, trial);
                }
            }
        }
        out.flush();
        return silent ? Main.RUN_FAILED : 0;
    }

    private static void print(PrintWriter out, SourceTrial trial) {
        var rows = new ArrayList<List<String>>(List.of(List.of("    series", "")));
        for (WatchReading.Value value : trial.values()) {
            rows.add(List.of("    " + value.series().name(), Written.quantity(value.value(), value.series().unit())));
        }
        out.print(Texts.table(rows, List.of(false, true)));
        out.println("    read in " + Written.duration(trial.took().toNanos()) + trial.clock()
                .map(clock -> String.format(Locale.ROOT, "; its clock is %.3f s %s, give or take %.3f s",
                        Math.abs(clock.seconds()), clock.seconds() >= 0 ? "ahead" : "behind", clock.error()))
                .orElse(""));
    }
}
