package kadrem.load.content;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Optional;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonProcessingException;
import org.jspecify.annotations.Nullable;
import org.noear.snack4.ONode;
import org.noear.snack4.jsonpath.JsonPath;

/** A JSONPath query (RFC 9535) on a JSON text. What the library behind it does otherwise stands in docs/methods.md. */
public final class JsonQuery {
    private static final JsonFactory STRICT = new JsonFactory();
    private final JsonPath path;
    private final Optional<DirectPath> direct;
    private final String text;

    private JsonQuery(JsonPath path, String text) {
        this.path = path;
        this.text = text;
        direct = DirectPath.of(text);
    }

    /** @throws UnreadableContent if {@code text} is no JSONPath */
    public static JsonQuery of(String text) throws UnreadableContent {
        if (!text.startsWith("$")) {
            throw new UnreadableContent("\"" + text + "\" is no JSONPath: it begins with $, as in $.berths[0].id");
        }
        if (!isClosed(text)) {
            throw new UnreadableContent("\"" + text + "\" is no JSONPath: a bracket or quote is not closed");
        }
        try {
            return new JsonQuery(JsonPath.parse(spaced(text)), text);
        } catch (RuntimeException cause) {
            throw new UnreadableContent("\"" + text + "\" is no JSONPath: " + cause.getMessage());
        }
    }

    private static boolean isClosed(String path) {
        int depth = 0;
        char quote = 0;
        for (int i = 0; i < path.length() && depth >= 0; i++) {
            char c = path.charAt(i);
            if (quote != 0) {
                i += c == '\\' ? 1 : 0;
                quote = c == quote ? 0 : quote;
            } else if (c == '\'' || c == '"') {
                quote = c;
            } else {
                depth += "[(".indexOf(c) >= 0 ? 1 : "])".indexOf(c) >= 0 ? -1 : 0;
            }
        }
        return depth == 0 && quote == 0;
    }

    /** The library wants spaces around comparison operators, which the standard leaves free. */
    private static String spaced(String path) {
        var spaced = new StringBuilder();
        char quote = 0;
        for (int i = 0; i < path.length(); i++) {
            char c = path.charAt(i);
            char next = i + 1 < path.length() ? path.charAt(i + 1) : 0;
            if (quote != 0) {
                spaced.append(c);
                if (c == '\\' && next != 0) {
                    spaced.append(next);
                    i++;
                } else if (c == quote) {
                    quote = 0;
                }
            } else if (c == '\'' || c == '"') {
                quote = c;
                spaced.append(c);
            } else if ("=!<>".indexOf(c) >= 0 && next == '=') {
                spaced.append(' ').append(c).append("= ");
                i++;
            } else if (c == '<' || c == '>') {
                spaced.append(' ').append(c).append(' ');
            } else {
                spaced.append(c);
            }
        }
        return spaced.toString();
    }

    /** A JSON text, read once for any number of queries. */
    public static final class Document {
        private final byte[] json;
        private @Nullable ONode tree;

        private Document(byte[] json) {
            this.json = json;
        }

        /** Whether it is JSON is found out by the first query. */
        public static Document of(byte[] json) {
            return new Document(json);
        }

        private ONode root() throws UnreadableContent {
            ONode known = tree;
            if (known == null) {
                requireJson(json);
                try {
                    known = ONode.ofJson(new String(json, StandardCharsets.UTF_8));
                } catch (RuntimeException cause) {
                    throw new UnreadableContent("the body is not JSON: " + cause.getMessage());
                }
                tree = known;
            }
            return known;
        }

        /** The query's library reads more than JSON, so a page of HTML would pass for a text. */
        private static void requireJson(byte[] json) throws UnreadableContent {
            try (JsonParser parser = STRICT.createParser(json)) {
                if (parser.nextToken() == null) {
                    throw new UnreadableContent("the body is empty, and not JSON");
                }
                parser.skipChildren();
                if (parser.nextToken() != null) {
                    throw new UnreadableContent("the body is not JSON: something follows the first value");
                }
            } catch (JsonProcessingException cause) {
                throw new UnreadableContent("the body is not JSON: " + cause.getOriginalMessage());
            } catch (IOException impossible) {
                throw new UncheckedIOException(impossible);
            }
        }
    }

    /** The JSON text without what is found. */
    public String without(byte[] json) throws UnreadableContent {
        Document document = Document.of(json);
        path.delete(document.root());
        return document.root().toJson();
    }

    /**
     * Every value that is found, in order, as JSON.
     *
     * @throws UnreadableContent if the document is no JSON
     */
    public List<String> all(Document document) throws UnreadableContent {
        return path.select(document.root()).getNodeList().stream().map(ONode::toJson).toList();
    }

    /**
     * Every value that is found, in order: a string without its quotes, anything else as JSON.
     *
     * @throws UnreadableContent if the document is no JSON
     */
    public List<String> texts(Document document) throws UnreadableContent {
        return path.select(document.root()).getNodeList().stream().map(JsonQuery::text).toList();
    }

    private static String text(ONode node) {
        return node.isString() ? String.valueOf(node.getString()) : node.toJson();
    }

    /**
     * The first value found: a string without its quotes, anything else as JSON.
     *
     * @throws UnreadableContent if the document is no JSON
     */
    public Optional<String> first(Document document) throws UnreadableContent {
        if (direct.isPresent()) {
            switch (direct.get().find(document.json)) {
                case DirectPath.Found.Nothing() -> {
                    return Optional.empty();
                }
                case DirectPath.Found.Text(String value) -> {
                    return Optional.of(value);
                }
                case DirectPath.Found.Other() -> {
                    // written by the general query
                }
            }
        }
        List<ONode> found = path.select(document.root()).getNodeList();
        if (found == null || found.isEmpty()) {
            return Optional.empty();
        }
        return Optional.of(text(found.getFirst()));
    }

    @Override
    public String toString() {
        return text;
    }
}
