package kadrem.desk.workload;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

import kadrem.core.study.Call;
import kadrem.load.content.PointedValue;

/** What becomes of a call when somebody points at a place of its answer: fields of the study file, of which none is lost. */
final class Pointing {
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
        List<String> taken = rows.stream().map(PartRows.Row::name).toList();
        String stem = stem(where);
        String name = stem;
        for (int i = 2; taken.contains(name); i++) {
            name = stem + "-" + i;
        }
        rows.add(new PartRows.Row(source, name, where));
        return Map.of("capture", CallForm.capture(rows));
    }

    /** The last name in a path, as a name in braces may be. */
    private static String stem(String where) {
        String words = where.replaceAll("\\[\\d+]", "").replaceAll("[^A-Za-z0-9]+", " ").strip()
                .toLowerCase(Locale.ROOT);
        String last = words.substring(words.lastIndexOf(' ') + 1);
        return last.isEmpty() || Character.isDigit(last.charAt(0)) ? "value" : last;
    }
}
