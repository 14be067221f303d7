package kadrem.files.study;

import java.util.ArrayList;
import java.util.List;
import java.util.Objects;

import kadrem.files.study.YamlNode.Mapping;
import kadrem.files.study.YamlNode.Scalar;
import kadrem.files.study.YamlNode.Sequence;

/** The text of a study file with the tree that it holds, and where in it each piece stands. It is read anew after each change. */
final class YamlText {
    private String text;
    private Mapping root;

    YamlText(String text) throws StudyException {
        this.text = text;
        root = read(text);
    }

    String text() {
        return text;
    }

    Mapping root() {
        return root;
    }

    private static Mapping read(String text) throws StudyException {
        try {
            if (YamlTree.read(text) instanceof Mapping mapping) {
                return mapping;
            }
            throw new StudyException("The study is no group of fields.");
        } catch (YamlTree.YamlException cause) {
            throw new StudyException("The study cannot be changed while it is not valid YAML: " + cause.getMessage());
        }
    }

    /** Writes something else in place of a piece of the text. */
    void replace(int from, int to, String with) throws StudyException {
        text = text.substring(0, from) + with + text.substring(to);
        root = read(text);
    }

    static List<Object> below(List<Object> path, Object step) {
        var longer = new ArrayList<>(path);
        longer.add(step);
        return longer;
    }

    static List<Object> above(List<Object> path) {
        return path.subList(0, path.size() - 1);
    }

    /** What stands at the path; an empty value where nothing does. */
    YamlNode find(List<Object> path) {
        return root.find(path).orElse(new Scalar("", true, 1, 0, 0));
    }

    Sequence list(List<Object> path) throws StudyException {
        if (find(path) instanceof Sequence list) {
            return list;
        }
        throw new StudyException("there is no list");
    }

    /** Whether what stands at the path is written inside braces or brackets. */
    boolean isInFlow(List<Object> path) {
        return !path.isEmpty() && switch (find(above(path))) {
            case Mapping mapping -> mapping.flow();
            case Sequence list -> list.flow();
            case Scalar _ -> false;
        };
    }

    /** Offset behind the colon or hyphen that comes before what stands at the path. */
    int after(List<Object> path) throws StudyException {
        Object step = path.getLast();
        return switch (find(above(path))) {
            case Mapping mapping ->
                Objects.requireNonNull(mapping.entries().get((String) step), "it was found").after();
            case Sequence list when !list.flow() -> dash(list, (Integer) step) + 1;
            case Sequence list -> list.items().get((Integer) step).from();
            case Scalar _ -> throw new StudyException("there is no such place");
        };
    }

    int lineStart(int at) {
        return text.lastIndexOf('\n', at - 1) + 1;
    }

    int column(int at) {
        return at - lineStart(at);
    }

    /** End of the line without what ends it. */
    int lineEnd(int at) {
        int end = text.indexOf('\n', at);
        if (end < 0) {
            return text.length();
        }
        return end > at && text.charAt(end - 1) == '\r' ? end - 1 : end;
    }

    int nextLine(int at) {
        int end = text.indexOf('\n', at);
        return end < 0 ? text.length() : end + 1;
    }

    boolean isFirstOnLine(int at) {
        return text.substring(lineStart(at), at).isBlank();
    }

    /** Offset of the hyphen of an item of a list that is not in brackets. */
    int dash(Sequence list, int index) {
        if (index == 0) {
            return list.from();
        }
        int at = list.items().get(index - 1).to();
        while (text.charAt(at) != '-') {
            at = text.charAt(at) == '#' ? nextLine(at) : at + 1;
        }
        return at;
    }

    /** Where an item begins together with the comment right above it; what stands above the first is the list's. */
    int blockStart(Sequence list, int index) {
        int start = lineStart(dash(list, index));
        if (index == 0) {
            return start;
        }
        int column = column(dash(list, index));
        int least = nextLine(list.items().get(index - 1).to());
        while (start > least) {
            int before = lineStart(start - 1);
            String line = text.substring(before, start);
            int indent = line.length() - line.stripLeading().length();
            if (!line.strip().startsWith("#") || indent > column) {
                break;
            }
            start = before;
        }
        return start;
    }

    /** An item as it is written, from {@code from} to the end of its last line. */
    String written(Sequence list, int index, int from) {
        return text.substring(from, lineEnd(list.items().get(index).to()));
    }

    String inFlow(Sequence list, int index) {
        return text.substring(list.items().get(index).from(), list.items().get(index).to());
    }
}
