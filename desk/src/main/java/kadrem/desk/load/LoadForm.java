package kadrem.desk.load;

import java.math.BigDecimal;
import java.math.MathContext;
import java.time.Duration;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;

import kadrem.core.study.LoadProfile;
import kadrem.core.study.Metric;
import kadrem.core.study.Requirement;
import kadrem.core.study.Segment;
import kadrem.core.study.Shape;
import kadrem.core.study.StopRule;
import kadrem.core.study.grammar.Durations;
import kadrem.files.study.Edit;

/** Between the load of a study and what the window shows and changes of it: rows of texts, and fields of the file. */
public final class LoadForm {
    static final List<String> KINDS = List.of("hold", "ramp", "step", "burst");
    static final List<String> AFTER = List.of("go on", "end all");

    private LoadForm() {
    }

    /** A number without an exponent or needless decimals. */
    static String plain(double number) {
        return number == Math.rint(number) ? Long.toString((long) number) : Double.toString(number);
    }

    /** Kind, length, level and stairs of each segment; no rows for one level, which has fields of its own, nor for what a file says. */
    static List<List<String>> segments(Shape shape) {
        return shape.isFlat() || shape.table().isPresent()
                ? List.of()
                : shape.segments().stream().map(segment -> List.of(segment.kind().id(),
                        Durations.write(segment.length()), plain(segment.level()),
                        segment.kind() == Segment.Kind.STEP ? Integer.toString(segment.stairs()) : "")).toList();
    }

    /** The edit for rows as typed; rows added to one level come after it. What is wrong with them is told by the file's reader. */
    static List<Edit> segments(String path, LoadProfile.Single load, List<List<String>> rows) {
        var items = new ArrayList<Map<String, Object>>();
        if (load.shape().isFlat() && !rows.isEmpty()) {
            items.add(item(load.shape().segments().getFirst()));
        }
        rows.forEach(row -> items.add(item(row)));
        boolean flat = items.isEmpty() || items.size() == 1 && items.getFirst().containsKey("hold");
        if (flat) {
            Map<String, Object> only = items.isEmpty() ? item(load.shape().segments().getFirst()) : items.getFirst();
            return List.of(new Edit.Put(path, Map.of("segments", Optional.empty(),
                    "measured", Optional.ofNullable(only.get("hold")), level(load),
                    Optional.ofNullable(only.get("at")))));
        }
        return List.of(new Edit.Put(path, Map.of("segments", Optional.of(items))));
    }

    /** The edit after which the profile is {@code after}. */
    static List<Edit> profile(LoadProfile.Single after) {
        var fields = new LinkedHashMap<String, Optional<Object>>();
        Shape shape = after.shape();
        if (shape.isFlat()) {
            fields.put("segments", Optional.empty());
            fields.put("measured", Optional.of(Durations.write(shape.length())));
            fields.put(level(after), Optional.of(plain(shape.peak())));
        } else {
            fields.put("segments", Optional.of(shape.segments().stream().map(LoadForm::item).toList()));
        }
        fields.put("warmUp", Optional.of(Durations.write(after.warmUp())));
        fields.put("windDown", after.course().windDown().isZero()
                ? Optional.empty()
                : Optional.of(Durations.write(after.course().windDown())));
        OptionalDouble warmUpLevel = after.course().warmUpLevel();
        fields.put("warmUpLevel", warmUpLevel.isPresent()
                ? Optional.of(plain(warmUpLevel.getAsDouble()))
                : Optional.empty());
        return List.of(new Edit.Put("load", fields));
    }

    private static String level(LoadProfile.Single load) {
        return load instanceof LoadProfile.Open ? "arrivalsPerSecond" : "users";
    }

    private static Map<String, Object> item(Segment segment) {
        return item(List.of(segment.kind().id(), Durations.write(segment.length()), plain(segment.level()),
                segment.kind() == Segment.Kind.STEP ? Integer.toString(segment.stairs()) : ""));
    }

    private static Map<String, Object> item(List<String> row) {
        var item = new LinkedHashMap<String, Object>();
        String kind = row.get(0);
        item.put(kind, row.get(1).strip());
        item.put(kind.equals("ramp") || kind.equals("step") ? "to" : "at", row.get(2).strip());
        if (kind.equals("step") && !row.get(3).isBlank()) {
            item.put("stairs", row.get(3).strip());
        }
        return item;
    }

    /** Metric, limit, time and what follows of each stop rule. */
    static List<List<String>> stopRules(List<StopRule> rules) {
        return rules.stream().map(rule -> List.of(rule.metric().id(), limit(rule.metric(), rule.limit()),
                Durations.write(rule.longFor()), AFTER.get(rule.endsCampaign() ? 1 : 0))).toList();
    }

    static List<Edit> stopWhen(List<List<String>> rows) {
        List<Map<String, String>> items = rows.stream().map(row -> Map.of("metric", row.get(0), "over",
                row.get(1).strip(), "for", row.get(2).isBlank() ? "10s" : row.get(2).strip(), "then",
                row.get(3).equals(AFTER.get(1)) ? "end" : "go-on")).toList();
        return List.of(new Edit.Put("load",
                Map.of("stopWhen", items.isEmpty() ? Optional.empty() : Optional.of(items))));
    }

    public static List<List<String>> requirements(List<Requirement> requirements) {
        return requirements.stream().map(one -> List.of(one.metric().id(), limit(one.metric(), one.limit()))).toList();
    }

    public static List<Edit> require(List<List<String>> rows) {
        List<Map<String, Object>> items = rows.stream().<Map<String, Object>>map(row -> {
            var item = new LinkedHashMap<String, Object>(metric(row.get(0)));
            item.put("limit", row.get(1).strip());
            return item;
        }).toList();
        return List.of(new Edit.Put("question",
                Map.of("require", items.isEmpty() ? Optional.empty() : Optional.of(items))));
    }

    /** The fields of a metric by its word, such as {@code p99 of readers}. */
    public static Map<String, Object> metric(String id) {
        var fields = new LinkedHashMap<String, Object>();
        Optional<Metric> metric = Metric.byId(id);
        fields.put("metric", metric.map(one -> one.of("").id()).orElse(id));
        metric.map(Metric::of).filter(part -> !part.isEmpty()).ifPresent(part -> fields.put("of", part));
        return fields;
    }

    /** A limit as a study file has it. */
    private static String limit(Metric metric, double limit) {
        return switch (metric.unit()) {
            case NANOSECONDS -> Durations.write(Duration.ofNanos(Math.round(limit)));
            case SHARE ->
                new BigDecimal(limit * 100).round(new MathContext(6)).stripTrailingZeros().toPlainString() + "%";
            case BYTES -> plain(limit / 1024 / 1024);
            case PER_SECOND, CPU_MILLISECONDS -> plain(limit);
        };
    }
}
