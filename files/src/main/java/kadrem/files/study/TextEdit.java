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
 * Carries out an {@link Edit} in the text of a study file: the smallest piece that it touches is written, and everything else stays to the
 * letter, comments and order included; one file, since every kind of edit is made of the others. What comes out is held against the same
 * edit of what the text says ({@link PlainTree}), so that no edit writes anything else than it was told to.
 */
final class TextEdit {
    private final YamlText in;
    private final String newLine;
    /** Whether values are written in one line each, which no comment around them can become part of. */
    private final boolean oneLine;

    private TextEdit(String text, boolean oneLine) throws StudyException {
        this.oneLine = oneLine;
        newLine = text.contains("\r\n") ? "\r\n" : "\n";
        in = new YamlText(text);
    }

    /** @throws StudyException if there is no such place; nothing is changed */
    static String with(String text, Edit edit) throws StudyException {
        @SuppressWarnings("unchecked")
        var wanted = (Map<String, Object>) PlainTree.of(new YamlText(text).root());
        PlainTree.apply(wanted, edit);
        for (boolean oneLine : new boolean[]{false, true}) {
            var editing = new TextEdit(text, oneLine);
            try {
                editing.carryOut(edit);
                if (PlainTree.of(editing.in.root()).equals(wanted)) {
                    return editing.in.text();
                }
            } catch (StudyException _) {
                // what was written is not YAML, or cannot be written in that way
            }
        }
        throw new StudyException(
                edit.path() + " cannot be changed in the way in which it is written. Change it by hand.");
    }

    private void carryOut(Edit edit) throws StudyException {
        List<Object> path = PlainTree.steps(edit.path());
        switch (edit) {
            case Edit.Put put -> put(path, put.fields());
            case Edit.Insert insert -> {
                if (in.find(path) instanceof Sequence list) {
                    insert(path, list, insert.index(), insert.item());
                } else {
                    make(path, List.of(insert.item()));
                }
            }
            case Edit.Remove remove -> remove(path, in.list(path), remove.index());
            case Edit.Move move -> move(path, move.index(), move.to());
            case Edit.Copy copy -> {
                Sequence list = in.list(path);
                insertWritten(list, copy.to(), list.flow()
                        ? in.inFlow(list, copy.index())
                        : in.written(list, copy.index(), in.dash(list, copy.index())));
                put(YamlText.below(path, copy.to()), copy.changes());
            }
        }
    }

    // ---- writing ----------------------------------------------------------------------------------------------------

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
            } else if (in.find(path) instanceof Mapping group && group.entries().containsKey(field.getKey())) {
                remove(path, group, field.getKey());
            }
        }
    }

    private void set(List<Object> path, String name, Object value) throws StudyException {
        if (!(in.find(path) instanceof Mapping group)) {
            make(path, Map.of(name, value));
        } else if (group.entries().containsKey(name)) {
            change(YamlText.below(path, name), value);
        } else {
            add(path, group, name, value);
        }
    }

    /** Makes what is missing at the end of the path, inside the last group that is there. */
    private void make(List<Object> path, Object value) throws StudyException {
        Object made = value;
        List<Object> at = path;
        while (true) {
            List<Object> holder = YamlText.above(at);
            if (in.find(holder) instanceof Mapping group) {
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
                in.replace(group.from(), group.to(), entry(name, value, 0));
            } else {
                write(path, group, Map.of(name, value));
            }
            return;
        }
        Entry last = group.entries().values().stream().reduce((_, one) -> one).orElseThrow();
        int end = Math.max(last.after(), last.value().to());
        if (group.flow()) {
            in.replace(end, end, ", " + YamlWriter.inOneLine(name) + ": " + YamlWriter.inOneLine(value));
            return;
        }
        int column = in.column(group.from());
        int at = in.lineEnd(end);
        in.replace(at, at, newLine + " ".repeat(column) + entry(name, value, column));
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
        } else if (in.isFirstOnLine(entry.keyFrom())) {
            in.replace(in.lineStart(entry.keyFrom()), in.nextLine(end), "");
        } else {
            // the first field of an item, behind its hyphen: the next one comes up, unless a comment stands between them
            int next = entries.get(index + 1).keyFrom();
            boolean commented = in.text().substring(end, next).contains("#");
            int from = entry.keyFrom();
            while (commented && in.text().charAt(from - 1) == ' ') {
                from--;
            }
            in.replace(from, commented ? in.lineEnd(end) : next, "");
        }
    }

    /** @param next where the next one begins, or -1 */
    private void removeInFlow(int from, int to, int next, @org.jspecify.annotations.Nullable Entry before)
            throws StudyException {
        if (next >= 0) {
            in.replace(from, next, "");
        } else {
            in.replace(before == null ? from : Math.max(before.after(), before.value().to()), to, "");
        }
    }

    // ---- values -----------------------------------------------------------------------------------------------------

    /** Makes what stands at the path say {@code value}, by the fewest changes inside it. */
    private void change(List<Object> path, Object value) throws StudyException {
        YamlNode old = in.find(path);
        if (PlainTree.of(old).equals(PlainTree.of(value)) && !(old instanceof Scalar scalar && scalar.isNull())) {
            return;
        }
        if (old instanceof Mapping group && value instanceof Map<?, ?> wanted && !wanted.isEmpty()
                && wanted.keySet().stream().anyMatch(group.entries()::containsKey)) {
            for (String name : List.copyOf(group.entries().keySet())) {
                if (!wanted.containsKey(name) && in.find(path) instanceof Mapping now) {
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
            change(YamlText.below(path, i), wanted.get(i));
        }
        for (int i = front + both; i < wanted.size() - back; i++) {
            insert(path, in.list(path), i, wanted.get(i));
        }
        for (int i = now.size() - back - 1; i >= front + both; i--) {
            remove(path, in.list(path), i);
        }
    }

    /** Writes a value in the place of another, whatever either is. */
    private void write(List<Object> path, YamlNode old, Object value) throws StudyException {
        if (path.isEmpty()) {
            throw new StudyException("the whole study");
        }
        if (in.isInFlow(path)) {
            boolean bare = old.from() == old.to() && in.text().charAt(old.from() - 1) != ' ';
            boolean colon = !bare || in.text().charAt(old.from() - 1) == ':' || !(path.getLast() instanceof String);
            in.replace(old.from(), old.to(), (colon ? "" : ":") + (bare ? " " : "") + YamlWriter.inOneLine(value));
            return;
        }
        int after = in.after(path);
        String between = in.text().substring(Math.min(after, old.from()), old.from());
        boolean inLine = between.isBlank() && between.indexOf('\n') < 0;
        if (inLine && old instanceof Scalar scalar && value instanceof String words && words.indexOf('\n') < 0
                && scalar.to() > scalar.from() && in.text().charAt(scalar.from()) == '"') {
            in.replace(old.from(), old.to(), YamlWriter.quoted(words));
            return;
        }
        if (between.isBlank()) {
            in.replace(after, old.to(), behind(path, value));
        } else {
            // comments stand between the name and its value: they stay, and the value is written below them
            String pad = " ".repeat(Math.max(in.column(old.from()), 1 + holderColumn(path)) - in.column(old.from()));
            in.replace(old.from(), old.to(), pad + YamlWriter.inOneLine(value));
        }
    }

    private int holderColumn(List<Object> path) {
        return in.column(in.find(YamlText.above(path)).from());
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
            insertWritten(list, index, item(value, in.column(list.from())));
        }
    }

    /** @param written an item as it is written, from its hyphen on where the list is not in brackets */
    private void insertWritten(Sequence list, int index, String written) throws StudyException {
        boolean last = index == list.items().size();
        if (list.flow()) {
            int at = last ? list.items().getLast().to() : list.items().get(index).from();
            in.replace(at, at, last ? ", " + written : written + ", ");
            return;
        }
        String pad = " ".repeat(in.column(list.from()));
        if (last) {
            int at = in.lineEnd(list.items().getLast().to());
            in.replace(at, at, newLine + pad + written);
        } else if (in.isFirstOnLine(in.dash(list, index))) {
            int at = in.blockStart(list, index);
            in.replace(at, at, pad + written + newLine);
        } else {
            int at = in.dash(list, index);
            in.replace(at, at, written + newLine + pad);
        }
    }

    private void remove(List<Object> path, Sequence list, int index) throws StudyException {
        List<YamlNode> items = list.items();
        if (items.size() == 1) {
            write(path, list, List.of());
        } else if (list.flow()) {
            boolean last = index == items.size() - 1;
            in.replace(last ? items.get(index - 1).to() : items.get(index).from(),
                    last ? items.get(index).to() : items.get(index + 1).from(), "");
        } else if (in.isFirstOnLine(in.dash(list, index))) {
            in.replace(in.blockStart(list, index), in.nextLine(items.get(index).to()), "");
        } else {
            in.replace(in.dash(list, index), in.dash(list, index + 1), "");
        }
    }

    private void move(List<Object> path, int index, int to) throws StudyException {
        Sequence list = in.list(path);
        if (index == to) {
            return;
        }
        boolean whole = list.flow() || in.isFirstOnLine(in.dash(list, 0));
        if (!whole) {
            Object item = PlainTree.of(list.items().get(index));
            remove(path, list, index);
            insert(path, in.list(path), to, item);
            return;
        }
        String pad = " ".repeat(in.column(list.from()));
        String written = list.flow()
                ? in.inFlow(list, index)
                : in.written(list, index, in.blockStart(list, index)).stripLeading();
        remove(path, list, index);
        // a comment that stands above it is moved to the column of the list
        insertWritten(in.list(path), to, written.startsWith("#") ? aligned(written, pad) : written);
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
