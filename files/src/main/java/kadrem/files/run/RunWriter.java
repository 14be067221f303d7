package kadrem.files.run;

import java.io.BufferedOutputStream;
import java.io.IOException;
import java.io.PrintStream;
import java.io.UncheckedIOException;
import java.io.Writer;
import java.math.BigDecimal;
import java.math.MathContext;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

import com.fasterxml.jackson.databind.ObjectMapper;
import kadrem.core.measure.CallTally;
import kadrem.core.measure.Exchange;
import kadrem.core.measure.FailureKind;
import kadrem.core.measure.HostSample;
import kadrem.core.measure.HostSeries;
import kadrem.core.measure.Phase;
import kadrem.core.measure.RunJournal;
import kadrem.core.measure.RunRecord;
import kadrem.core.measure.SecondTally;
import kadrem.core.measure.WatchReading;
import kadrem.files.AtomicFile;
import org.HdrHistogram.HistogramLogWriter;
import org.HdrHistogram.IntCountsHistogram;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVPrinter;

/** Writes a run folder second by second, flushing after each. The formats are described in docs/formats.md. */
final class RunWriter implements RunJournal {
    static final String RECORD = "run.json";
    static final String LATENCY = "latency.hlog";
    static final String SECONDS = "seconds.csv";
    static final String HOST = "host.csv";
    static final String WATCH = "watch.csv";
    static final String EXCHANGES = "exchanges.jsonl";
    private static final CSVFormat CSV = CSVFormat.RFC4180;
    private static final ObjectMapper JSON = new ObjectMapper();
    private static final MathContext SIX_DIGITS = new MathContext(6);
    private static final double NANOS_PER_MILLI = 1e6;

    private final Path folder;
    private final List<String> calls;
    private final PrintStream latencyOut;
    private final HistogramLogWriter latency;
    private final CSVPrinter seconds;
    private final CSVPrinter host;
    private final CSVPrinter watch;
    private final Writer exchanges;

    RunWriter(Path folder, RunRecord record, List<String> calls, int warmUpSeconds) throws IOException {
        this.folder = folder;
        this.calls = List.copyOf(calls);
        record(record);
        latencyOut = new PrintStream(new BufferedOutputStream(Files.newOutputStream(folder.resolve(LATENCY))), false,
                StandardCharsets.UTF_8);
        latency = new HistogramLogWriter(latencyOut);
        latency.outputLogFormatVersion();
        latency.outputComment("[Kadrem: nanoseconds; Tag=CALL response time, CALL/service service time,"
                + " warm-up/CALL the same in the warm-up, lag the generator's delay; warm-up is the first "
                + warmUpSeconds + " s]");
        latency.outputStartTime(record.started().toEpochMilli());
        latency.outputLegend();
        seconds = new CSVPrinter(Files.newBufferedWriter(folder.resolve(SECONDS)), CSV);
        seconds.printRecord(secondsHeader());
        host = new CSVPrinter(Files.newBufferedWriter(folder.resolve(HOST)), CSV);
        host.printRecord("at_s", "host_cpu_share", "host_steal_share", "host_memory_used_bytes", "candidate_cpu_ms",
                "candidate_memory_bytes", "candidate_processes", "kadrem_cpu_ms", "kadrem_memory_bytes", "lane_cpu_ms",
                "gc_ms");
        watch = new CSVPrinter(Files.newBufferedWriter(folder.resolve(WATCH)), CSV);
        watch.printRecord("at_s", "source", "series", "unit", "role", "value", "trouble");
        exchanges = Files.newBufferedWriter(folder.resolve(EXCHANGES));
        flush();
    }

    private static List<String> secondsHeader() {
        var header = new ArrayList<>(List.of("second", "phase", "call", "intended", "sent", "good"));
        for (FailureKind kind : FailureKind.values()) {
            header.add("failed_" + kind.id().replace('-', '_'));
        }
        header.addAll(List.of("bytes_out", "bytes_in", "users", "backlog", "lag_p99_ns"));
        return header;
    }

    private interface Writing {
        void write() throws IOException;
    }

    private void write(Writing writing) {
        try {
            writing.write();
        } catch (IOException cause) {
            throw new UncheckedIOException("the run folder " + folder + " cannot be written: " + cause.getMessage(),
                    cause);
        }
    }

    private void flush() throws IOException {
        latencyOut.flush();
        seconds.flush();
        host.flush();
        watch.flush();
        exchanges.flush();
    }

    @Override
    public void second(SecondTally tally) {
        write(() -> {
            seconds.printRecord(totalRow(tally));
            for (Phase phase : Phase.values()) {
                for (int i = 0; i < calls.size(); i++) {
                    CallTally call = tally.call(i, phase);
                    if (!call.isEmpty()) {
                        seconds.printRecord(callRow(tally.second, phase, calls.get(i), call));
                        String tag = phase == Phase.MEASURED ? calls.get(i) : phase.id() + "/" + calls.get(i);
                        log(tally.second, tag, call.response);
                        log(tally.second, tag + "/service", call.service);
                    }
                }
            }
            log(tally.second, "lag", tally.lag);
            log(tally.second, "connect", tally.connect);
            log(tally.second, "handshake", tally.handshake);
            flush();
        });
    }

    private void log(int second, String tag, IntCountsHistogram histogram) {
        if (histogram.getTotalCount() > 0) {
            histogram.setTag(tag);
            latency.outputIntervalHistogram(second, second + 1.0, histogram, NANOS_PER_MILLI);
        }
    }

    private static List<Object> totalRow(SecondTally tally) {
        var row = new ArrayList<Object>(List.of(tally.second, "", "", tally.intended, "", ""));
        for (int i = 0; i < FailureKind.values().length; i++) {
            row.add("");
        }
        row.addAll(List.of("", "", tally.busy, tally.backlog,
                tally.lag.getTotalCount() == 0 ? "" : tally.lag.getValueAtPercentile(99)));
        return row;
    }

    private static List<Object> callRow(int second, Phase phase, String name, CallTally call) {
        var row = new ArrayList<Object>(List.of(second, phase.id(), name, "", call.sent, call.good));
        for (long count : call.failed) {
            row.add(count);
        }
        row.addAll(List.of(call.bytesOut, call.bytesIn, "", "", ""));
        return row;
    }

    @Override
    public void host(HostSample sample) {
        write(() -> {
            host.printRecord(String.format(Locale.ROOT, "%.6f", sample.at()),
                    String.format(Locale.ROOT, "%.4f", sample.hostCpuShare()),
                    String.format(Locale.ROOT, "%.4f", sample.hostStealShare()), sample.hostMemoryUsed(),
                    known(sample.candidateCpuMillis()), known(sample.candidateMemory()), sample.candidateProcesses(),
                    sample.kadremCpuMillis(), sample.kadremMemory(), sample.laneCpuMillis(), sample.gcMillis());
            host.flush();
        });
    }

    @Override
    public void watched(WatchReading reading) {
        write(() -> {
            String at = String.format(Locale.ROOT, "%.6f", reading.at());
            for (WatchReading.Value value : reading.values()) {
                HostSeries series = value.series();
                watch.printRecord(at, series.source(), series.name(), series.unit(), series.role().id(),
                        BigDecimal.valueOf(value.value()).round(SIX_DIGITS).stripTrailingZeros().toPlainString(), "");
            }
            if (!reading.trouble().isEmpty()) {
                watch.printRecord(at, reading.source(), "", "", "", "", reading.trouble());
            }
            watch.flush();
        });
    }

    private static Object known(long value) {
        return value < 0 ? "" : value;
    }

    @Override
    public void exchange(Exchange exchange) {
        write(() -> {
            exchanges.write(JSON.writeValueAsString(exchange.withoutSecrets()));
            exchanges.write('\n');
        });
    }

    @Override
    public void record(RunRecord record) {
        write(() -> {
            Path file = folder.resolve(RECORD);
            Optional<byte[]> before = Files.exists(file) ? Optional.of(Files.readAllBytes(file)) : Optional.empty();
            AtomicFile.write(file, RunJson.write(record, before));
        });
    }

    @Override
    public void close() {
        write(() -> {
            flush();
            latency.close();
            seconds.close();
            host.close();
            watch.close();
            exchanges.close();
        });
    }
}
