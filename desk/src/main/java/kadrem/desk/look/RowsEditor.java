package kadrem.desk.look;

import java.util.ArrayList;
import java.util.List;

import javafx.collections.FXCollections;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Control;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;

/** A short list of rows of texts and choices, to which rows are added and from which they are taken. */
public final class RowsEditor {
    private final List<Column> columns;
    private final Runnable changed;
    private final VBox rows = new VBox(3);
    private final VBox view = new VBox(3);
    private List<List<String>> known = List.of();

    /**
     * A place of every row.
     *
     * @param name read out, and written into an empty text
     * @param width in pixels; 0 for what is left
     * @param choices what can be chosen, the first of them in a new row; empty for a text
     */
    public record Column(String name, double width, List<String> choices) {
        public static Column text(String name, double width) {
            return new Column(name, width, List.of());
        }
    }

    /** @param changed told when the rows were changed by hand and are complete */
    public RowsEditor(String title, String id, List<Column> columns, Runnable changed) {
        this.columns = List.copyOf(columns);
        this.changed = changed;
        var heading = new Label(title);
        heading.getStyleClass().add("attribute");
        var add = new Button("+");
        add.getStyleClass().add("small-button");
        add.setId("add-" + id);
        add.setAccessibleText("add to " + title);
        add.setOnAction(_ -> {
            Node row = row(columns.stream().map(column -> column.choices().isEmpty()
                    ? ""
                    : column.choices().getFirst()).toList());
            rows.getChildren().add(row);
            row.requestFocus();
        });
        var head = new HBox(8, heading, add);
        head.setAlignment(Pos.CENTER_LEFT);
        rows.setId("rows-" + id);
        view.getChildren().addAll(head, rows);
    }

    public Node view() {
        return view;
    }

    /** Takes away rows that have no text yet, as where the rows of something else are shown next. */
    public void dropUnfinished() {
        rows.getChildren().clear();
        known = List.of();
    }

    /** Shows other rows, unless they are shown already: a row that was added and has no text yet stays. */
    public void show(List<List<String>> shown) {
        if (!shown.equals(known)) {
            known = List.copyOf(shown);
            rows.getChildren().setAll(shown.stream().map(this::row).toList());
        }
    }

    /** The rows with some text in them. */
    public List<List<String>> rows() {
        var read = new ArrayList<List<String>>();
        for (Node node : rows.getChildren()) {
            if (node.getUserData() instanceof Cells(List<Control> controls)) {
                List<String> row = controls.stream().map(RowsEditor::text).toList();
                boolean written = false;
                for (int i = 0; i < row.size(); i++) {
                    written |= columns.get(i).choices().isEmpty() && !row.get(i).isBlank();
                }
                if (written) {
                    read.add(row);
                }
            }
        }
        return List.copyOf(read);
    }

    private record Cells(List<Control> controls) {
    }

    private static String text(Control control) {
        return switch (control) {
            case TextField field -> field.getText();
            case ComboBox<?> choice -> String.valueOf(choice.getValue());
            default -> "";
        };
    }

    private Node row(List<String> texts) {
        var controls = new ArrayList<Control>();
        for (int i = 0; i < columns.size(); i++) {
            Column column = columns.get(i);
            Control control = column.choices().isEmpty()
                    ? field(texts.get(i), column.name())
                    : choice(texts.get(i), column.choices());
            control.setAccessibleText(column.name());
            if (column.width() > 0) {
                control.setPrefWidth(column.width());
                control.setMinWidth(column.choices().isEmpty() ? column.width() / 2 : column.width());
            } else {
                HBox.setHgrow(control, Priority.ALWAYS);
            }
            controls.add(control);
        }
        var remove = new Button("✕");
        remove.getStyleClass().add("small-button");
        remove.setAccessibleText("remove");
        var box = new HBox(4);
        box.setAlignment(Pos.CENTER_LEFT);
        box.getChildren().addAll(controls);
        box.getChildren().add(remove);
        box.setUserData(new Cells(controls));
        remove.setOnAction(_ -> {
            rows.getChildren().remove(box);
            commit();
        });
        return box;
    }

    private ComboBox<String> choice(String value, List<String> choices) {
        var choice = new ComboBox<>(FXCollections.observableArrayList(choices));
        choice.setValue(value);
        choice.getStyleClass().add("row-choice");
        choice.setOnAction(_ -> commit());
        return choice;
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
        List<List<String>> now = rows();
        if (!now.equals(known)) {
            known = now;
            changed.run();
        }
    }
}
