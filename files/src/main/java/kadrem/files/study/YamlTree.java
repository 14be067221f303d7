package kadrem.files.study;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

import org.yaml.snakeyaml.DumperOptions.FlowStyle;
import org.yaml.snakeyaml.DumperOptions.ScalarStyle;
import org.yaml.snakeyaml.LoaderOptions;
import org.yaml.snakeyaml.composer.Composer;
import org.yaml.snakeyaml.error.Mark;
import org.yaml.snakeyaml.error.MarkedYAMLException;
import org.yaml.snakeyaml.error.YAMLException;
import org.yaml.snakeyaml.events.AliasEvent;
import org.yaml.snakeyaml.events.Event;
import org.yaml.snakeyaml.nodes.MappingNode;
import org.yaml.snakeyaml.nodes.Node;
import org.yaml.snakeyaml.nodes.NodeTuple;
import org.yaml.snakeyaml.nodes.ScalarNode;
import org.yaml.snakeyaml.nodes.SequenceNode;
import org.yaml.snakeyaml.nodes.Tag;
import org.yaml.snakeyaml.parser.Parser;
import org.yaml.snakeyaml.parser.ParserImpl;
import org.yaml.snakeyaml.reader.StreamReader;
import org.yaml.snakeyaml.resolver.Resolver;

/** Reads YAML with the place of every value. Aliases are refused, size and depth are limited. */
final class YamlTree {
    private static final int MAX_CHARACTERS = 4 * 1024 * 1024;
    private static final int MAX_DEPTH = 40;

    private final String text;
    /** Offset of each code point; null where each is one character. */
    private final int @org.jspecify.annotations.Nullable [] offsets;

    private YamlTree(String text) {
        this.text = text;
        offsets = text.codePointCount(0, text.length()) == text.length() ? null : offsets(text);
    }

    private static int[] offsets(String text) {
        var offsets = new int[text.codePointCount(0, text.length()) + 1];
        int at = 0;
        for (int i = 0; i < offsets.length; i++) {
            offsets[i] = at;
            at += at < text.length() ? Character.charCount(text.codePointAt(at)) : 0;
        }
        return offsets;
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

    /** What stands for itself elsewhere in the text would have two places. */
    private static final class AliasException extends RuntimeException {
        private static final long serialVersionUID = 1L;
        private final int line;

        AliasException(int line) {
            this.line = line;
        }
    }

    private record WithoutAliases(Parser parser) implements Parser {
        @Override
        public boolean checkEvent(Event.ID choice) {
            return parser.checkEvent(choice);
        }

        @Override
        public Event peekEvent() {
            return parser.peekEvent();
        }

        @Override
        public Event getEvent() {
            Event event = parser.getEvent();
            if (event instanceof AliasEvent) {
                throw new AliasException(lineOf(event.getStartMark()));
            }
            return event;
        }
    }

    static YamlNode read(String text) throws YamlException {
        var options = new LoaderOptions();
        options.setCodePointLimit(MAX_CHARACTERS);
        options.setNestingDepthLimit(MAX_DEPTH);
        try {
            var composer = new Composer(new WithoutAliases(new ParserImpl(new StreamReader(text), options)),
                    new Resolver(), options);
            if (!composer.checkNode()) {
                throw new YamlException(1, "the file is empty");
            }
            Node root = composer.getNode();
            if (composer.checkNode()) {
                throw new YamlException(lineOf(composer.getNode().getStartMark()),
                        "a second document begins here; a study is one document");
            }
            return new YamlTree(text).convert(root);
        } catch (AliasException cause) {
            throw new YamlException(cause.line, "aliases (*) are not read; write the value out");
        } catch (MarkedYAMLException cause) {
            throw new YamlException(Optional.ofNullable(cause.getProblemMark()).map(YamlTree::lineOf).orElse(1),
                    "this is not valid YAML: " + cause.getProblem());
        } catch (YAMLException cause) {
            throw new YamlException(1, "this is not valid YAML: " + String.valueOf(cause.getMessage())
                    .replace("Nesting Depth exceeded max " + MAX_DEPTH,
                            "its depth is more than " + MAX_DEPTH + " groups in each other"));
        }
    }

    private static int lineOf(Mark mark) {
        return mark.getLine() + 1;
    }

    private int offset(Mark mark) {
        return offsets == null ? mark.getIndex() : offsets[mark.getIndex()];
    }

    private YamlNode convert(Node node) throws YamlException {
        int line = lineOf(node.getStartMark());
        int from = offset(node.getStartMark());
        int end = offset(node.getEndMark());
        return switch (node) {
            case ScalarNode scalar ->
                new YamlNode.Scalar(text(scalar), scalar.getTag().equals(Tag.NULL), line, from, end(scalar, from, end));
            case SequenceNode sequence -> {
                var items = new ArrayList<YamlNode>();
                for (Node item : sequence.getValue()) {
                    items.add(convert(item));
                }
                boolean flow = sequence.getFlowStyle() == FlowStyle.FLOW;
                yield new YamlNode.Sequence(List.copyOf(items), flow, line, from,
                        flow || items.isEmpty() ? end : items.getLast().to());
            }
            case MappingNode mapping -> {
                Map<String, YamlNode.Entry> entries = entries(mapping);
                boolean flow = mapping.getFlowStyle() == FlowStyle.FLOW;
                yield new YamlNode.Mapping(entries, flow, line, from,
                        flow || entries.isEmpty()
                                ? end
                                : entries.values().stream().reduce((_, last) -> last)
                                        .map(last -> Math.max(last.after(), last.value().to())).orElse(end));
            }
            default -> throw new YamlException(line, "this is not read; write the value out");
        };
    }

    private Map<String, YamlNode.Entry> entries(MappingNode mapping) throws YamlException {
        var entries = new LinkedHashMap<String, YamlNode.Entry>();
        for (NodeTuple tuple : mapping.getValue()) {
            int line = lineOf(tuple.getKeyNode().getStartMark());
            if (!(tuple.getKeyNode() instanceof ScalarNode key)) {
                throw new YamlException(line, "a name of a field is a group or a list here; write a word");
            }
            int behindKey = offset(key.getEndMark());
            YamlNode value = convert(tuple.getValueNode());
            int colon = text.indexOf(':', behindKey);
            boolean written = colon >= 0 && colon < Math.max(value.from(), behindKey + 1);
            var entry = new YamlNode.Entry(line, offset(key.getStartMark()), written ? colon + 1 : behindKey, value);
            if (entries.put(text(key), entry) != null) {
                throw new YamlException(line, "this is not valid YAML: the field \"" + text(key)
                        + "\" stands here a second time");
            }
        }
        return entries;
    }

    /** No name of a file, program or host has the character 0, and no system takes it. */
    private static String text(ScalarNode scalar) throws YamlException {
        if (scalar.getValue().indexOf('\0') >= 0) {
            throw new YamlException(lineOf(scalar.getStartMark()),
                    "this text holds the character U+0000, which no study needs");
        }
        return scalar.getValue();
    }

    /** What is written in lines of its own ends with the last of them, and not with the empty ones behind it that say nothing. */
    private int end(ScalarNode scalar, int from, int end) {
        if (scalar.getScalarStyle() != ScalarStyle.LITERAL && scalar.getScalarStyle() != ScalarStyle.FOLDED) {
            return end;
        }
        int to = end;
        int headEnd = text.indexOf('\n', from);
        boolean keepsAll = headEnd >= 0 && text.substring(from, headEnd).matches("[|>][0-9]?\\+.*\\s*");
        if (keepsAll) {
            to -= to > from && text.charAt(to - 1) == '\n' ? 1 : 0;
            return to - (to > from && text.charAt(to - 1) == '\r' ? 1 : 0);
        }
        while (to > from && Character.isWhitespace(text.charAt(to - 1))) {
            to--;
        }
        return to;
    }
}
