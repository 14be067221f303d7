package kadrem.files.export;

import java.io.IOException;
import java.io.StringWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.OptionalDouble;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.SerializationFeature;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import kadrem.core.measure.LatencySummary;
import kadrem.core.measure.RunRecord;
import kadrem.core.measure.SecondSummary;
import kadrem.core.stats.Interval;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Metric;
import kadrem.core.verdict.Comparison;
import kadrem.core.verdict.PairComparison;
import kadrem.files.AtomicFile;
import kadrem.files.compare.ComparisonJson;
import kadrem.files.compare.Results;
import kadrem.files.run.RunFolders;
import kadrem.files.run.RunReader;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVPrinter;

/**
 * The figures of a study for other programs: runs, comparison and samples (the seconds of each run) as CSV (RFC 4180) and as JSON
 * (schemas in docs/schemas), and the latencies of each run as HdrHistogram interval logs.
 */
public final class DataFiles {
    private static final ObjectMapper JSON = new ObjectMapper().enable(SerializationFeature.INDENT_OUTPUT);

    private final Results results;
    private final Path folder;
    private final List<Path> written = new ArrayList<>();

    /** A table of which the columns have names that a program can use. */
    private record Table(String name, List<String> columns, List<List<Object>> rows) {
    }

    private DataFiles(Results results, Path folder) {
        this.results = results;
        this.folder = folder;
    }

    /**
     * Writes all of them into a folder, which is made if need be.
     *
     * @return the files
     * @throws IOException if a run cannot be read or the folder cannot be written; the message names the place
     */
    public static List<Path> write(Results results, Path folder) throws IOException {
        var files = new DataFiles(results, folder);
        Files.createDirectories(folder);
        files.table(runsOf(results));
        files.csv(files.comparison());
        files.file("comparison.json", ComparisonJson.write(results) + "\n");
        if (results.study() instanceof MeasuredStudy) {
            files.table(files.samples());
            files.latencies();
        }
        return List.copyOf(files.written);
    }

    private static Table runsOf(Results results) {
        List<String> columns = new ArrayList<>(List.of("run", "round", "candidate", "position", "started", "outcome",
                "sound", "enters"));
        List<Metric> metrics = Comparison.metrics(results.study()).stream().sorted().toList();
        metrics.forEach(metric -> columns.add(column(metric)));
        List<RunRecord> entered = results.comparison().inOrder();
        return new Table("runs", columns, results.runs().stream().map(run -> {
            List<Object> row = new ArrayList<>(
                    List.of(run.id(), run.round(), run.candidate(), run.identity().position(),
                            run.started().toString(), run.outcome().id(), run.isSound(),
                            entered.stream().anyMatch(one -> one.id().equals(run.id()))));
            for (Metric metric : metrics) {
                row.add(cell(run.figures().map(figures -> figures.value(metric)).orElse(OptionalDouble.empty())));
            }
            return row;
        }).toList());
    }

    /** The metric's word with its unit, as "p99_ns". */
    private static String column(Metric metric) {
        String unit = switch (metric.unit()) {
            case NANOSECONDS -> "ns";
            case PER_SECOND -> "per_second";
            case SHARE -> "share";
            case CPU_MILLISECONDS -> "ms";
            case BYTES -> "bytes";
        };
        return (metric.id().replaceAll("[- ]", "_") + "_" + unit).replace("share_share", "share");
    }

    private static Object cell(OptionalDouble value) {
        return value.isPresent() ? cell(value.getAsDouble()) : "";
    }

    /** Empty where it is without bound, as a percentile that was not reached. */
    private static Object cell(double value) {
        return Double.isFinite(value) ? value : "";
    }

    private Table comparison() {
        return new Table("comparison", List.of("metric", "candidate", "baseline", "deciding", "rounds", "scale",
                "estimate", "low", "high", "achieved_confidence", "p", "adjusted_p", "margin", "outcome"),
                results.comparison().pairs().stream().map(DataFiles::pair).toList());
    }

    private static List<Object> pair(PairComparison pair) {
        Optional<Interval> interval = pair.interval();
        return List.of(pair.metric().id(), pair.candidate(), pair.baseline(), pair.deciding(), pair.rounds(),
                pair.metric().scale().id(), cell(pair.estimate()),
                interval.map(at -> cell(at.low())).orElse(""), interval.map(at -> cell(at.high())).orElse(""),
                interval.<Object>map(Interval::achievedConfidence).orElse(""), pair.p(), pair.adjustedP(),
                pair.margin().size(), pair.outcome().id());
    }

    private Table samples() throws IOException {
        var rows = new ArrayList<List<Object>>();
        for (RunRecord run : results.runs()) {
            Path place = runFolder(run);
            if (Files.exists(place.resolve("seconds.csv"))) {
                for (SecondSummary second : RunReader.seconds(place)) {
                    rows.add(List.of(run.id(), run.round(), run.candidate(), second.second(), second.intended(),
                            second.sent(), second.good(), second.failedTotal(), reached(second.p50()),
                            reached(second.p95()), reached(second.p99()), second.lateP99(), second.busy(),
                            second.backlog()));
                }
            }
        }
        return new Table("samples", List.of("run", "round", "candidate", "second", "intended", "sent", "good", "failed",
                "p50_ns", "p95_ns", "p99_ns", "late_p99_ns", "users", "backlog"), rows);
    }

    /** Empty where too many calls got no good answer for the percentile to be a number. */
    private static Object reached(long nanos) {
        return nanos == LatencySummary.NEVER ? "" : nanos;
    }

    private Path runFolder(RunRecord run) {
        return new RunFolders(results.file().folder()).folder(run);
    }

    private void latencies() throws IOException {
        Path target = folder.resolve("latency");
        Files.createDirectories(target);
        for (RunRecord run : results.runs()) {
            Path log = runFolder(run).resolve("latency.hlog");
            if (Files.exists(log)) {
                Path copy = target.resolve(run.folderName() + ".hlog");
                Files.copy(log, copy, StandardCopyOption.REPLACE_EXISTING);
                written.add(copy);
            }
        }
    }

    /** Every run of a study as JSON: {@code runs.schema.json}. */
    public static String runs(Results results) {
        return json(results, runsOf(results));
    }

    private void table(Table table) throws IOException {
        csv(table);
        file(table.name() + ".json", json(results, table) + "\n");
    }

    private static String json(Results results, Table table) {
        ObjectNode root = JSON.createObjectNode();
        root.put("study", results.study().name());
        ArrayNode rows = root.putArray(table.name());
        for (List<Object> row : table.rows()) {
            ObjectNode node = rows.addObject();
            for (int i = 0; i < row.size(); i++) {
                if (row.get(i).equals("")) {
                    node.putNull(table.columns().get(i));
                } else {
                    node.putPOJO(table.columns().get(i), row.get(i));
                }
            }
        }
        try {
            return JSON.writeValueAsString(root);
        } catch (JsonProcessingException impossible) {
            throw new IllegalStateException(impossible);
        }
    }

    private void csv(Table table) throws IOException {
        var text = new StringWriter();
        try (var printer = new CSVPrinter(text, CSVFormat.RFC4180)) {
            printer.printRecord(table.columns());
            printer.printRecords(table.rows());
        }
        file(table.name() + ".csv", text.toString());
    }

    private void file(String name, String text) throws IOException {
        Path file = folder.resolve(name);
        AtomicFile.write(file, text.getBytes(StandardCharsets.UTF_8));
        written.add(file);
    }
}
