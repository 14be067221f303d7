package kadrem.files.study;

import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;

import org.yaml.snakeyaml.DumperOptions;
import org.yaml.snakeyaml.DumperOptions.FlowStyle;
import org.yaml.snakeyaml.DumperOptions.ScalarStyle;
import org.yaml.snakeyaml.Yaml;
import org.yaml.snakeyaml.nodes.Tag;
import org.yaml.snakeyaml.reader.StreamReader;
import org.yaml.snakeyaml.representer.Representer;
import org.yaml.snakeyaml.resolver.Resolver;

/** Texts, numbers, lists and maps as YAML. Texts that would be read as something else are quoted. No line is broken. */
final class YamlWriter {
    private static final int INDENT = 2;

    private YamlWriter() {
    }

    /** {@code name: value}, without an end of the last line. */
    static String entry(String name, Object value) {
        return dump(Map.of(name, value), FlowStyle.BLOCK, ScalarStyle.PLAIN);
    }

    /** {@code - value}, without an end of the last line. */
    static String item(Object value) {
        String inList = entry("x", List.of(value));
        return inList.lines().skip(1).map(line -> line.substring(Math.min(INDENT, line.length())))
                .collect(Collectors.joining("\n"));
    }

    /** In one line, as it may stand in braces and brackets too. */
    static String inOneLine(Object value) {
        String inList = dump(List.of(value), FlowStyle.FLOW, ScalarStyle.PLAIN);
        return inList.substring(1, inList.length() - 1);
    }

    /** In double quotes. */
    static String quoted(String text) {
        return dump(text, FlowStyle.FLOW, ScalarStyle.DOUBLE_QUOTED);
    }

    private static String dump(Object value, FlowStyle flow, ScalarStyle style) {
        var options = new DumperOptions();
        options.setDefaultFlowStyle(flow);
        options.setIndent(INDENT);
        options.setIndicatorIndent(INDENT);
        options.setIndentWithIndicator(true);
        options.setSplitLines(false);
        options.setWidth(Integer.MAX_VALUE);
        options.setDereferenceAliases(true);
        return new Yaml(new Words(options, flow, style), options).dump(value).stripTrailing();
    }

    private static final class Words extends Representer {
        private static final Resolver RESOLVER = new Resolver();

        Words(DumperOptions options, FlowStyle flow, ScalarStyle style) {
            super(options);
            representers.put(String.class, text -> representScalar(Tag.STR, text.toString(),
                    style(text.toString(), flow, style)));
            // a number is written as it is, and its tag is what a reader finds
            multiRepresenters.put(Number.class, number -> representScalar(
                    RESOLVER.resolve(org.yaml.snakeyaml.nodes.NodeId.scalar, number.toString(), true),
                    number.toString()));
        }

        private static ScalarStyle style(String text, FlowStyle flow, ScalarStyle style) {
            if (!StreamReader.isPrintable(text)) {
                return ScalarStyle.DOUBLE_QUOTED;
            }
            if (text.indexOf('\n') >= 0) {
                return flow == FlowStyle.FLOW ? ScalarStyle.DOUBLE_QUOTED : ScalarStyle.LITERAL;
            }
            return style;
        }
    }
}
