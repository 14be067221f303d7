package kadrem.desk.form;

import java.util.ArrayList;
import java.util.Collections;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Supplier;

import javafx.collections.FXCollections;
import javafx.geometry.Insets;
import javafx.geometry.VPos;
import javafx.scene.Node;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.TextArea;
import javafx.scene.layout.ColumnConstraints;
import javafx.scene.layout.GridPane;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;
import kadrem.core.study.grammar.Field;
import kadrem.core.study.grammar.Group;
import kadrem.core.study.grammar.Kind;
import kadrem.desk.look.RowsEditor;

/** The fields of a group of the study file, each with an editor of its kind and with what it is for. */
public final class GroupForm {
    private static final String NONE = "none of them";
    private static final int ROWS = 3;
    private static final double EDITOR_WIDTH = 330;
    /** Brings a word to the height of the text in the field beside it. */
    private static final double TOP = 7;

    private final Group group;
    private final String id;
    /** What the file says, as texts, lists and maps. */
    private final Map<String, Object> before;
    private final GridPane grid = new GridPane();
    private final ComboBox<String> way = new ComboBox<>();
    private final Label how = name("how");
    /** Each made once, so that what was typed stays while other fields come and go. */
    private final Map<Field, Editor> made = new HashMap<>();
    /** Those that are shown. */
    private final Map<String, Editor> editors = new LinkedHashMap<>();

    private record Editor(List<Node> row, Supplier<Optional<Object>> value) {
        Editor(Field field, Node node, Supplier<Optional<Object>> value) {
            this(GroupForm.row(field, node), value);
        }
    }

    /**
     * @param written what the file says now: a map of texts, lists and maps; empty where it says nothing
     * @param id begins the ids of the editors
     */
    public GroupForm(Group group, Map<String, Object> written, String id) {
        this.group = group;
        this.id = id;
        before = Collections.unmodifiableMap(new LinkedHashMap<>(written));
        grid.setHgap(10);
        grid.setVgap(5);
        var words = new ColumnConstraints();
        words.setHgrow(Priority.ALWAYS);
        grid.getColumnConstraints().addAll(new ColumnConstraints(),
                new ColumnConstraints(EDITOR_WIDTH, EDITOR_WIDTH, EDITOR_WIDTH), words);
        List<String> ways = group.markers();
        way.setItems(FXCollections.observableArrayList(ways));
        if (!group.needsWay()) {
            way.getItems().addFirst(NONE);
        }
        way.setId(id + "-way");
        way.setAccessibleText("which way");
        way.setValue(ways.stream().filter(before::containsKey).findFirst()
                .orElse(way.getItems().isEmpty() ? "" : way.getItems().getFirst()));
        way.valueProperty().addListener((_, _, _) -> lay());
        group.fields().forEach(this::editor);
        lay();
    }

    private Editor editor(Field field) {
        return made.computeIfAbsent(field, one -> make(one, Optional.ofNullable(before.get(one.name()))));
    }

    /** What one of the fields says that stand there whatever else is said. */
    private Optional<String> said(String name) {
        return group.fields().stream().filter(one -> one.name().equals(name)).findFirst()
                .flatMap(field -> editor(field).value().get()).map(Object::toString);
    }

    public Region view() {
        return grid;
    }

    /** Brings the rows that belong there, without moving those that stay, so that the keyboard stays where it is. */
    private void lay() {
        editors.clear();
        var rows = new ArrayList<List<Node>>();
        group.fields().stream().filter(field -> group.applies(field, this::said)).forEach(field -> add(field, rows));
        if (!group.ways().isEmpty()) {
            rows.add(List.of(how, way));
        }
        group.ways().stream().filter(fields -> fields.getFirst().name().equals(way.getValue()))
                .forEach(fields -> fields.forEach(field -> add(field, rows)));
        List<Node> wanted = rows.stream().flatMap(List::stream).toList();
        grid.getChildren().retainAll(wanted);
        for (int row = 0; row < rows.size(); row++) {
            for (int column = 0; column < rows.get(row).size(); column++) {
                GridPane.setConstraints(rows.get(row).get(column), column, row);
            }
            if (rows.get(row).size() == 2) {
                GridPane.setColumnSpan(rows.get(row).getLast(), 2);
            }
        }
        for (int i = 0; i < wanted.size(); i++) {
            if (i >= grid.getChildren().size() || grid.getChildren().get(i) != wanted.get(i)) {
                grid.getChildren().add(i, wanted.get(i));
            }
        }
    }

    private void add(Field field, List<List<Node>> rows) {
        Editor editor = editor(field);
        editors.put(field.name(), editor);
        rows.add(editor.row());
    }

    private static Label name(String field) {
        var label = new Label(FieldEditor.words(field));
        label.getStyleClass().add("attribute");
        label.setMinWidth(Region.USE_PREF_SIZE);
        label.setPadding(new Insets(TOP, 0, 0, 0));
        GridPane.setValignment(label, VPos.TOP);
        return label;
    }

    /** A row: name and editor, and beside an editor that leaves room what the field is for. */
    private static List<Node> row(Field field, Node editor) {
        if (field.kind().below().isPresent() || field.kind() instanceof Kind.Pairs) {
            return List.of(name(field.name()), editor);
        }
        var words = new Label(field.words());
        words.setWrapText(true);
        words.getStyleClass().add("muted");
        words.setPadding(new Insets(TOP / 2, 0, 0, 0));
        GridPane.setValignment(words, VPos.TOP);
        return List.of(name(field.name()), editor, words);
    }

    private Editor make(Field field, Optional<Object> value) {
        String its = id + "-" + field.name();
        return switch (field.kind()) {
            case Kind.Lines _ -> area(field, value.map(Object::toString).orElse(""),
                    text -> text.isBlank() ? Optional.empty() : Optional.of(text));
            case Kind.Texts _ -> area(field, String.join("\n", texts(value)), text -> {
                List<String> lines = text.lines().map(String::strip).filter(line -> !line.isEmpty()).toList();
                boolean single = lines.size() == 1 && value.filter(String.class::isInstance).isPresent();
                return lines.isEmpty() ? Optional.empty() : Optional.of(single ? lines.getFirst() : lines);
            });
            case Kind.Pairs() -> pairs(field, value);
            case Kind.One(Group below) -> {
                var form = new GroupForm(below, map(value), its);
                yield new Editor(field, form.view(), form::value);
            }
            case Kind.Many(Group below, boolean _) -> {
                var forms = new GroupForms(below, value, its);
                yield new Editor(field, forms.view(), forms::value);
            }
            case Kind.Named _,Kind.ListOr _ -> new Editor(field, new Label("is written in the file"), () -> value);
            default -> {
                var line = new FieldEditor(field, its);
                line.show(value, true);
                // other fields may come or go with it
                line.onChosen(this::lay);
                yield new Editor(field, line.control(), line::value);
            }
        };
    }

    private interface Reading {
        Optional<Object> of(String text);
    }

    private Editor area(Field field, String text, Reading reading) {
        var area = new TextArea(text);
        area.setPrefRowCount(ROWS);
        area.getStyleClass().addAll("exchange-text", "code-field");
        area.setId(id + "-" + field.name());
        area.setAccessibleText(field.words());
        area.setPromptText(field.isList() ? "one a line" : FieldEditor.prompt(field));
        return new Editor(field, area, () -> reading.of(area.getText()));
    }

    private Editor pairs(Field field, Optional<Object> value) {
        var rows = new RowsEditor(field.words(), id + "-" + field.name(),
                List.of(RowsEditor.Column.text("name", EDITOR_WIDTH / 2), RowsEditor.Column.text("value", 0)), () -> {
                });
        rows.show(map(value).entrySet().stream().map(pair -> List.of(pair.getKey(), pair.getValue().toString()))
                .toList());
        return new Editor(field, rows.view(), () -> {
            Map<String, Object> pairs = new LinkedHashMap<>();
            rows.rows().stream().filter(row -> !row.getFirst().isBlank())
                    .forEach(row -> pairs.put(row.getFirst().strip(), row.getLast()));
            return pairs.isEmpty() ? Optional.empty() : Optional.of(pairs);
        });
    }

    private static List<String> texts(Optional<Object> value) {
        return value.map(one -> one instanceof List<?> list
                ? list.stream().map(Object::toString).toList()
                : List.of(one.toString())).orElse(List.of());
    }

    /** What the form says, with fields that Kadrem does not know as they were; empty where it says nothing. */
    public Optional<Object> value() {
        Map<String, Object> all = new LinkedHashMap<>();
        Map<String, Field> known = group.all();
        before.forEach((name, one) -> {
            if (!known.containsKey(name) || meantNothing(known.get(name))) {
                all.put(name, one);
            }
        });
        editors.forEach((name, editor) -> editor.value().get().ifPresent(given -> all.put(name, given)));
        return all.isEmpty() ? Optional.empty() : Optional.of(all);
    }

    /** Whether a field stood in the file without effect, and still would: it is not the form that takes it away. */
    private boolean meantNothing(Field field) {
        return group.fields().contains(field) && !group.applies(field, this::said)
                && !group.applies(field, name -> Optional.ofNullable(before.get(name)).map(Object::toString));
    }

    /** What a file says of a group, or a form; an empty map where it says nothing. */
    @SuppressWarnings("unchecked")
    public static Map<String, Object> map(Optional<Object> value) {
        return value.filter(Map.class::isInstance).map(one -> (Map<String, Object>) one).orElse(Map.of());
    }

    /** Several groups of one kind, to which more are added and from which some are taken. */
    static final class GroupForms {
        private final Group group;
        private final String id;
        private final VBox forms = new VBox(8);
        private final List<GroupForm> all = new ArrayList<>();
        private final VBox view;
        private int number;

        GroupForms(Group group, Optional<Object> value, String id) {
            this.group = group;
            this.id = id;
            if (value.orElse(null) instanceof List<?> list) {
                list.forEach(item -> add(map(Optional.of(item))));
            }
            var more = new javafx.scene.control.Button("One more");
            more.getStyleClass().add("small-button");
            more.setId(id + "-more");
            more.setOnAction(_ -> add(Map.of()));
            view = new VBox(6, forms, more);
        }

        Node view() {
            return view;
        }

        private void add(Map<String, Object> written) {
            var form = new GroupForm(group, written, id + "-" + number++);
            var gone = new javafx.scene.control.Button("Remove");
            gone.getStyleClass().add("small-button");
            var box = new VBox(4, form.view(), gone);
            gone.setOnAction(_ -> {
                all.remove(form);
                forms.getChildren().remove(box);
            });
            all.add(form);
            forms.getChildren().add(box);
        }

        Optional<Object> value() {
            List<Object> items = all.stream().flatMap(form -> form.value().stream()).toList();
            return items.isEmpty() ? Optional.empty() : Optional.of(items);
        }
    }
}
