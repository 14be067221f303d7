package kadrem.files.imports.log;

import java.util.Map;
import java.util.Set;

/**
 * What is taken of a log.
 *
 * @param fields of JSON lines or CSV, by what they tell, which is one of the time, the path, the method and the status; what is left
 *            out is found by how values look
 * @param methods of HTTP that are taken
 * @param failed whether lines are taken whose answers had a status of 400 or more
 * @param keep parameters, and parts of a path, whose values are taken although they may tell of people
 * @param most calls at most; what comes more seldom is left out
 */
public record LogChoice(Map<String, String> fields, Set<String> methods, boolean failed, Set<String> keep, int most) {
    /** What is asked without a body and was answered. */
    public static final LogChoice USUAL = new LogChoice(Map.of(), Set.of("GET", "HEAD"), false, Set.of(), 100);

    public LogChoice {
        fields = Map.copyOf(fields);
        methods = Set.copyOf(methods);
        keep = Set.copyOf(keep);
    }
}
