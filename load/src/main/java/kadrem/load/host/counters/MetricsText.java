package kadrem.load.host.counters;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

import kadrem.load.host.SourceFailure;

/**
 * The text format of metrics: OpenMetrics 1.0 and, with its looser rules, the Prometheus text format 0.0.4. Exemplars and
 * timestamps are passed over.
 */
final class MetricsText {
    /** Endings of a counter's, histogram's or summary's samples whose values only grow. */
    private static final List<String> GROWING = List.of("_total", "_count", "_sum", "_bucket", "_gcount", "_gsum");

    private final String text;
    private final boolean strict;
    private final Map<String, String> types = new HashMap<>();
    private final Map<String, String> units = new HashMap<>();
    private final List<Sample> samples = new ArrayList<>();
    private boolean ended;

    private MetricsText(String text, boolean strict) {
        this.text = text;
        this.strict = strict;
    }

    /**
     * One sample.
     *
     * @param family name of the metric that it belongs to, or its own where none was announced
     * @param grows whether its value is a total that only grows
     * @param unit empty where none was announced
     */
    record Sample(String name, Map<String, String> labels, double value, String family, boolean grows, String unit) {
    }

    /**
     * The samples of a text.
     *
     * @param strict whether it must end with {@code # EOF}, as OpenMetrics does
     * @throws SourceFailure if it breaks the format; the message names the line
     */
    static List<Sample> parse(String text, boolean strict) throws SourceFailure {
        var parser = new MetricsText(text, strict);
        parser.parse();
        return List.copyOf(parser.samples);
    }

    private void parse() throws SourceFailure {
        String[] lines = text.split("\n", -1);
        int last = lines[lines.length - 1].isEmpty() ? lines.length - 1 : lines.length;
        for (int i = 0; i < last; i++) {
            String line = strict ? lines[i] : lines[i].strip();
            try {
                if (ended) {
                    throw new IllegalArgumentException("something follows # EOF");
                }
                if (line.startsWith("#")) {
                    describe(line);
                } else if (!line.isEmpty()) {
                    samples.add(new Line(line).sample());
                } else if (strict) {
                    throw new IllegalArgumentException("it is empty");
                }
            } catch (IllegalArgumentException cause) {
                throw new SourceFailure("line " + (i + 1) + " of the metrics breaks the format: " + cause.getMessage(),
                        cause);
            }
        }
        if (strict && !ended) {
            throw new SourceFailure("the metrics do not end with # EOF: the answer was cut off");
        }
    }

    private void describe(String line) {
        if (line.equals("# EOF")) {
            ended = strict;
            return;
        }
        String[] words = line.split(" ", 4);
        if (words.length >= 3 && words[1].equals("TYPE")) {
            types.put(words[2], words.length > 3 ? words[3].strip() : "unknown");
        } else if (words.length == 4 && words[1].equals("UNIT")) {
            units.put(words[2], words[3].strip());
        }
    }

    private String family(String name) {
        if (types.containsKey(name)) {
            return name;
        }
        for (String ending : List.of("_total", "_created", "_count", "_sum", "_bucket", "_gcount", "_gsum", "_info")) {
            if (name.endsWith(ending) && types.containsKey(name.substring(0, name.length() - ending.length()))) {
                return name.substring(0, name.length() - ending.length());
            }
        }
        return name;
    }

    private boolean grows(String name, String family) {
        return switch (types.getOrDefault(family, "unknown")) {
            case "counter" -> !name.endsWith("_created");
            // "gaugehistogram" goes up and down; a summary's own samples are quantiles
            case "histogram", "summary" -> GROWING.stream().anyMatch(name::endsWith);
            case "unknown", "untyped" -> name.endsWith("_total");
            default -> false;
        };
    }

    /** Reads one line of a sample from left to right. */
    private final class Line {
        private final String line;
        private int at;

        Line(String line) {
            this.line = line;
        }

        Sample sample() {
            String name = name(":");
            Map<String, String> labels = new LinkedHashMap<>();
            spaces();
            if (at < line.length() && line.charAt(at) == '{') {
                labels(labels);
                spaces();
            }
            int from = at;
            while (at < line.length() && line.charAt(at) != ' ' && line.charAt(at) != '\t') {
                at++;
            }
            double value = number(line.substring(from, at));
            String family = family(name);
            return new Sample(name, Map.copyOf(labels), value, family, grows(name, family),
                    units.getOrDefault(family, ""));
        }

        private void spaces() {
            while (at < line.length() && (line.charAt(at) == ' ' || !strict && line.charAt(at) == '\t')) {
                at++;
            }
        }

        private String name(String also) {
            int from = at;
            while (at < line.length() && (Character.isLetterOrDigit(line.charAt(at)) || line.charAt(at) == '_'
                    || also.indexOf(line.charAt(at)) >= 0)) {
                at++;
            }
            String name = line.substring(from, at);
            if (name.isEmpty() || Character.isDigit(name.charAt(0))) {
                throw new IllegalArgumentException("a name is expected at column " + (from + 1));
            }
            return name;
        }

        private void labels(Map<String, String> labels) {
            at++;
            while (true) {
                if (!strict) {
                    spaces();
                }
                if (at < line.length() && line.charAt(at) == '}') {
                    at++;
                    return;
                }
                String label = name("");
                expect('=');
                expect('"');
                if (labels.put(label, quoted()) != null) {
                    throw new IllegalArgumentException("the label " + label + " is there twice");
                }
                if (!strict) {
                    spaces();
                }
                if (at < line.length() && line.charAt(at) == ',') {
                    at++;
                } else if (at >= line.length() || line.charAt(at) != '}') {
                    throw new IllegalArgumentException("a comma or } is expected at column " + (at + 1));
                }
            }
        }

        private void expect(char wanted) {
            if (!strict) {
                spaces();
            }
            if (at >= line.length() || line.charAt(at) != wanted) {
                throw new IllegalArgumentException(wanted + " is expected at column " + (at + 1));
            }
            at++;
        }

        private String quoted() {
            var value = new StringBuilder();
            while (at < line.length()) {
                char c = line.charAt(at++);
                if (c == '"') {
                    return value.toString();
                }
                if (c == '\\' && at < line.length()) {
                    char escaped = line.charAt(at++);
                    value.append(
                            escaped == 'n' ? "\n" : escaped == '"' || escaped == '\\' ? "" + escaped : "\\" + escaped);
                } else {
                    value.append(c);
                }
            }
            throw new IllegalArgumentException("a quoted value does not end");
        }
    }

    private static double number(String text) {
        return switch (text) {
            case "+Inf", "Inf" -> Double.POSITIVE_INFINITY;
            case "-Inf" -> Double.NEGATIVE_INFINITY;
            case "NaN" -> Double.NaN;
            default -> {
                if (!text.matches("[+-]?(\\d+\\.?\\d*|\\.\\d+)([eE][+-]?\\d+)?")) {
                    throw new IllegalArgumentException("\"" + text + "\" is no number");
                }
                yield Double.parseDouble(text);
            }
        };
    }
}
