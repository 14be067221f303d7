package kadrem.desk;

import java.util.List;

import javafx.scene.control.Button;
import javafx.scene.control.Tooltip;

/** The two buttons that take back an edit of the study, and make it again. */
public final class UndoButtons {
    private UndoButtons() {
    }

    /** A new pair for one station. */
    public static List<Button> of(Session session) {
        var undo = new Button("Undo");
        undo.setTooltip(new Tooltip("Ctrl Z"));
        undo.setOnAction(_ -> session.undo());
        undo.disableProperty().bind(session.nothingToUndo());
        var redo = new Button("Redo");
        redo.setTooltip(new Tooltip("Ctrl Shift Z"));
        redo.setOnAction(_ -> session.redo());
        redo.disableProperty().bind(session.nothingToRedo());
        return List.of(undo, redo);
    }
}
