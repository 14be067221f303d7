package kadrem.files.study;

import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * A piece of a YAML document with its place in the text: {@code from} is the offset of its first character as written, quotes
 * included, {@code to} is behind its last one that is no blank, comment or end of a line.
 */
sealed interface YamlNode {
    /** Line of its beginning, from 1. */
    int line();

    int from();

    int to();

    record Scalar(String text, boolean isNull, int line, int from, int to) implements YamlNode {
    }

    /** @param flow whether it is written in brackets */
    record Sequence(List<YamlNode> items, boolean flow, int line, int from, int to) implements YamlNode {
    }

    /** @param flow whether it is written in braces */
    record Mapping(Map<String, Entry> entries, boolean flow, int line, int from, int to) implements YamlNode {
        /** Without fields, as though there were none in the text. */
        static Mapping empty(int line) {
            return new Mapping(Map.of(), true, line, 0, 0);
        }
    }

    /**
     * @param keyFrom offset of the first character of the key
     * @param after offset behind the colon, or behind the key where there is none
     */
    record Entry(int keyLine, int keyFrom, int after, YamlNode value) {
    }

    /** What stands below this piece at a path such as {@code load.stopWhen[0].for}. */
    default Optional<YamlNode> find(String path) {
        return find(PlainTree.steps(path));
    }

    /** @param steps names and indices */
    default Optional<YamlNode> find(List<Object> steps) {
        YamlNode node = this;
        for (Object step : steps) {
            Optional<YamlNode> below = switch (node) {
                case Mapping mapping when step instanceof String name ->
                    Optional.ofNullable(mapping.entries().get(name)).map(Entry::value);
                case Sequence list when step instanceof Integer index && index < list.items().size() ->
                    Optional.of(list.items().get(index));
                default -> Optional.empty();
            };
            if (below.isEmpty()) {
                return below;
            }
            node = below.get();
        }
        return Optional.of(node);
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
