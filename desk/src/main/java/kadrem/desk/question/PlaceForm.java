package kadrem.desk.question;

import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;

import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.layout.GridPane;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;
import kadrem.desk.Session;
import kadrem.desk.look.Background;
import kadrem.work.MoveStudy;

/** What the study is called and where it lies: one that was made of addresses is named when it is worth keeping. */
final class PlaceForm {
    private static final String HOME = "~/";

    private final Session session;
    private final TextField name = new TextField();
    private final TextField folder = new TextField();
    private final Button move = new Button("Move it there");
    private final Label said = new Label();
    private final VBox view;
    private boolean filling;
    /** Where the study is being moved to; empty where it is not. */
    private Optional<Path> awaited = Optional.empty();

    PlaceForm(Session session) {
        this.session = session;
        name.setId("study-name");
        name.setAccessibleText("name of the study");
        QuestionStation.commits(name, this::rename);
        folder.setId("study-folder");
        folder.setAccessibleText("folder of the study");
        folder.setOnAction(_ -> move());
        move.setId("move-study");
        move.setMinWidth(Region.USE_PREF_SIZE);
        move.setOnAction(_ -> move());
        said.setId("study-place-said");
        said.setWrapText(true);
        said.managedProperty().bind(said.textProperty().isNotEmpty());
        var grid = new GridPane();
        grid.setHgap(10);
        grid.setVgap(6);
        grid.addRow(0, QuestionStation.label("name", "attribute"), name);
        grid.addRow(1, QuestionStation.label("folder", "attribute"), folder, move);
        GridPane.setHgrow(folder, Priority.ALWAYS);
        view = new VBox(6, grid, said);
    }

    Node view() {
        return view;
    }

    void show(Session.State state) {
        filling = true;
        QuestionStation.setText(name, state.study().name());
        QuestionStation.setText(folder, state.file().folder().toAbsolutePath().normalize().toString());
        boolean arrived = awaited.filter(to -> to.equals(state.file().folder())).isPresent();
        if (arrived) {
            awaited = Optional.empty();
        }
        say(arrived ? "The study is here now." : "", true);
        filling = false;
    }

    private void say(String words, boolean good) {
        said.getStyleClass().setAll("label", good ? "good" : "problem");
        said.setText(words);
    }

    private void rename() {
        if (!filling && session.state().filter(state -> !state.study().name().equals(name.getText().strip()))
                .isPresent()) {
            session.edit(Map.of("name", name.getText().strip()), why -> say(why, false));
        }
    }

    private void move() {
        String text = folder.getText().strip();
        boolean elsewhere = session.state()
                .filter(state -> !state.file().folder().toAbsolutePath().normalize().toString().equals(text))
                .isPresent();
        if (text.isEmpty() || !elsewhere) {
            say("Write the folder that the study is to have.", false);
            return;
        }
        try {
            Path to = Path.of(
                    text.startsWith(HOME)
                            ? System.getProperty("user.home", "") + "/" + text.substring(HOME.length())
                            : text)
                    .toAbsolutePath().normalize();
            awaited = Optional.of(to);
            // what was typed is saved before
            session.edit(List.of(), why -> say(why, false), () -> session.state().ifPresent(state -> Background.AT_ONCE
                    .run(() -> MoveStudy.to(state.file().folder(), to), session::open, this::stays)));
        } catch (InvalidPathException cause) {
            say("That is no folder: " + cause.getMessage(), false);
        }
    }

    private void stays(Exception cause) {
        awaited = Optional.empty();
        say("The study stays where it is: " + cause.getMessage(), false);
    }
}
