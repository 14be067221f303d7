package kadrem.cli;

import java.io.PrintWriter;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.concurrent.Callable;

import kadrem.core.study.Metric;
import kadrem.core.verdict.Comparison;
import kadrem.core.verdict.PairComparison;
import kadrem.core.verdict.Wording;
import kadrem.files.compare.ComparisonJson;
import kadrem.files.run.RunFolders;
import kadrem.files.study.StudyException;
import kadrem.files.study.StudyFile;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** {@code kadrem compare STUDY}. */
@Command(name = "compare", mixinStandardHelpOptions = true, description = "Compares the candidates over the rounds measured so far.")
final class CompareCommand implements Callable<Integer> {
    @Spec
    private CommandSpec spec;
    @Parameters(paramLabel = "STUDY", description = "folder of the study")
    private Path folder;
    @Option(names = "--format", paramLabel = "text|json", defaultValue = "text", description = "how to print")
    private Main.Format format;

    CompareCommand() {
        spec = CommandSpec.create();
        folder = Path.of(".");
        format = Main.Format.text;
    }

    @Override
    public Integer call() throws StudyException {
        PrintWriter out = spec.commandLine().getOut();
        PrintWriter err = spec.commandLine().getErr();
        StudyFile file = StudyFile.read(folder);
        file.warnings().forEach(warning -> err.println("note: " + warning));
        RunFolders.Found found = new RunFolders(file.folder()).find();
        found.unreadable().forEach(sentence -> err.println("note: " + sentence));
        Comparison comparison = Comparison.of(file.study(), found.runs());
        if (format == Main.Format.json) {
            out.println(ComparisonJson.write(comparison));
        } else {
            out.print(text(comparison));
        }
        out.flush();
        return 0;
    }

    private static String text(Comparison comparison) {
        var text = new StringBuilder();
        text.append(comparison.study().name()).append(": ").append(comparison.study().question().text()).append("\n")
                .append(Wording.standing(comparison)).append("\n\n");
        if (comparison.pairs().isEmpty()) {
            text.append("There are no two candidates with a complete and sound run in the same round.\n"
                    + "Measure first: kadrem measure STUDY\n");
        } else {
            text.append(table(comparison));
            text.append(
                    "\nchange, interval: candidate against baseline. p is the exact signed-rank p; adj. p is Holm's,"
                            + "\nover all pairs and deciding metrics (*), or over the pairs of a metric that does not decide.\n");
        }
        if (!comparison.judgedOtherwise().isEmpty()) {
            text.append("\nJudged otherwise than usual:\n");
            comparison.judgedOtherwise().forEach(sentence -> text.append("  ").append(sentence).append("\n"));
        }
        if (!comparison.leftOut().isEmpty()) {
            text.append("\nLeft out:\n");
            comparison.leftOut().forEach(run -> text.append("  ").append(run.sentence()).append("\n"));
        }
        return text.toString();
    }

    private static String table(Comparison comparison) {
        var rows = new ArrayList<List<String>>();
        rows.add(List.of("metric", "candidate", "baseline", "rounds", "change", "interval", "conf.", "p", "adj. p",
                "outcome"));
        for (PairComparison pair : comparison.pairs()) {
            Metric metric = pair.metric();
            rows.add(List.of(metric.id() + (pair.deciding() ? " *" : ""), pair.candidate(), pair.baseline(),
                    Integer.toString(pair.rounds()), Wording.change(metric, pair.estimate()),
                    pair.interval().map(interval -> Wording.interval(metric, interval)).orElse("too few rounds"),
                    pair.interval()
                            .map(interval -> String.format(Locale.ROOT, "%.1f %%", interval.achievedConfidence() * 100))
                            .orElse("-"),
                    probability(pair.p()), probability(pair.adjustedP()), pair.outcome().words()));
        }
        return Texts.table(rows, List.of(false, false, false, true, true, false, true, true, true, false));
    }

    private static String probability(double p) {
        return p < 0.0001 ? "<0.0001" : String.format(Locale.ROOT, "%.4f", p);
    }
}
