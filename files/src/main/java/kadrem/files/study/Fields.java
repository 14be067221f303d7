package kadrem.files.study;

import java.time.Duration;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;

import kadrem.core.study.grammar.Durations;
import kadrem.core.study.grammar.Field;
import kadrem.core.study.grammar.Group;
import kadrem.core.study.grammar.Kind;
import kadrem.core.study.grammar.Words;
import kadrem.files.study.YamlNode.Mapping;
import kadrem.files.study.YamlNode.Scalar;
import kadrem.files.study.YamlNode.Sequence;

/**
 * The fields of one group. What is wrong with a field by itself is told by {@link GrammarCheck}; here it is replaced by what the
 * grammar has for a field that is left out, or by a neutral value, so that reading goes on and finds what else is wrong.
 */
final class Fields {
    private final Mapping mapping;
    private final Map<String, Field> known;
    private final String path;
    private final Problems problems;

    private Fields(YamlNode node, Group group, String path, Problems problems) {
        this.mapping = node instanceof Mapping found ? found : Mapping.empty(node.line());
        known = group.taking(group.markers().stream().filter(mapping.entries()::containsKey).findFirst());
        this.path = path;
        this.problems = problems;
    }

    static Fields of(Mapping root, Group group, Problems problems) {
        return new Fields(root, group, "", problems);
    }

    private String child(String name) {
        return path.isEmpty() ? name : path + "." + name;
    }

    private Field field(String name) {
        return Optional.ofNullable(known.get(name)).orElseThrow(
                () -> new IllegalArgumentException("the grammar has no field " + child(name)));
    }

    private Optional<YamlNode> node(String name) {
        return Optional.ofNullable(mapping.entries().get(name)).map(YamlNode.Entry::value)
                .filter(value -> !GrammarCheck.isMissing(value));
    }

    /** Whether the field is there, even if it is empty. */
    boolean has(String name) {
        return mapping.entries().containsKey(name);
    }

    /** The field as it is written. */
    Optional<String> optional(String name) {
        field(name);
        return node(name).map(node -> node instanceof Scalar scalar ? scalar.text() : "");
    }

    /** The field as it is written; what is usual where it is left out. */
    String text(String name) {
        return optional(name).or(() -> field(name).usual()).orElse("");
    }

    private <T> T read(String name, T otherwise, Function<String, Optional<T>> reading) {
        return optional(name).flatMap(reading).orElse(otherwise);
    }

    private <T> T read(String name, Function<String, Optional<T>> reading, T neutral) {
        return read(name, field(name).usual().flatMap(reading).orElse(neutral), reading);
    }

    long whole(String name) {
        return read(name, Words::whole, 1L);
    }

    int count(String name) {
        return Math.toIntExact(Math.clamp(whole(name), Integer.MIN_VALUE, Integer.MAX_VALUE));
    }

    int count(String name, int otherwise) {
        return read(name, otherwise, text -> Words.whole(text).map(value -> Math.clamp(value, Integer.MIN_VALUE,
                Integer.MAX_VALUE)));
    }

    double number(String name) {
        return read(name, Words::number, 1.0);
    }

    double number(String name, double otherwise) {
        return read(name, otherwise, Words::number);
    }

    double share(String name) {
        return read(name, Words::share, 0.0);
    }

    double share(String name, double otherwise) {
        return read(name, otherwise, Words::share);
    }

    boolean flag(String name) {
        return read(name, Words::flag, false);
    }

    boolean flag(String name, boolean otherwise) {
        return read(name, otherwise, Words::flag);
    }

    Duration time(String name) {
        return read(name, Durations::parse, Duration.ofSeconds(1));
    }

    Duration time(String name, Duration otherwise) {
        return read(name, otherwise, Durations::parse);
    }

    /** One of a few words, as what it stands for. */
    <T> Optional<T> choice(String name, Function<String, Optional<T>> byId) {
        return Optional.of(text(name)).flatMap(byId);
    }

    /** A field whose way of writing hangs on another: what is wrong with it is told here. */
    <T> Optional<T> as(String name, Kind kind, String example, Function<String, Optional<T>> reading) {
        Optional<String> text = optional(name);
        text.flatMap(one -> Words.fault(kind, name, example, one))
                .ifPresent(fault -> error(name, fault.what(), fault.mend()));
        return text.flatMap(reading);
    }

    /** The group of a field; one without fields where it is left out. */
    Fields group(String name) {
        return optionalGroup(name).orElseGet(() -> new Fields(Mapping.empty(mapping.line()), below(name), child(name),
                problems));
    }

    private Group below(String name) {
        return field(name).kind().below()
                .orElseThrow(() -> new IllegalArgumentException(child(name) + " is no group in the grammar"));
    }

    Optional<Fields> optionalGroup(String name) {
        return node(name).map(node -> new Fields(node, below(name), child(name), problems));
    }

    /** The items of a list as groups; empty where the list is left out. */
    List<Fields> groups(String name) {
        Group below = below(name);
        var groups = new ArrayList<Fields>();
        List<YamlNode> items = items(name);
        for (int i = 0; i < items.size(); i++) {
            groups.add(new Fields(items.get(i), below, child(name) + "[" + i + "]", problems));
        }
        return groups;
    }

    /** Groups by names that are free. */
    Map<String, Fields> named(String name) {
        Group below = below(name);
        var named = new LinkedHashMap<String, Fields>();
        if (node(name).orElse(null) instanceof Mapping names) {
            names.entries().forEach((key, entry) -> named.put(key,
                    new Fields(entry.value(), below, child(name) + "." + key, problems)));
        }
        return named;
    }

    /** Texts by names that are free. */
    Map<String, String> pairs(String name) {
        field(name);
        var pairs = new LinkedHashMap<String, String>();
        if (node(name).orElse(null) instanceof Mapping names) {
            names.entries().forEach((key, entry) -> pairs.put(key,
                    entry.value() instanceof Scalar scalar ? scalar.text() : ""));
        }
        return pairs;
    }

    /** The items of a list, or a single value as the only item. */
    List<String> texts(String name) {
        field(name);
        return node(name).orElse(null) instanceof Scalar scalar
                ? List.of(scalar.text())
                : items(name).stream().map(item -> item instanceof Scalar scalar ? scalar.text() : "").toList();
    }

    boolean isList(String name) {
        return node(name).orElse(null) instanceof Sequence;
    }

    /** The fields of a protocol that are there. */
    Map<String, List<String>> known(List<Field> fields) {
        Map<String, List<String>> texts = new LinkedHashMap<>();
        for (Field field : fields) {
            List<String> read = field.isList()
                    ? texts(field.name())
                    : optional(field.name()).map(List::of).orElse(List.of());
            if (!read.isEmpty()) {
                texts.put(field.name(), read);
            }
        }
        return texts;
    }

    private List<YamlNode> items(String name) {
        return node(name).orElse(null) instanceof Sequence sequence ? sequence.items() : List.of();
    }

    void error(String name, String what, String mend) {
        problems.error(child(name), what, mend);
    }
}
