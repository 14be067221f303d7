package kadrem.cli;

import java.io.IOException;
import java.io.PrintWriter;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.concurrent.Callable;

import kadrem.core.study.Metric;
import kadrem.core.study.Scale;
import kadrem.core.study.Written;
import kadrem.core.verdict.Comparison;
import kadrem.core.verdict.PairComparison;
import kadrem.core.verdict.ValueComparison;
import kadrem.core.verdict.Wording;
import kadrem.files.compare.ComparisonJson;
import kadrem.files.compare.Results;
import kadrem.files.compare.ValueFiles;
import kadrem.files.imports.GivenStudy;
import kadrem.files.study.StudyException;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** {@code kadrem compare STUDY}, or of figures measured elsewhere {@code kadrem compare FILE.csv --baseline A}. */
@Command(name = "compare", resourceBundle = "kadrem.cli.FieldWords", mixinStandardHelpOptions = true, description = "Compares the candidates over the rounds measured so far;"
        + " or what answers at addresses, which it asks once, finds a load for, measures and judges;"
        + " or figures that were measured elsewhere, in CSV files with the columns candidate,round,value (an empty round means"
        + " unpaired) or in HdrHistogram logs named CANDIDATE-ROUND.hlog.")
final class CompareCommand implements Callable<Integer> {
    @Spec
    private CommandSpec spec;
    @Parameters(paramLabel = "STUDY|URL|FILE", arity = "1..*", description = "folder of the study; addresses such as"
            + " http://127.0.0.1:8081/berths/7, or curl commands, each in quotes; or files with figures")
    private List<String> given;
    @Option(names = "--format", paramLabel = "text|json", defaultValue = "text", description = "how to print")
    private Main.Format format;
    @Option(names = "--baseline", paramLabel = "CANDIDATE", description = "of files: the candidate that the others are compared with"
            + " (the first if not given)")
    private Optional<String> baseline;
    @Option(names = "--figure", paramLabel = "p50|p95|p99|mean", description = "of files with single latencies: the figure by which"
            + " runs are compared")
    private Optional<String> figure;
    @Option(names = "--margin", paramLabel = "SHARE", defaultValue = "0.05", converter = FieldOption.Margin.class, description = "of files: the"
            + " smallest difference that matters (default ${DEFAULT-VALUE})")
    private double margin;
    @Option(names = "--significance", paramLabel = "SHARE", defaultValue = "0.05", converter = FieldOption.Significance.class, description = "of files:"
            + " ${bundle:question.significance} (default ${DEFAULT-VALUE})")
    private double significance;
    @Option(names = "--higher-is-better", description = "of files: higher values are better")
    private boolean higherIsBetter;

    @Option(names = "--for", paramLabel = "TIME", converter = FieldOption.Measured.class, description = "of addresses: ${bundle:load.measured} of each run (found if not given)")
    private Optional<Duration> measured;
    @Option(names = "--rounds", paramLabel = "N", converter = FieldOption.Rounds.class, description = "of addresses: ${bundle:plan.rounds} (as many as settle a difference of 10 %% if not given)")
    private Optional<Integer> rounds;
    @Option(names = "--keep", paramLabel = "FOLDER", description = "of addresses: leave the study with its runs in this folder")
    private Optional<Path> keep;

    CompareCommand() {
        spec = CommandSpec.create();
        given = List.of();
        measured = Optional.empty();
        rounds = Optional.empty();
        keep = Optional.empty();
        format = Main.Format.text;
        baseline = Optional.empty();
        figure = Optional.empty();
    }

    @Override
    public Integer call() throws StudyException, Main.BadInput, IOException, InterruptedException {
        PrintWriter out = spec.commandLine().getOut();
        PrintWriter err = spec.commandLine().getErr();
        if (given.stream().anyMatch(GivenStudy::isGiven)) {
            return new ComparingGiven(given,
                    new ComparingGiven.Wanted(measured, rounds, keep, format == Main.Format.json), out, err).run();
        }
        if (measured.isPresent() || rounds.isPresent() || keep.isPresent()) {
            throw new Main.BadInput(
                    "--for, --rounds and --keep belong to addresses. A study is measured by kadrem measure.");
        }
        List<Path> paths = given.stream().map(Path::of).toList();
        if (paths.stream().allMatch(ValueFiles::isOne)) {
            return compareFiles(paths);
        }
        if (paths.size() > 1) {
            throw new Main.BadInput("Give one study, or files that end in .csv or .hlog.");
        }
        Results compared = StudyResults.read(paths.getFirst(), err);
        Comparison comparison = compared.verdict().comparison();
        if (format == Main.Format.json) {
            out.println(ComparisonJson.write(compared));
        } else {
            out.print(text(comparison));
        }
        out.flush();
        return 0;
    }

    private int compareFiles(List<Path> paths) throws Main.BadInput {
        Optional<Metric> by = figure.flatMap(Metric::byId);
        if (figure.isPresent() && by.filter(Comparison.OF_CALLS::contains).isEmpty()) {
            throw new Main.BadInput("--figure is \"" + figure.get() + "\". Use p50, p95, p99 or mean.");
        }
        PrintWriter out = spec.commandLine().getOut();
        ValueComparison comparison;
        try {
            List<ValueComparison.Value> values = ValueFiles.read(paths, by);
            comparison = ValueComparison.of(values, new ValueComparison.Asked(
                    baseline.orElse(values.isEmpty() ? "" : values.getFirst().candidate()), margin, significance,
                    higherIsBetter));
        } catch (ValueFiles.Unusable | IllegalArgumentException cause) {
            throw new Main.BadInput("These figures cannot be compared: " + cause.getMessage());
        }
        out.print(format == Main.Format.json
                ? ComparisonJson.write(comparison) + System.lineSeparator()
                : text(comparison));
        out.flush();
        return 0;
    }

    private static String text(ValueComparison comparison) {
        var rows = new ArrayList<List<String>>();
        rows.add(List.of("candidate", "baseline", "runs", "change", "interval", "conf.", "p", "adj. p", "outcome"));
        // shares and times are worded by their scale alone
        Metric wording = comparison.scale() == Scale.RATIO ? Metric.MEAN : Metric.ERROR_SHARE;
        for (ValueComparison.Pair pair : comparison.pairs()) {
            rows.add(List.of(pair.candidate(), pair.baseline(),
                    pair.paired()
                            ? pair.values().getFirst().size() + " paired"
                            : pair.values().getLast().size() + " and " + pair.values().getFirst().size(),
                    comparison.scale() == Scale.RATIO
                            ? Wording.change(wording, pair.estimate())
                            : Written.significant(pair.estimate()),
                    pair.interval().map(i -> comparison.scale() == Scale.RATIO
                            ? Wording.interval(wording, i)
                            : Written.significant(i.low()) + " to " + Written.significant(i.high()))
                            .orElse("too few runs"),
                    pair.interval().map(i -> Written.share(i.achievedConfidence()))
                            .orElse("-"),
                    probability(pair.p()), probability(pair.adjustedP()), pair.outcome().words()));
        }
        boolean unpaired = comparison.pairs().stream().anyMatch(pair -> !pair.paired());
        return Texts.table(rows, List.of(false, false, false, true, false, true, true, true, false))
                + "\nchange, interval: candidate against baseline. p is the exact "
                + (unpaired
                        ? "Mann-Whitney p of unpaired values, which need more runs than paired ones"
                        : "signed-rank p")
                + "; adj. p is times the statements that share the significance.\n";
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
                    "\nchange, interval: candidate against baseline. p is that of the pair's own test (exact signed-rank, unless the plan is adaptive or there are three sittings); adj. p is times the statements that share the significance,"
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
                            .map(interval -> Written.share(interval.achievedConfidence()))
                            .orElse("-"),
                    probability(pair.p()), probability(pair.adjustedP()), pair.words()));
        }
        return Texts.table(rows, List.of(false, false, false, true, true, false, true, true, true, false));
    }

    private static String probability(double p) {
        return p < 0.0001 ? "<0.0001" : String.format(Locale.ROOT, "%.4f", p);
    }
}
