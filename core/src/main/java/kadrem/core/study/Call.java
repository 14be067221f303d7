package kadrem.core.study;

import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * One request as a template: {@code {{name}}} in path, header values and body is replaced by a value of that list.
 *
 * @param name groups the figures of this call; unique in the workload
 */
public record Call(String name, String method, String path, List<Header> headers, String body, StatusSet expected) {
    private static final Pattern PLACEHOLDER = Pattern.compile("\\{\\{([^{}]*)}}");

    public Call {
        headers = List.copyOf(headers);
    }

    /** A header line of the request. */
    public record Header(String name, String value) {
    }

    /** Names between double braces in {@code template}, in order, repeated where repeated. */
    public static List<String> placeholders(String template) {
        return PLACEHOLDER.matcher(template).results().map(match -> match.group(1).strip()).toList();
    }

    /** {@code template} cut at its placeholders: text, name, text, name, …, text (an odd number of parts). */
    public static List<String> split(String template) {
        var parts = new java.util.ArrayList<String>();
        Matcher matcher = PLACEHOLDER.matcher(template);
        int from = 0;
        while (matcher.find()) {
            parts.add(template.substring(from, matcher.start()));
            parts.add(matcher.group(1).strip());
            from = matcher.end();
        }
        parts.add(template.substring(from));
        return List.copyOf(parts);
    }
}
