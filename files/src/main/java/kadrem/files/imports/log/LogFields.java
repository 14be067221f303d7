package kadrem.files.imports.log;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Predicate;
import java.util.stream.Collectors;

import kadrem.files.imports.ImportException;

/**
 * Which fields of a log tell what.
 *
 * @param names of fields by what they tell; of all that may be told only the time must be
 */
record LogFields(Map<String, String> names) {
    private static final String TIME = "time";
    private static final String PATH = "path";
    private static final String METHOD = "method";
    private static final String STATUS = "status";
    /** What a field may tell. */
    static final List<String> TOLD = List.of(TIME, PATH, METHOD, STATUS);

    /**
     * The fields that were chosen, and for the others those whose values look like it in all rows; of several the one whose name says so,
     * of which the shortest.
     *
     * @throws ImportException if no field tells the time, or a chosen one is not there
     */
    static LogFields of(List<Map<String, String>> rows, Map<String, String> chosen) throws ImportException {
        List<String> all = rows.stream().flatMap(row -> row.keySet().stream()).distinct().toList();
        Map<String, String> names = new LinkedHashMap<>();
        for (Map.Entry<String, String> one : chosen.entrySet()) {
            if (!TOLD.contains(one.getKey())) {
                throw new ImportException("\"" + one.getKey() + "\" is nothing that a field tells. Use "
                        + String.join(", ", TOLD) + ".");
            }
            if (!all.contains(one.getValue())) {
                throw new ImportException("There is no field \"" + one.getValue() + "\" for the " + one.getKey()
                        + "; there are " + shown(all) + ".");
            }
            names.put(one.getKey(), one.getValue());
        }
        look(names, TIME, rows, all, value -> LogTime.isSince1970(value) && LogTime.parse(value).isPresent(),
                "time|date|stamp|ts|at");
        look(names, PATH, rows, all, LogFields::isAddress, "path|uri|url|request|target");
        look(names, METHOD, rows, all, value -> LogFormat.METHODS.contains(value.toUpperCase(Locale.ROOT)),
                "method|verb");
        look(names, STATUS, rows, all, value -> LogFormat.status(value) > 0, "status|code|answer|response");
        if (!names.containsKey(TIME)) {
            throw new ImportException("None of its fields holds an instant in each line: " + shown(all)
                    + ". Say which one it is, such as time=" + (all.isEmpty() ? "when" : all.getFirst()) + ".");
        }
        return new LogFields(names);
    }

    private static String shown(List<String> names) {
        String all = String.join(", ", names);
        return all.length() > 300 ? all.substring(0, 300) + "…" : all;
    }

    private static boolean isAddress(String value) {
        return value.startsWith("/") || value.matches("(?i)https?://.*")
                || LogFormat.METHODS.stream().anyMatch(method -> value.startsWith(method + " /"));
    }

    private static void look(Map<String, String> names, String told, List<Map<String, String>> rows, List<String> all,
            Predicate<String> fits, String named) {
        if (names.containsKey(told)) {
            return;
        }
        var fitting = new ArrayList<>(all.stream().filter(name -> !names.containsValue(name)).filter(name -> {
            List<String> values = rows.stream().map(row -> row.getOrDefault(name, "")).toList();
            // a line may be damaged
            return !values.isEmpty() && values.stream().filter(fits).count() * 10 > values.size() * 9L;
        }).toList());
        fitting.sort(
                Comparator.comparing((String name) -> !name.toLowerCase(Locale.ROOT).matches(".*(" + named + ").*"))
                        .thenComparing(String::length));
        if (!fitting.isEmpty()) {
            names.put(told, fitting.getFirst());
        }
    }

    /** What a row says. */
    Optional<LogLine> line(Map<String, String> row) {
        return LogTime.parse(said(row, TIME)).flatMap(at -> names.containsKey(PATH)
                ? LogFormat.request(at, said(row, METHOD), said(row, PATH), LogFormat.status(said(row, STATUS)))
                : Optional.of(LogLine.instant(at)));
    }

    private String said(Map<String, String> row, String told) {
        return row.getOrDefault(names.getOrDefault(told, ""), "");
    }

    /** "time from ts, path from url". */
    String words() {
        return names.entrySet().stream().map(one -> one.getKey() + " from " + one.getValue())
                .collect(Collectors.joining(", "));
    }
}
