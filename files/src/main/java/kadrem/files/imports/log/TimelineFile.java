package kadrem.files.imports.log;

import java.io.IOException;
import java.io.Writer;
import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.function.DoubleConsumer;
import java.util.stream.Stream;

import kadrem.core.random.SplitMix64;
import kadrem.files.AtomicFile;
import kadrem.files.imports.ImportException;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVPrinter;

/**
 * Writes the lines of a log as the timeline of a study, in the order of their instants.
 *
 * @param first nanosecond of the log from which its timeline counts
 * @param wholeSeconds whether it tells whole seconds only: within each its lines are spread at random then, by a fixed seed
 */
record TimelineFile(LogFile log, Traffic traffic, long first, boolean wholeSeconds) {
    private static final long SECOND = 1_000_000_000L;
    private static final long SPREAD_PURPOSE = 0x6c6f67L;

    /** What stands in a file. */
    interface Rows {
        void write(CSVPrinter csv) throws IOException, ImportException;
    }

    /** Writes a file as a whole, or nothing. */
    static void writeCsv(Path into, Rows rows) throws IOException, ImportException {
        Files.createDirectories(into.getParent());
        Path making = into.resolveSibling("." + into.getFileName() + "." + ProcessHandle.current().pid() + ".tmp");
        try {
            try (Writer out = Files.newBufferedWriter(making, StandardCharsets.UTF_8);
                    var csv = new CSVPrinter(out, CSVFormat.RFC4180.builder().setRecordSeparator("\n").get())) {
                rows.write(csv);
            }
            AtomicFile.move(making, into);
        } finally {
            Files.deleteIfExists(making);
        }
    }

    void write(Path into, DoubleConsumer progress) throws IOException, ImportException {
        writeCsv(into, csv -> write(csv, progress));
    }

    private void write(CSVPrinter csv, DoubleConsumer progress) throws IOException, ImportException {
        List<String> names = traffic.lists().stream().map(LoggedList::name).toList();
        boolean calls = !traffic.calls().isEmpty();
        csv.printRecord(Stream.concat(calls ? Stream.of("at", "visit") : Stream.of("at"), names.stream()).toArray());
        var sorted = new Sorted(row -> csv.printRecord(Stream.concat(
                Stream.of(BigDecimal.valueOf(row.nanos(), 9).stripTrailingZeros().toPlainString()),
                Stream.of(row.cells())).toArray()));
        log.read((number, read) -> {
            if (read.isPresent()) {
                Optional<LoggedCall.Arrival> made = read.get().isCall()
                        ? traffic.arrival(read.get())
                        : Optional.empty();
                if (made.isPresent() || !read.get().isCall()) {
                    sorted.add(new Sorted.Row(spread(read.get().at(), number), number,
                            made.map(one -> cells(one, names))
                                    .orElseGet(() -> calls ? cells(names.size()) : new Object[0])));
                }
            }
        }, progress);
        sorted.end();
    }

    private static Object[] cells(LoggedCall.Arrival made, List<String> names) {
        return Stream.concat(Stream.of(made.call().name()),
                names.stream().map(name -> made.values().getOrDefault(name, ""))).toArray();
    }

    /** A line that says only when. */
    private static Object[] cells(int lists) {
        return Stream.generate(() -> "").limit(1L + lists).toArray();
    }

    /** Nanoseconds from the beginning; where the log tells whole seconds anywhere in the second. */
    private long spread(LogTime at, long line) {
        long within = wholeSeconds
                ? (long) (SplitMix64.unit(SplitMix64.mix(SPREAD_PURPOSE + line * SplitMix64.GAMMA)) * SECOND)
                : 0;
        return Math.max(0, at.nanos() - first + within);
    }
}
