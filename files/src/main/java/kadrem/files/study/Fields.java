package kadrem.files.study;

import java.time.Duration;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

import kadrem.core.study.Problem;
import kadrem.files.study.YamlNode.Mapping;
import kadrem.files.study.YamlNode.Scalar;
import kadrem.files.study.YamlNode.Sequence;
import org.apache.commons.text.similarity.LevenshteinDistance;

/**
 * The fields of one group, taken one by one. What is missing or of the wrong kind is put on the list of problems and
 * replaced by a neutral value, so that one reading finds all problems; what was not taken is unknown.
 */
final class Fields {
    private final Mapping mapping;
    private final String path;
    private final Problems problems;
    private final Set<String> taken = new HashSet<>();
    /** Mends for fields that belong elsewhere, by their names. */
    private final Map<String, String> elsewhere = new HashMap<>();

    /** The problems found so far, and the lines of the paths seen so far. */
    static final class Problems {
        final List<Problem> list = new ArrayList<>();
        final Map<String, Integer> lines = new LinkedHashMap<>();

        void error(String path, String what, String mend) {
            list.add(Problem.error(path, what, mend));
        }

        /** Line of the path, or of the nearest group that holds it. */
        int lineOf(String path) {
            String at = path;
            while (!at.isEmpty()) {
                Integer line = lines.get(at);
                if (line != null) {
                    return line;
                }
                int cut = Math.max(at.lastIndexOf('.'), at.lastIndexOf('['));
                at = cut < 0 ? "" : at.substring(0, cut);
            }
            return 1;
        }
    }

    Fields(YamlNode node, String path, Problems problems) {
        this.path = path;
        this.problems = problems;
        if (node instanceof Mapping found) {
            mapping = found;
            found.entries().forEach((name, entry) -> problems.lines.put(child(name), entry.keyLine()));
        } else {
            mapping = new Mapping(Map.of(), node.line());
            problems.error(path, "is " + node.kind() + ", but should be a group of fields",
                    "Write its fields below it, each as name: value.");
        }
    }

    private String child(String name) {
        return path.isEmpty() ? name : path + "." + name;
    }

    private Optional<YamlNode> take(String name) {
        taken.add(name);
        YamlNode.Entry entry = mapping.entries().get(name);
        return entry == null || entry.value() instanceof Scalar scalar && scalar.isNull()
                ? Optional.empty()
                : Optional.of(entry.value());
    }

    boolean has(String name) {
        return mapping.entries().containsKey(name);
    }

    Optional<String> optional(String name) {
        return take(name).map(node -> scalar(child(name), node));
    }

    String text(String name, String example) {
        return optional(name).orElseGet(() -> missing(name, example));
    }

    private String missing(String name, String example) {
        problems.error(child(name), "is missing", "Add " + name + ": " + example);
        return "";
    }

    private String scalar(String at, YamlNode node) {
        if (node instanceof Scalar scalar) {
            return scalar.text();
        }
        problems.error(at, "is " + node.kind() + ", but should be a single value", "Write the value on the same line.");
        return "";
    }

    private interface Reading<T> {
        Optional<T> of(String text);
    }

    private <T> T read(String name, Optional<T> otherwise, T neutral, String example, Reading<T> reading) {
        Optional<String> text = optional(name);
        if (text.isEmpty()) {
            if (otherwise.isEmpty() && !hasProblemAt(child(name))) {
                missing(name, example);
            }
            return otherwise.orElse(neutral);
        }
        return reading.of(text.get()).orElseGet(() -> {
            if (!hasProblemAt(child(name))) {
                problems.error(child(name), "is \"" + text.get() + "\"",
                        "Write it like this: " + name + ": " + example);
            }
            return neutral;
        });
    }

    private boolean hasProblemAt(String at) {
        return problems.list.stream().anyMatch(problem -> problem.path().equals(at));
    }

    long integer(String name, Optional<Long> otherwise, String example) {
        return read(name, otherwise, 1L, example, text -> {
            try {
                return Optional.of(Long.parseLong(text.replace("_", "")));
            } catch (NumberFormatException _) {
                return Optional.empty();
            }
        });
    }

    int smallInteger(String name, Optional<Long> otherwise, String example) {
        return Math.clamp(integer(name, otherwise, example), Integer.MIN_VALUE, Integer.MAX_VALUE);
    }

    double number(String name, Optional<Double> otherwise, String example) {
        return read(name, otherwise, 1.0, example, Fields::parseNumber);
    }

    /** A share, written 0.05 or 5%. */
    double share(String name, Optional<Double> otherwise, String example) {
        return read(name, otherwise, 0.05, example, text -> text.strip().endsWith("%")
                ? parseNumber(text.strip().substring(0, text.strip().length() - 1)).map(number -> number / 100)
                : parseNumber(text));
    }

    private static Optional<Double> parseNumber(String text) {
        try {
            double number = Double.parseDouble(text.strip());
            return Double.isFinite(number) ? Optional.of(number) : Optional.empty();
        } catch (NumberFormatException _) {
            return Optional.empty();
        }
    }

    /** true or false. */
    boolean flag(String name, boolean otherwise) {
        return read(name, Optional.of(otherwise), otherwise, "true", text -> text.equals("true") || text.equals("false")
                ? Optional.of(text.equals("true"))
                : Optional.empty());
    }

    Duration duration(String name, Optional<Duration> otherwise, String example) {
        return read(name, otherwise, Duration.ofSeconds(1), example, Durations::parse);
    }

    Fields group(String name, String example) {
        Optional<YamlNode> node = take(name);
        if (node.isEmpty()) {
            missing(name, example);
            return new Fields(new Mapping(Map.of(), mapping.line()), child(name), new Problems());
        }
        return new Fields(node.get(), child(name), problems);
    }

    Optional<Fields> optionalGroup(String name) {
        return take(name).map(node -> new Fields(node, child(name), problems));
    }

    /** The items of a list as groups; empty where the list is missing. */
    List<Fields> groups(String name) {
        var groups = new ArrayList<Fields>();
        List<YamlNode> items = items(name);
        for (int i = 0; i < items.size(); i++) {
            String at = child(name) + "[" + i + "]";
            problems.lines.put(at, items.get(i).line());
            groups.add(new Fields(items.get(i), at, problems));
        }
        return groups;
    }

    List<String> texts(String name) {
        var texts = new ArrayList<String>();
        List<YamlNode> items = items(name);
        for (int i = 0; i < items.size(); i++) {
            texts.add(scalar(child(name) + "[" + i + "]", items.get(i)));
        }
        return texts;
    }

    /** The items of a list, or a single value as the only item. */
    List<String> textOrTexts(String name) {
        return has(name) && !isList(name) ? optional(name).map(List::of).orElse(List.of()) : texts(name);
    }

    boolean isList(String name) {
        return has(name) && mapping.entries().get(name).value() instanceof Sequence;
    }

    /** Names of the fields that are there. */
    List<String> names() {
        return List.copyOf(mapping.entries().keySet());
    }

    private List<YamlNode> items(String name) {
        Optional<YamlNode> node = take(name);
        return switch (node.orElse(null)) {
            case null -> List.of();
            case Sequence sequence -> sequence.items();
            case YamlNode other -> {
                problems.error(child(name), "is " + other.kind() + ", but should be a list",
                        "Write each item on a line of its own, beginning with a hyphen.");
                yield List.of();
            }
        };
    }

    /** All fields as texts, for groups whose names are free. */
    Map<String, String> allTexts() {
        var texts = new LinkedHashMap<String, String>();
        mapping.entries().keySet().forEach(name -> texts.put(name, optional(name).orElse("")));
        return texts;
    }

    /** Fields that have no effect here and are not worth a warning, such as those of the other load model. */
    void passOver(String... names) {
        taken.addAll(List.of(names));
    }

    /** Should a field of this name be here and not be known, that is what to do. */
    void belongsElsewhere(String name, String mend) {
        elsewhere.put(name, mend);
    }

    void error(String name, String what, String mend) {
        problems.error(child(name), what, mend);
    }

    /** Warns of fields that nobody took. Names that begin with x- are for other programs and pass. */
    void warnOfUnknown() {
        for (String name : mapping.entries().keySet()) {
            if (!taken.contains(name) && !name.startsWith("x-")) {
                String near = Optional.ofNullable(elsewhere.get(name)).or(() -> taken.stream()
                        .filter(known -> LevenshteinDistance.getDefaultInstance().apply(known, name) <= 2)
                        .sorted().findFirst().map(known -> "Did you mean " + known + "? ")).orElse("");
                problems.list.add(
                        Problem.warning(child(name), "is not a field that Kadrem knows; it is kept, without effect",
                                near + "Names that begin with x- are yours to use."));
            }
        }
    }
}
