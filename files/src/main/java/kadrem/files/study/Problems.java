package kadrem.files.study;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

import kadrem.core.study.Problem;

/** The problems found so far, and the lines of the places seen so far. */
final class Problems {
    final List<Problem> list = new ArrayList<>();
    private final Map<String, Integer> lines = new HashMap<>();

    void error(String path, String what, String mend) {
        list.add(Problem.error(path, what, mend));
    }

    void warning(String path, String what, String mend) {
        list.add(Problem.warning(path, what, mend));
    }

    boolean hasError() {
        return list.stream().anyMatch(problem -> problem.severity() == Problem.Severity.ERROR);
    }

    void seen(String path, int line) {
        lines.put(path, line);
    }

    /** Line of the path, or of the nearest group that holds it. */
    int lineOf(String path) {
        String at = path;
        while (!at.isEmpty()) {
            Integer line = lines.get(at);
            if (line != null) {
                return line;
            }
            int cut = Math.max(at.lastIndexOf('.'), at.lastIndexOf('['));
            at = cut < 0 ? "" : at.substring(0, cut);
        }
        return 1;
    }
}
