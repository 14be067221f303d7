package kadrem.files.run;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.io.Writer;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

import com.fasterxml.jackson.databind.ObjectMapper;
import kadrem.core.measure.Exchange;
import kadrem.core.measure.HostSample;
import kadrem.core.measure.HostSeries;
import kadrem.core.measure.Phase;
import kadrem.core.measure.RunJournal;
import kadrem.core.measure.RunRecord;
import kadrem.core.measure.SecondTally;
import kadrem.core.measure.WatchReading;
import kadrem.files.AtomicFile;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVPrinter;

/** Writes a run folder second by second, flushing after each. The formats are described in docs/formats.md. */
final class RunWriter implements RunJournal {
    static final String RECORD = "run.json";
    static final String LATENCY = "latency.hlog";
    static final String SECONDS = "seconds.csv";
    static final String HOST = "host.csv";
    static final String WATCH = "watch.csv";
    static final String[] WATCH_COLUMNS = {"at_s", "source", "series", "unit", "role", "value", "trouble"};
    static final String EXCHANGES = "exchanges.jsonl";
    private static final CSVFormat CSV = CSVFormat.RFC4180;
    private static final ObjectMapper JSON = new ObjectMapper();

    private final Path folder;
    private final List<String> calls;
    private final TallyWriter tallies;
    private final MinuteWriter minutes;
    private final CSVPrinter host;
    private final CSVPrinter watch;
    private final Writer exchanges;

    RunWriter(Path folder, RunRecord record, List<String> calls, int warmUpSeconds) throws IOException {
        this.folder = folder;
        this.calls = List.copyOf(calls);
        record(record);
        tallies = new TallyWriter(folder.resolve(SECONDS), folder.resolve(LATENCY), record.started(), this.calls,
                warmUpSeconds);
        minutes = new MinuteWriter(folder, record.started(), this.calls, warmUpSeconds);
        host = new CSVPrinter(Files.newBufferedWriter(folder.resolve(HOST)), CSV);
        host.printRecord("at_s", "host_cpu_share", "host_steal_share", "host_memory_used_bytes", "candidate_cpu_ms",
                "candidate_memory_bytes", "candidate_processes", "kadrem_cpu_ms", "kadrem_memory_bytes", "lane_cpu_ms",
                "gc_ms", "user_cpu_ms");
        watch = new CSVPrinter(Files.newBufferedWriter(folder.resolve(WATCH)), CSV);
        watch.printRecord((Object[]) WATCH_COLUMNS);
        exchanges = Files.newBufferedWriter(folder.resolve(EXCHANGES));
        flush();
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
        tallies.flush();
        host.flush();
        watch.flush();
        exchanges.flush();
    }

    @Override
    public void second(SecondTally tally) {
        write(() -> {
            tallies.write(tally, 1, new TallyWriter.Spans() {
                @Override
                public int from(int call, Phase phase) {
                    return tally.second;
                }

                @Override
                public int seconds(int call, Phase phase) {
                    return 1;
                }
            });
            minutes.second(tally);
            flush();
        });
    }

    @Override
    public void host(HostSample sample) {
        write(() -> {
            host.printRecord(String.format(Locale.ROOT, "%.6f", sample.at()),
                    String.format(Locale.ROOT, "%.4f", sample.hostCpuShare()),
                    String.format(Locale.ROOT, "%.4f", sample.hostStealShare()), sample.hostMemoryUsed(),
                    known(sample.candidateCpuMillis()), known(sample.candidateMemory()), sample.candidateProcesses(),
                    sample.kadremCpuMillis(), sample.kadremMemory(), sample.laneCpuMillis(), sample.gcMillis(),
                    sample.userCpuMillis());
            host.flush();
        });
    }

    @Override
    public void watched(WatchReading reading) {
        write(() -> {
            minutes.watched(reading);
            String at = MinuteWriter.at(reading.at());
            for (WatchReading.Value value : reading.values()) {
                HostSeries series = value.series();
                watch.printRecord(at, series.source(), series.name(), series.unit(), series.role().id(),
                        MinuteWriter.written(value.value()), "");
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
            tallies.close();
            minutes.close();
            host.close();
            watch.close();
            exchanges.close();
        });
    }
}
