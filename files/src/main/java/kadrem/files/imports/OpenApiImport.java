package kadrem.files.imports;

import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import io.swagger.v3.oas.models.OpenAPI;
import io.swagger.v3.oas.models.Operation;
import io.swagger.v3.oas.models.PathItem;
import io.swagger.v3.oas.models.media.MediaType;
import io.swagger.v3.oas.models.media.Schema;
import io.swagger.v3.oas.models.parameters.Parameter;
import io.swagger.v3.parser.OpenAPIV3Parser;
import io.swagger.v3.parser.core.models.ParseOptions;
import io.swagger.v3.parser.core.models.SwaggerParseResult;
import kadrem.core.study.Call;

/** Reads a description of an interface in the OpenAPI format 3.0 or 3.1: a call for each operation, with example values. */
public final class OpenApiImport {
    private static final int MOST_DEPTH = 6;
    private static final ObjectMapper JSON = new ObjectMapper();

    private OpenApiImport() {
    }

    /** @throws ImportException if it cannot be read as such a description; the message says what is wrong */
    public static Imported read(String text) throws ImportException {
        var options = new ParseOptions();
        options.setResolve(true);
        options.setResolveFully(true);
        SwaggerParseResult result = new OpenAPIV3Parser().readContents(text, List.of(), options);
        OpenAPI api = result.getOpenAPI();
        if (api == null || api.getPaths() == null || api.getPaths().isEmpty()) {
            throw new ImportException("This is no OpenAPI 3 description with paths"
                    + (result.getMessages() == null || result.getMessages().isEmpty()
                            ? "."
                            : ": " + String.join("; ", result.getMessages())));
        }
        var calls = new ArrayList<FoundCall>();
        api.getPaths().forEach((path, item) -> item.readOperationsMap()
                .forEach((method, operation) -> calls.add(call(basePath(api) + path, method, item, operation))));
        String name = api.getInfo() == null || api.getInfo().getTitle() == null
                ? "operations"
                : api.getInfo().getTitle();
        return new Imported(name, calls, Map.of(),
                result.getMessages() == null ? List.of() : List.copyOf(result.getMessages()));
    }

    /** The path of the first server, which stands before every address. */
    private static String basePath(OpenAPI api) {
        if (api.getServers() == null || api.getServers().isEmpty()) {
            return "";
        }
        String url = String.valueOf(api.getServers().getFirst().getUrl());
        return url.replaceFirst("^[a-z]+://[^/]*", "").replaceAll("/+$", "");
    }

    private static FoundCall call(String template, PathItem.HttpMethod method, PathItem item, Operation operation) {
        Map<String, Parameter> parameters = new LinkedHashMap<>();
        for (List<Parameter> list : List.of(orEmpty(item.getParameters()), orEmpty(operation.getParameters()))) {
            list.forEach(one -> parameters.put(one.getIn() + " " + one.getName(), one));
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
        if (operation.getRequestBody() != null && operation.getRequestBody().getContent() != null) {
            Optional<Map.Entry<String, MediaType>> content = operation.getRequestBody().getContent().entrySet().stream()
                    .findFirst();
            if (content.isPresent()) {
                body = body(content.get().getValue());
                headers.add(new Call.Header("Content-Type", content.get().getKey()));
            }
        }
        return new FoundCall(method.name(), "", path + (query.isEmpty() ? "" : "?" + String.join("&", query)), headers,
                body, Optional.empty());
    }

    private static <T> List<T> orEmpty(@org.jspecify.annotations.Nullable List<T> list) {
        return list == null ? List.of() : list;
    }

    private static String encode(String text) {
        return URLEncoder.encode(text, StandardCharsets.UTF_8).replace("+", "%20");
    }

    private static String example(Parameter parameter) {
        if (parameter.getExample() != null) {
            return parameter.getExample().toString();
        }
        if (parameter.getExamples() != null && !parameter.getExamples().isEmpty()) {
            return String.valueOf(parameter.getExamples().values().iterator().next().getValue());
        }
        return String.valueOf(example(parameter.getSchema(), 0));
    }

    private static String body(MediaType type) {
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
    private static Object example(@org.jspecify.annotations.Nullable Schema<?> schema, int depth) {
        if (schema == null || depth > MOST_DEPTH) {
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
}
