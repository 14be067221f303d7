package kadrem.desk.workload;

import javafx.scene.Node;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.control.TextInputControl;
import javafx.scene.layout.ColumnConstraints;
import javafx.scene.layout.GridPane;
import javafx.scene.layout.Priority;

/** Fields with their names in two columns. Each is taken over with the key Enter, or when it is left. */
final class FieldGrid {
    private final GridPane fields = new GridPane();

    FieldGrid() {
        fields.setHgap(8);
        fields.setVgap(5);
        fields.getColumnConstraints().addAll(new ColumnConstraints(82), grow(), new ColumnConstraints(74), grow());
    }

    GridPane view() {
        return fields;
    }

    private static ColumnConstraints grow() {
        var constraints = new ColumnConstraints();
        constraints.setHgrow(Priority.ALWAYS);
        return constraints;
    }

    static Label label(String text) {
        var label = new Label(text);
        label.getStyleClass().add("attribute");
        return label;
    }

    /** Puts a name and a field into the left half of a row. */
    void left(int row, Label name, Node field) {
        fields.add(name, 0, row);
        fields.add(field, 1, row);
    }

    /** Puts a name and a field into the right half of a row. */
    void right(int row, Label name, Node field) {
        fields.add(name, 2, row);
        fields.add(field, 3, row);
    }

    /** Puts a name and a field into a whole row. */
    void wide(int row, Label name, Node field) {
        fields.add(name, 0, row);
        fields.add(field, 1, row, 3, 1);
    }

    static void dress(TextField field, String text, String id, Runnable commit) {
        field.setId(id);
        field.setAccessibleText(text);
        field.getStyleClass().add("code-field");
        field.setOnAction(_ -> commit.run());
        onLeave(field, commit);
    }

    static void onLeave(TextInputControl field, Runnable commit) {
        field.focusedProperty().addListener((_, _, focused) -> {
            if (!focused) {
                commit.run();
            }
        });
    }
}
