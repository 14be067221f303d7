package kadrem.files.imports.log;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.regex.Pattern;

import kadrem.files.imports.ImportException;

/** A value list of what differs in addresses of a log. What may tell of people is replaced by made-up texts, each by its own. */
final class LoggedList {
    private static final int MOST_IN_STUDY = 200;
    private static final Pattern PLAIN = Pattern.compile("[!-~]([ -~]{0,78}[!-~])?");

    private final String stem;
    private final boolean kept;
    private final Values values = new Values();
    private final Map<String, String> instead = new HashMap<>();
    private String name = "";

    /** @param kept whether its values are taken although they may tell of people */
    LoggedList(String stem, boolean kept) {
        this.stem = stem;
        this.kept = kept;
    }

    String stem() {
        return stem;
    }

    void add(Values more) {
        values.addAll(more);
    }

    /** @throws ImportException if there are too many values for a list */
    void conclude(String named) throws ImportException {
        name = named;
        if (values.isCut() && (!values.isNumbers() || isMadeUp())) {
            throw new ImportException("There are more than " + Values.MOST + " different values of \"" + stem
                    + "\". Import a shorter part of the log.");
        }
        if (isMadeUp()) {
            values.seen().forEach(value -> instead.put(value, named + "-" + (instead.size() + 1)));
        }
    }

    String name() {
        return name;
    }

    /** Whether what stands in it is not what the log had. */
    boolean isMadeUp() {
        return values.isPersonal() && !kept;
    }

    int size() {
        return values.seen().size();
    }

    /** What is sent where the log had a value. */
    String sent(String value) {
        return isMadeUp() ? instead.getOrDefault(value, "") : value;
    }

    /** Whether its values stand in a file of their own. */
    boolean hasFile() {
        return !isRange() && (size() > MOST_IN_STUDY
                || values.seen().stream().anyMatch(value -> !PLAIN.matcher(sent(value)).matches()));
    }

    /** Numbers of which most between the least and the most came, or more than are kept. */
    private boolean isRange() {
        return values.isNumbers() && !isMadeUp()
                && (values.isCut() || values.most() - values.least() < 2L * size());
    }

    /** Its values as they are sent, each once. */
    List<String> rows() {
        return new ArrayList<>(values.seen().stream().map(this::sent).toList());
    }

    /** As a study has it. */
    Map<String, Object> item(String file) {
        Map<String, Object> item = new LinkedHashMap<>();
        item.put("name", name);
        if (isRange()) {
            item.put("kind", "numbers");
            item.put("from", Long.toString(values.least()));
            item.put("to", Long.toString(values.most()));
        } else if (hasFile()) {
            item.put("kind", "column");
            item.put("file", file);
        } else {
            item.put("kind", "pick");
            item.put("of", rows());
        }
        return item;
    }

    /** "berth: 1 to 2400", "day: 7 values". */
    String words() {
        return name + ": " + (isRange() ? values.least() + " to " + values.most() : size() + " values")
                + (isMadeUp() ? ", made up in the place of what may tell of people" : "");
    }
}
