package kadrem.cli;

import java.io.PrintWriter;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.concurrent.Callable;

import kadrem.core.study.Study;
import kadrem.core.verdict.RequirementResult;
import kadrem.core.verdict.Verdict;
import kadrem.files.study.StudyException;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** {@code kadrem verdict STUDY}. */
@Command(name = "verdict", mixinStandardHelpOptions = true, description = "Says which candidate to choose, as far as it was shown,"
        + " and what was not. With all figures: kadrem compare STUDY --format json.")
final class VerdictCommand implements Callable<Integer> {
    @Spec
    private CommandSpec spec;
    @Parameters(paramLabel = "STUDY", description = "folder of the study")
    private Path folder;

    VerdictCommand() {
        spec = CommandSpec.create();
        folder = Path.of(".");
    }

    @Override
    public Integer call() throws StudyException {
        PrintWriter out = spec.commandLine().getOut();
        Verdict verdict = StudyResults.read(folder, spec.commandLine().getErr()).verdict();
        Study study = verdict.comparison().study();
        out.println(study.question().text());
        out.println();
        out.println(verdict.paragraph());
        if (!verdict.requirements().isEmpty()) {
            out.println();
            var rows = new ArrayList<List<String>>();
            rows.add(List.of("requirement", "candidate", "answer"));
            verdict.requirements().forEach(one -> rows
                    .add(List.of(RequirementResult.words(one.requirement()), one.candidate(), one.sentence())));
            out.print(Texts.table(rows, List.of(false, false, false)));
        }
        if (!verdict.ranking().isEmpty()) {
            out.println();
            var rows = new ArrayList<List<String>>();
            rows.add(List.of("candidate", "worth", "first in resamples", "first of all weights", "unbeaten"));
            verdict.ranking().forEach(place -> rows.add(List.of(place.candidate(),
                    String.format(Locale.ROOT, "%.3f", place.worth()), percent(place.shareOfResamples()),
                    percent(place.shareOfWeights()), place.unbeaten() ? "yes" : "")));
            out.print(Texts.table(rows, List.of(false, true, true, true, false)));
        }
        if (!verdict.notShown().isEmpty()) {
            out.println();
            out.println("Not shown:");
            verdict.notShown().forEach(sentence -> out.println("  " + sentence));
        }
        out.flush();
        return 0;
    }

    private static String percent(double share) {
        return String.format(Locale.ROOT, "%.1f %%", share * 100);
    }
}
