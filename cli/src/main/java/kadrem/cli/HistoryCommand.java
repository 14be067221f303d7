package kadrem.cli;

import java.io.IOException;
import java.io.PrintWriter;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Callable;

import kadrem.core.study.Metric;
import kadrem.core.study.Question;
import kadrem.core.study.Written;
import kadrem.core.verdict.Comparison;
import kadrem.core.verdict.History;
import kadrem.files.history.HistoryFile;
import kadrem.files.run.RunFolders;
import kadrem.files.study.StudyException;
import kadrem.files.study.StudyFile;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** {@code kadrem history STUDY}. */
@Command(name = "history", mixinStandardHelpOptions = true, description = "Shows a metric of a candidate over its versions, and where"
        + " it changed; or adds the study's runs as a version.")
final class HistoryCommand implements Callable<Integer> {
    @Spec
    private CommandSpec spec;
    @Parameters(paramLabel = "STUDY", description = "folder of the study")
    private Path folder;
    @Option(names = "--candidate", paramLabel = "ID", description = "which candidate (the baseline if not given)")
    private Optional<String> candidate;
    @Option(names = "--metric", paramLabel = "METRIC", description = "which metric (the first that decides if not given)")
    private Optional<String> metric;
    @Option(names = "--add", paramLabel = "VERSION", description = "add the study's sound runs of the candidate under this name, a commit"
            + " or a tag")
    private Optional<String> add;
    @Option(names = "--format", paramLabel = "text|json", defaultValue = "text", description = "how to print")
    private Main.Format format;

    HistoryCommand() {
        spec = CommandSpec.create();
        folder = Path.of(".");
        candidate = Optional.empty();
        metric = Optional.empty();
        add = Optional.empty();
        format = Main.Format.text;
    }

    @Override
    public Integer call() throws StudyException, Main.BadInput, IOException {
        PrintWriter out = spec.commandLine().getOut();
        StudyFile file = StudyFile.read(folder);
        String id = candidate.orElse(file.study().question().baseline());
        if (file.study().candidate(id).isEmpty()) {
            throw new Main.BadInput("\"" + id + "\" is not a candidate of the study.");
        }
        if (add.isPresent()) {
            Comparison comparison = Comparison.of(file.study(), new RunFolders(file.folder()).runs());
            List<History.Entry> entries = HistoryFile.entries(comparison, id, add.get(), Instant.now(), id);
            if (entries.isEmpty()) {
                throw new Main.BadInput(
                        "There are no sound runs of " + id + " to add. Measure first: kadrem measure STUDY.");
            }
            for (History.Entry entry : entries) {
                HistoryFile.add(file.folder(), entry);
            }
        }
        Metric shown = metric.isEmpty()
                ? file.study().question().deciders().stream().map(Question.Decider::metric).findFirst()
                        .orElse(Metric.P95)
                : Metric.byId(metric.get()).orElseThrow(() -> new Main.BadInput("\"" + metric.get()
                        + "\" is no metric. Use one of: "
                        + String.join(", ", Metric.all().stream().map(Metric::id).toList()) + "."));
        HistoryFile.Found found = HistoryFile.read(file.folder());
        found.unreadable().forEach(sentence -> spec.commandLine().getErr().println("note: " + sentence));
        History history = History.of(shown, found.of(id));
        if (format == Main.Format.json) {
            out.println(HistoryFile.json(history));
        } else {
            print(out, history);
        }
        out.flush();
        return 0;
    }

    private static void print(PrintWriter out, History history) {
        if (history.entries().isEmpty() && history.unreached().isEmpty()) {
            out.println("No version has been measured yet. kadrem regress adds those that it measures.");
            return;
        }
        var rows = new ArrayList<List<String>>();
        rows.add(List.of("version", "of", "runs", history.metric().id(), ""));
        for (int i = 0; i < history.entries().size(); i++) {
            History.Entry entry = history.entries().get(i);
            int place = i;
            boolean step = history.steps().stream().anyMatch(one -> one.at() == place);
            rows.add(List.of(entry.version(), entry.at().toString(),
                    Integer.toString(entry.values().getOrDefault(history.metric(), List.of()).size()),
                    Written.value(history.metric().unit(), entry.centre(history.metric()).orElseThrow()),
                    step ? "new level" : ""));
        }
        out.print(Texts.table(rows, List.of(false, false, true, true, false)));
        history.steps().forEach(step -> out.println(history.sentence(step)));
        history.unreachedSentence().ifPresent(sentence -> out.println(sentence + "."));
    }
}
