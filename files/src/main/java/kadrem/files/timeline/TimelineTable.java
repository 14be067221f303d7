package kadrem.files.timeline;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.UncheckedIOException;
import java.math.BigDecimal;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.security.DigestInputStream;
import java.security.MessageDigest;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.IntStream;

import kadrem.core.plan.Instants;
import kadrem.core.study.ValueList;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVParser;
import org.apache.commons.csv.CSVRecord;
import org.apache.commons.csv.DuplicateHeaderMode;

/**
 * The CSV of a timeline (RFC 4180, UTF-8, with a header line): {@code at}, seconds from the beginning, never before the line above;
 * {@code visit}, the name of the visit that is made, by share where it is empty or left out; and columns named like value lists of the
 * workload, with the value that is sent, drawn where it is empty. It is read line by line.
 */
final class TimelineTable {
    /** Columns that every timeline may have. */
    static final String AT = "at";
    static final String VISIT = "visit";
    static final long MOST = 50_000_000;
    private static final Pattern SECONDS = Pattern.compile("\\d{1,9}(\\.\\d{1,9})?");
    private static final int NANOS = 9;
    private static final int MOST_SHOWN = 60;
    /** Arrivals that are written together. */
    private static final int BLOCK = 2048;

    private final Path csv;
    private final Workload workload;
    private final CSVParser rows;
    private final Map<String, Integer> visits;
    private final List<Column> columns = new ArrayList<>();

    /** A column of values, and the rows of its list by their texts where they are listed. */
    private record Column(ValueList list, int number, Map<String, Integer> rows) {
    }

    private TimelineTable(Path csv, Workload workload, CSVParser rows) throws TimelineException {
        this.csv = csv;
        this.workload = workload;
        this.rows = rows;
        if (!rows.getHeaderNames().contains(AT)) {
            throw new TimelineException("has no column " + AT + " in " + csv.getFileName(),
                    "Give it a header line such as at,visit, with seconds from the beginning below at.");
        }
        List<String> names = workload.visits().stream().map(Visit::name).toList();
        visits = new HashMap<>();
        for (int i = 0; i < names.size(); i++) {
            visits.putIfAbsent(names.get(i), i);
        }
        for (String name : rows.getHeaderNames()) {
            if (!name.equals(AT) && !name.equals(VISIT)) {
                columns.add(column(name));
            }
        }
    }

    private Column column(String name) throws TimelineException {
        int number = IntStream.range(0, workload.values().size())
                .filter(i -> workload.values().get(i).name().equals(name)).findFirst()
                .orElseThrow(() -> new TimelineException(
                        "has the column \"" + shown(name) + "\" in " + csv.getFileName()
                                + ", and the workload no value list of that name",
                        workload.values().isEmpty()
                                ? "Remove the column, or add the list."
                                : "Use one of " + workload.values().stream().map(ValueList::name)
                                        .collect(Collectors.joining(", ")) + ", or remove the column."));
        ValueList list = workload.values().get(number);
        if (list.draw().keep() == ValueList.Keep.CALL) {
            throw new TimelineException("has values of " + name + " in " + csv.getFileName()
                    + ", and that list is drawn anew for each call", "Remove keep: call from the list, or the column.");
        }
        return switch (list) {
            case ValueList.NumberRange _,ValueList.Zipf _ -> new Column(list, number, Map.of());
            case ValueList.Listed listed -> {
                Map<String, Integer> byText = new HashMap<>();
                for (int i = 0; i < listed.rows().size(); i++) {
                    byText.putIfAbsent(listed.rows().get(i), i);
                }
                yield new Column(list, number, byText);
            }
            default -> throw new TimelineException("has values of " + name + " in " + csv.getFileName()
                    + ", a list that makes its values up",
                    "Use a list of numbers, a column or a pick, or remove the column.");
        };
    }

    /**
     * Reads a timeline and writes its arrivals as runs take them.
     *
     * @return SHA-256 of what was read
     * @throws TimelineException if it is none, with its line
     */
    static byte[] read(Path csv, Workload workload, Path into) throws IOException, TimelineException {
        MessageDigest digest = ReadyTimeline.sha256();
        CSVFormat format = CSVFormat.RFC4180.builder().setHeader().setSkipHeaderRecord(true)
                .setDuplicateHeaderMode(DuplicateHeaderMode.DISALLOW).get();
        try (var in = new DigestInputStream(Files.newInputStream(csv), digest);
                var reader = new BufferedReader(
                        new InputStreamReader(in, StandardCharsets.UTF_8.newDecoder()), 1 << 16);
                CSVParser rows = CSVParser.parse(reader, format)) {
            new TimelineTable(csv, workload, rows).write(into);
            return digest.digest();
        } catch (CharacterCodingException _) {
            throw new TimelineException("is not UTF-8 text", "Save it as UTF-8.");
        } catch (IllegalArgumentException | UncheckedIOException cause) {
            throw new TimelineException("cannot be read as CSV: " + cause.getMessage(),
                    "Save it as UTF-8 text with commas and a header line (RFC 4180).");
        }
    }

    private void write(Path into) throws IOException, TimelineException {
        List<Integer> lists = columns.stream().map(Column::number).toList();
        long count = 0;
        int numbers = 2 + columns.size();
        ByteBuffer block = Instants.room(numbers * BLOCK);
        try (FileChannel out = FileChannel.open(into, StandardOpenOption.WRITE, StandardOpenOption.TRUNCATE_EXISTING)) {
            writeAll(out, Instants.head(0, lists));
            long before = 0;
            for (CSVRecord row : rows) {
                long at = at(row, before);
                before = at;
                block.putLong(at).putLong(visit(row));
                for (Column column : columns) {
                    block.putLong(row(row, column));
                }
                if (!block.hasRemaining()) {
                    writeAll(out, block.flip());
                    block.clear();
                }
                if (++count > MOST) {
                    throw new TimelineException("has more than " + MOST + " arrivals", "Use a shorter file.");
                }
            }
            writeAll(out, block.flip());
            if (count == 0) {
                throw new TimelineException("has no arrivals in " + csv.getFileName(), "Give it a line for each.");
            }
            out.position(0);
            writeAll(out, Instants.head(count, lists));
        }
    }

    private static void writeAll(FileChannel out, ByteBuffer bytes) throws IOException {
        while (bytes.hasRemaining()) {
            out.write(bytes);
        }
    }

    private String cell(CSVRecord row, String column) throws TimelineException {
        if (!row.isSet(column)) {
            throw wrong("has too few columns", "Complete that line.");
        }
        return row.get(column);
    }

    private long at(CSVRecord row, long before) throws TimelineException {
        String text = cell(row, AT);
        if (!SECONDS.matcher(text).matches()) {
            throw wrong("has " + AT + " \"" + shown(text) + "\"", "Write seconds from the beginning, such as 12.25.");
        }
        long at = new BigDecimal(text).movePointRight(NANOS).longValueExact();
        if (at < before) {
            throw wrong("has " + AT + " " + text + ", before the line above", "Sort the lines by " + AT + ".");
        }
        return at;
    }

    private long visit(CSVRecord row) throws TimelineException {
        String name = row.isMapped(VISIT) ? cell(row, VISIT) : "";
        if (name.isEmpty()) {
            return Instants.DRAWN;
        }
        Integer number = visits.get(name);
        if (number == null) {
            throw wrong("has the visit \"" + shown(name) + "\", and the workload none of that name",
                    "Use one of " + shown(String.join(", ", visits.keySet())) + ".");
        }
        return number;
    }

    private long row(CSVRecord row, Column column) throws TimelineException {
        String text = cell(row, column.list().name());
        if (text.isEmpty()) {
            return Instants.DRAWN;
        }
        OptionalLong found = switch (column.list()) {
            case ValueList.NumberRange range -> number(text, range.from(), range.to());
            case ValueList.Zipf zipf -> number(text, zipf.from(), zipf.to());
            default -> Optional.ofNullable(column.rows().get(text)).map(OptionalLong::of).orElse(OptionalLong.empty());
        };
        return found.orElseThrow(() -> wrong("has \"" + shown(text) + "\" for " + column.list().name()
                + ", which is none of the values of that list", "Add it to the list, or empty the field."));
    }

    private static OptionalLong number(String text, long from, long to) {
        try {
            long number = Long.parseLong(text);
            return number >= from && number <= to ? OptionalLong.of(number - from) : OptionalLong.empty();
        } catch (NumberFormatException _) {
            return OptionalLong.empty();
        }
    }

    private TimelineException wrong(String what, String mend) {
        return new TimelineException(
                what + " in line " + rows.getCurrentLineNumber() + " of " + csv.getFileName(), mend);
    }

    private static String shown(String text) {
        return text.length() > MOST_SHOWN ? text.substring(0, MOST_SHOWN) + "…" : text;
    }
}
