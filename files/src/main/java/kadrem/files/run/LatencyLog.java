package kadrem.files.run;

import java.io.BufferedOutputStream;
import java.io.Closeable;
import java.io.IOException;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;

import org.HdrHistogram.AbstractHistogram;
import org.HdrHistogram.HistogramLogWriter;

/** A histogram log as Kadrem writes it: nanoseconds, a tag a line. */
final class LatencyLog implements Closeable {
    private static final double NANOS_PER_MILLI = 1e6;

    private final PrintStream out;
    private final HistogramLogWriter log;

    LatencyLog(Path file, Instant started, String comment) throws IOException {
        out = new PrintStream(new BufferedOutputStream(Files.newOutputStream(file)), false, StandardCharsets.UTF_8);
        log = new HistogramLogWriter(out);
        log.outputLogFormatVersion();
        log.outputComment("[Kadrem: nanoseconds; " + comment + "]");
        log.outputStartTime(started.toEpochMilli());
        log.outputLegend();
    }

    /** A line for {@code seconds} from {@code second}; an empty histogram has none. */
    void write(int second, int seconds, String tag, AbstractHistogram histogram) {
        if (histogram.getTotalCount() > 0) {
            histogram.setTag(tag);
            log.outputIntervalHistogram(second, second + (double) seconds, histogram, NANOS_PER_MILLI);
        }
    }

    void flush() {
        out.flush();
    }

    @Override
    public void close() {
        log.close();
    }
}
