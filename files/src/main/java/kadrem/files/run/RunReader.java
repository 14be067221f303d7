package kadrem.files.run;

import java.io.IOException;
import java.io.Reader;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.NoSuchElementException;
import java.util.function.Predicate;
import java.util.stream.Stream;
import java.util.zip.DataFormatException;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import kadrem.core.examine.CallView;
import kadrem.core.examine.RunView;
import kadrem.core.examine.Selection;
import kadrem.core.examine.WatchView;
import kadrem.core.measure.Exchange;
import kadrem.core.measure.FailureKind;
import kadrem.core.measure.HostSeries;
import kadrem.core.measure.Latency;
import kadrem.core.measure.LookedInto;
import kadrem.core.measure.Phase;
import kadrem.core.measure.Recorded;
import kadrem.core.measure.SecondSummary;
import kadrem.core.measure.SeriesRole;
import org.HdrHistogram.AbstractHistogram;
import org.HdrHistogram.Histogram;
import org.HdrHistogram.HistogramLogScanner;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVParser;
import org.apache.commons.csv.CSVRecord;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Reads what a run recorded back from its folder; a last line that was cut off is left out; one file, since all readers share the rules
 * for what was cut off.
 */
public final class RunReader {
    static final String SERVICE = "/service";
    /** Response times as they were, the late part in them. */
    static final String RAW = "/raw";
    /** The generator's own part of response times. */
    static final String LATE = "/late";
    /** By how much calls went out late, of all calls. */
    static final String ALL_LATE = "late";
    /** What {@link #ALL_LATE} was called before. */
    private static final String ALL_LATE_BEFORE = "lag";
    static final String FIRST = "/first";
    static final String GAP = "/gap";
    static final String CONNECT = "connect";
    static final String HANDSHAKE = "handshake";
    private static final int LONG_SECONDS = 1_800;
    private static final ObjectMapper JSON = new ObjectMapper();
    private static final Logger LOG = LoggerFactory.getLogger(RunReader.class);

    private RunReader() {
    }

    /** The run second by second, all calls and phases together. */
    public static List<SecondSummary> seconds(Path runFolder) throws IOException {
        return Damaged.orRead(runFolder, () -> view(runFolder, Selection.ALL,
                tag -> !isOfConnects(tag) && Stream.of(RAW, FIRST, GAP).noneMatch(tag::endsWith)).seconds());
    }

    /** The run under a selection of its calls and its time; one of more than half an hour minute by minute. */
    public static RunView view(Path runFolder, Selection selection) throws IOException {
        return Damaged.orRead(runFolder, () -> view(runFolder, selection, _ -> true));
    }

    /** @param needed lines of a run looked at by seconds that are read */
    private static RunView view(Path runFolder, Selection selection, Predicate<String> needed) throws IOException {
        boolean byMinutes = isLong(runFolder);
        var view = new RunView.Builder(selection, byMinutes ? MinuteWriter.MINUTE : 1);
        // what a percentile is depends on how many calls lie above all times
        CSVFormat format = CSVFormat.RFC4180.builder().setHeader().setSkipHeaderRecord(true).get();
        try (Reader reader = Files
                .newBufferedReader(runFolder.resolve(byMinutes ? MinuteWriter.COUNTS : RunWriter.SECONDS));
                CSVParser rows = CSVParser.parse(reader, format)) {
            for (CSVRecord row : rows) {
                if (row.isConsistent()) {
                    count(row, view);
                }
            }
        }
        if (byMinutes) {
            boolean whole = selection.withoutCalls().isEmpty() && selection.isWholeTime();
            boolean together = selection.withoutCalls().isEmpty();
            latencies(runFolder.resolve(MinuteWriter.LATENCY), view,
                    tag -> whole || isOfConnects(tag) || together && isOfMinute(tag));
            if (!whole) {
                latencies(runFolder.resolve(MinuteWriter.CALLS), view, tag -> !isOfConnects(tag));
            }
        } else {
            latencies(runFolder.resolve(RunWriter.LATENCY), view, needed);
        }
        return view.build();
    }

    private static boolean isOfConnects(String tag) {
        return tag.equals(CONNECT) || tag.equals(HANDSHAKE);
    }

    private static boolean isOfMinute(String tag) {
        return tag.equals(MinuteWriter.TOGETHER) || isOfAllLate(tag);
    }

    private static boolean isOfAllLate(String tag) {
        return tag.equals(ALL_LATE) || tag.equals(ALL_LATE_BEFORE);
    }

    /** Whether the run has an overview by minutes, and is long enough that it is looked at by it. */
    private static boolean isLong(Path runFolder) throws IOException {
        Path minutes = runFolder.resolve(MinuteWriter.COUNTS);
        if (!Files.exists(minutes)) {
            return false;
        }
        List<String> rows = Files.readAllLines(minutes);
        return Integer.parseInt(rows.getLast().split(",", 2)[0]) >= LONG_SECONDS;
    }

    private static void count(CSVRecord row, RunView.Builder view) {
        int second = Integer.parseInt(row.get("second"));
        int seconds = (int) Math.max(1, number(row, "seconds"));
        String call = row.get("call");
        if (call.isEmpty()) {
            view.whole(second, number(row, "intended"), number(row, "users"), number(row, "backlog"));
            if (row.isMapped("connections")) {
                view.connections(second, number(row, "connections"), number(row, "resumed"), number(row, "carried"),
                        number(row, "busiest"));
            }
            return;
        }
        var failed = new EnumMap<FailureKind, Long>(FailureKind.class);
        for (FailureKind kind : FailureKind.values()) {
            failed.put(kind, number(row, "failed_" + kind.id().replace('-', '_')));
        }
        view.counts(second, seconds, phase(row.get("phase")), call, new CallView.Counts(number(row, "sent"),
                number(row, "good"), failed, number(row, "bytes_out"), number(row, "bytes_in"), number(row, "parts"),
                statuses(row), traits(row)));
    }

    /** Of a run from before they were told: none. */
    private static CallView.Traits traits(CSVRecord row) {
        var lookedInto = new LookedInto();
        if (row.isMapped("asked_bits")) {
            lookedInto.calls = number(row, "looked_into");
            lookedInto.asked = Long.parseUnsignedLong(row.get("asked_bits"), 16);
            lookedInto.answered = Long.parseUnsignedLong(row.get("answered_bits"), 16);
        }
        return new CallView.Traits(number(row, "answered_bytes"), number(row, "in_pieces"), lookedInto);
    }

    /** "404:3 NOT_FOUND:1". */
    private static Map<String, Long> statuses(CSVRecord row) {
        Map<String, Long> statuses = new LinkedHashMap<>();
        if (row.isMapped("failed_statuses")) {
            for (String one : row.get("failed_statuses").split(" ")) {
                int colon = one.lastIndexOf(':');
                if (colon > 0 && one.substring(colon + 1).matches("\\d{1,18}")) {
                    statuses.put(one.substring(0, colon), Long.parseLong(one.substring(colon + 1)));
                }
            }
        }
        return statuses;
    }

    private static long number(CSVRecord row, String column) {
        // runs from before a kind of failure was told apart have no column for it
        String text = row.isMapped(column) ? row.get(column) : "";
        return text.isEmpty() ? 0 : Long.parseLong(text);
    }

    private static Phase phase(String id) {
        for (Phase phase : Phase.values()) {
            if (phase.id().equals(id)) {
                return phase;
            }
        }
        return Phase.MEASURED;
    }

    /** Response times of all calls in the measured part, in nanoseconds. */
    public static Histogram responses(Path runFolder) throws IOException {
        return Damaged.orRead(runFolder, () -> responsesOf(runFolder));
    }

    private static Histogram responsesOf(Path runFolder) throws IOException {
        if (isLong(runFolder)) {
            return view(runFolder, Selection.ALL).total().response();
        }
        Histogram all = Latency.forRun();
        latencies(runFolder.resolve(RunWriter.LATENCY), RunReader::isOfMeasuredResponses,
                (_, _, histogram) -> Recorded.of(histogram).addTo(all));
        return all;
    }

    private static boolean isOfMeasuredResponses(String tag) {
        return !isOfAllLate(tag) && !isOfConnects(tag)
                && Stream.of(SERVICE, RAW, LATE, FIRST, GAP).noneMatch(tag::endsWith)
                && Stream.of(Phase.WARM_UP, Phase.WIND_DOWN).noneMatch(phase -> tag.startsWith(phase.id() + "/"));
    }

    private static void latencies(Path file, RunView.Builder view, Predicate<String> wanted) throws IOException {
        latencies(file, wanted, (second, tag, histogram) -> take(second, tag, histogram, view));
    }

    private interface Line {
        void read(int second, String tag, AbstractHistogram histogram);
    }

    /** Reads the lines whose tags are wanted; the others are not taken apart. A line that was cut off ends the file. */
    private static void latencies(Path file, Predicate<String> wanted, Line line) throws IOException {
        try (var in = Files.newInputStream(file); var log = new HistogramLogScanner(in)) {
            log.process(new HistogramLogScanner.EventHandler() {
                @Override
                public boolean onComment(String comment) {
                    return false;
                }

                @Override
                public boolean onBaseTime(double second) {
                    return false;
                }

                @Override
                public boolean onStartTime(double second) {
                    return false;
                }

                @Override
                public boolean onHistogram(String tag, double second, double length,
                        HistogramLogScanner.EncodableHistogramSupplier histogram) {
                    String name = String.valueOf(tag);
                    if (wanted.test(name)) {
                        AbstractHistogram found;
                        try {
                            found = (AbstractHistogram) histogram.read();
                        } catch (DataFormatException | RuntimeException cause) {
                            return onException(cause);
                        }
                        line.read((int) Math.round(second), name, found);
                    }
                    return false;
                }

                @Override
                public boolean onException(Throwable cause) {
                    LOG.debug("{} ends in a line that was cut off", file, cause);
                    return true;
                }
            });
        } catch (NoSuchElementException cause) {
            // the scanner wants an end of the last line, which one that was cut off has not
            LOG.debug("{} has no end of its last line", file, cause);
        }
    }

    private static void take(int second, String tag, AbstractHistogram histogram, RunView.Builder view) {
        if (tag.equals(MinuteWriter.TOGETHER)) {
            view.together(second, histogram);
        } else if (isOfAllLate(tag)) {
            view.late(second, histogram.getValueAtPercentile(99));
        } else if (isOfConnects(tag)) {
            view.connects(second, tag.equals(HANDSHAKE), histogram);
        } else {
            Phase phase = Phase.MEASURED;
            String call = tag;
            for (Phase other : List.of(Phase.WARM_UP, Phase.WIND_DOWN)) {
                if (tag.startsWith(other.id() + "/")) {
                    phase = other;
                    call = tag.substring(other.id().length() + 1);
                }
            }
            if (call.endsWith(SERVICE)) {
                view.service(second, phase, call.substring(0, call.length() - SERVICE.length()), histogram);
            } else if (call.endsWith(RAW)) {
                view.raw(second, phase, call.substring(0, call.length() - RAW.length()), histogram);
            } else if (call.endsWith(LATE)) {
                view.latePart(second, phase, call.substring(0, call.length() - LATE.length()), histogram);
            } else if (call.endsWith(FIRST) || call.endsWith(GAP)) {
                view.parts(second, phase, call.substring(0, call.lastIndexOf('/')), call.endsWith(GAP), histogram);
            } else {
                view.response(second, phase, call, histogram);
            }
        }
    }

    /** The examples that were kept of a run, in the order in which they were written; a line that was cut off is left out. */
    public static List<Exchange> exchanges(Path runFolder) throws IOException {
        return Damaged.orRead(runFolder, () -> exchangesOf(runFolder));
    }

    private static List<Exchange> exchangesOf(Path runFolder) throws IOException {
        var read = new ArrayList<Exchange>();
        Path file = runFolder.resolve(RunWriter.EXCHANGES);
        if (Files.exists(file)) {
            for (String line : Files.readAllLines(file)) {
                try {
                    read.add(exchange(JSON.readTree(line)));
                } catch (JsonProcessingException _) {
                    // the last line of a run that was cut off
                }
            }
        }
        return List.copyOf(read);
    }

    /** Fields that an older Kadrem did not write are empty. */
    private static Exchange exchange(JsonNode line) {
        return new Exchange(line.path("call").asText(), line.path("reason").asText(), line.path("detail").asText(""),
                line.path("dueSeconds").asDouble(), line.path("responseNanos").asLong(),
                line.path("serviceNanos").asLong(), line.path("status").asInt(), line.path("request").asText(""),
                line.path("response").asText(""), line.path("answered").asText(""));
    }

    /** What the sources of the host watch told, in the order in which they told it; empty for a run from before. */
    public static WatchView watch(Path runFolder) throws IOException {
        return Damaged.orRead(runFolder, () -> watchOf(runFolder));
    }

    private static WatchView watchOf(Path runFolder) throws IOException {
        Path overview = runFolder.resolve(MinuteWriter.WATCH);
        Path file = isLong(runFolder) && Files.exists(overview) ? overview : runFolder.resolve(RunWriter.WATCH);
        var view = new WatchView.Builder();
        if (Files.exists(file)) {
            CSVFormat format = CSVFormat.RFC4180.builder().setHeader().setSkipHeaderRecord(true).get();
            try (Reader reader = Files.newBufferedReader(file); CSVParser rows = CSVParser.parse(reader, format)) {
                for (CSVRecord row : rows) {
                    if (row.isConsistent()) {
                        watch(row, view);
                    }
                }
            }
        }
        return view.build();
    }

    private static void watch(CSVRecord row, WatchView.Builder view) {
        double at = Double.parseDouble(row.get("at_s"));
        if (row.get("series").isEmpty()) {
            view.trouble(row.get("source"), at, row.get("trouble"));
        } else {
            view.value(new HostSeries(row.get("source"), row.get("series"), row.get("unit"),
                    SeriesRole.byId(row.get("role")).orElse(SeriesRole.CUSTOM)), at,
                    Double.parseDouble(row.get("value")));
        }
    }

    /** What the host watch saw, one list of values a column of {@code host.csv}; NaN where a value is not known. */
    public static Map<String, double[]> host(Path runFolder) throws IOException {
        return Damaged.orRead(runFolder, () -> hostOf(runFolder));
    }

    private static Map<String, double[]> hostOf(Path runFolder) throws IOException {
        CSVFormat format = CSVFormat.RFC4180.builder().setHeader().setSkipHeaderRecord(true).get();
        Map<String, double[]> columns = new LinkedHashMap<>();
        try (Reader reader = Files.newBufferedReader(runFolder.resolve(RunWriter.HOST));
                CSVParser rows = CSVParser.parse(reader, format)) {
            List<CSVRecord> whole = rows.stream().filter(CSVRecord::isConsistent).toList();
            for (String name : rows.getHeaderNames()) {
                columns.put(name, whole.stream().map(row -> row.get(name))
                        .mapToDouble(text -> text.isEmpty() ? Double.NaN : Double.parseDouble(text)).toArray());
            }
        }
        return columns;
    }
}
