package kadrem.files.imports.log;

import java.io.IOException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import java.util.regex.Pattern;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import kadrem.files.imports.ImportException;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVParser;
import org.apache.commons.csv.CSVRecord;

/** How the lines of a log are written. */
sealed interface LogFormat {
    Set<String> METHODS = Set.of("GET", "HEAD", "POST", "PUT", "PATCH", "DELETE", "OPTIONS");

    Pattern ORIGIN = Pattern.compile("(?i)^https?://[^/?]*");

    /** What a line says; empty where it says nothing of an arrival. */
    Optional<LogLine> read(String line);

    /** "Common Log Format". */
    String words();

    /**
     * The format of a log, by its first lines.
     *
     * @param chosen names of fields by what they tell ({@code time}, {@code path}, {@code method}, {@code status})
     * @throws ImportException if it is none that is known
     */
    static LogFormat of(List<String> first, Map<String, String> chosen) throws ImportException {
        List<String> lines = first.stream().filter(line -> !line.isBlank()).toList();
        if (lines.isEmpty()) {
            throw new ImportException("It has no lines.");
        }
        if (chosen.isEmpty() && most(lines, line -> Common.line(line).isPresent())) {
            return new Common();
        }
        if (most(lines, line -> line.stripLeading().startsWith("{"))) {
            List<Map<String, String>> rows = lines.stream().flatMap(line -> Json.fields(line).stream()).toList();
            return new Json(LogFields.of(rows, chosen));
        }
        if (most(lines, line -> LogTime.parse(line.strip()).isPresent())) {
            return new Times();
        }
        List<String> names = Csv.cells(lines.getFirst());
        List<Map<String, String>> rows = lines.stream().skip(1).map(line -> Csv.fields(names, Csv.cells(line)))
                .toList();
        if (rows.isEmpty() || names.size() < 2
                && LogTime.parse(rows.getFirst().getOrDefault(names.isEmpty() ? "" : names.getFirst(), "")).isEmpty()) {
            throw new ImportException(
                    "It is no access log in the common or combined format, nor JSON lines, nor CSV with a"
                            + " header line, nor a list of instants.");
        }
        return new Csv(names, lines.getFirst(), LogFields.of(rows, chosen));
    }

    private static boolean most(List<String> lines, Predicate<String> is) {
        return lines.stream().filter(is).count() * 2 > lines.size();
    }

    /** "GET /berths/7 HTTP/1.1", or an address alone; empty where it is neither. */
    static Optional<LogLine> request(LogTime at, String method, String text, int status) {
        int space = text.indexOf(' ');
        boolean whole = space > 0 && METHODS.contains(text.substring(0, space));
        String verb = whole ? text.substring(0, space) : method.isEmpty() ? "GET" : method.toUpperCase(Locale.ROOT);
        int end = text.indexOf(' ', space + 1);
        return target(whole ? text.substring(space + 1, end < 0 ? text.length() : end) : text)
                .filter(_ -> METHODS.contains(verb))
                .map(target -> new LogLine(at, verb, target, status));
    }

    /** Path and question of an address (RFC 9112, section 3.2); of a whole address without its host. */
    private static Optional<String> target(String text) {
        int fragment = text.indexOf('#');
        String whole = fragment < 0 ? text : text.substring(0, fragment);
        String target = whole.startsWith("/") ? whole : ORIGIN.matcher(whole).replaceFirst("");
        if (target.isEmpty() || target.startsWith("?")) {
            target = text.isEmpty() ? "" : "/" + target;
        }
        return Optional.of(target).filter(one -> one.startsWith("/"));
    }

    static int status(String text) {
        boolean is = text.length() == 3 && text.charAt(0) >= '1' && text.charAt(0) <= '5'
                && Character.isDigit(text.charAt(1))
                && Character.isDigit(text.charAt(2));
        return is ? Integer.parseInt(text) : 0;
    }

    /** Common and combined, as web servers write them: host, identity, user, [time], "request", status, bytes, and what follows. */
    record Common() implements LogFormat {
        @Override
        public Optional<LogLine> read(String line) {
            return line(line);
        }

        static Optional<LogLine> line(String line) {
            int open = line.indexOf('[');
            int close = line.indexOf(']', open + 1);
            int quote = line.indexOf('"', close + 1);
            int end = quote + 1;
            while (quote >= 0 && end < line.length() && line.charAt(end) != '"') {
                end += line.charAt(end) == '\\' ? 2 : 1;
            }
            if (open < 0 || close < 0 || quote < 0 || end >= line.length()) {
                return Optional.empty();
            }
            String request = line.substring(quote + 1, end);
            int from = Math.min(line.length(), end + 2);
            int to = line.indexOf(' ', from);
            int status = status(line.substring(from, to < 0 ? line.length() : to));
            return LogTime.parse(line.substring(open + 1, close)).flatMap(at -> request(at, "", request, status));
        }

        @Override
        public String words() {
            return "an access log in the common or combined format";
        }
    }

    /** An instant a line, and nothing else. */
    record Times() implements LogFormat {
        @Override
        public Optional<LogLine> read(String line) {
            return LogTime.parse(line.strip()).map(LogLine::instant);
        }

        @Override
        public String words() {
            return "a list of instants";
        }
    }

    /** An object a line; fields of objects in it are named with dots between. */
    record Json(LogFields fields) implements LogFormat {
        private static final ObjectMapper MAPPER = new ObjectMapper();
        private static final int DEEPEST = 6;

        static Optional<Map<String, String>> fields(String line) {
            try {
                JsonNode node = MAPPER.readTree(line);
                if (node == null || !node.isObject()) {
                    return Optional.empty();
                }
                Map<String, String> fields = new LinkedHashMap<>();
                flatten("", node, fields, 0);
                return Optional.of(fields);
            } catch (JsonProcessingException _) {
                return Optional.empty();
            }
        }

        private static void flatten(String before, JsonNode node, Map<String, String> into, int depth) {
            node.properties().forEach(field -> {
                JsonNode value = field.getValue();
                if (value.isObject() && depth < DEEPEST) {
                    flatten(before + field.getKey() + ".", value, into, depth + 1);
                } else if (value.isNumber()) {
                    into.put(before + field.getKey(), value.decimalValue().toPlainString());
                } else if (value.isValueNode()) {
                    into.put(before + field.getKey(), value.asText());
                }
            });
        }

        @Override
        public Optional<LogLine> read(String line) {
            return fields(line).flatMap(fields::line);
        }

        @Override
        public String words() {
            return "JSON lines (" + fields.words() + ")";
        }
    }

    /** A row a line, below a header (RFC 4180). */
    record Csv(List<String> names, String header, LogFields fields) implements LogFormat {
        static List<String> cells(String line) {
            try (CSVParser parser = CSVParser.parse(line, CSVFormat.RFC4180)) {
                var cells = new ArrayList<String>();
                for (CSVRecord row : parser) {
                    row.forEach(cells::add);
                }
                return cells;
            } catch (IOException | IllegalArgumentException | java.io.UncheckedIOException _) {
                return List.of();
            }
        }

        static Map<String, String> fields(List<String> names, List<String> cells) {
            Map<String, String> fields = new LinkedHashMap<>();
            for (int i = 0; i < Math.min(names.size(), cells.size()); i++) {
                fields.put(names.get(i), cells.get(i));
            }
            return fields;
        }

        @Override
        public Optional<LogLine> read(String line) {
            return line.equals(header) ? Optional.empty() : fields.line(fields(names, cells(line)));
        }

        @Override
        public String words() {
            return "CSV (" + fields.words() + ")";
        }
    }
}
