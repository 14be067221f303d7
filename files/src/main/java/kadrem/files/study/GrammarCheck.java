package kadrem.files.study;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;

import kadrem.core.study.Protocol;
import kadrem.core.study.Protocols;
import kadrem.core.study.grammar.Field;
import kadrem.core.study.grammar.Grammar;
import kadrem.core.study.grammar.Group;
import kadrem.core.study.grammar.Kind;
import kadrem.core.study.grammar.Words;
import kadrem.files.study.YamlNode.Mapping;
import kadrem.files.study.YamlNode.Scalar;
import kadrem.files.study.YamlNode.Sequence;
import org.apache.commons.text.similarity.LevenshteinDistance;

/** Holds a study file against the grammar: every field by itself, with its place and the way to mend it. */
final class GrammarCheck {
    private static final int NEAR = 2;

    private final Problems problems;

    private GrammarCheck(Problems problems) {
        this.problems = problems;
    }

    /** Puts everything that is wrong with the fields of {@code root} on the list. */
    static void check(Mapping root, Grammar grammar, Problems problems) {
        new GrammarCheck(problems).group(root, grammar.root(), "");
    }

    private static String child(String path, String name) {
        return path.isEmpty() ? name : path + "." + name;
    }

    static boolean isMissing(YamlNode node) {
        return node instanceof Scalar scalar && scalar.isNull();
    }

    private void group(YamlNode node, Group group, String path) {
        if (!(node instanceof Mapping mapping)) {
            problems.error(path, "is " + node.kind() + ", but should be a group of fields",
                    "Write its fields below it, each as name: value.");
            return;
        }
        Optional<String> marker = way(mapping, group, path);
        Map<String, Field> fields = group.taking(marker);
        mapping.entries().forEach((name, entry) -> {
            String at = child(path, name);
            problems.seen(at, entry.keyLine());
            Optional<Field> field = Optional.ofNullable(fields.get(name));
            if (field.isPresent()) {
                if (!isMissing(entry.value())) {
                    value(entry.value(), field.get(), field.get().kind(), at);
                }
            } else if (!name.startsWith("x-")) {
                unknown(mapping, group, name, at);
            }
        });
        Stream<Field> wanted = Stream.concat(group.fields().stream(), group.ways().stream()
                .filter(way -> marker.filter(way.getFirst().name()::equals).isPresent()).flatMap(List::stream));
        wanted.filter(Field::required).filter(field -> !has(mapping, field.name()))
                .filter(field -> group.applies(field, name -> said(mapping, name)))
                .forEach(field -> problems.error(child(path, field.name()), "is missing",
                        "Add " + field.name() + ": " + field.example()));
    }

    /** What a field says; an empty text where it is no single value. */
    private static Optional<String> said(Mapping mapping, String name) {
        return Optional.ofNullable(mapping.entries().get(name)).map(YamlNode.Entry::value)
                .filter(value -> !isMissing(value))
                .map(value -> value instanceof Scalar scalar ? scalar.text() : "");
    }

    private static boolean has(Mapping mapping, String name) {
        YamlNode.Entry entry = mapping.entries().get(name);
        return entry != null && !isMissing(entry.value())
                && !(entry.value() instanceof Scalar scalar && scalar.text().isBlank());
    }

    /** The first field of the way that a group takes. */
    private Optional<String> way(Mapping mapping, Group group, String path) {
        List<String> taken = group.markers().stream().filter(mapping.entries()::containsKey).toList();
        String all = String.join(", ", group.markers());
        if (taken.size() > 1) {
            problems.error(child(path, taken.get(1)), "stands beside " + taken.getFirst(), "Use one of " + all + ".");
        } else if (taken.isEmpty() && group.needsWay()) {
            problems.error(path, "says none of " + all, "Write one of them, such as "
                    + group.ways().getFirst().getFirst().name() + ": " + group.ways().getFirst().getFirst().example());
        }
        return taken.stream().findFirst();
    }

    private void unknown(Mapping mapping, Group group, String name, String at) {
        List<String> homes = group.all().values().stream()
                .filter(field -> field.kind() instanceof Kind.One(Group below) && below.all().containsKey(name))
                .map(Field::name).toList();
        String mend = home(mapping, homes)
                .map(home -> "It belongs into " + home + ": write " + home + ": {" + name + ": ...}. ")
                .or(() -> group.all().keySet().stream()
                        .filter(known -> LevenshteinDistance.getDefaultInstance().apply(known, name) <= NEAR).sorted()
                        .findFirst().map(known -> "Did you mean " + known + "? "))
                .orElse("");
        problems.warning(at, "is not a field that Kadrem knows; it is kept, without effect",
                mend + "Names that begin with x- are yours to use.");
    }

    /** Of the groups that have such a field: that of the protocol which an address beside them tells, or the first. */
    private static Optional<String> home(Mapping mapping, List<String> homes) {
        return Optional.ofNullable(mapping.entries().get("address")).map(YamlNode.Entry::value)
                .filter(Scalar.class::isInstance).map(Scalar.class::cast)
                .flatMap(address -> Protocols.all().stream().filter(one -> homes.contains(one.id()))
                        .filter(one -> one.address(address.text()).isPresent()).map(Protocol::id).findFirst())
                .or(() -> homes.stream().findFirst());
    }

    private void value(YamlNode node, Field field, Kind kind, String at) {
        switch (kind) {
            case Kind.One(Group group) -> group(node, group, at);
            case Kind.Many(Group group, boolean needed) -> {
                List<YamlNode> items = items(node, field, at, needed);
                for (int i = 0; i < items.size(); i++) {
                    String place = at + "[" + i + "]";
                    problems.seen(place, items.get(i).line());
                    group(items.get(i), group, place);
                }
            }
            case Kind.Named(Group group) -> named(node, at).forEach((name, entry) -> group(entry.value(), group,
                    child(at, name)));
            case Kind.Pairs() -> named(node, at).forEach((name, entry) -> scalar(entry.value(), child(at, name)));
            case Kind.ListOr(Kind.Texts _, Group group) when node instanceof Mapping -> group(node, group, at);
            case Kind.ListOr(Kind.Texts texts, Group _) -> texts(node, texts, field, at);
            case Kind.Texts texts -> texts(node, texts, field, at);
            default -> scalar(node, at).flatMap(text -> Words.fault(field, text))
                    .ifPresent(fault -> problems.error(at, fault.what(), fault.mend()));
        }
    }

    private Map<String, YamlNode.Entry> named(YamlNode node, String at) {
        if (node instanceof Mapping mapping) {
            mapping.entries().forEach((name, entry) -> problems.seen(child(at, name), entry.keyLine()));
            return mapping.entries();
        }
        problems.error(at, "is " + node.kind() + ", but should be a group of fields",
                "Write its fields below it, each as name: value.");
        return Map.of();
    }

    private Optional<String> scalar(YamlNode node, String at) {
        if (node instanceof Scalar scalar) {
            return Optional.of(scalar.text());
        }
        problems.error(at, "is " + node.kind() + ", but should be a single value", "Write the value on the same line.");
        return Optional.empty();
    }

    private List<YamlNode> items(YamlNode node, Field field, String at, boolean needed) {
        if (!(node instanceof Sequence sequence)) {
            problems.error(at, "is " + node.kind() + ", but should be a list",
                    "Write each item on a line of its own, beginning with a hyphen.");
            return List.of();
        }
        if (needed && sequence.items().isEmpty()) {
            problems.error(at, "is empty", "Add one at least, such as " + field.example() + ".");
        }
        return sequence.items();
    }

    private void texts(YamlNode node, Kind.Texts texts, Field field, String at) {
        List<YamlNode> items = texts.orOne() && node instanceof Scalar
                ? List.of(node)
                : items(node, field, at, texts.needed());
        for (int i = 0; i < items.size(); i++) {
            scalar(items.get(i), at + "[" + i + "]").ifPresent(text -> texts.form().filter(form -> !form.accepts(text))
                    .ifPresent(form -> problems.error(at, "holds \"" + text + "\"", form.mend())));
        }
    }
}
