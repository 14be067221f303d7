package kadrem.files.imports;

import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import kadrem.core.study.Call;

/**
 * What an answer gave that later calls may carry.
 *
 * @param contentType empty where it has none
 * @param values texts of its JSON, each with its JSONPath (RFC 9535)
 * @param cookies that it set, as a request sends them: name=value
 */
public record Answer(String contentType, Map<String, String> values, Set<String> cookies) {
    /** Shorter texts are found in many places by chance. */
    static final int MIN_LENGTH = 8;
    private static final int MAX_LENGTH = 4096;
    private static final int MAX_VALUES = 200;
    private static final int MAX_BODY = 256 * 1024;
    private static final ObjectMapper JSON = new ObjectMapper();

    public Answer {
        values = Collections.unmodifiableMap(new LinkedHashMap<>(values));
        cookies = Collections.unmodifiableSet(new LinkedHashSet<>(cookies));
    }

    /** An answer of which no more is known. */
    public static Answer of(String contentType) {
        return new Answer(contentType, Map.of(), Set.of());
    }

    /** @param body text of the body; what is no JSON, or longer than 256 KiB, gives no values */
    public static Answer of(String contentType, List<Call.Header> headers, String body) {
        Set<String> cookies = new LinkedHashSet<>();
        headers.stream().filter(header -> header.name().equalsIgnoreCase("set-cookie"))
                .forEach(header -> header.value().lines()
                        .forEach(cookie -> cookies.add(cookie.split(";", 2)[0].strip())));
        Map<String, String> values = new LinkedHashMap<>();
        if (contentType.contains("json") && body.length() <= MAX_BODY) {
            try {
                collect(JSON.readTree(body), "$", values);
            } catch (JsonProcessingException _) {
                // says json, and is none
            }
        }
        return new Answer(contentType, values, cookies);
    }

    private static void collect(JsonNode node, String path, Map<String, String> values) {
        if (values.size() >= MAX_VALUES) {
            return;
        }
        if (node.isTextual() && node.textValue().length() >= MIN_LENGTH && node.textValue().length() <= MAX_LENGTH) {
            values.putIfAbsent(node.textValue(), path);
        }
        node.properties().forEach(field -> collect(field.getValue(), path + (field.getKey().matches("[A-Za-z_]\\w*")
                ? "." + field.getKey()
                : "['" + field.getKey().replace("\\", "\\\\").replace("'", "\\'") + "']"), values));
        for (int i = 0; node.isArray() && i < node.size(); i++) {
            collect(node.get(i), path + "[" + i + "]", values);
        }
    }
}
