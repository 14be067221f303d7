package kadrem.cli;

import java.io.IOException;
import java.io.PrintWriter;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Callable;

import kadrem.core.study.Candidate;
import kadrem.core.study.Study;
import kadrem.core.verdict.NoiseFloor;
import kadrem.core.verdict.Wording;
import kadrem.files.run.RunFolders;
import kadrem.files.study.StudyException;
import kadrem.files.study.StudyFile;
import kadrem.work.Ended;
import kadrem.work.Order;
import kadrem.work.Rounds;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** {@code kadrem floor STUDY}. */
@Command(name = "floor", mixinStandardHelpOptions = true, description = "Measures a candidate against itself and tells"
        + " how much differs without a difference. The runs are kept in the study's folder noise-floor.")
final class FloorCommand implements Callable<Integer> {
    @Spec
    private CommandSpec spec;
    @Parameters(paramLabel = "STUDY", description = "folder of the study")
    private Path folder;
    @Option(names = "--candidate", paramLabel = "ID", description = "the candidate (the baseline if not given)")
    private Optional<String> candidate;
    @Mixin
    private SelfCheckOption selfCheck;
    @Option(names = "--rounds", paramLabel = "N", defaultValue = "6", description = "rounds that there should be, at least "
            + Order.MIN_FLOOR_ROUNDS + " (default ${DEFAULT-VALUE}); 0 only tells what was measured")
    private int rounds;

    FloorCommand() {
        spec = CommandSpec.create();
        selfCheck = new SelfCheckOption();
        folder = Path.of(".");
        candidate = Optional.empty();
    }

    @Override
    public Integer call() throws StudyException, Main.BadInput, IOException {
        PrintWriter out = spec.commandLine().getOut();
        StudyFile file = StudyFile.read(folder);
        Study study = file.study();
        String id = candidate.orElse(study.question().baseline());
        if (study.candidate(id).isEmpty()) {
            throw new Main.BadInput("\"" + id + "\" is not a candidate of the study. Use one of: "
                    + String.join(", ", study.candidates().stream().map(Candidate::id).toList()) + ".");
        }
        if (rounds != 0 && rounds < Order.MIN_FLOOR_ROUNDS) {
            throw new Main.BadInput(
                    "--rounds must be at least " + Order.MIN_FLOOR_ROUNDS + ": fewer give no interval.");
        }
        String follows = "";
        int code = 0;
        if (rounds > 0) {
            Ended ended = new Measuring(out, spec.commandLine().getErr(), selfCheck)
                    .run(new Order.Floor(file, id, new Rounds.UpTo(rounds)));
            follows = ended.follows();
            code = Measuring.exitCode(ended);
        }
        Optional<NoiseFloor> floor = NoiseFloor.of(study, RunFolders.ofNoiseFloor(file.folder()).runs());
        if (floor.isPresent()) {
            print(out, study, floor.get());
        } else {
            out.println(follows.isEmpty() ? "No noise floor yet." : follows);
        }
        out.flush();
        return code;
    }

    private static void print(PrintWriter out, Study study, NoiseFloor floor) {
        out.println();
        out.println("Noise floor: " + study.candidate(floor.candidate()).orElseThrow().name()
                + " against itself over " + floor.rounds() + " rounds");
        var rows = new ArrayList<List<String>>();
        rows.add(List.of("metric", "floor", "interval"));
        floor.floors().forEach(one -> rows.add(List.of(one.metric().id(), one.metric().scale().words(one.size()),
                Wording.interval(one.metric(), one.interval()))));
        out.print(Texts.table(rows, List.of(false, true, false)));
        floor.marginsBelow(study.question()).forEach(out::println);
    }
}
