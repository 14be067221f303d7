package kadrem.desk.candidates;

import java.util.ArrayList;
import java.util.List;

import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.ScrollPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;
import kadrem.desk.Session;
import kadrem.desk.look.Background;
import kadrem.load.gate.Consent;
import kadrem.work.Objection;

/** Shows all that a study from elsewhere would do outside its own folder, and asks whether it may. */
public final class ConsentQuestion {
    private static final double MIN_HEIGHT = 210;
    private static final double MAX_HEIGHT = 320;

    private final Label title = new Label();
    private final VBox list = new VBox(2);
    private final Label problem = new Label();
    private final Button allow = new Button("The study may do this");
    private final VBox view;
    private final Runnable allowed;

    /** @param allowed told when the user has said yes */
    ConsentQuestion(Runnable allowed) {
        this.allowed = allowed;
        title.setWrapText(true);
        title.setMinHeight(Region.USE_PREF_SIZE);
        title.getStyleClass().add("problem");
        title.setId("consent-title");
        list.setId("consent-list");
        problem.setWrapText(true);
        problem.getStyleClass().add("problem");
        // all that would be done can be read, however much it is
        var shown = new ScrollPane(list);
        shown.setFitToWidth(true);
        shown.setMinHeight(MIN_HEIGHT);
        shown.setMaxHeight(MAX_HEIGHT);
        shown.getStyleClass().addAll("edge-to-edge", "consent");
        allow.setId("allow-study");
        allow.setMinWidth(Region.USE_PREF_SIZE);
        HBox.setHgrow(title, Priority.ALWAYS);
        title.setMaxWidth(Double.MAX_VALUE);
        view = new VBox(6, new HBox(12, title, allow), problem, shown);
        problem.managedProperty().bind(problem.textProperty().isNotEmpty());
        view.managedProperty().bind(view.visibleProperty());
        view.setVisible(false);
    }

    Node view() {
        return view;
    }

    /** An objection as the window says it: what waits stands under Candidates. */
    public static String words(Objection objection) {
        return objection.words() + (objection instanceof Objection.Waits ? "; read them under Candidates" : "");
    }

    void show(Session.State state) {
        Consent.Asked asked = state.asked();
        view.setVisible(!asked.isAllowed());
        title.setText(asked.isChange()
                ? "What this study would do has changed since you allowed it. Read what is new before you agree."
                : "It came from elsewhere, and would do this outside its own folder. Read it before you agree; until then it"
                        + " can be read, examined and compared.");
        list.getChildren().setAll(lines(asked));
        problem.setText("");
        allow.setOnAction(_ -> {
            // what was read, and nothing that came in meanwhile
            Background.AT_ONCE.run(() -> {
                Consent.ofUser().allow(asked, state.file().folder());
                return asked;
            }, _ -> allowed.run(), cause -> problem.setText("Your word could not be kept: " + cause.getMessage()));
        });
    }

    private static List<Node> lines(Consent.Asked asked) {
        var lines = new ArrayList<Node>();
        asked.waitingByHeading().forEach((heading, under) -> {
            lines.add(label(heading, "consent-heading"));
            under.forEach(reach -> lines.add(label(reach.words(), "consent-line")));
        });
        if (!asked.gone().isEmpty()) {
            lines.add(label("It would no longer", "consent-heading"));
            asked.gone().forEach(gone -> lines.add(label(gone, "consent-line")));
        }
        return lines;
    }

    private static Label label(String text, String style) {
        var label = new Label(text);
        label.setWrapText(true);
        label.setMinHeight(Region.USE_PREF_SIZE);
        label.getStyleClass().add(style);
        return label;
    }
}
