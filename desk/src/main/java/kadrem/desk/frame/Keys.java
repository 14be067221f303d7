package kadrem.desk.frame;

import javafx.scene.Scene;
import javafx.scene.TraversalDirection;
import javafx.scene.control.Alert;
import javafx.scene.control.TextArea;
import javafx.scene.control.TextInputControl;
import javafx.scene.input.KeyCode;
import javafx.scene.input.KeyCodeCombination;
import javafx.scene.input.KeyCombination;
import javafx.scene.input.KeyEvent;
import javafx.stage.Stage;
import kadrem.desk.Session;
import kadrem.desk.Station;

/** The window's own shortcuts. */
final class Keys {
    private Keys() {
    }

    static void install(Scene scene, Frame frame, Session session, Stage window) {
        KeyCode[] digits = {KeyCode.DIGIT1, KeyCode.DIGIT2, KeyCode.DIGIT3, KeyCode.DIGIT4, KeyCode.DIGIT5,
                KeyCode.DIGIT6, KeyCode.DIGIT7, KeyCode.DIGIT8, KeyCode.DIGIT9};
        for (int i = 0; i < frame.stations().size(); i++) {
            Station station = frame.stations().get(i);
            scene.getAccelerators().put(new KeyCodeCombination(digits[i], KeyCombination.SHORTCUT_DOWN),
                    () -> frame.go(station));
        }
        scene.getAccelerators().put(new KeyCodeCombination(KeyCode.Z, KeyCombination.SHORTCUT_DOWN), session::undo);
        scene.getAccelerators().put(
                new KeyCodeCombination(KeyCode.Z, KeyCombination.SHORTCUT_DOWN, KeyCombination.SHIFT_DOWN),
                session::redo);
        scene.getAccelerators().put(new KeyCodeCombination(KeyCode.O, KeyCombination.SHORTCUT_DOWN), frame::choose);
        scene.getAccelerators().put(new KeyCodeCombination(KeyCode.F, KeyCombination.SHORTCUT_DOWN), frame::find);
        for (KeyCode larger : new KeyCode[]{KeyCode.PLUS, KeyCode.EQUALS, KeyCode.ADD}) {
            scene.getAccelerators().put(new KeyCodeCombination(larger, KeyCombination.SHORTCUT_DOWN),
                    frame.zoom()::larger);
        }
        for (KeyCode smaller : new KeyCode[]{KeyCode.MINUS, KeyCode.SUBTRACT}) {
            scene.getAccelerators().put(new KeyCodeCombination(smaller, KeyCombination.SHORTCUT_DOWN),
                    frame.zoom()::smaller);
        }
        scene.getAccelerators().put(new KeyCodeCombination(KeyCode.DIGIT0, KeyCombination.SHORTCUT_DOWN),
                frame.zoom()::asMade);
        scene.getAccelerators().put(new KeyCodeCombination(KeyCode.F5), session::reread);
        scene.getAccelerators().put(new KeyCodeCombination(KeyCode.F1), frame::why);
        scene.addEventFilter(KeyEvent.KEY_PRESSED, Keys::leave);
        scene.addEventHandler(KeyEvent.KEY_TYPED, event -> {
            if (event.getCharacter().equals("?") && !(event.getTarget() instanceof TextInputControl)) {
                tell(window);
            }
        });
    }

    /** Tab leaves a field of several lines as it leaves any other; with Ctrl it is written. */
    private static void leave(KeyEvent event) {
        if (event.getCode() == KeyCode.TAB && event.getTarget() instanceof TextArea area) {
            if (!event.isControlDown()) {
                area.requestFocusTraversal(
                        event.isShiftDown() ? TraversalDirection.PREVIOUS : TraversalDirection.NEXT);
                event.consume();
            } else if (area.isEditable()) {
                area.replaceSelection("\t");
                event.consume();
            }
        }
    }

    /** Shows the list of them. */
    static void tell(Stage window) {
        var alert = new Alert(Alert.AlertType.NONE, """
                Ctrl 1 … 9        go to a station
                Ctrl F            find a station, a call, a candidate, a figure
                Ctrl + − 0        larger, smaller, as made
                Ctrl Enter        try the call that is open
                F1                why: what the figure in hand is, and from what
                Ctrl Z            undo the last edit of the study, and go where it was made
                Ctrl Shift Z      redo it
                Ctrl O            open a study
                F5                read the study again
                Ctrl C            copy the selected rows of a table
                ← → Shift Enter   in a figure over time: choose a time, a longer one, take it
                Menu              of a figure, or of a place in an answer: what can be done with it
                ?                 this list""", javafx.scene.control.ButtonType.CLOSE);
        alert.setTitle("Keys");
        alert.initOwner(window);
        alert.getDialogPane().getStyleClass().add("keys");
        alert.show();
    }
}
