package kadrem.files.study;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;

import kadrem.files.study.YamlNode.Entry;
import kadrem.files.study.YamlNode.Mapping;
import kadrem.files.study.YamlNode.Scalar;
import kadrem.files.study.YamlNode.Sequence;

/**
 * Carries out an {@link Edit} in the text of a study file: the smallest piece that it touches is written, and everything else
 * stays to the letter, comments and order included. What comes out is held against the same edit of what the text says
 * ({@link PlainTree}), so that no edit writes anything else than it was told to.
 */
final class TextEdit {
    private String text;
    private Mapping root;
    private final String newLine;
    /** Whether values are written in one line each, which no comment around them can become part of. */
    private final boolean oneLine;

    private TextEdit(String text, boolean oneLine) throws StudyException {
        this.text = text;
        this.oneLine = oneLine;
        newLine = text.contains("\r\n") ? "\r\n" : "\n";
        root = read(text);
    }

    /** @throws StudyException if there is no such place; nothing is changed */
    static String with(String text, Edit edit) throws StudyException {
        @SuppressWarnings("unchecked")
        var wanted = (Map<String, Object>) PlainTree.of(read(text));
        PlainTree.apply(wanted, edit);
        for (boolean oneLine : new boolean[]{false, true}) {
            var editing = new TextEdit(text, oneLine);
            try {
                editing.carryOut(edit);
                if (PlainTree.of(editing.root).equals(wanted)) {
                    return editing.text;
                }
            } catch (StudyException _) {
                // what was written is not YAML, or cannot be written in that way
            }
        }
        throw new StudyException(
                edit.path() + " cannot be changed in the way in which it is written. Change it by hand.");
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

    private void carryOut(Edit edit) throws StudyException {
        List<Object> path = PlainTree.steps(edit.path());
        switch (edit) {
            case Edit.Put put -> put(path, put.fields());
            case Edit.Insert insert -> {
                if (find(path) instanceof Sequence list) {
                    insert(path, list, insert.index(), insert.item());
                } else {
                    make(path, List.of(insert.item()));
                }
            }
            case Edit.Remove remove -> remove(path, list(path), remove.index());
            case Edit.Move move -> move(path, move.index(), move.to());
            case Edit.Copy copy -> {
                Sequence list = list(path);
                insertWritten(list, copy.to(), list.flow()
                        ? inFlow(list, copy.index())
                        : written(list, copy.index(), dash(list, copy.index())));
                put(below(path, copy.to()), copy.changes());
            }
        }
    }

    // ---- places -----------------------------------------------------------------------------------------------------

    private static List<Object> below(List<Object> path, Object step) {
        var longer = new ArrayList<>(path);
        longer.add(step);
        return longer;
    }

    private static List<Object> above(List<Object> path) {
        return path.subList(0, path.size() - 1);
    }

    /** What stands at the path; an empty value where nothing does. */
    private YamlNode find(List<Object> path) {
        return root.find(path).orElse(new Scalar("", true, 1, 0, 0));
    }

    private Sequence list(List<Object> path) throws StudyException {
        if (find(path) instanceof Sequence list) {
            return list;
        }
        throw new StudyException("there is no list");
    }

    /** Whether what stands at the path is written inside braces or brackets. */
    private boolean isInFlow(List<Object> path) {
        return !path.isEmpty() && switch (find(above(path))) {
            case Mapping mapping -> mapping.flow();
            case Sequence list -> list.flow();
            case Scalar _ -> false;
        };
    }

    /** Offset behind the colon or hyphen that comes before what stands at the path. */
    private int after(List<Object> path) throws StudyException {
        Object step = path.getLast();
        return switch (find(above(path))) {
            case Mapping mapping -> mapping.entries().get((String) step).after();
            case Sequence list when !list.flow() -> dash(list, (Integer) step) + 1;
            case Sequence list -> list.items().get((Integer) step).from();
            case Scalar _ -> throw new StudyException("there is no such place");
        };
    }

    private int lineStart(int at) {
        return text.lastIndexOf('\n', at - 1) + 1;
    }

    private int column(int at) {
        return at - lineStart(at);
    }

    /** End of the line without what ends it. */
    private int lineEnd(int at) {
        int end = text.indexOf('\n', at);
        if (end < 0) {
            return text.length();
        }
        return end > at && text.charAt(end - 1) == '\r' ? end - 1 : end;
    }

    private int nextLine(int at) {
        int end = text.indexOf('\n', at);
        return end < 0 ? text.length() : end + 1;
    }

    private boolean isFirstOnLine(int at) {
        return text.substring(lineStart(at), at).isBlank();
    }

    /** Offset of the hyphen of an item of a list that is not in brackets. */
    private int dash(Sequence list, int index) {
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
    private int blockStart(Sequence list, int index) {
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

    // ---- writing ----------------------------------------------------------------------------------------------------

    private void replace(int from, int to, String with) throws StudyException {
        text = text.substring(0, from) + with + text.substring(to);
        root = read(text);
    }

    /** Lines of block style, each but the first one moved to the right by {@code column}. */
    private String moved(String lines, int column) {
        return lines.replace("\n", newLine + " ".repeat(column)).replaceAll("(?m)^[ ]+$", "");
    }

    private String entry(String name, Object value, int column) {
        return oneLine
                ? YamlWriter.inOneLine(name) + ": " + YamlWriter.inOneLine(value)
                : moved(YamlWriter.entry(name, value), column);
    }

    private String item(Object value, int column) {
        return oneLine ? "- " + YamlWriter.inOneLine(value) : moved(YamlWriter.item(value), column);
    }

    // ---- groups -----------------------------------------------------------------------------------------------------

    private void put(List<Object> path, Map<String, Optional<Object>> fields) throws StudyException {
        for (Map.Entry<String, Optional<Object>> field : fields.entrySet()) {
            if (field.getValue().isPresent()) {
                set(path, field.getKey(), field.getValue().get());
            } else if (find(path) instanceof Mapping group && group.entries().containsKey(field.getKey())) {
                remove(path, group, field.getKey());
            }
        }
    }

    private void set(List<Object> path, String name, Object value) throws StudyException {
        if (!(find(path) instanceof Mapping group)) {
            make(path, Map.of(name, value));
        } else if (group.entries().containsKey(name)) {
            change(below(path, name), value);
        } else {
            add(path, group, name, value);
        }
    }

    /** Makes what is missing at the end of the path, inside the last group that is there. */
    private void make(List<Object> path, Object value) throws StudyException {
        Object made = value;
        List<Object> at = path;
        while (true) {
            List<Object> holder = above(at);
            if (find(holder) instanceof Mapping group) {
                String name = (String) at.getLast();
                if (group.entries().containsKey(name)) {
                    change(at, made);
                } else {
                    add(holder, group, name, made);
                }
                return;
            }
            if (!(at.getLast() instanceof String name)) {
                change(at, made);
                return;
            }
            made = Map.of(name, made);
            at = holder;
        }
    }

    private void add(List<Object> path, Mapping group, String name, Object value) throws StudyException {
        if (group.entries().isEmpty()) {
            if (path.isEmpty()) {
                replace(group.from(), group.to(), entry(name, value, 0));
            } else {
                write(path, group, Map.of(name, value));
            }
            return;
        }
        Entry last = group.entries().values().stream().reduce((_, one) -> one).orElseThrow();
        int end = Math.max(last.after(), last.value().to());
        if (group.flow()) {
            replace(end, end, ", " + YamlWriter.inOneLine(name) + ": " + YamlWriter.inOneLine(value));
            return;
        }
        int column = column(group.from());
        int at = lineEnd(end);
        replace(at, at, newLine + " ".repeat(column) + entry(name, value, column));
    }

    private void remove(List<Object> path, Mapping group, String name) throws StudyException {
        List<Entry> entries = List.copyOf(group.entries().values());
        int index = List.copyOf(group.entries().keySet()).indexOf(name);
        Entry entry = entries.get(index);
        int end = Math.max(entry.after(), entry.value().to());
        if (entries.size() == 1) {
            write(path, group, Map.of());
        } else if (group.flow()) {
            removeInFlow(entry.keyFrom(), end, index + 1 < entries.size() ? entries.get(index + 1).keyFrom() : -1,
                    index > 0 ? entries.get(index - 1) : null);
        } else if (isFirstOnLine(entry.keyFrom())) {
            replace(lineStart(entry.keyFrom()), nextLine(end), "");
        } else {
            // the first field of an item, behind its hyphen: the next one comes up, unless a comment stands between them
            int next = entries.get(index + 1).keyFrom();
            boolean commented = text.substring(end, next).contains("#");
            int from = entry.keyFrom();
            while (commented && text.charAt(from - 1) == ' ') {
                from--;
            }
            replace(from, commented ? lineEnd(end) : next, "");
        }
    }

    /** @param next where the next one begins, or -1 */
    private void removeInFlow(int from, int to, int next, @org.jspecify.annotations.Nullable Entry before)
            throws StudyException {
        if (next >= 0) {
            replace(from, next, "");
        } else {
            replace(before == null ? from : Math.max(before.after(), before.value().to()), to, "");
        }
    }

    // ---- values -----------------------------------------------------------------------------------------------------

    /** Makes what stands at the path say {@code value}, by the fewest changes inside it. */
    private void change(List<Object> path, Object value) throws StudyException {
        YamlNode old = find(path);
        if (PlainTree.of(old).equals(PlainTree.of(value)) && !(old instanceof Scalar scalar && scalar.isNull())) {
            return;
        }
        if (old instanceof Mapping group && value instanceof Map<?, ?> wanted && !wanted.isEmpty()
                && wanted.keySet().stream().anyMatch(group.entries()::containsKey)) {
            for (String name : List.copyOf(group.entries().keySet())) {
                if (!wanted.containsKey(name) && find(path) instanceof Mapping now) {
                    remove(path, now, name);
                }
            }
            for (Map.Entry<?, ?> field : wanted.entrySet()) {
                set(path, String.valueOf(field.getKey()), field.getValue());
            }
        } else
            if (old instanceof Sequence list && !list.items().isEmpty() && value instanceof List<?> wanted
                    && !wanted.isEmpty()) {
                        changeItems(path, list, wanted);
                    } else {
                        write(path, old, value);
                    }
    }

    /** Items that are alike at both ends stay; those between them are changed one by one, and the rest is added or taken away. */
    private void changeItems(List<Object> path, Sequence list, List<?> wanted) throws StudyException {
        List<Object> now = new ArrayList<>();
        list.items().forEach(item -> now.add(PlainTree.of(item)));
        List<Object> then = new ArrayList<>();
        wanted.forEach(item -> then.add(PlainTree.of(item)));
        int shorter = Math.min(now.size(), then.size());
        int front = 0;
        while (front < shorter && now.get(front).equals(then.get(front))) {
            front++;
        }
        int back = 0;
        while (back < shorter - front && now.get(now.size() - 1 - back).equals(then.get(then.size() - 1 - back))) {
            back++;
        }
        int both = shorter - front - back;
        for (int i = front; i < front + both; i++) {
            change(below(path, i), wanted.get(i));
        }
        for (int i = front + both; i < wanted.size() - back; i++) {
            insert(path, list(path), i, wanted.get(i));
        }
        for (int i = now.size() - back - 1; i >= front + both; i--) {
            remove(path, list(path), i);
        }
    }

    /** Writes a value in the place of another, whatever either is. */
    private void write(List<Object> path, YamlNode old, Object value) throws StudyException {
        if (path.isEmpty()) {
            throw new StudyException("the whole study");
        }
        if (isInFlow(path)) {
            boolean bare = old.from() == old.to() && text.charAt(old.from() - 1) != ' ';
            boolean colon = !bare || text.charAt(old.from() - 1) == ':' || !(path.getLast() instanceof String);
            replace(old.from(), old.to(), (colon ? "" : ":") + (bare ? " " : "") + YamlWriter.inOneLine(value));
            return;
        }
        int after = after(path);
        String between = text.substring(Math.min(after, old.from()), old.from());
        boolean inLine = between.isBlank() && between.indexOf('\n') < 0;
        if (inLine && old instanceof Scalar scalar && value instanceof String words && words.indexOf('\n') < 0
                && scalar.to() > scalar.from() && text.charAt(scalar.from()) == '"') {
            replace(old.from(), old.to(), YamlWriter.quoted(words));
            return;
        }
        if (between.isBlank()) {
            replace(after, old.to(), behind(path, value));
        } else {
            // comments stand between the name and its value: they stay, and the value is written below them
            String pad = " ".repeat(Math.max(column(old.from()), 1 + holderColumn(path)) - column(old.from()));
            replace(old.from(), old.to(), pad + YamlWriter.inOneLine(value));
        }
    }

    private int holderColumn(List<Object> path) {
        return column(find(above(path)).from());
    }

    /** What comes behind the colon or hyphen. */
    private String behind(List<Object> path, Object value) {
        if (path.getLast() instanceof Integer) {
            return item(value, holderColumn(path)).substring(1);
        }
        return entry("x", value, holderColumn(path)).substring(2);
    }

    // ---- lists ------------------------------------------------------------------------------------------------------

    private void insert(List<Object> path, Sequence list, int index, Object value) throws StudyException {
        if (list.items().isEmpty()) {
            write(path, list, List.of(value));
        } else if (list.flow()) {
            insertWritten(list, index, YamlWriter.inOneLine(value));
        } else {
            insertWritten(list, index, item(value, column(list.from())));
        }
    }

    /** @param written an item as it is written, from its hyphen on where the list is not in brackets */
    private void insertWritten(Sequence list, int index, String written) throws StudyException {
        boolean last = index == list.items().size();
        if (list.flow()) {
            int at = last ? list.items().getLast().to() : list.items().get(index).from();
            replace(at, at, last ? ", " + written : written + ", ");
            return;
        }
        String pad = " ".repeat(column(list.from()));
        if (last) {
            int at = lineEnd(list.items().getLast().to());
            replace(at, at, newLine + pad + written);
        } else if (isFirstOnLine(dash(list, index))) {
            int at = blockStart(list, index);
            replace(at, at, pad + written + newLine);
        } else {
            int at = dash(list, index);
            replace(at, at, written + newLine + pad);
        }
    }

    /** An item as it is written, from {@code from} to the end of its last line. */
    private String written(Sequence list, int index, int from) {
        return text.substring(from, lineEnd(list.items().get(index).to()));
    }

    private String inFlow(Sequence list, int index) {
        return text.substring(list.items().get(index).from(), list.items().get(index).to());
    }

    private void remove(List<Object> path, Sequence list, int index) throws StudyException {
        List<YamlNode> items = list.items();
        if (items.size() == 1) {
            write(path, list, List.of());
        } else if (list.flow()) {
            boolean last = index == items.size() - 1;
            replace(last ? items.get(index - 1).to() : items.get(index).from(),
                    last ? items.get(index).to() : items.get(index + 1).from(), "");
        } else if (isFirstOnLine(dash(list, index))) {
            replace(blockStart(list, index), nextLine(items.get(index).to()), "");
        } else {
            replace(dash(list, index), dash(list, index + 1), "");
        }
    }

    private void move(List<Object> path, int index, int to) throws StudyException {
        Sequence list = list(path);
        if (index == to) {
            return;
        }
        boolean whole = list.flow() || isFirstOnLine(dash(list, 0));
        if (!whole) {
            Object item = PlainTree.of(list.items().get(index));
            remove(path, list, index);
            insert(path, list(path), to, item);
            return;
        }
        String pad = " ".repeat(column(list.from()));
        String written = list.flow()
                ? inFlow(list, index)
                : written(list, index, blockStart(list, index)).stripLeading();
        remove(path, list, index);
        // a comment that stands above it is moved to the column of the list
        insertWritten(list(path), to, written.startsWith("#") ? aligned(written, pad) : written);
    }

    /** A comment in the column of its item, wherever it stood before. */
    private String aligned(String written, String pad) {
        List<String> lines = new ArrayList<>(List.of(written.split("\r?\n", -1)));
        for (int i = 1; i < lines.size() && lines.get(i).strip().startsWith("#"); i++) {
            lines.set(i, pad + lines.get(i).strip());
        }
        return String.join(newLine, lines);
    }
}
