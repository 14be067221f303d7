package kadrem.load.content;

import java.io.IOException;
import java.util.Optional;
import java.util.regex.Pattern;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonStreamContext;
import com.fasterxml.jackson.core.JsonToken;

/**
 * A value of a JSON text that somebody points at.
 *
 * @param path a JSONPath that has this value alone (RFC 9535), with names after a dot where they may stand there
 * @param text the value as an expectation compares it; empty for an object or an array
 * @param column a JSONPath that has the values at this place of every element of its arrays; empty where it stands in none, and for an
 *            object or an array
 */
public record PointedValue(String path, Optional<String> text, Optional<String> column) {
    private static final JsonFactory FACTORY = new JsonFactory();
    private static final Pattern PLAIN = Pattern.compile("[A-Za-z_][A-Za-z0-9_]*");

    /**
     * The value at a place of the text, or the one of the member whose name stands there.
     *
     * @param offset in characters
     * @return empty where no value and no name stands, or the text is no JSON
     */
    public static Optional<PointedValue> at(String json, int offset) {
        try (JsonParser parser = FACTORY.createParser(json)) {
            boolean named = false;
            for (JsonToken token = parser.nextToken(); token != null; token = parser.nextToken()) {
                if (token == JsonToken.END_OBJECT || token == JsonToken.END_ARRAY) {
                    continue;
                }
                long from = parser.currentTokenLocation().getCharOffset();
                // a string is read to its end only when it is asked for
                String text = parser.getText();
                boolean here = offset >= from && offset < parser.currentLocation().getCharOffset();
                if (token == JsonToken.FIELD_NAME) {
                    named = here;
                } else if (named || here && token.isScalarValue()) {
                    JsonStreamContext place = parser.getParsingContext();
                    if (token.isStructStart()) {
                        return Optional.of(new PointedValue("$" + path(place.getParent(), false), Optional.empty(),
                                Optional.empty()));
                    }
                    String path = "$" + path(place, false);
                    return Optional.of(new PointedValue(path, Optional.of(text),
                            Optional.of("$" + path(place, true)).filter(column -> !column.equals(path))));
                }
            }
            return Optional.empty();
        } catch (IOException _) {
            return Optional.empty();
        }
    }

    /** @param ofEach whether every element of an array is meant, not this one */
    private static String path(JsonStreamContext place, boolean ofEach) {
        if (place.inRoot()) {
            return "";
        }
        String step = place.inArray()
                ? ofEach ? "[*]" : "[" + place.getCurrentIndex() + "]"
                : member(place.getCurrentName());
        return path(place.getParent(), ofEach) + step;
    }

    private static String member(String name) {
        return PLAIN.matcher(name).matches()
                ? "." + name
                : "['" + name.replace("\\", "\\\\").replace("'", "\\'") + "']";
    }
}
