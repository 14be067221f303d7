package kadrem.desk.candidates;

import java.nio.file.Path;

import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.VBox;
import kadrem.core.study.Candidate;
import kadrem.core.study.Workload;
import kadrem.desk.Session;
import kadrem.work.Launched;

/** Launches, probes and stops a candidate, and says how it stands. Its buttons stay, so that the keyboard stays where it is. */
final class CandidateHands {
    private final String candidate;
    private final Session session;
    private final Launched launched;
    private final Button launch = new Button("Launch");
    private final Button stop = new Button("Stop");
    private final Label words = new Label();
    private final Node view;

    CandidateHands(String candidate, Session session, Launched launched) {
        this.candidate = candidate;
        this.session = session;
        this.launched = launched;
        words.setWrapText(true);
        words.setId("status-" + candidate);
        launch.setId("launch-" + candidate);
        launch.setOnAction(_ -> act(launched::launch));
        var probe = new Button("Probe");
        probe.setId("probe-" + candidate);
        probe.setOnAction(_ -> act(launched::probe));
        stop.setId("stop-" + candidate);
        stop.setOnAction(_ -> launched.stop(candidate));
        view = new VBox(6, new FlowPane(6, 6, launch, probe, stop), words);
    }

    /** What is done with a candidate of the study as it is now. */
    private interface Act {
        void on(Candidate candidate, Workload workload, Path studyFolder);
    }

    private void act(Act act) {
        session.state().ifPresent(state -> state.study().candidate(candidate)
                .ifPresent(one -> act.on(one, state.measured().workload(), state.file().folder())));
    }

    Node view() {
        return view;
    }

    void show(Candidate one) {
        Launched.Status status = launched.status(candidate);
        words.setText(status.words());
        words.getStyleClass().removeAll("problem", "good", "muted");
        words.getStyleClass().add(status.isProblem() ? "problem" : status.isUp() ? "good" : "muted");
        launch.setDisable(status.isRunning() || one.launch().isEmpty());
        stop.setDisable(!status.isRunning());
    }
}
