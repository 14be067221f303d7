package kadrem.files.study;

import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Predicate;
import java.util.regex.Pattern;

import kadrem.core.study.grammar.Field;
import kadrem.core.study.grammar.Grammar;
import kadrem.core.study.grammar.Group;
import kadrem.core.study.grammar.Kind;
import kadrem.files.study.YamlNode.Mapping;
import org.jspecify.annotations.Nullable;

/**
 * An edit with the texts that somebody typed as what their fields are: a number is written as one, without quotes. Fields that Kadrem does
 * not know stay in the groups that it changes.
 */
final class TypedEdit {
    private static final Pattern NUMBER = Pattern.compile("-?(0|[1-9]\\d{0,17})(\\.\\d{1,17})?");

    private TypedEdit() {
    }

    /** @param root what the file says before the edit */
    static Edit of(Edit edit, Grammar grammar, Mapping root) {
        return switch (edit) {
            case Edit.Put put -> new Edit.Put(put.path(), fields(put.fields(), group(grammar, put.path()),
                    map(root.find(put.path()).map(PlainTree::of).orElse(null))));
            case Edit.Copy copy -> new Edit.Copy(copy.path(), copy.index(), copy.to(),
                    fields(copy.changes(), group(grammar, copy.path()), Map.of()));
            case Edit.Insert insert -> new Edit.Insert(insert.path(), insert.index(),
                    group(grammar, insert.path()).map(group -> below(insert.item(), group, Map.of()))
                            .orElse(insert.item()));
            case Edit.Remove _,Edit.Move _ -> edit;
        };
    }

    private static Map<?, ?> map(@Nullable Object value) {
        return value instanceof Map<?, ?> map ? map : Map.of();
    }

    /** The group at a path; empty where the grammar has none. */
    private static Optional<Group> group(Grammar grammar, String path) {
        Optional<Group> group = Optional.of(grammar.root());
        boolean free = false;
        for (Object step : PlainTree.steps(path)) {
            if (free) {
                free = false;
            } else if (step instanceof String name) {
                Optional<Field> field = group.map(one -> one.all().get(name));
                free = field.filter(one -> one.kind() instanceof Kind.Named).isPresent();
                group = field.flatMap(one -> one.kind().below());
            }
        }
        return group;
    }

    private static Map<String, Optional<Object>> fields(Map<String, Optional<Object>> fields, Optional<Group> group,
            Map<?, ?> before) {
        var typed = new LinkedHashMap<String, Optional<Object>>();
        fields.forEach((name, value) -> typed.put(name, value.map(one -> group.map(known -> known.all().get(name))
                .map(field -> value(one, field.kind(), before.get(name))).orElse(one))));
        return typed;
    }

    /** @param before what stands there now */
    private static Object value(Object value, Kind kind, @Nullable Object before) {
        return switch (kind) {
            case Kind.Whole _,Kind.Decimal _,Kind.Share _ when value instanceof String text
                    && NUMBER.matcher(text.strip()).matches() ->
                new BigDecimal(text.strip());
            case Kind.Flag() when "true".equals(value) || "false".equals(value) -> Boolean.valueOf(value.toString());
            case Kind.Many(Group group, boolean _) when value instanceof List<?> items -> items(items, group,
                    before instanceof List<?> list ? list : List.of());
            case Kind.One(Group group) -> below(value, group, map(before));
            case Kind.ListOr(Kind.Texts _, Group group) -> below(value, group, map(before));
            case Kind.Named(Group group) when value instanceof Map<?, ?> names -> {
                var typed = new LinkedHashMap<String, Object>();
                names.forEach((name, one) -> typed.put(String.valueOf(name),
                        below(one, group, map(map(before).get(name)))));
                yield typed;
            }
            default -> value;
        };
    }

    private static Object below(Object value, Group group, Map<?, ?> before) {
        if (!(value instanceof Map<?, ?> fields)) {
            return value;
        }
        var typed = new LinkedHashMap<String, Object>();
        Map<String, Field> known = group.all();
        fields.forEach((name, one) -> typed.put(String.valueOf(name),
                Optional.ofNullable(known.get(String.valueOf(name)))
                        .map(field -> value(one, field.kind(), before.get(name))).orElse(one)));
        unknown(before, group).forEach(typed::putIfAbsent);
        return typed;
    }

    /** Each item keeps what is unknown of the item that said the same; of that in its place, where the list is as long as it was. */
    private static List<Object> items(List<?> items, Group group, List<?> before) {
        var typed = new ArrayList<Object>();
        var left = new ArrayList<Object>(before);
        for (int i = 0; i < items.size(); i++) {
            Object plain = PlainTree.of(below(items.get(i), group, Map.of()));
            Optional<Object> same = left.stream()
                    .filter(one -> one instanceof Map<?, ?> was && known(was, group).equals(plain)).findFirst();
            same.ifPresent(left::remove);
            Object was = same.orElse(items.size() == before.size() ? before.get(i) : Map.of());
            typed.add(below(items.get(i), group, map(was)));
        }
        return typed;
    }

    private static Map<String, Object> unknown(Map<?, ?> fields, Group group) {
        return part(fields, name -> !group.all().containsKey(name));
    }

    private static Map<String, Object> known(Map<?, ?> fields, Group group) {
        return part(fields, group.all()::containsKey);
    }

    private static Map<String, Object> part(Map<?, ?> fields, Predicate<String> which) {
        var part = new LinkedHashMap<String, Object>();
        fields.forEach((name, value) -> {
            if (which.test(String.valueOf(name))) {
                part.put(String.valueOf(name), value);
            }
        });
        return part;
    }
}
