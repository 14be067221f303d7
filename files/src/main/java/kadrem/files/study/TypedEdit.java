package kadrem.files.study;

import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Pattern;

import kadrem.core.study.grammar.Field;
import kadrem.core.study.grammar.Grammar;
import kadrem.core.study.grammar.Group;
import kadrem.core.study.grammar.Kind;

/** An edit with the texts that somebody typed as what their fields are: a number is written as one, without quotes. */
final class TypedEdit {
    private static final Pattern NUMBER = Pattern.compile("-?(0|[1-9]\\d{0,17})(\\.\\d{1,17})?");

    private TypedEdit() {
    }

    static Edit of(Edit edit, Grammar grammar) {
        return switch (edit) {
            case Edit.Put put -> new Edit.Put(put.path(), fields(put.fields(), group(grammar, put.path())));
            case Edit.Copy copy -> new Edit.Copy(copy.path(), copy.index(), copy.to(),
                    fields(copy.changes(), group(grammar, copy.path())));
            case Edit.Insert insert -> new Edit.Insert(insert.path(), insert.index(),
                    group(grammar, insert.path()).map(group -> below(insert.item(), group)).orElse(insert.item()));
            case Edit.Remove _,Edit.Move _ -> edit;
        };
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

    private static Map<String, Optional<Object>> fields(Map<String, Optional<Object>> fields, Optional<Group> group) {
        var typed = new LinkedHashMap<String, Optional<Object>>();
        fields.forEach((name, value) -> typed.put(name, value.map(one -> group.map(known -> known.all().get(name))
                .map(field -> value(one, field.kind())).orElse(one))));
        return typed;
    }

    private static Object value(Object value, Kind kind) {
        return switch (kind) {
            case Kind.Whole _,Kind.Decimal _,Kind.Share _ when value instanceof String text
                    && NUMBER.matcher(text.strip()).matches() ->
                new BigDecimal(text.strip());
            case Kind.Flag() when "true".equals(value) || "false".equals(value) -> Boolean.valueOf(value.toString());
            case Kind.Many(Group group, boolean _) when value instanceof List<?> items -> {
                var typed = new ArrayList<Object>();
                items.forEach(item -> typed.add(below(item, group)));
                yield typed;
            }
            case Kind.One(Group group) -> below(value, group);
            case Kind.ListOr(Kind.Texts _, Group group) -> below(value, group);
            case Kind.Named(Group group) when value instanceof Map<?, ?> names -> {
                var typed = new LinkedHashMap<String, Object>();
                names.forEach((name, one) -> typed.put(String.valueOf(name), below(one, group)));
                yield typed;
            }
            default -> value;
        };
    }

    private static Object below(Object value, Group group) {
        if (!(value instanceof Map<?, ?> fields)) {
            return value;
        }
        var typed = new LinkedHashMap<String, Object>();
        Map<String, Field> known = group.all();
        fields.forEach((name, one) -> typed.put(String.valueOf(name),
                Optional.ofNullable(known.get(String.valueOf(name))).map(field -> value(one, field.kind()))
                        .orElse(one)));
        return typed;
    }
}
