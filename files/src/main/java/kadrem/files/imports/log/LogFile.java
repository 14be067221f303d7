package kadrem.files.imports.log;

import java.io.BufferedInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.DoubleConsumer;
import java.util.zip.GZIPInputStream;

import kadrem.files.imports.ImportException;
import org.apache.commons.io.input.BoundedInputStream;

/** A log, plain or packed with gzip, read line by line. */
final class LogFile {
    private static final int FIRST = 200;
    private static final int LONGEST = 1 << 16;
    private static final int TOLD_EVERY = 10_000;
    private static final int PACKED = 0x1f8b;

    private final Path file;
    private final LogFormat format;

    private LogFile(Path file, LogFormat format) {
        this.file = file;
        this.format = format;
    }

    /** Given what each line says. */
    interface Lines {
        /**
         * @param number of the line, counted from 1
         * @param line empty where the line says nothing of an arrival
         */
        void line(long number, Optional<LogLine> line) throws ImportException, IOException;
    }

    /** @throws ImportException if it is no log that is known */
    static LogFile of(Path file, Map<String, String> chosen) throws ImportException {
        var first = new ArrayList<String>();
        try (var lines = new Reader(file)) {
            for (Optional<String> line = lines.next(); line.isPresent() && first.size() < FIRST; line = lines.next()) {
                first.add(line.get());
            }
        } catch (IOException cause) {
            throw unreadable(file, cause);
        }
        return new LogFile(file, LogFormat.of(List.copyOf(first), chosen));
    }

    String words() {
        return format.words();
    }

    /** @param progress given the share of the file that was read, now and then */
    void read(Lines lines, DoubleConsumer progress) throws ImportException {
        try (var in = new Reader(file)) {
            long size = Math.max(1, Files.size(file));
            long number = 0;
            for (Optional<String> line = in.next(); line.isPresent(); line = in.next()) {
                number++;
                if (!line.get().isBlank()) {
                    lines.line(number, format.read(line.get()));
                }
                if (number % TOLD_EVERY == 0) {
                    progress.accept(Math.min(1, (double) in.file.getCount() / size));
                }
            }
        } catch (IOException cause) {
            throw unreadable(file, cause);
        }
    }

    private static ImportException unreadable(Path file, IOException cause) {
        return new ImportException(file + " cannot be read: " + cause.getMessage());
    }

    /** Lines of a file, of which what is longer than any address is left out. */
    private static final class Reader implements AutoCloseable {
        private final BoundedInputStream file;
        private final InputStream text;
        private final ByteArrayOutputStream line = new ByteArrayOutputStream();
        private final byte[] block = new byte[LONGEST];
        private int at;
        private int filled;

        Reader(Path path) throws IOException {
            file = BoundedInputStream.builder().setInputStream(Files.newInputStream(path)).get();
            var read = new BufferedInputStream(file, LONGEST);
            read.mark(2);
            boolean packed = (read.read() << 8 | read.read()) == PACKED;
            read.reset();
            text = packed ? new GZIPInputStream(read, LONGEST) : read;
        }

        /** The next line; empty at the end. */
        Optional<String> next() throws IOException {
            line.reset();
            boolean ended = false;
            while (!ended) {
                if (at == filled) {
                    filled = text.read(block);
                    at = 0;
                    if (filled <= 0) {
                        filled = 0;
                        return line.size() > 0 ? Optional.of(line.toString(StandardCharsets.UTF_8)) : Optional.empty();
                    }
                }
                int end = at;
                while (end < filled && block[end] != '\n') {
                    end++;
                }
                line.write(block, at, Math.min(end - at, LONGEST - line.size()));
                ended = end < filled;
                at = ended ? end + 1 : end;
            }
            String whole = line.toString(StandardCharsets.UTF_8);
            return Optional.of(whole.endsWith("\r") ? whole.substring(0, whole.length() - 1) : whole);
        }

        @Override
        public void close() throws IOException {
            text.close();
        }
    }
}
