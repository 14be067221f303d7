package kadrem.desk.rehearsal;

import java.time.Duration;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.List;
import java.util.Optional;

import javafx.application.Platform;
import javafx.geometry.Pos;
import javafx.scene.Parent;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.ScrollPane;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.GridPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import kadrem.core.examine.Signatures;
import kadrem.core.rehearsal.Rehearsal;
import kadrem.desk.run.SignatureNotes;
import kadrem.core.rehearsal.RehearsedCall;
import kadrem.core.study.Candidate;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Written;
import kadrem.desk.Session;
import kadrem.desk.Station;
import kadrem.desk.candidates.CandidatesStation;
import kadrem.desk.candidates.ConsentQuestion;
import kadrem.desk.look.Background;
import kadrem.desk.look.CandidateMark;
import kadrem.load.campaign.Step;
import kadrem.work.NotDone;
import kadrem.work.Rehearse;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Calls down, candidates across; a cell opens its exchange; answers are compared and differences accepted or not; one file, since grid,
 * differences and exchange show one rehearsal.
 */
public final class RehearsalStation implements Station, AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger(RehearsalStation.class);
    private static final DateTimeFormatter WHEN = DateTimeFormatter.ofPattern("yyyy-MM-dd HH:mm")
            .withZone(ZoneId.systemDefault());
    /** Longer than a candidate is given time to end. */
    private static final Duration MAX_STOP = Duration.ofSeconds(10);

    private final Session session;
    private final CandidatesStation candidates;
    private final VBox view = new VBox(10);
    private final Button begin = new Button("Rehearse");
    private final Button stop = new Button("Stop");
    private final Label status = new Label();
    private final GridPane grid = new GridPane();
    private final DifferencesPane differences;
    private final AgreementRules rules;
    private final LoadFinder load;
    private final VBox signatures = new VBox(6);
    private final ExchangeView exchange = new ExchangeView();
    private Runnable changed = () -> {
    };
    private Background.@Nullable Running worker;
    /** A rehearsal whose study could not be written, so that it is kept here. */
    private Optional<Rehearsal> unsaved = Optional.empty();
    /** The rehearsal of which an exchange is open. */
    private Optional<Rehearsal> opened = Optional.empty();
    /** Whether a load is to be found as soon as all candidates have answered. */
    private boolean findsLoad;

    /** @param measure measures the study's plan, and opens what comes of it */
    public RehearsalStation(Session session, CandidatesStation candidates, Runnable measure) {
        this.session = session;
        this.candidates = candidates;
        var heading = new Label("Rehearsal");
        heading.getStyleClass().add("station-heading");
        begin.getStyleClass().add("accent");
        begin.setId("rehearse");
        begin.setOnAction(_ -> session.state().ifPresent(this::rehearse));
        stop.setId("stop-rehearsing");
        stop.setDisable(true);
        stop.setOnAction(_ -> stop());
        status.setWrapText(true);
        status.setId("rehearsal-status");
        var actions = new HBox(8, begin, stop, status);
        actions.setAlignment(Pos.CENTER_LEFT);
        grid.getStyleClass().add("rehearsal-grid");
        var heading2 = new Label("Where answers differ");
        heading2.getStyleClass().add("section-heading");
        rules = new AgreementRules(session, status::setText);
        differences = new DifferencesPane(session, status::setText);
        load = new LoadFinder(session, candidates, measure,
                () -> session.state().ifPresent(this::show));
        var left = new VBox(8, grid, signatures, load.view(), heading2, differences.view(), rules.view());
        var scroll = new ScrollPane(left);
        scroll.setFitToWidth(true);
        scroll.getStyleClass().add("plain-scroll");
        scroll.setMinWidth(380);
        scroll.setPrefWidth(640);
        HBox.setHgrow(exchange.view(), Priority.ALWAYS);
        var columns = new HBox(18, scroll, exchange.view());
        VBox.setVgrow(columns, Priority.ALWAYS);
        signatures.managedProperty().bind(javafx.beans.binding.Bindings.isNotEmpty(signatures.getChildren()));
        view.getStyleClass().add("station");
        view.getChildren().addAll(heading, actions, columns);
    }

    @Override
    public String name() {
        return "Rehearsal";
    }

    @Override
    public Parent view() {
        return view;
    }

    /** Called on the interface thread when a rehearsal begins or ends. */
    public void onChange(Runnable listener) {
        changed = listener;
    }

    private Optional<Rehearsal> present(Session.State state) {
        return unsaved.filter(one -> one.isOf(state.measured())).or(state::presentRehearsal);
    }

    @Override
    public String summary(Session.State state) {
        if (worker != null) {
            return "under way";
        }
        return present(state).map(rehearsal -> {
            long bad = rehearsal.candidates().stream().filter(one -> !one.isGood()).count();
            int open = rehearsal.open(state.measured().agreement()).size();
            return bad > 0
                    ? bad + " not good"
                    : open > 0 ? open + (open == 1 ? " difference" : " differences") : "all answer alike";
        }).orElse(state.rehearsal().isPresent() ? "of an earlier workload" : "not yet");
    }

    @Override
    public Progress progress(Session.State state) {
        if (worker != null) {
            return Progress.IN_WORK;
        }
        return present(state)
                .map(one -> one.agrees(state.measured().agreement()) ? Progress.DONE : Progress.NEEDS_YOU)
                .orElse(Progress.EMPTY);
    }

    @Override
    public void show(Session.State state) {
        begin.setDisable(worker != null || state.study().candidates().isEmpty());
        grid.getChildren().clear();
        signatures.getChildren().clear();
        differences.clear();
        rules.show(state.measured().agreement());
        load.show(state);
        // one primary action at a time
        begin.getStyleClass().remove("accent");
        if (!load.proposes()) {
            begin.getStyleClass().add("accent");
        }
        Optional<Rehearsal> rehearsal = present(state);
        if (rehearsal.isEmpty()) {
            if (worker == null) {
                status.setText(state.rehearsal().isPresent()
                        ? "The workload was changed since the last rehearsal."
                        : "One visit of each kind goes to every candidate, without load; their answers are compared.");
            }
            return;
        }
        if (worker == null) {
            status.setText("Rehearsed " + WHEN.format(rehearsal.get().at()) + ".");
        }
        fill(state.measured(), rehearsal.get());
        tellSignatures(state.measured(), rehearsal.get());
        openOne(state.measured(), rehearsal.get());
        differences.show(state.measured(), rehearsal.get());
    }

    private void tellSignatures(MeasuredStudy study, Rehearsal rehearsal) {
        for (Rehearsal.OfCandidate one : rehearsal.candidates()) {
            study.candidate(one.candidate()).ifPresent(candidate -> signatures.getChildren().addAll(
                    SignatureNotes.of(candidate.name(), Signatures.ofRehearsal(one, candidate))));
        }
    }

    /** Opens the first exchange that is not good, or the first of all, unless one of this rehearsal is open. */
    private void openOne(MeasuredStudy study, Rehearsal rehearsal) {
        if (opened.filter(rehearsal::equals).isPresent()) {
            return;
        }
        opened = Optional.of(rehearsal);
        for (boolean bad : new boolean[]{true, false}) {
            for (Rehearsal.OfCandidate one : rehearsal.candidates()) {
                Optional<RehearsedCall> call = one.calls().stream().filter(each -> !bad || !each.isGood()).findFirst();
                if (call.isPresent()) {
                    exchange.show(study.candidate(one.candidate()).map(Candidate::name).orElse(one.candidate()),
                            call.get());
                    return;
                }
            }
        }
    }

    private void fill(MeasuredStudy study, Rehearsal rehearsal) {
        List<RehearsedCall> longest = rehearsal.candidates().stream().map(Rehearsal.OfCandidate::calls)
                .max(java.util.Comparator.comparingInt(List::size)).orElse(List.of());
        int column = 1;
        for (Rehearsal.OfCandidate one : rehearsal.candidates()) {
            int index = study.indexOf(one.candidate());
            if (index < 0) {
                continue;
            }
            String name = study.candidates().get(index).name();
            var head = new Label(new CandidateMark(index).letter(), new CandidateMark(index).marker(5));
            head.getStyleClass().add("grid-head");
            head.setTooltip(new Tooltip(name));
            grid.add(head, column, 0);
            if (!one.problem().isEmpty()) {
                var problem = new Label(one.problem());
                problem.setWrapText(true);
                problem.setMaxWidth(160);
                problem.getStyleClass().add("problem");
                grid.add(problem, column, 1, 1, Math.max(1, longest.size()));
            }
            for (int i = 0; i < one.calls().size(); i++) {
                grid.add(cell(name, one.calls().get(i), i, one.candidate()), column, i + 1);
            }
            column++;
        }
        for (int i = 0; i < longest.size(); i++) {
            var name = new Label(longest.get(i).call());
            name.getStyleClass().add("attribute");
            name.setMinWidth(javafx.scene.layout.Region.USE_PREF_SIZE);
            name.setTooltip(new Tooltip(longest.get(i).visit().isEmpty()
                    ? "first part"
                    : "visit: " + longest.get(i).visit()));
            grid.add(name, 0, i + 1);
        }
    }

    private Button cell(String candidate, RehearsedCall call, int row, String id) {
        String text = call.statusWord() + " " + Written.duration(call.timeline().total())
                + " " + Written.bytes(call.decoded().size());
        var button = new Button((call.isGood() ? "" : "✕ ") + text);
        button.setMnemonicParsing(false);
        button.getStyleClass().add("run-cell");
        if (!call.isGood()) {
            button.getStyleClass().add("run-crossed");
        }
        button.setId("rehearsed-" + row + "-" + id);
        button.setMaxWidth(Double.MAX_VALUE);
        button.setTooltip(new Tooltip(call.isGood()
                ? "good"
                : call.failure().orElseThrow().id() + (call.detail().isEmpty() ? "" : ": " + call.detail())));
        button.setAccessibleText(call.call() + ", " + candidate + ": " + text);
        button.setOnAction(_ -> exchange.show(candidate, call));
        return button;
    }

    /** Asks every candidate once, and finds a load for them if they all answer. */
    public void begin(Session.State state) {
        findsLoad = true;
        rehearse(state);
    }

    /** Asks every candidate once, unless that is under way. */
    public void rehearse(Session.State state) {
        if (worker != null) {
            return;
        }
        List<String> up = candidates.running(state.study());
        worker = Background.AT_ONCE.run(() -> Rehearse.run(state.file(), one -> up.contains(one.id()), this::tell),
                made -> ended(Optional.of(made.rehearsal()), made.trouble().orElse("")),
                cause -> ended(Optional.empty(), why(cause)));
        begin.setDisable(true);
        stop.setDisable(false);
        changed.run();
    }

    private static String why(Exception cause) {
        return switch (cause) {
            case NotDone not -> "Nothing was rehearsed: " + ConsentQuestion.words(not.objection()) + ".";
            case InterruptedException _ -> "Stopped.";
            default -> {
                LOG.error("the rehearsal broke down", cause);
                yield "The rehearsal broke down: " + cause.getMessage();
            }
        };
    }

    private void tell(Candidate candidate, Step step) {
        Platform.runLater(() -> status.setText(candidate.name() + ": " + step.words() + " …"));
    }

    private void ended(Optional<Rehearsal> made, String words) {
        worker = null;
        stop.setDisable(true);
        unsaved = made;
        session.refresh();
        session.state().ifPresent(this::show);
        if (!words.isEmpty()) {
            status.setText(words);
        }
        changed.run();
        boolean good = made.filter(one -> one.candidates().stream().allMatch(Rehearsal.OfCandidate::isGood))
                .isPresent();
        if (findsLoad && good) {
            // a load that came elsewhere is not to be found
            session.state().filter(state -> state.measured().load().single()
                    .filter(one -> one.timeline().isEmpty()).isPresent()).ifPresent(load::find);
        }
        findsLoad = false;
    }

    private void stop() {
        Background.Running running = worker;
        if (running != null) {
            stop.setDisable(true);
            running.stop();
        }
    }

    @Override
    public void close() {
        load.close();
        Background.Running running = worker;
        if (running != null) {
            running.stop();
            running.await(MAX_STOP);
        }
    }
}
