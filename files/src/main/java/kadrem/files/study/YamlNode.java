package kadrem.files.study;

import java.util.List;
import java.util.Map;

/** A piece of a YAML document with its place in the text. */
sealed interface YamlNode {
    /** Line of its beginning, from 1. */
    int line();

    /** @param from offset of the first character of the value as written, quotes included; {@code to} is behind the last */
    record Scalar(String text, boolean isNull, int line, int from, int to) implements YamlNode {
    }

    record Sequence(List<YamlNode> items, int line) implements YamlNode {
    }

    record Mapping(Map<String, Entry> entries, int line) implements YamlNode {
    }

    /** @param keyFrom offset of the first character of the key */
    record Entry(int keyLine, int keyFrom, YamlNode value) {
    }

    /** What the piece is, in the words of an error message. */
    default String kind() {
        return switch (this) {
            case Scalar scalar when scalar.isNull() -> "empty";
            case Scalar _ -> "a single value";
            case Sequence _ -> "a list";
            case Mapping _ -> "a group of fields";
        };
    }
}
