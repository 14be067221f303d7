package kadrem.desk.candidates;

import java.util.List;
import java.util.Map;
import java.util.Optional;

import javafx.application.Platform;
import javafx.scene.Parent;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.ScrollPane;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;
import kadrem.core.study.Candidate;
import kadrem.core.study.Study;
import kadrem.desk.Destination;
import kadrem.desk.Session;
import kadrem.desk.Station;
import kadrem.desk.UndoButtons;
import kadrem.desk.form.FormPane;
import kadrem.desk.look.Background;
import kadrem.load.host.Machine;
import kadrem.work.Launched;

/** A column for each candidate, rows aligned, differing cells marked; launch, probe and stop in place. */
public final class CandidatesStation implements Station, AutoCloseable {
    private final Launched launched;
    private final Label rejected = new Label();
    private final ConsentQuestion consentQuestion;
    private final FormPane form = new FormPane("candidate-form");
    private final Label machine = new Label();
    private final CandidateEdits edits;
    private final CandidateGrid grid;
    private final Button launchAll = new Button("Launch and probe all");
    private final Button stopAll = new Button("Stop all");
    private final Label note = new Label();
    private final Label answer = new Label();
    private final VBox view;
    private Runnable changed = () -> {
    };

    public CandidatesStation(Session session) {
        launched = new Launched(() -> Platform.runLater(() -> {
            session.state().ifPresent(this::show);
            changed.run();
        }));
        consentQuestion = new ConsentQuestion(session::refresh);
        edits = new CandidateEdits(session, form, rejected::setText);
        var watchPane = new WatchPane(session, form, edits::put, () -> session.state().ifPresent(this::show));
        grid = new CandidateGrid(session, launched, edits, form, watchPane);
        var heading = new Label("Candidates");
        heading.getStyleClass().add("station-heading");
        launchAll.getStyleClass().add("accent");
        launchAll.setId("launch-all");
        launchAll.setOnAction(_ -> session.state().ifPresent(this::askAll));
        answer.setId("candidates-answer");
        stopAll.setId("stop-all");
        stopAll.setOnAction(_ -> launched.stopAll());
        note.setWrapText(true);
        note.getStyleClass().add("muted");
        machine.setWrapText(true);
        machine.getStyleClass().add("muted");
        machine.setId("machine");
        Background.AT_ONCE.run(
                () -> "What is launched here runs on: " + String.join(" · ", Machine.describe().entrySet()
                        .stream().filter(one -> !one.getKey().startsWith("kadrem")).map(CandidatesStation::fact)
                        .toList()),
                machine::setText, cause -> machine.setText(String.valueOf(cause.getMessage())));
        var scroll = new ScrollPane(new VBox(14, grid.view(), machine));
        scroll.setFitToWidth(true);
        scroll.getStyleClass().add("plain-scroll");
        VBox.setVgrow(scroll, Priority.ALWAYS);
        var add = new Button("Add a candidate");
        add.setId("add-candidate");
        add.setOnAction(_ -> edits.add());
        rejected.setWrapText(true);
        rejected.setMinHeight(Region.USE_PREF_SIZE);
        rejected.getStyleClass().add("problem");
        rejected.setId("candidates-rejected");
        rejected.managedProperty().bind(rejected.textProperty().isNotEmpty());
        var actions = new FlowPane(8, 8, launchAll, stopAll, add, answer);
        actions.getChildren().addAll(UndoButtons.of(session));
        view = new VBox(10, heading, note, actions, consentQuestion.view(), rejected, form.view(), scroll);
        view.getStyleClass().add("station");
    }

    private static String fact(Map.Entry<String, String> fact) {
        return switch (fact.getKey()) {
            case "processors" -> fact.getValue() + " processors";
            case "cpu-megahertz" -> fact.getValue() + " MHz";
            case "cpu-governor" -> "governor " + fact.getValue();
            default -> fact.getValue();
        };
    }

    @Override
    public String name() {
        return "Candidates";
    }

    @Override
    public Parent view() {
        return view;
    }

    /** Called on the interface thread when a candidate comes up or goes down. */
    public void onChange(Runnable listener) {
        changed = listener;
    }

    @Override
    public String summary(Session.State state) {
        int count = state.study().candidates().size();
        return answering(state).orElse(count + (count == 1 ? " candidate" : " candidates"));
    }

    @Override
    public List<Destination> destinations(Session.State state) {
        return state.study().candidates().stream().map(one -> new Destination(one.name(), "Candidates, "
                + one.address(), () -> grid.reveal(one.id()))).toList();
    }

    /** Launches those that can be, and probes the others. */
    private void askAll(Session.State state) {
        for (Candidate one : state.study().candidates()) {
            if (one.launch().isPresent()) {
                launched.launch(one, state.measured().workload(), state.file().folder());
            } else {
                launched.probe(one, state.measured().workload(), state.file().folder());
            }
        }
    }

    /** "1 of 2 answers", of the last probes, else of the rehearsal; empty where none was asked. */
    private Optional<String> answering(Session.State state) {
        List<Candidate> all = state.study().candidates();
        List<Launched.Status> known = all.stream().map(one -> launched.status(one.id())).toList();
        long up = known.stream().filter(Launched.Status::isUp).count();
        if (up > 0 || known.stream().anyMatch(Launched.Status::isProblem)) {
            return Optional.of(up + " of " + all.size() + (up == 1 ? " answers" : " answer"));
        }
        return state.presentRehearsal().map(rehearsal -> rehearsal.candidates().stream()
                .filter(one -> one.problem().isEmpty()).count() + " of " + all.size() + " answered");
    }

    @Override
    public Progress progress(Session.State state) {
        if (state.study().candidates().size() < 2 || !state.asked().isAllowed()) {
            return Progress.NEEDS_YOU;
        }
        return state.study().candidates().stream().anyMatch(one -> launched.status(one.id()).isProblem())
                ? Progress.NEEDS_YOU
                : Progress.DONE;
    }

    @Override
    public void show(Session.State state) {
        Study study = state.study();
        note.setText(study.candidates().size() < 2
                ? "A comparison needs at least two candidates."
                : "A cell with a bar on its left differs between the candidates. What was found by asking stands last.");
        boolean any = study.candidates().stream().anyMatch(one -> launched.status(one.id()).isRunning());
        stopAll.setDisable(!any);
        launchAll.setDisable(study.candidates().isEmpty());
        launchAll.setText(study.candidates().stream().noneMatch(one -> one.launch().isPresent())
                ? "Probe all"
                : "Launch and probe all");
        answer.setText(answering(state).map(one -> one + ".").orElse(""));
        grid.show(state);
        consentQuestion.show(state);
    }

    /** Ids of the candidates that were launched or found up here. */
    public List<String> running(Study study) {
        return study.candidates().stream().map(Candidate::id).filter(id -> launched.status(id).isUp()).toList();
    }

    /** Stops what was launched here, as before a measurement; runs {@code then} on the interface thread afterwards. */
    public void stopAll(Runnable then) {
        launched.stopAll(() -> Platform.runLater(then));
    }

    @Override
    public void close() {
        launched.close();
    }
}
