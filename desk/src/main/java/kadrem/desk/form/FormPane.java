package kadrem.desk.form;

import java.util.Optional;
import java.util.function.Consumer;

import javafx.beans.binding.Bindings;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.ScrollPane;
import javafx.scene.input.KeyCode;
import javafx.scene.input.KeyEvent;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;
import kadrem.core.study.grammar.Group;

/** A place in a station where the form of a group is filled in, until it is saved or left. */
public final class FormPane {
    private static final double MAX_HEIGHT = 330;
    private static final double EDGE = 6;

    private final Label title = new Label();
    private final Label words = new Label();
    private final ScrollPane scroll = new ScrollPane();
    private final Button save = new Button("Save");
    private final Button leave = new Button("Leave as it was");
    private final VBox view;
    private Optional<GroupForm> form = Optional.empty();
    private Consumer<Optional<Object>> saving = _ -> {
    };

    /** @param id begins the ids of the buttons */
    public FormPane(String id) {
        title.getStyleClass().add("section-heading");
        title.setId(id + "-title");
        words.getStyleClass().add("muted");
        words.setWrapText(true);
        save.getStyleClass().add("accent");
        save.setId(id + "-save");
        save.setOnAction(_ -> form.ifPresent(one -> saving.accept(one.value())));
        leave.setId(id + "-leave");
        leave.setOnAction(_ -> close());
        scroll.setFitToWidth(true);
        scroll.setMaxHeight(MAX_HEIGHT);
        scroll.getStyleClass().add("plain-scroll");
        view = new VBox(6, title, words, scroll, new HBox(8, save, leave));
        view.getStyleClass().add("form-pane");
        view.setId(id);
        view.addEventHandler(KeyEvent.KEY_PRESSED, event -> {
            if (event.getCode() == KeyCode.ESCAPE) {
                close();
                event.consume();
            }
        });
        view.managedProperty().bind(view.visibleProperty());
        view.setVisible(false);
    }

    public Node view() {
        return view;
    }

    public boolean isOpen() {
        return view.isVisible();
    }

    /**
     * Shows the form of a group.
     *
     * @param written what the file says now, as texts, lists and maps; an empty map where it says nothing
     * @param id begins the ids of the editors
     * @param saving takes what the form says when it is to be saved; empty where it says nothing. It closes the form once that was taken
     */
    public void open(String heading, Group group, Object written, String id,
            Consumer<Optional<Object>> saving) {
        this.saving = saving;
        var made = new GroupForm(group, GroupForm.map(Optional.of(written)), id);
        form = Optional.of(made);
        title.setText(heading);
        words.setText(group.words().substring(0, 1).toUpperCase(java.util.Locale.ROOT) + group.words().substring(1)
                + ". A field that is left empty is left out of the file.");
        Region content = made.view();
        scroll.setContent(content);
        // as high as the form, which changes with the way that is chosen, and no higher than leaves the station in sight
        scroll.minHeightProperty().bind(Bindings.createDoubleBinding(
                () -> Math.min(MAX_HEIGHT, content.prefHeight(content.getWidth()) + EDGE), content.heightProperty(),
                content.widthProperty(), content.needsLayoutProperty()));
        view.setVisible(true);
    }

    public void close() {
        form = Optional.empty();
        view.setVisible(false);
    }
}
