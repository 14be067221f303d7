package kadrem.files.study;

import java.io.IOException;
import java.util.ArrayList;
import java.util.LinkedHashMap;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.core.JsonToken;
import com.fasterxml.jackson.core.StreamReadConstraints;
import com.fasterxml.jackson.core.StreamReadFeature;
import com.fasterxml.jackson.dataformat.yaml.YAMLFactory;
import com.fasterxml.jackson.dataformat.yaml.YAMLParser;
import org.yaml.snakeyaml.LoaderOptions;

/** Reads YAML with the place of every value. Aliases are refused, size and depth are limited. */
final class YamlTree {
    private static final int MOST_CHARACTERS = 4 * 1024 * 1024;
    private static final int MOST_DEPTH = 40;
    private static final YAMLFactory FACTORY = factory();

    private YamlTree() {
    }

    private static YAMLFactory factory() {
        var options = new LoaderOptions();
        options.setCodePointLimit(MOST_CHARACTERS);
        return YAMLFactory.builder().loaderOptions(options)
                .streamReadConstraints(StreamReadConstraints.builder().maxNestingDepth(MOST_DEPTH).build())
                .enable(StreamReadFeature.STRICT_DUPLICATE_DETECTION).build();
    }

    /** The text is not YAML that Kadrem reads. */
    static final class YamlException extends Exception {
        private static final long serialVersionUID = 1L;
        private final int line;

        YamlException(int line, String message) {
            super(message);
            this.line = line;
        }

        int line() {
            return line;
        }
    }

    static YamlNode read(String text) throws YamlException {
        try (YAMLParser parser = FACTORY.createParser(text)) {
            JsonToken first = parser.nextToken();
            if (first == null) {
                throw new YamlException(1, "the file is empty");
            }
            YamlNode node = read(parser, first);
            if (parser.nextToken() != null) {
                throw new YamlException(parser.currentTokenLocation().getLineNr(),
                        "a second document begins here; a study is one document");
            }
            return node;
        } catch (JsonProcessingException cause) {
            int line = cause.getLocation() == null ? 1 : cause.getLocation().getLineNr();
            String message = cause.getOriginalMessage().lines().findFirst().orElse("not YAML");
            throw new YamlException(line, "this is not valid YAML: " + message);
        } catch (org.yaml.snakeyaml.error.YAMLException cause) {
            throw new YamlException(1, "this is not valid YAML: " + cause.getMessage());
        } catch (IOException impossible) {
            throw new java.io.UncheckedIOException(impossible);
        }
    }

    /** No name of a file, program or host has the character 0, and no system takes it. */
    private static String text(YAMLParser parser, int line) throws IOException, YamlException {
        String text = parser.getText();
        if (text.indexOf('\0') >= 0) {
            throw new YamlException(line, "this text holds the character U+0000, which no study needs");
        }
        return text;
    }

    private static YamlNode read(YAMLParser parser, JsonToken token) throws IOException, YamlException {
        int line = parser.currentTokenLocation().getLineNr();
        if (parser.isCurrentAlias()) {
            throw new YamlException(line, "aliases (*) are not read; write the value out");
        }
        return switch (token) {
            case START_OBJECT -> {
                var entries = new LinkedHashMap<String, YamlNode.Entry>();
                while (parser.nextToken() == JsonToken.FIELD_NAME) {
                    int keyLine = parser.currentTokenLocation().getLineNr();
                    int keyFrom = (int) parser.currentTokenLocation().getCharOffset();
                    String name = parser.currentName();
                    YamlNode value = read(parser, parser.nextToken());
                    entries.put(name, new YamlNode.Entry(keyLine, keyFrom, value));
                }
                yield new YamlNode.Mapping(entries, line);
            }
            case START_ARRAY -> {
                var items = new ArrayList<YamlNode>();
                for (JsonToken next = parser.nextToken(); next != JsonToken.END_ARRAY; next = parser.nextToken()) {
                    items.add(read(parser, next));
                }
                yield new YamlNode.Sequence(items, line);
            }
            default -> new YamlNode.Scalar(token == JsonToken.VALUE_NULL ? "" : text(parser, line),
                    token == JsonToken.VALUE_NULL, line, (int) parser.currentTokenLocation().getCharOffset(),
                    (int) parser.currentLocation().getCharOffset());
        };
    }
}
