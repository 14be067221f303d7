package kadrem.desk.frame;

import java.io.File;
import java.nio.file.Path;
import java.util.ArrayDeque;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;

import javafx.animation.PauseTransition;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.Parent;
import javafx.scene.Scene;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.ToggleButton;
import javafx.scene.layout.BorderPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.StackPane;
import javafx.scene.layout.VBox;
import javafx.stage.DirectoryChooser;
import javafx.stage.Stage;
import javafx.util.Duration;
import kadrem.core.study.FigureFile;
import kadrem.core.study.FigureStudy;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Study;
import kadrem.core.verdict.Explanation;
import kadrem.core.verdict.Wording;
import kadrem.desk.Session;
import kadrem.desk.Station;
import kadrem.desk.candidates.CandidatesStation;
import kadrem.desk.compare.CompareStation;
import kadrem.desk.examine.ExamineStation;
import kadrem.desk.load.LoadStation;
import kadrem.desk.look.Background;
import kadrem.desk.look.Kept;
import kadrem.desk.look.Look;
import kadrem.desk.look.Zoom;
import kadrem.desk.measure.MeasureStation;
import kadrem.desk.question.QuestionStation;
import kadrem.desk.rehearsal.RehearsalStation;
import kadrem.desk.verdict.VerdictStation;
import kadrem.desk.why.WhyDrawer;
import kadrem.desk.workload.WorkloadStation;
import kadrem.files.study.RecentStudies;
import org.jspecify.annotations.Nullable;

/**
 * Spine on the left, stage in the middle, evidence below; one file, since spine, stage and drawer change together. Interface thread only.
 */
public final class Frame {
    /** Between two looks at the study file, which may be edited outside. */
    private static final java.time.Duration GLANCE = java.time.Duration.ofSeconds(1);

    private final Session session;
    private final Look look;
    private final Stage window;
    private final CandidatesStation candidates;
    private final MeasureStation measure;
    private final LoadStation load;
    private final RehearsalStation rehearsal;
    private final WorkloadStation workload;
    private final VerdictStation verdict;
    private final List<Station> stations;
    private final Spine spine;
    private final EvidenceBar evidence = new EvidenceBar();
    private final WhyDrawer drawer = new WhyDrawer(this::shutWhy);
    private final BorderPane root = new BorderPane();
    private final StackPane all = new StackPane(root);
    private final Finder finder;
    private final Zoom zoom = new Zoom(all);
    private final OpeningPane opening;
    private final Middle middle = new Middle();
    private final RecentStudies recent = new RecentStudies(ShippedStudies.ofUser().resolve("recent.json"));
    private Station shown;
    private final Background.Clock outsideWatch;
    private static final String FILE_PROBLEM = "file-problem";
    private static final Duration BREATH = Duration.millis(120);

    private final ArrayDeque<Station> waiting = new ArrayDeque<>();
    private boolean laidOut;
    /** Whether the verdict opens by itself, where Measure is looked at when there is one. */
    private boolean awaitsVerdict;
    /** A study that is being opened, to be rehearsed then. */
    private Optional<Path> begun = Optional.empty();

    public Frame(Session session, Look look, Stage window) {
        this.session = session;
        this.look = look;
        this.window = window;
        candidates = new CandidatesStation(session);
        measure = new MeasureStation(session, look, candidates);
        load = new LoadStation(session, look);
        rehearsal = new RehearsalStation(session, candidates, this::measureAndTell);
        workload = new WorkloadStation(session, candidates);
        verdict = new VerdictStation(session, look, this::explain);
        stations = List.of(new QuestionStation(session, look, this::explain), candidates, workload,
                load, rehearsal, measure, new ExamineStation(session, look),
                new CompareStation(session, look, this::explain, (asked, told) -> {
                    measure.measure(asked, told);
                    go(measure);
                }), verdict);
        finder = new Finder(all, stations, this::go);
        opening = new OpeningPane(session, window, this::begin, this::choose, middle::showOnce, this::explain, recent);
        middle.showOnce(opening.view());
        spine = new Spine(stations, this::go, foot());
        shown = stations.getFirst();
        root.getStyleClass().add("frame");
        root.setLeft(spine.view());
        root.setCenter(middle.view());
        session.stateProperty().addListener((_, _, state) -> state.ifPresent(this::show));
        session.problemProperty().addListener((_, _, problem) -> problem.ifPresent(this::explain));
        measure.onProgress(() -> session.state().ifPresent(spine::show));
        rehearsal.onChange(() -> session.state().ifPresent(spine::show));
        candidates.onChange(() -> session.state().ifPresent(state -> {
            spine.show(state);
            root.setTop(untrusted(state));
        }));
        outsideWatch = Background.every(GLANCE, session::noticeOutsideChange);
        look.darkProperty().addListener((_, _, _) -> session.state().ifPresent(this::show));
    }

    public Parent view() {
        return zoom;
    }

    /** Content in a larger or smaller size. */
    Zoom zoom() {
        return zoom;
    }

    /** Takes on how the user left the window, and keeps how it is left next. */
    public void keep() {
        Kept.in(ShippedStudies.ofUser().resolve("window.properties"), look, zoom);
    }

    /** Opens the line to type into, by which stations, calls, candidates and sides are found. */
    void find() {
        session.state().ifPresent(finder::open);
    }

    public List<Station> stations() {
        return stations;
    }

    public Look look() {
        return look;
    }

    /** Shows a station on the stage. */
    public void go(Station station) {
        if (station != shown) {
            shutWhy();
        }
        shown = station;
        spine.select(station);
        session.state().ifPresent(state -> {
            if (root.getTop() == null || !FILE_PROBLEM.equals(root.getTop().getId())) {
                root.setTop(untrusted(state));
            }
            if (station.needsLoad() && state.study() instanceof FigureStudy study) {
                middle.showOnce(OpeningPane.message(station.name(),
                        "The figures of this study were measured elsewhere ("
                                + study.figures().stream().map(FigureFile::file).distinct()
                                        .collect(Collectors.joining(", "))
                                + "), so there is nothing to be done here. Compare and Verdict have them."));
                return;
            }
            station.show(state);
            middle.show(station.view());
        });
    }

    /** Whether a station has nothing to do in a study without a load. */
    static boolean isIdle(Station station, Session.State state) {
        return station.needsLoad() && state.study() instanceof FigureStudy;
    }

    /** Opens the drawer in which a figure explains itself. */
    private void explain(Explanation explanation) {
        drawer.show(explanation);
        root.setRight(drawer.view());
    }

    private void shutWhy() {
        root.setRight(null);
    }

    /** Opens the drawer on the figure in hand, or shuts it. */
    public void why() {
        if (root.getRight() != null) {
            shutWhy();
        } else {
            shown.why().ifPresent(this::explain);
        }
    }

    /** A line over everything as long as something of the study waits for the user's word; null where nothing does. */
    private @Nullable Node untrusted(Session.State state) {
        if (state.asked().isAllowed()) {
            return null;
        }
        var words = new Label(
                "Not trusted yet: nothing of this study is run, sent, or read outside its folder until you say so.");
        var read = new Button("Read what it would do");
        read.setId("read-consent");
        read.getStyleClass().add("small-button");
        read.setOnAction(_ -> go(candidates));
        read.setVisible(shown != candidates);
        var line = new HBox(14, words, read);
        line.setId("untrusted");
        line.setAlignment(Pos.CENTER_LEFT);
        line.getStyleClass().add("untrusted");
        return line;
    }

    /** Measures the plan at one press; the verdict opens by itself as soon as something is settled, and at the end. */
    private void measureAndTell() {
        go(measure);
        awaitsVerdict = true;
        measure.measurePlan(this::openVerdict);
    }

    private void openVerdict() {
        if (awaitsVerdict && shown == measure) {
            go(verdict);
        }
        awaitsVerdict = false;
    }

    /** Opens a study that was just made, and asks its candidates for the first time. */
    private void begin(Path made) {
        begun = Optional.of(made);
        shown = rehearsal;
        session.open(made);
    }

    private void show(Session.State state) {
        if (begun.filter(state.file().folder()::equals).isPresent()) {
            begun = Optional.empty();
            rehearsal.begin(state);
        }
        root.setTop(untrusted(state));
        window.setTitle(state.study().name() + " – Kadrem");
        root.setBottom(evidence.view());
        evidence.show(state);
        var seen = new RecentStudies.Recent(state.file().folder().toAbsolutePath().toString(), state.study().name(),
                Wording.standing(state.comparison()));
        Background.AT_ONCE.run(() -> recent.note(seen));
        spine.show(state);
        Optional<Study> before = session.takeSteppedFrom().filter(one -> !one.equals(state.study()));
        go(before.flatMap(one -> changed(one, state.study())).orElse(shown));
        if (awaitsVerdict && !state.comparison().progress().isEarlyLook() && state.comparison().pairs().stream()
                .anyMatch(pair -> pair.deciding() && pair.outcome().isSettled())) {
            openVerdict();
        }
        layOutOthers();
    }

    /** The station on which what differs between two states of the study is said. */
    private Optional<Station> changed(Study before, Study now) {
        if (!(before instanceof MeasuredStudy old) || !(now instanceof MeasuredStudy fresh)) {
            return Optional.empty();
        }
        if (!old.candidates().equals(fresh.candidates()) || !old.intended().equals(fresh.intended())) {
            return Optional.of(candidates);
        }
        if (!old.workload().equals(fresh.workload())) {
            return Optional.of(workload);
        }
        if (!old.load().equals(fresh.load())) {
            return Optional.of(load);
        }
        if (!old.agreement().equals(fresh.agreement())) {
            return Optional.of(rehearsal);
        }
        return old.question().equals(fresh.question()) && old.plan().equals(fresh.plan())
                ? Optional.empty()
                : Optional.of(stations.getFirst());
    }

    /**
     * Lays the stations that are not seen yet out one by one, once the first one is: what their controls load and compute at
     * their first showing does not hold anybody up who goes to them later. Twice, since some read files in the background first.
     */
    private void layOutOthers() {
        if (!laidOut) {
            laidOut = true;
            waiting.addAll(stations);
            waiting.addAll(stations);
            layOutNext();
        }
    }

    private void layOutNext() {
        var breath = new PauseTransition(BREATH);
        breath.setOnFinished(_ -> {
            Station next = waiting.poll();
            if (next == null) {
                return;
            }
            session.state().filter(state -> next.view() != middle.seen() && !isIdle(next, state)).ifPresent(state -> {
                next.show(state);
                middle.layOutAside(next.view());
            });
            layOutNext();
        });
        breath.play();
    }

    private Node foot() {
        var fresh = new Button("New study…");
        fresh.getStyleClass().add("quiet");
        fresh.setId("new-study");
        fresh.setMaxWidth(Double.MAX_VALUE);
        fresh.setOnAction(_ -> middle.showOnce(opening.newStudy("")));
        var open = new Button("Open a study…");
        open.getStyleClass().add("quiet");
        open.setMaxWidth(Double.MAX_VALUE);
        open.setOnAction(_ -> choose());
        var dark = new ToggleButton("Dark");
        dark.getStyleClass().add("quiet");
        dark.selectedProperty().bindBidirectional(look.darkProperty());
        var keys = new Button("Keys  ?");
        keys.getStyleClass().add("quiet");
        keys.setOnAction(_ -> Keys.tell(window));
        var row = new HBox(6, dark, keys);
        var box = new VBox(6, fresh, open, row);
        box.getStyleClass().add("spine-foot");
        return box;
    }

    /** Asks for a study to be opened. */
    void choose() {
        var chooser = new DirectoryChooser();
        chooser.setTitle("Open a study: the folder that holds study.yaml");
        session.folder().map(folder -> folder.toAbsolutePath().getParent()).map(Path::toFile)
                .filter(File::isDirectory).ifPresent(chooser::setInitialDirectory);
        Optional.ofNullable(chooser.showDialog(window)).map(File::toPath).ifPresent(session::open);
    }

    private void explain(String problem) {
        if (session.state().isPresent()) {
            warn(problem);
            return;
        }
        VBox box = OpeningPane.message("This study cannot be used as it is", problem);
        box.setId("problem");
        var again = new Button("Read it again");
        again.getStyleClass().add("accent");
        again.setOnAction(_ -> session.reread());
        var other = new Button("Open another study…");
        other.setOnAction(_ -> choose());
        box.getChildren().addAll(new Label("Nothing was changed or lost. Mend the file in any editor, then:"),
                new HBox(8, again, other));
        middle.showOnce(box);
    }

    /** A study that was usable stays on the stage, with what is wrong with its file above it. */
    private void warn(String problem) {
        var words = new Label(problem + "\nThe window keeps the last state that could be used.");
        words.setWrapText(true);
        words.setId(FILE_PROBLEM);
        words.getStyleClass().add("file-problem");
        words.setMaxWidth(Double.MAX_VALUE);
        root.setTop(words);
    }

    /** The window's own shortcuts. */
    public void installShortcuts(Scene scene) {
        Keys.install(scene, this, session, window);
    }

    /** Ends what the stations have started. */
    public void close() {
        waiting.clear();
        outsideWatch.close();
        measure.close();
        rehearsal.close();
        workload.close();
        candidates.close();
    }
}
