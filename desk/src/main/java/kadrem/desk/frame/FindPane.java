package kadrem.desk.frame;

import java.util.ArrayList;
import java.util.List;

import javafx.scene.Node;
import javafx.scene.control.Label;
import javafx.scene.control.ListCell;
import javafx.scene.control.ListView;
import javafx.scene.control.TextField;
import javafx.scene.input.KeyCode;
import javafx.scene.input.KeyEvent;
import javafx.scene.layout.HBox;
import javafx.scene.layout.VBox;
import kadrem.desk.Destination;

/**
 * A line to type into, and below it what in the study and the window has these words in its name: stations, calls, candidates, sides. It
 * is gone when something was chosen, or by Escape. Interface thread only.
 */
final class FindPane {
    private static final double WIDTH = 520;
    private static final double HEIGHT = 320;
    private static final double ROW_HEIGHT = 30;

    private final TextField typed = new TextField();
    private final ListView<Destination> found = new ListView<>();
    private final VBox view = new VBox(6, typed, found);
    private final Runnable shut;
    private List<Destination> all = List.of();

    /** @param shut takes the pane away */
    FindPane(Runnable shut) {
        this.shut = shut;
        typed.setPromptText("a station, a call, a candidate, a figure …");
        typed.setId("find");
        typed.setAccessibleText("what to look for");
        typed.textProperty().addListener((_, _, now) -> narrow(now));
        typed.addEventFilter(KeyEvent.KEY_PRESSED, this::pressed);
        found.setId("found");
        found.setAccessibleText("what was found");
        found.setFixedCellSize(ROW_HEIGHT);
        found.setCellFactory(_ -> new Row());
        found.setOnMouseClicked(_ -> open());
        found.addEventFilter(KeyEvent.KEY_PRESSED, this::pressed);
        view.getStyleClass().add("find");
        view.setMaxSize(WIDTH, HEIGHT);
    }

    /** Name in full ink, and what it is. */
    private static final class Row extends ListCell<Destination> {
        @Override
        protected void updateItem(Destination place, boolean empty) {
            super.updateItem(place, empty);
            if (empty || place == null) {
                setGraphic(null);
                return;
            }
            var what = new Label(place.what());
            what.getStyleClass().add("muted");
            setGraphic(new HBox(10, new Label(place.name()), what));
        }
    }

    Node view() {
        return view;
    }

    /** Begins a search among these. */
    void begin(List<Destination> places) {
        all = new ArrayList<>(places);
        typed.clear();
        narrow("");
        typed.requestFocus();
    }

    private void narrow(String words) {
        found.getItems().setAll(all.stream().filter(one -> one.isMeantBy(words)).toList());
        found.getSelectionModel().selectFirst();
        found.scrollTo(0);
    }

    private void pressed(KeyEvent event) {
        int at = found.getSelectionModel().getSelectedIndex();
        if (event.getCode() == KeyCode.ESCAPE) {
            shut.run();
        } else if (event.getCode() == KeyCode.ENTER) {
            open();
        } else if (event.getCode() == KeyCode.DOWN) {
            select(Math.min(found.getItems().size() - 1, at + 1));
        } else if (event.getCode() == KeyCode.UP) {
            select(Math.max(0, at - 1));
        } else {
            return;
        }
        event.consume();
    }

    private void select(int index) {
        found.getSelectionModel().select(index);
        found.scrollTo(Math.max(0, index - 3));
    }

    private void open() {
        Destination chosen = found.getSelectionModel().getSelectedItem();
        if (chosen != null) {
            shut.run();
            chosen.open().run();
        }
    }
}
