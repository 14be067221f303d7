package kadrem.desk.frame;

import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.function.Consumer;

import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.layout.HBox;
import javafx.scene.layout.VBox;
import javafx.stage.Stage;
import kadrem.desk.Session;

/** What the window shows before a study is open: to open one, to make one, to look at one that ships with Kadrem. */
final class OpeningPane {
    static final double WIDTH = 760;
    private static final double SAMPLE_WIDTH = 320;

    private final Session session;
    private final Stage window;
    private final Consumer<Path> begin;
    private final Runnable choose;
    private final Consumer<Node> stage;
    private final Consumer<String> problem;

    /**
     * @param begin told the folder of a study that was made of addresses, to be opened and rehearsed
     * @param choose asks which study is to be opened
     * @param stage shows another pane in the place of this one
     * @param problem told what cannot be done
     */
    OpeningPane(Session session, Stage window, Consumer<Path> begin, Runnable choose, Consumer<Node> stage,
            Consumer<String> problem) {
        this.session = session;
        this.window = window;
        this.begin = begin;
        this.choose = choose;
        this.stage = stage;
        this.problem = problem;
    }

    Node view() {
        VBox box = message("What is there to choose between?",
                "Give the addresses at which the same thing can be asked for, one a line, or a curl command for each. Kadrem makes a"
                        + " study of them, asks each of them once, and shows both answers side by side before anything is measured.");
        box.getChildren().add(new GivenPane(begin).view());
        var fresh = new Button("New study…");
        fresh.setOnAction(_ -> stage.accept(newStudy()));
        var open = new Button("Open a study…");
        open.setOnAction(_ -> choose.run());
        var row = new HBox(8, fresh, open);
        box.getChildren().add(row);
        List<ShippedStudies.Shipped> shipped = ShippedStudies.all();
        if (!shipped.isEmpty()) {
            var words = new Label(
                    "Or look at a study that ships with Kadrem. You get a copy of your own, to be changed and measured again.");
            words.getStyleClass().add("message-text");
            box.getChildren().add(words);
        }
        for (ShippedStudies.Shipped one : shipped) {
            var sample = new Button(one.name());
            sample.setMnemonicParsing(false);
            sample.setId("shipped-" + one.id());
            sample.setMinWidth(SAMPLE_WIDTH);
            sample.setAlignment(Pos.CENTER_LEFT);
            var question = new Label(one.question());
            question.getStyleClass().add("muted");
            var line = new HBox(12, sample, question);
            line.setAlignment(Pos.CENTER_LEFT);
            sample.setOnAction(_ -> {
                try {
                    session.open(one.copy());
                } catch (IOException cause) {
                    problem.accept("The study " + one.id() + " could not be copied: " + cause.getMessage());
                }
            });
            box.getChildren().add(line);
        }
        return box;
    }

    /** Asks for the folder of a study that is to be made. */
    Node newStudy() {
        VBox box = message("A new study",
                "A study is a folder. It begins with one candidate and one call, or with figures that were measured elsewhere; the stations on"
                        + " the left change them.");
        return new NewStudyPane(window, box, session::open).view();
    }

    /** A heading with a few sentences, in the middle of the window. */
    static VBox message(String heading, String text) {
        var title = new Label(heading);
        title.getStyleClass().add("station-heading");
        var words = new Label(text);
        words.setWrapText(true);
        words.setMaxWidth(WIDTH);
        words.getStyleClass().add("message-text");
        var box = new VBox(12, title, words);
        box.setAlignment(Pos.CENTER_LEFT);
        box.getStyleClass().add("message");
        return box;
    }
}
