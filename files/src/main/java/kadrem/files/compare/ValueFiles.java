package kadrem.files.compare;

import java.io.IOException;
import java.io.Reader;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

import kadrem.core.measure.Latency;
import kadrem.core.study.Metric;
import kadrem.core.verdict.ValueComparison.Value;
import org.HdrHistogram.AbstractHistogram;
import org.HdrHistogram.EncodableHistogram;
import org.HdrHistogram.Histogram;
import org.HdrHistogram.HistogramLogReader;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVParser;
import org.apache.commons.csv.CSVRecord;
import org.apache.commons.statistics.descriptive.Mean;
import org.apache.commons.statistics.descriptive.Quantile;
import org.apache.commons.statistics.descriptive.Quantile.EstimationMethod;

/**
 * Reads figures that were measured elsewhere: CSV (RFC 4180) with the columns {@code candidate,round,value}, one row a run, or
 * many rows a run where they are single latencies; and HdrHistogram logs, one file a run, named {@code CANDIDATE-ROUND.hlog}.
 */
public final class ValueFiles {
    private static final List<String> COLUMNS = List.of("candidate", "round", "value");
    private static final Pattern LOG = Pattern.compile("(.+?)(?:-(\\d+))?\\.hlog");

    private ValueFiles() {
    }

    /** What cannot be read, in words for who gave the file. */
    public static final class Unusable extends Exception {
        private static final long serialVersionUID = 1;

        Unusable(String message) {
            super(message);
        }
    }

    /** Whether a path is read by this class and not as a study. */
    public static boolean isOne(Path path) {
        return path.toString().endsWith(".csv") || path.toString().endsWith(".hlog");
    }

    /**
     * The values of all files.
     *
     * @param figure of a run's latencies by which runs are compared: p50, p95, p99 or mean; needed for single latencies and logs
     */
    public static List<Value> read(List<Path> files, Optional<Metric> figure) throws Unusable {
        var values = new ArrayList<Value>();
        for (Path file : files) {
            try {
                values.addAll(file.toString().endsWith(".hlog") ? List.of(log(file, figure)) : table(file, figure));
            } catch (NoSuchFileException _) {
                throw new Unusable("there is no file " + file + ".");
            } catch (IOException | UncheckedIOException cause) {
                throw new Unusable(file + " cannot be read: " + cause.getMessage());
            } catch (IllegalArgumentException | IllegalStateException cause) {
                throw new Unusable(
                        file + " is no table with names of columns in its first line: " + cause.getMessage());
            }
        }
        return values;
    }

    private static List<Value> table(Path file, Optional<Metric> figure) throws IOException, Unusable {
        Map<List<String>, List<Double>> byRun = new LinkedHashMap<>();
        int number = 0;
        CSVFormat format = CSVFormat.RFC4180.builder().setHeader().setSkipHeaderRecord(true).setTrim(true).get();
        try (Reader reader = Files.newBufferedReader(file, StandardCharsets.UTF_8);
                CSVParser rows = CSVParser.parse(reader, format)) {
            if (!rows.getHeaderNames().containsAll(COLUMNS)) {
                throw new Unusable(file + " has the columns " + String.join(",", rows.getHeaderNames()) + ". It needs "
                        + String.join(",", COLUMNS) + " in its first line.");
            }
            for (CSVRecord row : rows) {
                number++;
                double value = number(file, row);
                String round = row.get("round");
                // values without a round are a run each
                List<String> run = List.of(row.get("candidate"), round,
                        round.isEmpty() && figure.isEmpty() ? Integer.toString(number) : "");
                byRun.computeIfAbsent(run, _ -> new ArrayList<>()).add(value);
            }
        }
        var values = new ArrayList<Value>();
        for (Map.Entry<List<String>, List<Double>> run : byRun.entrySet()) {
            List<Double> all = run.getValue();
            if (all.size() > 1 && figure.isEmpty()) {
                throw new Unusable(file + " has " + all.size() + " values of " + run.getKey().getFirst() + " in round "
                        + run.getKey().get(1) + ". If they are latencies of single calls, say by which figure runs are"
                        + " compared: --figure p99.");
            }
            values.add(new Value(run.getKey().getFirst(), run.getKey().get(1),
                    all.size() == 1 ? all.getFirst() : figure(all, figure.orElseThrow())));
        }
        return values;
    }

    private static double number(Path file, CSVRecord row) throws Unusable {
        String where = file + ", record " + row.getRecordNumber() + ": ";
        if (!row.isConsistent() || row.get("candidate").isEmpty()) {
            throw new Unusable(where + "it needs a candidate, a round (or nothing) and a value.");
        }
        try {
            double value = Double.parseDouble(row.get("value"));
            if (Double.isFinite(value)) {
                return value;
            }
        } catch (NumberFormatException _) {
            // told below
        }
        throw new Unusable(where + "the value is \"" + row.get("value") + "\". Write a number such as 12.4.");
    }

    /** The nearest rank, as HdrHistogram has it. */
    private static double figure(List<Double> latencies, Metric figure) {
        double[] all = latencies.stream().mapToDouble(Double::doubleValue).toArray();
        return switch (figure.kind()) {
            case MEAN -> Mean.of(all).getAsDouble();
            default -> Quantile.withDefaults().with(EstimationMethod.HF1).evaluate(all, share(figure));
        };
    }

    private static double share(Metric figure) {
        return switch (figure.kind()) {
            case P50 -> 0.5;
            case P95 -> 0.95;
            case P99 -> 0.99;
            default -> throw new IllegalArgumentException(figure + " is no figure of latencies");
        };
    }

    private static Value log(Path file, Optional<Metric> figure) throws IOException, Unusable {
        Matcher name = LOG.matcher(String.valueOf(file.getFileName()));
        if (!name.matches()) {
            throw new Unusable(file + " should be named CANDIDATE-ROUND.hlog.");
        }
        Metric by = figure.orElseThrow(() -> new Unusable(
                "A latency log holds many values: say by which figure runs are compared, such as --figure p99."));
        Histogram all = Latency.forRun();
        try (var in = Files.newInputStream(file)) {
            var reader = new HistogramLogReader(in);
            for (EncodableHistogram next = reader.nextIntervalHistogram(); next != null; next = reader
                    .nextIntervalHistogram()) {
                if (next instanceof AbstractHistogram histogram) {
                    all.add(histogram);
                }
            }
            reader.close();
        } catch (IllegalArgumentException | ArrayIndexOutOfBoundsException cause) {
            throw new Unusable(file + " is not an HdrHistogram log, or holds values beyond an hour of nanoseconds: "
                    + cause.getMessage());
        }
        if (all.getTotalCount() == 0) {
            throw new Unusable(file + " holds no latencies.");
        }
        String round = name.group(2) == null ? "" : name.group(2);
        return new Value(name.group(1), round,
                by.kind() == Metric.Kind.MEAN ? all.getMean() : all.getValueAtPercentile(share(by) * 100));
    }
}
