package kadrem.load.content;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.core.JsonToken;
import org.jspecify.annotations.Nullable;

/**
 * A JSONPath of nothing but member names and places in arrays, such as {@code $.berths[0].id}. Its value is found while the
 * text is read once, without a tree, which is what most captured values and expectations of a load need.
 */
final class DirectPath {
    private static final JsonFactory STRICT = new JsonFactory();
    private static final Pattern STEP = Pattern
            .compile("\\.([A-Za-z_][A-Za-z0-9_]*)|\\[(\\d{1,6})]|\\['([A-Za-z0-9_ -]+)']|\\[\"([A-Za-z0-9_ -]+)\"]");

    /** A name, or a place as a number. */
    private final Object[] steps;

    private DirectPath(Object[] steps) {
        this.steps = steps;
    }

    /** What was found. */
    sealed interface Found {
        /** Nothing. */
        record Nothing() implements Found {
        }

        /** A string, a whole number, or one of the words true, false and null. */
        record Text(String value) implements Found {
        }

        /** An object, an array or a fraction, whose way of being written is left to the general query. */
        record Other() implements Found {
        }
    }

    /** Empty where the path has more than names and places. */
    static Optional<DirectPath> of(String path) {
        List<Object> steps = new ArrayList<>();
        Matcher matcher = STEP.matcher(path);
        int at = 1;
        while (at < path.length() && matcher.find(at) && matcher.start() == at) {
            if (matcher.group(2) != null) {
                steps.add(Integer.valueOf(matcher.group(2)));
            } else {
                steps.add(matcher.group(1) != null
                        ? matcher.group(1)
                        : matcher.group(3) != null ? matcher.group(3) : matcher.group(4));
            }
            at = matcher.end();
        }
        return at == path.length() && !steps.isEmpty()
                ? Optional.of(new DirectPath(steps.toArray()))
                : Optional.empty();
    }

    /** @throws UnreadableContent if {@code json} is no JSON */
    Found find(byte[] json) throws UnreadableContent {
        try (JsonParser parser = STRICT.createParser(json)) {
            if (parser.nextToken() == null) {
                throw new UnreadableContent("the body is empty, and not JSON");
            }
            Found found = descend(parser, 0);
            if (parser.nextToken() != null) {
                throw new UnreadableContent("the body is not JSON: something follows the first value");
            }
            return found == null ? new Found.Nothing() : found;
        } catch (JsonProcessingException cause) {
            throw new UnreadableContent("the body is not JSON: " + cause.getOriginalMessage());
        } catch (IOException impossible) {
            throw new UncheckedIOException(impossible);
        }
    }

    /** Reads the value at which the parser stands to its end. Of members with the same name the last one counts. */
    private @Nullable Found descend(JsonParser parser, int step) throws IOException {
        if (step == steps.length) {
            return value(parser);
        }
        Found found = null;
        if (steps[step] instanceof String name && parser.currentToken() == JsonToken.START_OBJECT) {
            while (parser.nextToken() != JsonToken.END_OBJECT) {
                boolean wanted = name.equals(parser.currentName());
                parser.nextToken();
                if (wanted) {
                    found = descend(parser, step + 1);
                } else {
                    parser.skipChildren();
                }
            }
        } else if (steps[step] instanceof Integer place && parser.currentToken() == JsonToken.START_ARRAY) {
            for (int i = 0; parser.nextToken() != JsonToken.END_ARRAY; i++) {
                if (i == place) {
                    found = descend(parser, step + 1);
                } else {
                    parser.skipChildren();
                }
            }
        } else {
            parser.skipChildren();
        }
        return found;
    }

    private static Found value(JsonParser parser) throws IOException {
        return switch (parser.currentToken()) {
            case VALUE_STRING, VALUE_NUMBER_INT, VALUE_TRUE, VALUE_FALSE, VALUE_NULL ->
                new Found.Text(parser.getText());
            default -> {
                parser.skipChildren();
                yield new Found.Other();
            }
        };
    }
}
