package kadrem.desk.workload;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

import kadrem.core.study.Call;
import kadrem.load.content.JsonQuery;
import kadrem.load.content.PointedValue;
import kadrem.load.content.UnreadableContent;

/** What becomes of a call when somebody points at a place of its answer: fields of the study file, of which none is lost. */
final class Pointing {
    /** Values of a list that is written out in the study; a longer one belongs into a file. */
    private static final int MAX_LISTED = 1_000;

    private Pointing() {
    }

    /** Expects the value; of an object or an array, that it is there. */
    static Map<String, Optional<Object>> expecting(Call call, PointedValue value) {
        return expecting(call, new PartRows.Row("JSON value", value.path(), value.text().orElse("")));
    }

    /** Expects of a header what it holds. */
    static Map<String, Optional<Object>> expecting(Call call, Call.Header header) {
        return expecting(call, new PartRows.Row("header holds", header.name(), header.value()));
    }

    private static Map<String, Optional<Object>> expecting(Call call, PartRows.Row row) {
        var rows = new ArrayList<>(CallForm.expectations(call));
        rows.add(row);
        return Map.of("expect", CallForm.expect(CallForm.statuses(call), CallForm.within(call.expected()), rows));
    }

    /** Captures the value under a name that no other capture of the call has. */
    static Map<String, Optional<Object>> capturing(Call call, PointedValue value) {
        return capturing(call, "JSON", value.path());
    }

    static Map<String, Optional<Object>> capturing(Call call, Call.Header header) {
        return capturing(call, "header", header.name());
    }

    private static Map<String, Optional<Object>> capturing(Call call, String source, String where) {
        var rows = new ArrayList<>(CallForm.captures(call));
        rows.add(new PartRows.Row(source, name(where, rows.stream().map(PartRows.Row::name).toList()), where));
        return Map.of("capture", CallForm.capture(rows));
    }

    /** The different values of a column, in their order; at most as many as a study file has room for. */
    static List<String> column(String column, byte[] json) {
        try {
            return JsonQuery.of(column).texts(JsonQuery.Document.of(json)).stream().distinct().limit(MAX_LISTED)
                    .toList();
        } catch (UnreadableContent _) {
            return List.of();
        }
    }

    /** A value list from which one of the values is picked, under a name that is not taken. */
    static Map<String, Object> list(String column, List<String> values, List<String> taken) {
        var list = new LinkedHashMap<String, Object>();
        list.put("name", name(column, taken));
        list.put("kind", "pick");
        list.put("of", values);
        return list;
    }

    private static String name(String where, List<String> taken) {
        String stem = stem(where);
        String name = stem;
        for (int i = 2; taken.contains(name); i++) {
            name = stem + "-" + i;
        }
        return name;
    }

    /** The last name in a path, as a name in braces may be. */
    private static String stem(String where) {
        String words = where.replaceAll("\\[(\\d+|\\*)]", "").replaceAll("[^A-Za-z0-9]+", " ").strip()
                .toLowerCase(Locale.ROOT);
        String last = words.substring(words.lastIndexOf(' ') + 1);
        return last.isEmpty() || Character.isDigit(last.charAt(0)) ? "value" : last;
    }
}
