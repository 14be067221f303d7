package kadrem.desk.form;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Supplier;

import javafx.collections.FXCollections;
import javafx.geometry.Insets;
import javafx.geometry.VPos;
import javafx.scene.Node;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Control;
import javafx.scene.control.Label;
import javafx.scene.control.TextArea;
import javafx.scene.control.TextField;
import javafx.scene.control.TextInputControl;
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
    private final Map<String, Supplier<Optional<Object>>> editors = new LinkedHashMap<>();

    /**
     * @param written what the file says now: a map of texts, lists and maps; empty where it says nothing
     * @param id begins the ids of the editors
     */
    public GroupForm(Group group, Map<String, Object> written, String id) {
        this.group = group;
        this.id = id;
        before = new LinkedHashMap<>(written);
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
        lay();
    }

    public Region view() {
        return grid;
    }

    private void lay() {
        grid.getChildren().clear();
        editors.clear();
        int row = 0;
        for (Field field : group.fields()) {
            row = add(field, row);
        }
        if (!group.ways().isEmpty()) {
            grid.add(name("how"), 0, row);
            grid.add(way, 1, row++);
        }
        for (List<Field> fields : group.ways()) {
            if (fields.getFirst().name().equals(way.getValue())) {
                for (Field field : fields) {
                    row = add(field, row);
                }
            }
        }
    }

    private static Label name(String field) {
        // readyWithin becomes "ready within"
        var label = new Label(field.replaceAll("(?<=[a-z])(?=[A-Z])", " ").toLowerCase(Locale.ROOT));
        label.getStyleClass().add("attribute");
        label.setMinWidth(Region.USE_PREF_SIZE);
        label.setPadding(new Insets(TOP, 0, 0, 0));
        GridPane.setValignment(label, VPos.TOP);
        return label;
    }

    private int add(Field field, int row) {
        Node editor = editor(field, Optional.ofNullable(before.get(field.name())));
        boolean wide = field.kind().below().isPresent() || field.kind() instanceof Kind.Pairs;
        grid.add(name(field.name()), 0, row);
        grid.add(editor, 1, row, wide ? 2 : 1, 1);
        if (!wide) {
            var words = new Label(field.words());
            words.setWrapText(true);
            words.getStyleClass().add("muted");
            words.setPadding(new Insets(TOP / 2, 0, 0, 0));
            GridPane.setValignment(words, VPos.TOP);
            grid.add(words, 2, row);
        }
        return row + 1;
    }

    private Node editor(Field field, Optional<Object> value) {
        return switch (field.kind()) {
            case Kind.Choice(List<String> options) -> choice(field, options, value);
            case Kind.Flag() -> choice(field, List.of("true", "false"), value);
            case Kind.Lines _ -> area(field, value.map(Object::toString).orElse(""),
                    text -> text.isBlank() ? Optional.empty() : Optional.of(text));
            case Kind.Texts _ -> area(field, String.join("\n", texts(value)), text -> {
                List<String> lines = text.lines().map(String::strip).filter(line -> !line.isEmpty()).toList();
                boolean single = lines.size() == 1 && value.filter(String.class::isInstance).isPresent();
                return lines.isEmpty() ? Optional.empty() : Optional.of(single ? lines.getFirst() : lines);
            });
            case Kind.Pairs() -> pairs(field, value);
            case Kind.One(Group below) -> {
                var form = new GroupForm(below, map(value), id + "-" + field.name());
                editors.put(field.name(), form::value);
                yield form.view();
            }
            case Kind.Many(Group below, boolean _) -> {
                var forms = new GroupForms(below, value, id + "-" + field.name());
                editors.put(field.name(), forms::value);
                yield forms.view();
            }
            case Kind.Named _,Kind.ListOr _ -> {
                editors.put(field.name(), () -> value);
                yield new Label("is written in the file");
            }
            default -> line(field, value);
        };
    }

    private void dress(Control control, Field field) {
        control.setId(id + "-" + field.name());
        control.setAccessibleText(field.words());
    }

    private TextField line(Field field, Optional<Object> value) {
        var line = new TextField(value.map(Object::toString).orElse(""));
        prompt(line, field);
        editors.put(field.name(), () -> line.getText().isBlank()
                ? Optional.empty()
                : Optional.of(line.getText().strip()));
        return line;
    }

    private void prompt(TextInputControl control, Field field) {
        control.setPromptText(field.usual().orElse("as " + field.example().replaceAll("^\"|\"$", "")));
        control.getStyleClass().add("code-field");
        dress(control, field);
    }

    private interface Reading {
        Optional<Object> of(String text);
    }

    private TextArea area(Field field, String text, Reading reading) {
        var area = new TextArea(text);
        area.setPrefRowCount(ROWS);
        area.getStyleClass().add("exchange-text");
        prompt(area, field);
        if (field.isList()) {
            area.setPromptText("one a line");
        }
        editors.put(field.name(), () -> reading.of(area.getText()));
        return area;
    }

    private ComboBox<String> choice(Field field, List<String> options, Optional<Object> value) {
        var choice = new ComboBox<>(FXCollections.observableArrayList(options));
        String usual = field.usual().orElse("");
        if (usual.isEmpty()) {
            choice.getItems().addFirst("");
        }
        choice.setValue(value.map(Object::toString).orElse(usual));
        dress(choice, field);
        editors.put(field.name(), () -> {
            String chosen = choice.getValue() == null ? "" : choice.getValue();
            boolean says = !chosen.isEmpty() && (value.isPresent() || !chosen.equals(usual));
            return says ? Optional.of(chosen) : Optional.empty();
        });
        return choice;
    }

    private Node pairs(Field field, Optional<Object> value) {
        var rows = new RowsEditor(field.words(), id + "-" + field.name(),
                List.of(RowsEditor.Column.text("name", EDITOR_WIDTH / 2), RowsEditor.Column.text("value", 0)), () -> {
                });
        rows.show(map(value).entrySet().stream().map(pair -> List.of(pair.getKey(), pair.getValue().toString()))
                .toList());
        editors.put(field.name(), () -> {
            Map<String, Object> pairs = new LinkedHashMap<>();
            rows.rows().stream().filter(row -> !row.getFirst().isBlank())
                    .forEach(row -> pairs.put(row.getFirst().strip(), row.getLast()));
            return pairs.isEmpty() ? Optional.empty() : Optional.of(pairs);
        });
        return rows.view();
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
            if (!known.containsKey(name)) {
                all.put(name, one);
            }
        });
        editors.forEach((name, value) -> value.get().ifPresent(given -> all.put(name, given)));
        return all.isEmpty() ? Optional.empty() : Optional.of(all);
    }

    @SuppressWarnings("unchecked")
    static Map<String, Object> map(Optional<Object> value) {
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
