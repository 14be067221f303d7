package kadrem.desk.frame;

import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.function.Consumer;

import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.Tooltip;
import javafx.scene.control.ScrollPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;
import javafx.stage.Stage;
import kadrem.desk.Session;
import kadrem.files.study.RecentStudies;

/** What the window shows before a study is open: to open one, to make one, to look at one that ships with Kadrem. */
final class OpeningPane {
    static final double WIDTH = 760;
    private static final double SAMPLE_WIDTH = 320;
    private static final int MAX_RECENT = 3;
    private static final double LINE_GAP = 5;

    private final Session session;
    private final Stage window;
    private final Consumer<Path> begin;
    private final Runnable choose;
    private final Consumer<Node> stage;
    private final Consumer<String> problem;
    private final RecentStudies recent;

    /**
     * @param begin told the folder of a study that was made of addresses, to be opened and rehearsed
     * @param choose asks which study is to be opened
     * @param stage shows another pane in the place of this one
     * @param problem told what cannot be done
     * @param recent studies that were open last
     */
    OpeningPane(Session session, Stage window, Consumer<Path> begin, Runnable choose, Consumer<Node> stage,
            Consumer<String> problem, RecentStudies recent) {
        this.session = session;
        this.window = window;
        this.begin = begin;
        this.choose = choose;
        this.stage = stage;
        this.problem = problem;
        this.recent = recent;
    }

    Node view() {
        VBox box = message("What is there to choose between?",
                "Give the addresses at which the same thing can be asked for, one a line, or a curl command for each; or drop a capture,"
                        + " an API description or a .proto file here. Kadrem makes a study of them, asks each once, shows the answers side by side, and finds a"
                        + " load for them.");
        box.getChildren().add(new GivenPane(window, begin, figures -> stage.accept(newStudy(figures))).view());
        var fresh = new Button("New study…");
        fresh.setOnAction(_ -> stage.accept(newStudy("")));
        var open = new Button("Open a study…");
        open.setOnAction(_ -> choose.run());
        var row = new HBox(8, fresh, open);
        box.getChildren().add(row);
        List<RecentStudies.Recent> last = recent.all();
        if (!last.isEmpty()) {
            box.getChildren().add(heading("Open last"));
            var lines = new VBox(LINE_GAP);
            last.stream().limit(MAX_RECENT).forEach(one -> lines.getChildren().add(line("recent-" + last.indexOf(one),
                    one.name(), one.said(), () -> session.open(Path.of(one.folder())))));
            box.getChildren().add(lines);
        }
        List<ShippedStudies.Shipped> shipped = ShippedStudies.all();
        if (!shipped.isEmpty()) {
            box.getChildren()
                    .add(heading("Ships with Kadrem; you get a copy of your own, to be changed and measured again"));
        }
        var lines = new VBox(LINE_GAP);
        for (ShippedStudies.Shipped one : shipped) {
            lines.getChildren().add(line("shipped-" + one.id(), one.name(), one.question(), () -> {
                try {
                    session.open(one.copy());
                } catch (IOException cause) {
                    problem.accept("The study " + one.id() + " could not be copied: " + cause.getMessage());
                }
            }));
        }
        box.getChildren().add(lines);
        var scroll = new ScrollPane(box);
        scroll.getStyleClass().add("plain-scroll");
        scroll.setFitToWidth(true);
        scroll.setFitToHeight(true);
        return scroll;
    }

    private static Label heading(String words) {
        var heading = new Label(words);
        heading.getStyleClass().add("section-heading");
        return heading;
    }

    /** A study that is opened at a press, and what it asks or says. */
    private static Node line(String id, String name, String words, Runnable open) {
        var button = new Button(name);
        button.setMnemonicParsing(false);
        button.setId(id);
        button.setMinWidth(SAMPLE_WIDTH);
        button.setPrefWidth(SAMPLE_WIDTH);
        button.setAlignment(Pos.CENTER_LEFT);
        button.setOnAction(_ -> open.run());
        var said = new Label(words);
        said.setTooltip(new Tooltip(words));
        said.getStyleClass().add("muted");
        said.setMinWidth(0);
        var line = new HBox(12, button, said);
        line.setAlignment(Pos.CENTER_LEFT);
        return line;
    }

    /**
     * Asks for the folder of a study that is to be made.
     *
     * @param from the file that it is to be made of; empty where that is still to be said
     */
    Node newStudy(String from) {
        VBox box = message("A new study",
                "A study is a folder. It begins with one candidate and one call, or with figures that were measured elsewhere; the stations on"
                        + " the left change them.");
        return new NewStudyPane(window, box, from, session::open).view();
    }

    /** A heading with a few sentences, in the middle of the window. */
    static VBox message(String heading, String text) {
        var title = new Label(heading);
        title.getStyleClass().add("station-heading");
        var words = new Label(text);
        words.setWrapText(true);
        words.setMaxWidth(WIDTH);
        words.setMinHeight(Region.USE_PREF_SIZE);
        words.getStyleClass().add("message-text");
        var box = new VBox(12, title, words);
        box.setAlignment(Pos.CENTER_LEFT);
        box.getStyleClass().add("message");
        return box;
    }
}
