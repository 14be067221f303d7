package kadrem.desk.candidates;

import java.io.IOException;
import java.util.List;
import java.util.Optional;

import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.ScrollPane;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;
import kadrem.desk.Session;
import kadrem.load.campaign.Consent;

/** Shows the commands that a study from elsewhere would run on this machine, and asks whether they may be. */
public final class CommandQuestion {
    private static final double LEAST_HEIGHT = 70;
    private static final double MOST_HEIGHT = 150;

    private final Label words = new Label();
    private final Button allow = new Button("These commands may be run here");
    private final ScrollPane shown = new ScrollPane(words);
    private final VBox view = new VBox(6, shown, allow);
    private final Runnable allowed;

    /** @param allowed told when the user has said yes */
    CommandQuestion(Runnable allowed) {
        this.allowed = allowed;
        words.setWrapText(true);
        words.setMinHeight(Region.USE_PREF_SIZE);
        // all that would be run can be read, however much it is
        shown.setFitToWidth(true);
        shown.setMinHeight(LEAST_HEIGHT);
        shown.setMaxHeight(MOST_HEIGHT);
        shown.getStyleClass().add("edge-to-edge");
        words.setId("waiting-commands");
        words.getStyleClass().add("problem");
        allow.setId("allow-commands");
        view.managedProperty().bind(view.visibleProperty());
        view.setVisible(false);
    }

    Node view() {
        return view;
    }

    private static List<String> waiting(Session.State state) {
        return Consent.ofUser().waiting(state.study(), state.file().folder());
    }

    boolean isOpen(Session.State state) {
        return !waiting(state).isEmpty();
    }

    /** Why nothing may be launched yet; empty where all commands have the user's word. */
    public static Optional<String> objection(Session.State state) {
        return waiting(state).isEmpty()
                ? Optional.empty()
                : Optional.of(
                        "This study would run commands on this machine; say under Candidates that they may be run.");
    }

    void show(Session.State state) {
        List<String> waiting = waiting(state);
        view.setVisible(!waiting.isEmpty());
        words.setText("This study would run commands on this machine, with your rights. Read them before you agree:\n"
                + String.join("\n", waiting));
        allow.setOnAction(_ -> {
            try {
                Consent.ofUser().allowCommands(state.study(), state.file().folder());
                allowed.run();
            } catch (IOException cause) {
                words.setText("Your word could not be kept: " + cause.getMessage());
            }
        });
    }
}
