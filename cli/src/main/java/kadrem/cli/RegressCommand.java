package kadrem.cli;

import java.io.IOException;
import java.io.PrintWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.concurrent.Callable;

import kadrem.core.study.Written;
import kadrem.core.study.Candidate;
import kadrem.core.study.Question;
import kadrem.core.study.Study;
import kadrem.core.verdict.Comparison;
import kadrem.core.verdict.History;
import kadrem.core.verdict.Outcome;
import kadrem.core.verdict.PairComparison;
import kadrem.core.verdict.Regression;
import kadrem.core.verdict.RequirementResult;
import kadrem.core.verdict.ValueComparison;
import kadrem.core.verdict.Verdict;
import kadrem.core.verdict.Wording;
import kadrem.files.AtomicFile;
import kadrem.files.history.HistoryFile;
import kadrem.files.report.TestReport;
import kadrem.files.run.RunFolders;
import kadrem.files.study.StudyException;
import kadrem.files.study.StudyFile;
import kadrem.work.Ended;
import kadrem.work.Order;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.ArgGroup;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** {@code kadrem regress STUDY}. */
@Command(name = "regress", mixinStandardHelpOptions = true, sortOptions = false, description = "Measures two versions of a candidate beside"
        + " each other, round by round, and says whether the later one is worse: two git commits, or two launch commands."
        + " Or compares the candidate's runs with an earlier version in the study's history, unpaired. Ends with 0 where nothing is"
        + " settled worse, with 9 where a deciding metric is, with 6 where a requirement is missed, with 7 where too few rounds are"
        + " sound to settle anything, with 8 where none is.")
final class RegressCommand implements Callable<Integer> {
    @Spec
    private CommandSpec spec;
    @Parameters(paramLabel = "STUDY", description = "folder of the study")
    private Path folder;
    @Option(names = "--candidate", paramLabel = "ID", description = "which candidate (the baseline if not given)")
    private Optional<String> candidate;
    @ArgGroup(multiplicity = "1")
    private Versions versions;
    @Option(names = "--repository", paramLabel = "FOLDER", description = "where git has the commits (the folder in which the candidate is launched, if"
            + " not given)")
    private Optional<Path> repository;
    @Option(names = "--build", paramLabel = "COMMAND", description = "shell command that builds a commit, run in the top folder of its"
            + " files")
    private Optional<String> build;
    @Mixin
    private SelfCheckOption selfCheck;
    @Option(names = "--rounds", paramLabel = "N", description = "rounds (those of the study's plan if not given)")
    private Optional<Integer> rounds;
    @Option(names = "--junit", paramLabel = "FILE", description = "also write a test report that build servers read")
    private Optional<Path> junit;
    @Option(names = "--no-history", description = "do not add the versions to the study's history")
    private boolean noHistory;

    /** What is held against what. */
    static final class Versions {
        @ArgGroup(exclusive = false)
        private @Nullable Commits commits;
        @ArgGroup(exclusive = false)
        private @Nullable Commands commands;
        @ArgGroup(exclusive = false)
        private @Nullable Earlier earlier;
    }

    /** A version in the history. */
    static final class Earlier {
        @Option(names = "--against", required = true, paramLabel = "VERSION", description = "an earlier version in the study's history, with"
                + " which the study's own runs of the candidate are compared; \"last\" for the latest")
        private String against = "";
        @Option(names = "--again", description = "if that finds it worse, measure that version's commit and HEAD beside each other, and let"
                + " them decide")
        private boolean again;
    }

    /** Two commits. */
    static final class Commits {
        @Option(names = "--before", required = true, paramLabel = "COMMIT", description = "the earlier commit")
        private String before = "";
        @Option(names = "--after", required = true, paramLabel = "COMMIT", description = "the later commit")
        private String after = "";
    }

    /** Two launch commands. */
    static final class Commands {
        @Option(names = "--before-command", required = true, paramLabel = "COMMAND", description = "launches the earlier version in place"
                + " of the study's command")
        private String before = "";
        @Option(names = "--after-command", required = true, paramLabel = "COMMAND", description = "launches the later version")
        private String after = "";
    }

    RegressCommand() {
        spec = CommandSpec.create();
        selfCheck = new SelfCheckOption();
        folder = Path.of(".");
        candidate = Optional.empty();
        versions = new Versions();
        repository = Optional.empty();
        build = Optional.empty();
        rounds = Optional.empty();
        junit = Optional.empty();
    }

    @Override
    public Integer call() throws StudyException, Main.BadInput, IOException, InterruptedException {
        StudyFile file = StudyFile.read(folder);
        file.warnings().forEach(warning -> spec.commandLine().getErr().println("note: " + warning));
        Study study = file.study();
        String id = candidate.orElse(study.question().baseline());
        Candidate one = study.candidate(id).orElseThrow(() -> new Main.BadInput("\"" + id
                + "\" is not a candidate of the study. Use one of: "
                + String.join(", ", study.candidates().stream().map(Candidate::id).toList()) + "."));
        if (study.question().deciders().isEmpty()) {
            throw new Main.BadInput("No metric decides in this study, so that nothing could be worse. Add one to"
                    + " question.decide.");
        }
        if (versions.earlier != null) {
            return earlier(file, one, versions.earlier);
        }
        if (versions.commits != null) {
            return measure(file, one, commits(versions.commits.before, versions.commits.after));
        }
        Commands commands = Objects.requireNonNull(versions.commands, "one of the three is given");
        return measure(file, one, new Order.Commands(commands.before, commands.after));
    }

    private Order.Commits commits(String earlier, String later) {
        return new Order.Commits(earlier, later, repository, build);
    }

    private int measure(StudyFile file, Candidate one, Order.Pair pair) throws Main.BadInput, IOException {
        long begun = System.nanoTime();
        Ended ended = new Measuring(spec.commandLine().getOut(), spec.commandLine().getErr(), selfCheck)
                .run(new Order.Versions(file, one.id(), pair, rounds, !noHistory));
        int code = Measuring.exitCode(ended);
        if (code != 0) {
            return code;
        }
        Study study = ended.target().study();
        Comparison comparison = Comparison.of(study, ended.target().store().runs());
        Verdict verdict = Verdict.of(comparison, Optional.empty(), study.plan().seed());
        print(verdict, comparison.inOrder().size() + " runs that count in " + study.plan().rounds() + " rounds, "
                + Written.time(Duration.ofNanos(System.nanoTime() - begun)));
        if (junit.isPresent()) {
            AtomicFile.write(junit.get().toAbsolutePath(),
                    TestReport.ofRegression(verdict, Instant.now()).getBytes(StandardCharsets.UTF_8));
        }
        boolean any = comparison.pairs().stream().anyMatch(PairComparison::deciding);
        return any ? exitCode(verdict) : Main.UNSOUND;
    }

    private static int exitCode(Verdict verdict) {
        // so few rounds that nothing could have been settled
        boolean blind = verdict.comparison().pairs().stream().filter(PairComparison::deciding)
                .anyMatch(pair -> pair.interval().isEmpty());
        boolean missed = verdict.requirements().stream().anyMatch(one -> one.candidate().equals(Regression.AFTER)
                && one.answer() == RequirementResult.Answer.MISSED);
        return Regression.isWorse(verdict.comparison())
                ? Main.WORSE
                : missed ? Main.MISSED : blind ? Main.NOT_SETTLED : 0;
    }

    private void print(Verdict verdict, String effort) {
        PrintWriter out = spec.commandLine().getOut();
        Study study = verdict.comparison().study();
        out.println();
        out.println(study.question().text());
        Regression.findings(verdict.comparison()).forEach(finding -> out.println("  " + finding));
        verdict.requirements().stream().filter(one -> one.candidate().equals(Regression.AFTER))
                .forEach(one -> out.println("  " + RequirementResult.words(one.requirement()) + ": " + one.sentence()));
        verdict.comparison().leftOut().forEach(run -> out.println("  left out: " + run.sentence()));
        out.println(effort + ".");
    }

    private int earlier(StudyFile file, Candidate one, Earlier earlier)
            throws Main.BadInput, IOException, InterruptedException {
        History.Entry reference = reference(file, one, earlier.against);
        boolean worse = isWorseThan(reference, file, one);
        PrintWriter out = spec.commandLine().getOut();
        if (worse && earlier.again) {
            out.println("It looks worse. Both are measured again, beside each other, and that decides.");
            return measure(file, one, commits(reference.version(), "HEAD"));
        }
        out.println((worse
                ? "It looks worse, which settles nothing: each was measured in a sitting of its own, and one sitting does not"
                        + " tell how far days differ. "
                : "") + "Measured beside each other they can be told apart: kadrem regress STUDY --before "
                + reference.version() + " --after HEAD; or by itself where it looks worse: --against "
                + reference.version() + " --again.");
        return worse ? Main.NOT_SETTLED : 0;
    }

    private History.Entry reference(StudyFile file, Candidate one, String version) throws Main.BadInput, IOException {
        HistoryFile.Found found = HistoryFile.read(file.folder());
        found.unreadable().forEach(sentence -> spec.commandLine().getErr().println("note: " + sentence));
        List<History.Entry> known = found.of(one.id());
        return known.reversed().stream()
                .filter(entry -> version.equals("last") || entry.version().startsWith(version)).findFirst()
                .orElseThrow(() -> new Main.BadInput(known.isEmpty()
                        ? "The history has no version of " + one.id()
                                + " yet. kadrem history STUDY --add NAME keeps the"
                                + " study's runs as one."
                        : "The history has no version \"" + version + "\" of " + one.id() + ", but "
                                + String.join(", ", known.stream().map(History.Entry::version).distinct().toList())
                                + "."));
    }

    private boolean isWorseThan(History.Entry reference, StudyFile file, Candidate one) throws Main.BadInput {
        PrintWriter out = spec.commandLine().getOut();
        Comparison comparison = Comparison.of(file.study(), new RunFolders(file.folder()).runs());
        out.println("Compared with " + reference.version() + " of " + reference.at()
                + ", unpaired: measured at another time, so that whatever else changed since is in the difference.");
        boolean worse = false;
        boolean any = false;
        for (Question.Decider decider : file.study().question().deciders()) {
            var values = new ArrayList<ValueComparison.Value>();
            reference.values().getOrDefault(decider.metric(), List.of())
                    .forEach(value -> values.add(new ValueComparison.Value(Regression.BEFORE, "", value)));
            comparison.values(decider.metric(), one.id()).values()
                    .forEach(value -> values.add(new ValueComparison.Value(Regression.AFTER, "", value)));
            if (values.stream().map(ValueComparison.Value::candidate).distinct().count() < 2) {
                out.println("  " + decider.metric().label() + ": not compared, as it is not known of both");
                continue;
            }
            any = true;
            ValueComparison.Pair pair = ValueComparison.of(values, new ValueComparison.Asked(Regression.BEFORE,
                    decider.margin().size(),
                    file.study().question().significance() / file.study().question().deciders().size(),
                    decider.metric().higherIsBetter())).pairs().getFirst();
            worse |= pair.outcome() == Outcome.WORSE || pair.outcome() == Outcome.WORSE_BY_MORE;
            out.println("  " + decider.metric().label() + ": " + Wording.change(decider.metric(), pair.estimate())
                    + pair.interval().map(i -> " (" + Wording.interval(decider.metric(), i) + ")").orElse("") + ", "
                    + pair.values().getLast().size() + " runs against " + pair.values().getFirst().size() + ": "
                    + pair.outcome().words().replace("not settled", "no hint").replace("settled, ", "a hint: "));
        }
        if (!any) {
            throw new Main.BadInput(
                    "There are no sound runs of " + one.id() + " to compare. Measure first: kadrem measure"
                            + " STUDY.");
        }
        return worse;
    }
}
