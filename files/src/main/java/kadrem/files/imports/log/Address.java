package kadrem.files.imports.log;

import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;

import kadrem.files.imports.Naming;

/**
 * An address of a log, taken apart. Values are decoded; parts of the path between them stay as they are written.
 *
 * @param parts of the path, between its slashes
 * @param parameters of the question, in their order
 */
record Address(String method, List<String> parts, List<Parameter> parameters) {

    /** One name of the question and its value; {@code bare} where there is no equals sign. */
    record Parameter(String name, String value, boolean bare) {
    }

    /** @return empty where it may not stand in a study */
    static Optional<Address> of(LogLine line) {
        String target = line.target();
        for (int i = 0; i < target.length(); i++) {
            if (target.charAt(i) < '!' || target.charAt(i) > '~') {
                return Optional.empty();
            }
        }
        if (target.contains("{{") || target.contains("}}")) {
            return Optional.empty();
        }
        int question = target.indexOf('?');
        String path = question < 0 ? target : target.substring(0, question);
        try {
            var parameters = new ArrayList<Parameter>();
            if (question >= 0 && question < target.length() - 1) {
                for (String one : target.substring(question + 1).split("&", -1)) {
                    int equals = one.indexOf('=');
                    parameters.add(equals < 0
                            ? new Parameter(one, "", true)
                            : new Parameter(one.substring(0, equals), decoded(one.substring(equals + 1)), false));
                }
            }
            List<String> parts = List.of(path.substring(1).split("/", -1));
            for (String part : parts) {
                decodedPart(part);
            }
            return Optional.of(new Address(line.method(), parts, List.copyOf(parameters)));
        } catch (IllegalArgumentException _) {
            return Optional.empty();
        }
    }

    private static String decoded(String text) {
        return URLDecoder.decode(text, StandardCharsets.UTF_8);
    }

    /** A part of a path as what it means; there a plus sign is one (RFC 3986). */
    static String decodedPart(String part) {
        return part.indexOf('%') < 0 ? part : decoded(part.replace("+", "%2B"));
    }

    /** The value of a part of the path. */
    String part(int index) {
        return decodedPart(parts.get(index));
    }

    /** Whether a part tells things of one kind apart. */
    boolean varies(int index) {
        return Naming.isId(parts.get(index))
                || Values.isPrivate(part(index), index == 0 ? "" : parts.get(index - 1));
    }

    /** What it has in common with others of its kind. */
    String key() {
        var key = new StringBuilder(method).append(' ');
        for (int i = 0; i < parts.size(); i++) {
            key.append('/').append(varies(i) ? "\0" : parts.get(i));
        }
        return key.append('?')
                .append(parameters.stream().map(one -> one.name() + (one.bare() ? "" : "="))
                        .collect(Collectors.joining("&")))
                .toString();
    }
}
