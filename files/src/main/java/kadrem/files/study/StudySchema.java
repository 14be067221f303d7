package kadrem.files.study;

import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.core.util.DefaultIndenter;
import com.fasterxml.jackson.core.util.DefaultPrettyPrinter;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import kadrem.core.study.grammar.Field;
import kadrem.core.study.grammar.Grammar;
import kadrem.core.study.grammar.Group;
import kadrem.core.study.grammar.Kind;

/** The grammar of study files as a JSON Schema (draft 2020-12), for editors and other programs. */
public final class StudySchema {
    private static final ObjectMapper JSON = new ObjectMapper();
    private static final List<String> SCALARS = List.of("string", "number", "boolean", "null");
    private static final String TIME = "^\\s*\\d{1,12}(\\.\\d{1,9})?\\s*(ns|us|ms|s|min|h)\\s*$";

    private final ObjectNode definitions = JSON.createObjectNode();
    /** Names of definitions by what they define. */
    private final Map<String, String> names = new LinkedHashMap<>();

    private StudySchema() {
    }

    /** The schema of both sorts of study, as text. */
    public static String of(Grammar measured, Grammar ofFigures) {
        var schema = new StudySchema();
        ObjectNode root = JSON.createObjectNode();
        root.put("$schema", "https://json-schema.org/draft/2020-12/schema");
        root.put("title", "study.yaml");
        root.putObject("if").putArray("required").add("figures");
        root.set("then", schema.reference("figures-study", ofFigures.root()));
        root.set("else", schema.reference("study", measured.root()));
        root.set("$defs", schema.definitions);
        var printer = new DefaultPrettyPrinter();
        printer.indentObjectsWith(new DefaultIndenter("  ", "\n"));
        try {
            return JSON.writer(printer).writeValueAsString(root) + "\n";
        } catch (JsonProcessingException impossible) {
            throw new IllegalStateException(impossible);
        }
    }

    private ObjectNode reference(String name, Group group) {
        String key = name + "\n" + group.words() + "\n" + group.all().keySet();
        if (!names.containsKey(key)) {
            String free = name;
            for (int i = 2; names.containsValue(free); i++) {
                free = name + "-" + i;
            }
            names.put(key, free);
            definitions.putObject(free);
            definitions.set(free, object(group));
        }
        return JSON.createObjectNode().put("$ref", "#/$defs/" + names.get(key));
    }

    private ObjectNode object(Group group) {
        ObjectNode object = JSON.createObjectNode();
        object.put("type", "object");
        object.put("description", group.words());
        ObjectNode properties = object.putObject("properties");
        group.all().values().forEach(field -> properties.set(field.name(), property(field)));
        List<Field> required = group.fields().stream().filter(Field::required).toList();
        List<String> always = required.stream().filter(field -> instead(field).isEmpty()).map(Field::name).toList();
        if (!always.isEmpty()) {
            always.forEach(object.putArray("required")::add);
        }
        required.stream().filter(field -> !instead(field).isEmpty()).forEach(field -> {
            ArrayNode either = object.withArray("allOf").addObject().putArray("anyOf");
            either.addObject().putArray("required").add(field.name());
            instead(field).forEach(other -> either.addObject().putArray("required").add(other));
        });
        ObjectNode dependent = JSON.createObjectNode();
        group.ways().forEach(way -> {
            List<String> others = way.stream().skip(1).filter(Field::required).map(Field::name).toList();
            if (!others.isEmpty()) {
                others.forEach(dependent.putArray(way.getFirst().name())::add);
            }
        });
        if (!dependent.isEmpty()) {
            object.set("dependentRequired", dependent);
        }
        if (!group.ways().isEmpty()) {
            ArrayNode ways = object.putArray("oneOf");
            group.markers().forEach(marker -> ways.addObject().putArray("required").add(marker));
            if (!group.needsWay()) {
                ArrayNode none = ways.addObject().putObject("not").putArray("anyOf");
                group.markers().forEach(marker -> none.addObject().putArray("required").add(marker));
            }
        }
        return object;
    }

    /** Fields in whose presence another needs not be there. */
    private static List<String> instead(Field field) {
        return field.conditions().stream().filter(one -> one.says().isEmpty()).map(Field.Condition::field).toList();
    }

    private ObjectNode property(Field field) {
        ObjectNode property = of(field.kind(), field.name());
        property.put("description", field.description() + field.where());
        field.usual().ifPresent(usual -> property.put("default", usual));
        return property;
    }

    private ObjectNode of(Kind kind, String name) {
        ObjectNode node = JSON.createObjectNode();
        switch (kind) {
            case Kind.Text(Optional<Kind.Form> form) when form.isPresent() -> {
                List.of("string", "number").forEach(node.putArray("type")::add);
                node.put("pattern", "^(?:" + form.get().pattern().pattern() + ")$");
            }
            case Kind.Text _,Kind.Lines _ -> SCALARS.forEach(node.putArray("type")::add);
            case Kind.Secret() -> node.put("type", "string").put("pattern", "\\{\\{\\s*(env|file):");
            case Kind.Flag() -> node.putArray("enum").add(true).add(false).add("true").add("false");
            case Kind.Choice(List<String> options) -> choices(options, node.putArray("enum"));
            case Kind.Whole(long least, long most) -> {
                List.of("integer", "string").forEach(node.putArray("type")::add);
                node.put("minimum", least).put("maximum", most).put("pattern", "^\\s*-?[0-9_]+\\s*$");
            }
            case Kind.Decimal(double least, double most) -> number(node, least, most, "");
            case Kind.Share(double least, double most) -> number(node, least, most, "%?");
            case Kind.Time _ -> node.put("type", "string").put("pattern", TIME);
            case Kind.Texts(boolean orOne, boolean needed, Optional<Kind.Form> form) -> {
                ObjectNode each = of(new Kind.Text(form), name);
                ObjectNode list = orOne ? JSON.createObjectNode() : node;
                list.put("type", "array");
                if (needed) {
                    list.put("minItems", 1);
                }
                list.set("items", each);
                if (orOne) {
                    node.putArray("anyOf").add(each.deepCopy()).add(list);
                }
            }
            case Kind.Pairs() -> SCALARS.forEach(node.put("type", "object").putObject("additionalProperties")
                    .putArray("type")::add);
            case Kind.One(Group group) -> node.setAll(reference(name, group));
            case Kind.Many(Group group, boolean needed) -> {
                node.put("type", "array");
                if (needed) {
                    node.put("minItems", 1);
                }
                node.set("items", reference(name, group));
            }
            case Kind.Named(Group group) ->
                node.put("type", "object").set("additionalProperties", reference(name, group));
            case Kind.ListOr(Kind.Texts list, Group group) ->
                node.putArray("anyOf").add(of(list, name)).add(reference(name, group));
        }
        return node;
    }

    /** YAML reads some words as numbers or truth values. */
    private static void choices(List<String> options, ArrayNode choices) {
        for (String option : options) {
            choices.add(option);
            if (option.matches("\\d{1,9}")) {
                choices.add(Integer.parseInt(option));
            } else if (option.equals("true") || option.equals("false")) {
                choices.add(Boolean.parseBoolean(option));
            }
        }
    }

    private static void number(ObjectNode node, double least, double most, String behind) {
        var types = new ArrayList<>(List.of("number", "string"));
        types.forEach(node.putArray("type")::add);
        double below = Math.nextDown(least);
        if (below == Math.rint(below)) {
            node.put("exclusiveMinimum", BigDecimal.valueOf(below).stripTrailingZeros());
        } else {
            node.put("minimum", BigDecimal.valueOf(least).stripTrailingZeros());
        }
        double above = Math.nextUp(most);
        if (Double.isFinite(above) && above * 2 == Math.rint(above * 2)) {
            node.put("exclusiveMaximum", BigDecimal.valueOf(above).stripTrailingZeros());
        } else if (most < Double.MAX_VALUE) {
            node.put("maximum", BigDecimal.valueOf(most).stripTrailingZeros());
        }
        node.put("pattern", "^\\s*[0-9.eE+-]+\\s*" + behind + "\\s*$");
    }
}
