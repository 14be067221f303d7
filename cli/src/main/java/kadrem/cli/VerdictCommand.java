package kadrem.cli;

import java.io.IOException;
import java.io.PrintWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.concurrent.Callable;
import java.util.stream.Stream;

import kadrem.core.measure.Standing;
import kadrem.core.study.Study;
import kadrem.core.verdict.RequirementResult;
import kadrem.core.verdict.SittingTable;
import kadrem.core.verdict.Verdict;
import kadrem.files.AtomicFile;
import kadrem.files.compare.ComparisonJson;
import kadrem.files.compare.Results;
import kadrem.files.report.TestReport;
import kadrem.files.study.StudyException;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** {@code kadrem verdict STUDY}. */
@Command(name = "verdict", mixinStandardHelpOptions = true, description = "Says which candidate to choose, as far as it was shown,"
        + " and what was not. With all figures: kadrem compare STUDY --format json. Ends with 0 where a candidate is recommended or"
        + " either will do, with 6 where every one misses a requirement, with 7 where it is not settled, with 8 where no run is sound.")
final class VerdictCommand implements Callable<Integer> {
    @Spec
    private CommandSpec spec;
    @Parameters(paramLabel = "STUDY", description = "folder of the study")
    private Path folder;

    @Option(names = "--format", paramLabel = "text|json", defaultValue = "text", description = "how to print")
    private Main.Format format;
    @Option(names = "--junit", paramLabel = "FILE", description = "also write a test report that build servers read: a case for each"
            + " requirement and each comparison that decides")
    private Optional<Path> junit;

    VerdictCommand() {
        spec = CommandSpec.create();
        folder = Path.of(".");
        format = Main.Format.text;
        junit = Optional.empty();
    }

    @Override
    public Integer call() throws StudyException, IOException {
        PrintWriter out = spec.commandLine().getOut();
        Results results = StudyResults.read(folder, spec.commandLine().getErr());
        Verdict verdict = results.verdict();
        if (junit.isPresent()) {
            AtomicFile.write(junit.get().toAbsolutePath(),
                    TestReport.of(verdict, Instant.now()).getBytes(StandardCharsets.UTF_8));
        }
        print(verdict, format == Main.Format.json, out);
        out.flush();
        return exitCode(results);
    }

    static int exitCode(Results results) {
        return switch (results.verdict().kind()) {
            case RECOMMENDED, EITHER -> 0;
            case NONE_MEETS -> Main.MISSED;
            case OPEN -> Main.NOT_SETTLED;
            case NOTHING -> results.runs().stream().anyMatch(run -> run.standing() instanceof Standing.Disturbed)
                    ? Main.UNSOUND
                    : Main.NOT_SETTLED;
        };
    }

    static void print(Verdict verdict, boolean asJson, PrintWriter out) {
        if (asJson) {
            out.println(ComparisonJson.write(verdict));
        } else {
            print(verdict, out);
        }
    }

    private static void print(Verdict verdict, PrintWriter out) {
        Study study = verdict.comparison().study();
        out.println(study.question().text());
        out.println();
        out.println(verdict.paragraph());
        SittingTable sittings = SittingTable.of(verdict.comparison());
        if (sittings.hasSeveral()) {
            out.println();
            var rows = new ArrayList<List<String>>();
            rows.add(Stream.concat(Stream.of("change by sitting"), sittings.sittings().stream()).toList());
            sittings.rows().forEach(
                    row -> rows.add(Stream.concat(Stream.of(row.words()), row.cells().stream()).toList()));
            out.print(Texts.table(rows, Collections.nCopies(rows.getFirst().size(), false)));
        }
        if (!verdict.requirements().isEmpty()) {
            out.println();
            var rows = new ArrayList<List<String>>();
            rows.add(List.of("requirement", "candidate", "answer"));
            verdict.requirements().forEach(one -> rows
                    .add(List.of(RequirementResult.words(one.requirement()), one.candidate(), one.sentenceWithNext())));
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
    }

    private static String percent(double share) {
        return String.format(Locale.ROOT, "%.1f %%", share * 100);
    }
}
