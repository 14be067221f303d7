package kadrem.files.run;

import java.io.IOException;
import java.math.BigDecimal;
import java.math.MathContext;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

import kadrem.core.measure.CallTally;
import kadrem.core.measure.HostSeries;
import kadrem.core.measure.Latency;
import kadrem.core.measure.Phase;
import kadrem.core.measure.SecondTally;
import kadrem.core.measure.WatchReading;
import org.HdrHistogram.Histogram;
import org.HdrHistogram.IntCountsHistogram;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVPrinter;

/**
 * The overview of a long run: what its files say second by second, minute by minute, from which hours are looked at in a
 * moment. Nothing is written for a run of less than a minute. The files get their names when the run has ended, so that what
 * bears a name is whole. One thread.
 */
final class MinuteWriter {
    static final String COUNTS = "minutes.csv";
    /** All calls together, a line a minute, and each call's whole measured part. */
    static final String LATENCY = "minutes.hlog";
    /** Each call, a line a minute. */
    static final String CALLS = "minutes-calls.hlog";
    /** Tag of the response times of all calls and phases of a minute. */
    static final String TOGETHER = "*";
    static final String WATCH = "watch-minutes.csv";
    static final int MINUTE = 60;
    private static final String UNDER_WAY = ".tmp";
    private static final MathContext SIX_DIGITS = new MathContext(6);

    private final Path folder;
    private final Instant started;
    private final List<String> calls;
    private final int warmUpSeconds;
    private final SecondTally minute;
    /** First and last second of each call and phase inside the minute. */
    private final int[][] spans;
    private int secondsInMinute;
    private long busySum;
    private long backlogSum;
    private int last;
    private final Map<HostSeries, double[]> sums = new LinkedHashMap<>();
    private Optional<TallyWriter> tallies = Optional.empty();
    private Optional<LatencyLog> latency = Optional.empty();
    private final IntCountsHistogram together = Latency.forOneSecond();
    /** Times of each call in the measured part, by the tag under which they are written. */
    private final Map<String, Histogram> wholes = new LinkedHashMap<>();
    private Optional<CSVPrinter> watch = Optional.empty();
    private int watchMinute = Integer.MIN_VALUE;

    MinuteWriter(Path folder, Instant started, List<String> calls, int warmUpSeconds) {
        this.folder = folder;
        this.started = started;
        this.calls = calls;
        this.warmUpSeconds = warmUpSeconds;
        minute = new SecondTally(calls.size());
        spans = new int[calls.size() * Phase.values().length][2];
        clear();
    }

    private void clear() {
        minute.clear();
        secondsInMinute = 0;
        busySum = 0;
        backlogSum = 0;
        for (int[] span : spans) {
            span[0] = Integer.MAX_VALUE;
            span[1] = -1;
        }
    }

    void second(SecondTally tally) throws IOException {
        if (secondsInMinute > 0 && tally.second / MINUTE != minute.second / MINUTE) {
            write();
        }
        if (secondsInMinute == 0) {
            minute.second = tally.second / MINUTE * MINUTE;
        }
        // calls under way and waiting are a level, of which the minute keeps the mean
        busySum += tally.busy;
        backlogSum += tally.backlog;
        minute.follow(tally);
        secondsInMinute++;
        minute.busy = Math.round((double) busySum / secondsInMinute);
        minute.backlog = Math.round((double) backlogSum / secondsInMinute);
        for (Phase phase : Phase.values()) {
            for (int i = 0; i < calls.size(); i++) {
                if (!tally.call(i, phase).isEmpty()) {
                    int[] span = spans[place(i, phase)];
                    span[0] = Math.min(span[0], tally.second);
                    span[1] = Math.max(span[1], tally.second);
                }
            }
        }
    }

    private int place(int call, Phase phase) {
        return phase.ordinal() * calls.size() + call;
    }

    private void write() throws IOException {
        if (tallies.isEmpty()) {
            tallies = Optional.of(new TallyWriter(folder.resolve(COUNTS + UNDER_WAY),
                    folder.resolve(CALLS + UNDER_WAY), started, calls, warmUpSeconds));
            latency = Optional.of(new LatencyLog(folder.resolve(LATENCY + UNDER_WAY), started,
                    "Tag=* response time of all calls in a minute, CALL, CALL/raw, CALL/service and CALL/late of the whole measured part"));
        }
        together.reset();
        for (int i = 0; i < calls.size(); i++) {
            for (Phase phase : Phase.values()) {
                if (minute.call(i, phase).hasTimes()) {
                    together.add(minute.call(i, phase).response());
                }
            }
            CallTally measured = minute.call(i, Phase.MEASURED);
            if (measured.hasTimes()) {
                whole(calls.get(i), measured.response());
                whole(calls.get(i) + RunReader.RAW, measured.raw());
                whole(calls.get(i) + RunReader.SERVICE, measured.service());
                whole(calls.get(i) + RunReader.LATE, measured.late());
            }
            if (measured.parts > 0) {
                whole(calls.get(i) + RunReader.FIRST, measured.first());
                whole(calls.get(i) + RunReader.GAP, measured.gap());
            }
        }
        latency.orElseThrow().write(minute.second, secondsInMinute, TOGETHER, together);
        latency.orElseThrow().write(minute.second, secondsInMinute, RunReader.ALL_LATE, minute.late);
        latency.orElseThrow().write(minute.second, secondsInMinute, RunReader.CONNECT, minute.connect);
        latency.orElseThrow().write(minute.second, secondsInMinute, RunReader.HANDSHAKE, minute.handshake);
        last = minute.second + secondsInMinute;
        tallies.get().write(minute, secondsInMinute, new TallyWriter.Spans() {
            @Override
            public int from(int call, Phase phase) {
                return spans[place(call, phase)][0];
            }

            @Override
            public int seconds(int call, Phase phase) {
                int[] span = spans[place(call, phase)];
                return span[1] - span[0] + 1;
            }
        });
        clear();
    }

    private void whole(String tag, IntCountsHistogram times) {
        wholes.computeIfAbsent(tag, _ -> Latency.forRun()).add(times);
    }

    void watched(WatchReading reading) throws IOException {
        int now = (int) Math.floor(reading.at() / MINUTE);
        if (watch.isEmpty()) {
            var made = new CSVPrinter(Files.newBufferedWriter(folder.resolve(WATCH + UNDER_WAY)), CSVFormat.RFC4180);
            made.printRecord((Object[]) RunWriter.WATCH_COLUMNS);
            watch = Optional.of(made);
        }
        if (!reading.trouble().isEmpty()) {
            watch.get().printRecord(at(reading.at()), reading.source(), "", "", "", "", reading.trouble());
        }
        if (reading.at() < 0) {
            // the idle stretch is looked at reading by reading
            for (WatchReading.Value value : reading.values()) {
                row(reading.at(), value.series(), value.value());
            }
            return;
        }
        if (now != watchMinute) {
            means();
            watchMinute = now;
        }
        for (WatchReading.Value value : reading.values()) {
            double[] sum = sums.computeIfAbsent(value.series(), _ -> new double[2]);
            sum[0] += value.value();
            sum[1]++;
        }
    }

    private void means() throws IOException {
        for (Map.Entry<HostSeries, double[]> sum : sums.entrySet()) {
            row((watchMinute + 0.5) * MINUTE, sum.getKey(), sum.getValue()[0] / sum.getValue()[1]);
        }
        sums.clear();
    }

    private void row(double at, HostSeries series, double value) throws IOException {
        CSVPrinter out = watch.orElseThrow();
        out.printRecord(at(at), series.source(), series.name(), series.unit(), series.role().id(), written(value), "");
    }

    static String at(double seconds) {
        return String.format(Locale.ROOT, "%.6f", seconds);
    }

    static String written(double value) {
        return BigDecimal.valueOf(value).round(SIX_DIGITS).stripTrailingZeros().toPlainString();
    }

    /** Ends the overview; where the run was shorter than a minute there is none. */
    void close() throws IOException {
        if (tallies.isPresent() && secondsInMinute > 0) {
            write();
        }
        if (watch.isPresent()) {
            means();
            watch.get().close();
        }
        if (tallies.isPresent()) {
            tallies.get().close();
            LatencyLog log = latency.orElseThrow();
            for (Map.Entry<String, Histogram> whole : wholes.entrySet()) {
                log.write(0, last, whole.getKey(), whole.getValue());
            }
            log.close();
            name(CALLS);
            name(LATENCY);
            if (watch.isPresent()) {
                name(WATCH);
            }
            // the last to get its name: whoever finds it finds the others
            name(COUNTS);
        } else {
            Files.deleteIfExists(folder.resolve(WATCH + UNDER_WAY));
        }
    }

    private void name(String file) throws IOException {
        Files.move(folder.resolve(file + UNDER_WAY), folder.resolve(file), StandardCopyOption.ATOMIC_MOVE,
                StandardCopyOption.REPLACE_EXISTING);
    }
}
