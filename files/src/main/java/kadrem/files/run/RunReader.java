package kadrem.files.run;

import java.io.IOException;
import java.io.Reader;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

import kadrem.core.measure.FailureKind;
import kadrem.core.measure.Latency;
import kadrem.core.measure.SecondSummary;
import org.HdrHistogram.AbstractHistogram;
import org.HdrHistogram.EncodableHistogram;
import org.HdrHistogram.Histogram;
import org.HdrHistogram.HistogramLogReader;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVParser;
import org.apache.commons.csv.CSVRecord;

/** Reads the seconds of a run back from its folder; a last line that was cut off is left out. */
public final class RunReader {
    private RunReader() {
    }

    /** The run second by second, all calls and phases together. */
    public static List<SecondSummary> seconds(Path runFolder) throws IOException {
        Map<Integer, Histogram> response = new TreeMap<>();
        Map<Integer, Long> lag = new TreeMap<>();
        latencies(runFolder, response, lag);
        Map<Integer, Sums> sums = new TreeMap<>();
        CSVFormat format = CSVFormat.RFC4180.builder().setHeader().setSkipHeaderRecord(true).get();
        try (Reader reader = Files.newBufferedReader(runFolder.resolve(RunWriter.SECONDS));
                CSVParser rows = CSVParser.parse(reader, format)) {
            for (CSVRecord row : rows) {
                if (row.isConsistent()) {
                    sums.computeIfAbsent(Integer.parseInt(row.get("second")), _ -> new Sums()).add(row);
                }
            }
        }
        var seconds = new ArrayList<SecondSummary>();
        sums.forEach((second, sum) -> {
            Histogram histogram = response.getOrDefault(second, Latency.forRun());
            boolean any = histogram.getTotalCount() > 0;
            seconds.add(new SecondSummary(second, sum.intended, sum.sent, sum.good, sum.failed,
                    any ? histogram.getValueAtPercentile(50) : 0, any ? histogram.getValueAtPercentile(95) : 0,
                    any ? histogram.getValueAtPercentile(99) : 0, lag.getOrDefault(second, 0L), sum.busy, sum.backlog));
        });
        return List.copyOf(seconds);
    }

    private static void latencies(Path runFolder, Map<Integer, Histogram> response, Map<Integer, Long> lag)
            throws IOException {
        try (var in = Files.newInputStream(runFolder.resolve(RunWriter.LATENCY))) {
            var reader = new HistogramLogReader(in);
            for (EncodableHistogram next = reader.nextIntervalHistogram(); next != null; next = reader
                    .nextIntervalHistogram()) {
                String tag = String.valueOf(next.getTag());
                int second = (int) Math.round((next.getStartTimeStamp() - reader.getStartTimeSec() * 1000) / 1000);
                if (tag.equals("lag")) {
                    lag.put(second, ((AbstractHistogram) next).getValueAtPercentile(99));
                } else if (!tag.endsWith("/service")) {
                    response.computeIfAbsent(second, _ -> Latency.forRun()).add((AbstractHistogram) next);
                }
            }
            reader.close();
        }
    }

    /** The counts of one second. */
    private static final class Sums {
        private final Map<FailureKind, Long> failed = new EnumMap<>(FailureKind.class);
        private long intended;
        private long sent;
        private long good;
        private long busy;
        private long backlog;

        void add(CSVRecord row) {
            intended += number(row, "intended");
            sent += number(row, "sent");
            good += number(row, "good");
            busy += number(row, "users");
            backlog += number(row, "backlog");
            for (FailureKind kind : FailureKind.values()) {
                failed.merge(kind, number(row, "failed_" + kind.id().replace('-', '_')), Long::sum);
            }
        }

        private static long number(CSVRecord row, String column) {
            // runs from before a kind of failure was told apart have no column for it
            String text = row.isMapped(column) ? row.get(column) : "";
            return text.isEmpty() ? 0 : Long.parseLong(text);
        }
    }
}
