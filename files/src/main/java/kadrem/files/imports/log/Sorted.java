package kadrem.files.imports.log;

import java.io.IOException;
import java.util.Comparator;
import java.util.PriorityQueue;

import kadrem.files.imports.ImportException;

/**
 * Puts lines into the order of their instants. A log has them in the order in which they were answered, so that a line may stand behind
 * others that came later: as many are held as may stand before it.
 */
final class Sorted {
    private static final int HELD = 100_000;

    private final PriorityQueue<Row> held = new PriorityQueue<>(
            Comparator.comparingLong(Row::nanos).thenComparingLong(Row::line));
    private final Rows into;
    private long last = Long.MIN_VALUE;

    /** A line and when it is due. */
    record Row(long nanos, long line, Object[] cells) {
    }

    /** Given the lines in order. */
    interface Rows {
        void row(Row row) throws IOException;
    }

    Sorted(Rows into) {
        this.into = into;
    }

    void add(Row row) throws IOException, ImportException {
        if (row.nanos() < last) {
            throw new ImportException("Line " + row.line() + " came before others that stand more than " + HELD
                    + " lines above it. Sort the log by time.");
        }
        held.add(row);
        if (held.size() > HELD) {
            pass();
        }
    }

    private void pass() throws IOException {
        Row row = held.remove();
        last = row.nanos();
        into.row(row);
    }

    void end() throws IOException {
        while (!held.isEmpty()) {
            pass();
        }
    }
}
