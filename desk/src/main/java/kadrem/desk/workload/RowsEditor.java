package kadrem.desk.workload;

import java.util.ArrayList;
import java.util.List;

import javafx.collections.FXCollections;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;

/** A short list of rows, each of a kind with one or two texts, to which rows are added and from which they are taken. */
final class RowsEditor {
    private static final double KIND_WIDTH = 122;
    private static final double NAME_WIDTH = 120;

    private final List<String> kinds;
    private final String namePrompt;
    private final String valuePrompt;
    private final Runnable changed;
    private final VBox rows = new VBox(3);
    private final VBox view = new VBox(3);
    private List<Row> known = List.of();

    /** @param kind one of the kinds; empty where there are none */
    record Row(String kind, String name, String value) {
    }

    /**
     * @param kinds kinds of row; empty where all are of one
     * @param changed told when the rows were changed by hand and are complete
     */
    RowsEditor(String title, String id, List<String> kinds, String namePrompt, String valuePrompt, Runnable changed) {
        this.kinds = kinds;
        this.namePrompt = namePrompt;
        this.valuePrompt = valuePrompt;
        this.changed = changed;
        var heading = new Label(title);
        heading.getStyleClass().add("attribute");
        var add = new Button("+");
        add.getStyleClass().add("small-button");
        add.setId("add-" + id);
        add.setAccessibleText("add to " + title);
        add.setOnAction(_ -> {
            Node row = row(new Row(kinds.isEmpty() ? "" : kinds.getFirst(), "", ""));
            rows.getChildren().add(row);
            row.requestFocus();
        });
        var head = new HBox(8, heading, add);
        head.setAlignment(javafx.geometry.Pos.CENTER_LEFT);
        rows.setId("rows-" + id);
        view.getChildren().addAll(head, rows);
    }

    Node view() {
        return view;
    }

    /** Shows other rows, unless they are shown already. */
    void show(List<Row> shown) {
        if (!shown.equals(known) || rows.getChildren().size() != shown.size()) {
            known = List.copyOf(shown);
            rows.getChildren().setAll(shown.stream().map(this::row).toList());
        }
    }

    /** The rows with something in them. */
    List<Row> rows() {
        var read = new ArrayList<Row>();
        for (Node node : rows.getChildren()) {
            if (node.getUserData() instanceof Fields(ComboBox<String> kind, TextField name, TextField value)
                    && !(name.getText().isBlank() && value.getText().isBlank())) {
                read.add(new Row(kinds.isEmpty() ? "" : kind.getValue(), name.getText().strip(), value.getText()));
            }
        }
        return List.copyOf(read);
    }

    private record Fields(ComboBox<String> kind, TextField name, TextField value) {
    }

    private Node row(Row row) {
        var kind = new ComboBox<>(FXCollections.observableArrayList(kinds));
        kind.setValue(row.kind());
        kind.setPrefWidth(KIND_WIDTH);
        kind.setMinWidth(KIND_WIDTH);
        TextField name = field(row.name(), namePrompt);
        name.setPrefWidth(NAME_WIDTH);
        TextField value = field(row.value(), valuePrompt);
        HBox.setHgrow(value, Priority.ALWAYS);
        var remove = new Button("✕");
        remove.getStyleClass().add("small-button");
        remove.setAccessibleText("remove");
        var box = new HBox(4, name, value, remove);
        if (!kinds.isEmpty()) {
            box.getChildren().addFirst(kind);
        }
        box.setUserData(new Fields(kind, name, value));
        kind.setOnAction(_ -> commit());
        remove.setOnAction(_ -> {
            rows.getChildren().remove(box);
            commit();
        });
        return box;
    }

    private TextField field(String text, String prompt) {
        var field = new TextField(text);
        field.setPromptText(prompt);
        field.getStyleClass().add("code-field");
        field.setOnAction(_ -> commit());
        field.focusedProperty().addListener((_, _, focused) -> {
            if (!focused) {
                commit();
            }
        });
        return field;
    }

    private void commit() {
        List<Row> now = rows();
        if (!now.equals(known)) {
            known = now;
            changed.run();
        }
    }
}
