package kadrem.load.drive.graphql;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.JsonNodeFactory;
import com.fasterxml.jackson.databind.node.ObjectNode;
import kadrem.load.drive.Offer;

/**
 * What a server tells of its types by introspection, and the queries that can be begun with. Source: GraphQL specification,
 * October 2021, its parts on introspection, types and variables.
 */
final class Schema {
    static final String ASKS = """
            query {__schema{queryType{name} mutationType{name} types{kind name enumValues{name}
            fields{name args{name defaultValue type{...T}} type{...T}} inputFields{name defaultValue type{...T}}}}}
            fragment T on __Type{kind name ofType{kind name ofType{kind name ofType{kind name}}}}""";
    private static final ObjectMapper JSON = new ObjectMapper();
    /** Objects within the answer's object are asked for, objects within those are not. */
    private static final int DEEPEST = 2;
    private static final String NON_NULL = "NON_NULL";

    private final JsonNode told;
    private final Map<String, JsonNode> types = new HashMap<>();

    /** @param told the member {@code __schema} of the answer */
    Schema(JsonNode told) {
        this.told = told;
        told.path("types").forEach(type -> types.put(type.path("name").asText(), type));
    }

    /** "query berth(id)" with a query of it, "mutation reserve(berth, day)" likewise. */
    List<Offer> offers() {
        var found = new ArrayList<Offer>();
        for (String kind : List.of("query", "mutation")) {
            for (JsonNode field : type(told.path(kind + "Type").path("name").asText()).path("fields")) {
                found.add(new Offer(kind + " " + field.path("name").asText() + "("
                        + String.join(", ", names(field.path("args"))) + ")",
                        Map.of("query", query(kind, field), "variables", variables(field))));
            }
        }
        return found;
    }

    private JsonNode type(String name) {
        return types.getOrDefault(name, JsonNodeFactory.instance.missingNode());
    }

    private static List<String> names(JsonNode named) {
        var names = new ArrayList<String>();
        named.forEach(one -> names.add(one.path("name").asText()));
        return names;
    }

    private static boolean isNeeded(JsonNode input) {
        return input.path("type").path("kind").asText().equals(NON_NULL) && input.path("defaultValue").isNull();
    }

    private static List<JsonNode> needed(JsonNode inputs) {
        var needed = new ArrayList<JsonNode>();
        inputs.forEach(one -> {
            if (isNeeded(one)) {
                needed.add(one);
            }
        });
        return needed;
    }

    /** The field with what it must be given, as variables, and with what its answer holds. */
    private String query(String kind, JsonNode field) {
        List<JsonNode> needed = needed(field.path("args"));
        String declared = String.join(", ", needed.stream()
                .map(one -> "$" + one.path("name").asText() + ": " + written(one.path("type"))).toList());
        String given = String.join(", ", needed.stream()
                .map(one -> one.path("name").asText() + ": $" + one.path("name").asText()).toList());
        return kind + (declared.isEmpty() ? "" : " (" + declared + ")") + " {\n  " + field.path("name").asText()
                + (given.isEmpty() ? "" : "(" + given + ")") + selection(field.path("type"), 1) + "\n}";
    }

    /** A type as it is written: [Int!]! */
    private static String written(JsonNode type) {
        return switch (type.path("kind").asText()) {
            case NON_NULL -> written(type.path("ofType")) + "!";
            case "LIST" -> "[" + written(type.path("ofType")) + "]";
            default -> type.path("name").asText();
        };
    }

    private static JsonNode named(JsonNode type) {
        JsonNode inner = type;
        while (inner.path("ofType").isObject()) {
            inner = inner.path("ofType");
        }
        return inner;
    }

    /** @return empty for values that have no fields */
    private String selection(JsonNode type, int depth) {
        JsonNode named = named(type);
        return switch (named.path("kind").asText()) {
            case "SCALAR", "ENUM" -> "";
            case "UNION" -> " { __typename }";
            default -> {
                var plain = new ArrayList<String>();
                var objects = new ArrayList<String>();
                for (JsonNode field : type(named.path("name").asText()).path("fields")) {
                    String kind = named(field.path("type")).path("kind").asText();
                    boolean isPlain = kind.equals("SCALAR") || kind.equals("ENUM");
                    if (needed(field.path("args")).isEmpty() && (isPlain || depth < DEEPEST)) {
                        (isPlain ? plain : objects)
                                .add(field.path("name").asText() + selection(field.path("type"), depth + 1));
                    }
                }
                if (plain.isEmpty() && objects.isEmpty()) {
                    plain.add("__typename");
                }
                String margin = "\n" + "  ".repeat(depth);
                yield " {" + (plain.isEmpty() ? "" : margin + "  " + String.join(" ", plain))
                        + String.join("", objects.stream().map(one -> margin + "  " + one).toList()) + margin + "}";
            }
        };
    }

    private String variables(JsonNode field) {
        ObjectNode values = JSON.createObjectNode();
        needed(field.path("args")).forEach(one -> values.set(one.path("name").asText(), value(one.path("type"), 1)));
        return values.isEmpty() ? "" : values.toString();
    }

    /** Some value of an input's type. */
    private JsonNode value(JsonNode type, int depth) {
        String name = type.path("name").asText();
        return switch (type.path("kind").asText()) {
            case NON_NULL -> value(type.path("ofType"), depth);
            case "LIST" -> some(value(type.path("ofType"), depth));
            case "ENUM" -> JSON.getNodeFactory().textNode(type(name).path("enumValues").path(0).path("name").asText());
            case "INPUT_OBJECT" -> {
                ObjectNode made = JSON.createObjectNode();
                // a type may need itself only through a list or a type that may be left out; deeper ones are left to the user
                if (depth <= DEEPEST) {
                    needed(type(name).path("inputFields"))
                            .forEach(one -> made.set(one.path("name").asText(), value(one.path("type"), depth + 1)));
                }
                yield made;
            }
            default -> switch (name) {
                case "Int", "Float" -> JSON.getNodeFactory().numberNode(1);
                case "Boolean" -> JSON.getNodeFactory().booleanNode(true);
                default -> JSON.getNodeFactory().textNode("");
            };
        };
    }

    private static ArrayNode some(JsonNode one) {
        return JSON.createArrayNode().add(one);
    }
}
