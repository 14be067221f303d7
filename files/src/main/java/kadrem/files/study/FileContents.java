package kadrem.files.study;

import java.io.IOException;
import java.io.Reader;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;

import kadrem.core.plan.Instants;
import kadrem.core.study.Bytes;
import kadrem.core.study.Workload;
import kadrem.files.timeline.ReadyTimeline;
import kadrem.files.timeline.TimelineException;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVParser;
import org.apache.commons.csv.CSVRecord;

/**
 * What the files hold that a study names: value lists and bodies. A file is read once, and again when it was changed, so that an edit
 * of the study reads none of them.
 */
final class FileContents {
    private static final long MAX_ROWS = 1_000_000;
    private static final long MAX_BYTES = 64L * 1024 * 1024;

    private final Path folder;
    private final Map<String, Kept<List<String>>> rows = new ConcurrentHashMap<>();
    private final Map<String, Kept<Bytes>> bytes = new ConcurrentHashMap<>();

    /** What was read, and how the file looked then. */
    private record Kept<T>(T content, FileTime changed, long size) {
        boolean isOf(Path file) throws IOException {
            return Files.getLastModifiedTime(file).equals(changed) && Files.size(file) == size;
        }

        static <T> Kept<T> of(Path file, T content) throws IOException {
            return new Kept<>(content, Files.getLastModifiedTime(file), Files.size(file));
        }
    }

    FileContents(Path folder) {
        this.folder = folder;
    }

    /** A file of the study folder; empty, and told, where it is none. */
    private Optional<Path> file(Fields fields, String field, String file) {
        Path path = folder.resolve(file).normalize();
        if (!path.startsWith(folder.normalize())) {
            fields.error(field, "is \"" + file + "\", which lies outside the study",
                    "Put the file below the study's folder.");
            return Optional.empty();
        }
        if (!Files.isRegularFile(path)) {
            fields.error(field, "is \"" + file + "\", and there is no such file in " + folder,
                    "Put the file there, or correct the name.");
            return Optional.empty();
        }
        if (!Inside.is(folder, path)) {
            fields.error(field, "is \"" + file + "\", a link to something outside the study",
                    "Put the file itself below the study's folder.");
            return Optional.empty();
        }
        return Optional.of(path);
    }

    /** The column of a CSV file that the field {@code file} names. */
    List<String> column(Fields fields, String file, String column) {
        return file(fields, "file", file).map(path -> {
            try {
                Kept<List<String>> kept = rows.get(file + "\n" + column);
                if (kept != null && kept.isOf(path)) {
                    return kept.content();
                }
                Optional<List<String>> read = read(fields, path, file, column);
                if (read.isPresent()) {
                    rows.put(file + "\n" + column, Kept.of(path, read.get()));
                }
                return read.orElse(List.of(""));
            } catch (IOException | UncheckedIOException | IllegalArgumentException cause) {
                fields.error("file", "cannot be read as CSV: " + cause.getMessage(),
                        "Save it as UTF-8 text with commas and a header line (RFC 4180).");
                return List.of("");
            }
        }).orElse(List.of(""));
    }

    private static Optional<List<String>> read(Fields fields, Path path, String file, String column)
            throws IOException {
        CSVFormat format = CSVFormat.RFC4180.builder().setHeader().setSkipHeaderRecord(true).get();
        try (Reader reader = Files.newBufferedReader(path, StandardCharsets.UTF_8);
                CSVParser records = CSVParser.parse(reader, format)) {
            if (!records.getHeaderMap().containsKey(column)) {
                fields.error("column", "is \"" + column + "\", but " + file + " has the columns "
                        + String.join(", ", records.getHeaderNames()), "Use one of them.");
                return Optional.empty();
            }
            var rows = new ArrayList<String>();
            for (CSVRecord row : records) {
                if (!row.isSet(column)) {
                    fields.error("file",
                            "has too few columns in line " + records.getCurrentLineNumber() + " of " + file,
                            "Complete that line.");
                    return Optional.empty();
                }
                rows.add(row.get(column));
                if (rows.size() > MAX_ROWS) {
                    fields.error("file", "has more than " + MAX_ROWS + " rows", "Use a shorter list.");
                    return Optional.empty();
                }
            }
            return Optional.of(List.copyOf(rows));
        }
    }

    /** A timeline that was made ready, and its arrivals. */
    record KeptTimeline(ReadyTimeline ready, Instants instants) {
    }

    /** The timeline that the field {@code file} names; empty, and told, where it is none. */
    Optional<KeptTimeline> timeline(Fields fields, Workload workload) {
        String file = fields.text("file");
        return file(fields, "file", file).flatMap(path -> {
            try {
                var ready = ReadyTimeline.of(path, workload);
                return Optional.of(new KeptTimeline(ready, ready.instants()));
            } catch (TimelineException cause) {
                fields.error("file", String.valueOf(cause.getMessage()), cause.mend());
            } catch (IOException | IllegalArgumentException cause) {
                fields.error("file", "cannot be had as it was made ready: " + cause.getMessage(),
                        "Remove kadrem/timelines from the folder of cached files; it is made again.");
            }
            return Optional.empty();
        });
    }

    /** What the file is that a field names; nothing, and told, where it cannot be had. */
    Bytes content(Fields fields, String field) {
        String file = fields.text(field);
        return file(fields, field, file).map(path -> {
            try {
                if (Files.size(path) > MAX_BYTES) {
                    fields.error(field, "is larger than 64 MiB", "Use a smaller file.");
                    return Bytes.of(new byte[0]);
                }
                Kept<Bytes> kept = bytes.get(file);
                if (kept == null || !kept.isOf(path)) {
                    kept = Kept.of(path, Bytes.of(Files.readAllBytes(path)));
                    bytes.put(file, kept);
                }
                return kept.content();
            } catch (IOException cause) {
                fields.error(field, "cannot be read: " + cause.getMessage(), "Make it readable.");
                return Bytes.of(new byte[0]);
            }
        }).orElse(Bytes.of(new byte[0]));
    }
}
