package kadrem.files.imports;

import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Stream;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.dataformat.yaml.YAMLFactory;
import com.fasterxml.jackson.dataformat.yaml.YAMLMapper;
import io.swagger.v3.oas.models.Components;
import io.swagger.v3.oas.models.OpenAPI;
import io.swagger.v3.oas.models.Operation;
import io.swagger.v3.oas.models.PathItem;
import io.swagger.v3.oas.models.media.MediaType;
import io.swagger.v3.oas.models.media.Schema;
import io.swagger.v3.oas.models.parameters.Parameter;
import io.swagger.v3.oas.models.parameters.RequestBody;
import io.swagger.v3.parser.OpenAPIV3Parser;
import io.swagger.v3.parser.core.models.ParseOptions;
import io.swagger.v3.parser.core.models.SwaggerParseResult;
import kadrem.core.study.Call;
import org.jspecify.annotations.Nullable;
import org.yaml.snakeyaml.LoaderOptions;

/** Reads a description of an interface in the OpenAPI format 3.0 or 3.1: a call for each operation, with example values. */
public final class OpenApiImport {
    private static final int MAX_DEPTH = 12;
    /** Most values in the examples of one description; schemas that refer to each other would grow without end. */
    private static final int MAX_VALUES = 50_000;
    private static final int MAX_CHARACTERS = 16 << 20;
    private static final ObjectMapper JSON = new ObjectMapper();
    private static final ObjectMapper YAML = yaml();
    private static final String IN_THE_FILE = "#/components/";

    private final OpenAPI api;
    private int valuesLeft = MAX_VALUES;

    private OpenApiImport(OpenAPI api) {
        this.api = api;
    }

    /**
     * Nothing but the text is read: a reference to another file or address is an error.
     *
     * @throws ImportException if it cannot be read as such a description; the message says what is wrong
     */
    public static Imported read(String text) throws ImportException {
        refuseWhatLiesElsewhere(text);
        var options = new ParseOptions();
        options.setResolve(false);
        SwaggerParseResult result = new OpenAPIV3Parser().readContents(text, List.of(), options);
        OpenAPI api = result.getOpenAPI();
        if (api == null || api.getPaths() == null || api.getPaths().isEmpty()) {
            throw new ImportException("This is no OpenAPI 3 description with paths"
                    + (result.getMessages() == null || result.getMessages().isEmpty()
                            ? "."
                            : ": " + String.join("; ", result.getMessages())));
        }
        var reader = new OpenApiImport(api);
        var calls = new ArrayList<FoundCall>();
        api.getPaths().forEach((path, item) -> item.readOperationsMap()
                .forEach((method, operation) -> calls
                        .add(reader.call(basePath(api) + path, method, item, operation))));
        String name = api.getInfo() == null || api.getInfo().getTitle() == null
                ? "operations"
                : api.getInfo().getTitle();
        return Imported.of(name, calls, Map.of(),
                result.getMessages() == null ? List.of() : List.copyOf(result.getMessages()));
    }

    private static ObjectMapper yaml() {
        var limits = new LoaderOptions();
        limits.setCodePointLimit(MAX_CHARACTERS);
        return new YAMLMapper(YAMLFactory.builder().loaderOptions(limits).build());
    }

    private static void refuseWhatLiesElsewhere(String text) throws ImportException {
        if (text.length() > MAX_CHARACTERS) {
            throw new ImportException("The description has more than " + (MAX_CHARACTERS >> 20) + " MiB of text.");
        }
        try {
            JsonNode root = YAML.readTree(text);
            for (JsonNode reference : root.findValues("$ref")) {
                if (reference.isTextual() && !reference.asText().startsWith("#")) {
                    throw new ImportException("The description refers to " + reference.asText()
                            + ", which is not in it. Nothing is fetched: put all of it into one file.");
                }
            }
        } catch (JsonProcessingException cause) {
            throw new ImportException("This is no OpenAPI 3 description: " + cause.getOriginalMessage());
        }
    }

    /** What a reference within the description stands for, or the thing itself; null where it leads to nothing. */
    private <T> @Nullable T meant(T thing, Function<T, @Nullable String> reference,
            Function<Components, @Nullable Map<String, T>> among) {
        T found = thing;
        for (int step = 0; step < MAX_DEPTH && found != null && reference.apply(found) != null; step++) {
            String to = String.valueOf(reference.apply(found));
            Map<String, T> all = api.getComponents() == null ? null : among.apply(api.getComponents());
            found = !to.startsWith(IN_THE_FILE) || all == null ? null : all.get(to.substring(to.lastIndexOf('/') + 1));
        }
        return found;
    }

    /** The path of the first server, which stands before every address. */
    private static String basePath(OpenAPI api) {
        if (api.getServers() == null || api.getServers().isEmpty()) {
            return "";
        }
        String url = String.valueOf(api.getServers().getFirst().getUrl());
        return url.replaceFirst("^[a-z]+://[^/]*", "").replaceAll("/+$", "");
    }

    private FoundCall call(String template, PathItem.HttpMethod method, PathItem item, Operation operation) {
        Map<String, Parameter> parameters = new LinkedHashMap<>();
        for (List<Parameter> list : List.of(orEmpty(item.getParameters()), orEmpty(operation.getParameters()))) {
            for (Parameter listed : list) {
                Parameter one = meant(listed, Parameter::get$ref, Components::getParameters);
                if (one != null) {
                    parameters.put(one.getIn() + " " + one.getName(), one);
                }
            }
        }
        String path = template;
        var query = new ArrayList<String>();
        var headers = new ArrayList<Call.Header>();
        for (Parameter one : parameters.values()) {
            String value = example(one);
            switch (String.valueOf(one.getIn())) {
                case "path" -> path = path.replace("{" + one.getName() + "}", encode(value));
                case "query" -> query.add(encode(one.getName()) + "=" + encode(value));
                case "header" -> Imported.worthKeeping(one.getName(), value).ifPresent(headers::add);
                default -> {
                    // cookies belong to a sign-in
                }
            }
        }
        String body = "";
        RequestBody sent = operation.getRequestBody() == null
                ? null
                : meant(operation.getRequestBody(), RequestBody::get$ref, Components::getRequestBodies);
        if (sent != null && sent.getContent() != null) {
            Optional<Map.Entry<String, MediaType>> content = sent.getContent().entrySet().stream().findFirst();
            if (content.isPresent()) {
                body = body(content.get().getValue());
                headers.add(new Call.Header("Content-Type", content.get().getKey()));
            }
        }
        return new FoundCall(method.name(), "", path + (query.isEmpty() ? "" : "?" + String.join("&", query)), headers,
                body, Optional.empty());
    }

    private static <T> List<T> orEmpty(@Nullable List<T> list) {
        return list == null ? List.of() : list;
    }

    private static String encode(String text) {
        return URLEncoder.encode(text, StandardCharsets.UTF_8).replace("+", "%20");
    }

    private String example(Parameter parameter) {
        if (parameter.getExample() != null) {
            return parameter.getExample().toString();
        }
        if (parameter.getExamples() != null && !parameter.getExamples().isEmpty()) {
            return String.valueOf(parameter.getExamples().values().iterator().next().getValue());
        }
        return String.valueOf(example(parameter.getSchema(), 0));
    }

    private String body(MediaType type) {
        Object example = type.getExample();
        if (example == null && type.getExamples() != null && !type.getExamples().isEmpty()) {
            example = type.getExamples().values().iterator().next().getValue();
        }
        Object shown = example == null ? example(type.getSchema(), 0) : example;
        try {
            return shown instanceof String text ? text : JSON.writeValueAsString(shown);
        } catch (JsonProcessingException _) {
            return String.valueOf(shown);
        }
    }

    /** A value that the schema allows: its own example where it has one. */
    private Object example(@Nullable Schema<?> given, int depth) {
        Schema<?> schema = given == null ? null : meant(given, Schema::get$ref, OpenApiImport::schemas);
        if (schema == null || depth > MAX_DEPTH || --valuesLeft < 0) {
            return "";
        }
        if (schema.getExample() != null) {
            return schema.getExample();
        }
        if (schema.getExamples() != null && !schema.getExamples().isEmpty()) {
            return schema.getExamples().getFirst();
        }
        if (schema.getDefault() != null) {
            return schema.getDefault();
        }
        if (schema.getEnum() != null && !schema.getEnum().isEmpty()) {
            return schema.getEnum().getFirst();
        }
        Optional<Object> composed = composed(schema, depth);
        if (composed.isPresent()) {
            return composed.get();
        }
        String type = schema.getType() != null
                ? schema.getType()
                : schema.getTypes() != null && !schema.getTypes().isEmpty()
                        ? schema.getTypes().iterator().next()
                        : schema.getProperties() != null ? "object" : "string";
        return switch (type) {
            case "integer" -> schema.getMinimum() == null ? 1 : schema.getMinimum().longValue();
            case "number" -> schema.getMinimum() == null ? 1.5 : schema.getMinimum().doubleValue();
            case "boolean" -> true;
            case "array" -> List.of(example(schema.getItems(), depth + 1));
            case "object" -> {
                Map<String, Object> object = new LinkedHashMap<>();
                if (schema.getProperties() != null) {
                    schema.getProperties()
                            .forEach((name, property) -> object.put(name, example(property, depth + 1)));
                }
                yield object;
            }
            default -> switch (String.valueOf(schema.getFormat())) {
                case "date" -> "2026-07-14";
                case "date-time" -> "2026-07-14T12:00:00Z";
                case "uuid" -> "00000000-0000-4000-8000-000000000001";
                default -> "text";
            };
        };
    }

    /** Of schemas that are put together: the fields of all that it must follow, or the first of those that it may. */
    private Optional<Object> composed(Schema<?> schema, int depth) {
        Optional<? extends Schema<?>> first = Stream
                .concat(orEmpty(schema.getOneOf()).stream(), orEmpty(schema.getAnyOf()).stream()).findFirst()
                .map(one -> (Schema<?>) one);
        if (first.isPresent()) {
            return Optional.of(example(first.get(), depth + 1));
        }
        if (schema.getAllOf() == null) {
            return Optional.empty();
        }
        Map<String, Object> object = new LinkedHashMap<>();
        Object other = "";
        for (Schema<?> part : schema.getAllOf()) {
            Object value = example(part, depth + 1);
            if (value instanceof Map<?, ?> fields) {
                fields.forEach((name, field) -> object.put(String.valueOf(name), field));
            } else {
                other = value;
            }
        }
        if (schema.getProperties() != null) {
            schema.getProperties().forEach((name, property) -> object.put(name, example(property, depth + 1)));
        }
        return Optional.of(object.isEmpty() ? other : object);
    }

    private static @Nullable Map<String, Schema<?>> schemas(Components components) {
        if (components.getSchemas() == null) {
            return null;
        }
        Map<String, Schema<?>> all = new LinkedHashMap<>();
        components.getSchemas().forEach(all::put);
        return all;
    }
}
