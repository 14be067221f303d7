package kadrem.desk.measure;

import java.io.IOException;
import java.nio.file.Path;
import java.time.Clock;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

import javafx.animation.KeyFrame;
import javafx.animation.Timeline;
import javafx.application.Platform;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.ProgressBar;
import javafx.scene.control.ScrollPane;
import javafx.scene.control.Spinner;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import javafx.util.Duration;
import kadrem.core.measure.FailureKind;
import kadrem.core.measure.RunFigures;
import kadrem.core.measure.RunOutcome;
import kadrem.core.measure.RunRecord;
import kadrem.core.measure.SecondSummary;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Study;
import kadrem.core.verdict.Wording;
import kadrem.desk.Session;
import kadrem.desk.Station;
import kadrem.desk.candidates.CandidatesStation;
import kadrem.desk.chart.Figure;
import kadrem.desk.chart.FigureTheme;
import kadrem.desk.chart.TimeFigure;
import kadrem.desk.look.CandidateMark;
import kadrem.desk.look.Look;
import kadrem.files.run.RunFolders;
import kadrem.files.run.RunReader;
import kadrem.load.campaign.Campaign;
import kadrem.load.campaign.Leftovers;
import org.jfree.chart.JFreeChart;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** The grid of rounds filling up, and the run in progress or the one chosen, over one time axis. */
public final class MeasureStation implements Station, AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger(MeasureStation.class);
    /** The display must not slow the generator: four times a second at most. */
    private static final Duration REDRAW = Duration.millis(250);
    private static final List<String> FIGURE_NAMES = List.of("calls sent and answered each second",
            "response time each second", "schedule lag of the generator each second");

    private final Session session;
    private final Look look;
    private final CandidatesStation candidates;
    private final VBox view = new VBox(10);
    private final Button begin = new Button("Measure");
    private final Button stop = new Button("Stop");
    private final Spinner<Integer> rounds = new Spinner<>(1, 200, 2);
    private final ProgressBar progress = new ProgressBar(0);
    private final Label status = new Label();
    private final Label runTitle = new Label();
    private final VBox runWords = new VBox(3);
    private final VBox figures = new VBox(6);
    /** The figures' canvases, made once: new ones for each second would cost more than the drawing. */
    private final List<Figure> drawn = new ArrayList<>();
    private final RoundGrid grid;
    private final Timeline redraw = new Timeline();
    private Runnable progressed = () -> {
    };
    private @Nullable Campaign campaign;
    private @Nullable Thread worker;
    private LiveRun live = new LiveRun(() -> {
    });
    private Optional<RunRecord> selected = Optional.empty();
    private int drawnSeconds = -1;

    public MeasureStation(Session session, Look look, CandidatesStation candidates) {
        this.session = session;
        this.look = look;
        this.candidates = candidates;
        grid = new RoundGrid(this::choose);
        var heading = new Label("Measure");
        heading.getStyleClass().add("station-heading");
        begin.getStyleClass().add("accent");
        begin.setId("measure");
        begin.setOnAction(_ -> begin());
        stop.setId("stop-measuring");
        stop.setOnAction(_ -> stop());
        stop.setDisable(true);
        rounds.setEditable(true);
        rounds.setPrefWidth(80);
        rounds.setId("rounds-now");
        rounds.getEditor().setAccessibleText("rounds to measure now");
        rounds.valueProperty().addListener((_, _, _) -> session.state().ifPresent(this::nameAction));
        progress.setPrefWidth(180);
        progress.setVisible(false);
        status.setId("measure-status");
        status.setWrapText(true);
        HBox.setHgrow(status, Priority.ALWAYS);
        var actions = new HBox(8, begin, new Label("rounds"), rounds, stop, progress, status);
        actions.setAlignment(Pos.CENTER_LEFT);
        var scroll = new ScrollPane(grid.view());
        scroll.getStyleClass().add("plain-scroll");
        scroll.setMinWidth(482);
        scroll.setPrefWidth(482);
        runTitle.getStyleClass().add("section-heading");
        runTitle.setId("run-title");
        VBox.setVgrow(figures, Priority.ALWAYS);
        var right = new VBox(6, runTitle, figures, runWords);
        HBox.setHgrow(right, Priority.ALWAYS);
        var columns = new HBox(16, scroll, right);
        VBox.setVgrow(columns, Priority.ALWAYS);
        view.getStyleClass().add("station");
        view.getChildren().addAll(heading, actions, columns);
        redraw.getKeyFrames().add(new KeyFrame(REDRAW, _ -> drawLive()));
        redraw.setCycleCount(Timeline.INDEFINITE);
    }

    @Override
    public String name() {
        return "Measure";
    }

    @Override
    public Node view() {
        return view;
    }

    /** Told on the interface thread when the run under way has moved on. */
    public void onProgress(Runnable listener) {
        progressed = listener;
    }

    private boolean isMeasuring() {
        return worker != null;
    }

    private static int wholeRounds(Session.State state) {
        return Campaign.firstOpenRound(state.study(), state.runs()) - 1;
    }

    @Override
    public String summary(Session.State state) {
        String done = wholeRounds(state) + " of " + Math.max(wholeRounds(state), state.study().plan().rounds())
                + " rounds";
        if (!isMeasuring()) {
            return done;
        }
        LiveRun.Snapshot now = live.snapshot();
        return done + ", run " + now.number() + " of " + now.of() + " now";
    }

    @Override
    public Progress progress(Session.State state) {
        int whole = wholeRounds(state);
        return isMeasuring()
                ? Progress.IN_WORK
                : whole >= state.study().plan().rounds()
                        ? Progress.DONE
                        : state.runs().isEmpty() ? Progress.EMPTY : Progress.IN_WORK;
    }

    @Override
    public void show(Session.State state) {
        nameAction(state);
        Optional<RunRecord> running = isMeasuring() ? live.snapshot().run() : Optional.empty();
        if (!isMeasuring() && selected.isEmpty()) {
            selected = state.presentRuns().stream().filter(run -> run.outcome() != RunOutcome.RUNNING)
                    .max(Comparator.comparing(RunRecord::started));
        }
        grid.show(state, running, selected.map(RunRecord::id));
        if (isMeasuring()) {
            drawnSeconds = -1;
            drawLive();
        } else {
            selected.ifPresentOrElse(run -> open(state, run), () -> {
                runTitle.setText("Nothing measured yet");
                figures.getChildren().clear();
                runWords.getChildren().setAll(words("Press Measure: each candidate is launched, warmed up, measured and"
                        + " stopped in turn, in a random order inside each round.", "fact"));
            });
        }
        if (!state.unreadable().isEmpty()) {
            status.setText(String.join("\n", state.unreadable()));
        }
    }

    private void nameAction(Session.State state) {
        int now = rounds.getValue() == null ? 1 : rounds.getValue();
        begin.setText(now == 1 ? "Measure a round" : "Measure " + now + " rounds");
        begin.setDisable(isMeasuring() || state.study().candidates().isEmpty());
    }

    private void begin() {
        session.state().ifPresent(state -> {
            Optional<String> objection = state.presentRehearsal()
                    .flatMap(one -> one.objection(state.study().agreement()));
            if (objection.isPresent()) {
                status.setText("Nothing was measured: " + objection.get() + ".");
                return;
            }
            var store = new RunFolders(state.file().folder());
            int number = rounds.getValue();
            begin.setDisable(true);
            status.setText("");
            candidates.stopAll(() -> start(state, store, number));
        });
    }

    private void start(Session.State state, RunFolders store, int number) {
        live = new LiveRun(() -> Platform.runLater(session::refresh));
        var made = new Campaign(state.study(), state.file().folder(),
                System.getProperty("kadrem.program", "kadrem"), store, Clock.systemUTC(), live);
        campaign = made;
        selected = Optional.empty();
        drawnSeconds = -1;
        worker = Thread.ofPlatform().name("kadrem-campaign").daemon().start(() -> {
            String end;
            try {
                end = run(state.study(), store, made, number);
            } catch (RuntimeException failure) {
                LOG.error("the measurement ended early", failure);
                end = String.valueOf(failure.getMessage());
            }
            String words = end;
            Platform.runLater(() -> ended(words));
        });
        stop.setDisable(false);
        progress.setVisible(true);
        redraw.play();
        show(state);
    }

    private static String run(Study study, RunFolders store, Campaign campaign, int number) {
        Optional<Long> other = Leftovers.measuredBy(store);
        if (other.isPresent()) {
            return "This study is being measured by another Kadrem (process " + other.get()
                    + "). Wait for it, or stop it.";
        }
        Leftovers.clear(store, Clock.systemUTC().instant());
        int last = Campaign.firstOpenRound(study, store.runs()) + number - 1;
        List<RunRecord> made = campaign.run(last);
        long failed = made.stream().filter(run -> run.outcome() == RunOutcome.FAILED).count();
        boolean stopped = made.stream().anyMatch(run -> run.outcome() == RunOutcome.STOPPED);
        return (stopped
                ? "Stopped; what was measured stays, and Measure goes on from there."
                : made.size() + (made.size() == 1 ? " run made." : " runs made."))
                + (failed > 0 ? " " + failed + " failed: click a crossed cell for the reason." : "");
    }

    private void ended(String words) {
        redraw.stop();
        worker = null;
        campaign = null;
        stop.setDisable(true);
        progress.setVisible(false);
        status.setText(words);
        selected = Optional.empty();
        session.state().ifPresent(this::nameAction);
        session.refresh();
        progressed.run();
    }

    private void stop() {
        Campaign measuring = campaign;
        if (measuring != null) {
            stop.setDisable(true);
            status.setText("Stopping …");
            Thread.ofVirtual().start(measuring::stop);
        }
    }

    private void drawLive() {
        LiveRun.Snapshot now = live.snapshot();
        if (!isMeasuring() || now.run().isEmpty()) {
            return;
        }
        session.state().ifPresent(state -> {
            LoadProfile load = state.study().load();
            double whole = load.warmUp().plus(load.measured()).toSeconds();
            double part = Math.min(1, now.seconds().size() / whole);
            progress.setProgress((now.number() - 1 + part) / Math.max(1, now.of()));
            if (!stop.isDisabled()) {
                status.setText(String.format(Locale.ROOT, "run %d of %d, about %s left", now.number(), now.of(),
                        time(now.left().toSeconds())));
            }
            if (now.seconds().size() != drawnSeconds || now.seconds().isEmpty()) {
                drawnSeconds = now.seconds().size();
                RunRecord run = now.run().get();
                grid.show(state, Optional.of(run), Optional.empty());
                title(state.study(), run, now.seconds().isEmpty() ? now.step() + " …" : "now");
                draw(state.study(), now.seconds());
                runWords.getChildren().setAll(words(happened(state.study(), now.seconds()), "fact"));
                progressed.run();
            }
        });
    }

    private static String time(long seconds) {
        return seconds < 90 ? seconds + " s" : seconds / 60 + " min " + seconds % 60 + " s";
    }

    private void choose(RunRecord run) {
        if (!isMeasuring()) {
            selected = Optional.of(run);
            session.state().ifPresent(this::show);
        }
    }

    /** Shows a run on record; its seconds are read in the background. */
    private void open(Session.State state, RunRecord run) {
        title(state.study(), run, run.outcome().id());
        runWords.getChildren().clear();
        if (!run.reason().isEmpty()) {
            runWords.getChildren().add(words(run.reason(), "problem"));
        }
        run.figures().ifPresent(shown -> runWords.getChildren().add(words(sentence(shown), "fact")));
        run.soundness().stream().filter(finding -> !finding.ok())
                .forEach(finding -> runWords.getChildren().add(words("unsound: " + finding.sentence(), "problem")));
        if (run.isComparable()) {
            runWords.getChildren().add(words("Sound: " + run.soundness().size() + " rules looked at, none broken.",
                    "muted"));
        }
        String output = String.join("\n", run.lastOutput());
        if (!output.isEmpty()) {
            runWords.getChildren().add(words("its last output:\n" + output, "output"));
        }
        Path folder = state.file().folder().resolve("runs").resolve(run.folderName());
        Thread.ofVirtual().start(() -> {
            List<SecondSummary> seconds;
            try {
                seconds = RunReader.seconds(folder);
            } catch (IOException | RuntimeException cause) {
                LOG.warn("the seconds of {} cannot be read", folder, cause);
                seconds = List.of();
            }
            List<SecondSummary> read = seconds;
            Platform.runLater(() -> {
                if (selected.filter(run::equals).isPresent() && !isMeasuring()) {
                    draw(state.study(), read);
                }
            });
        });
    }

    private void title(Study study, RunRecord run, String what) {
        int index = study.indexOf(run.candidate());
        String name = study.candidate(run.candidate()).map(one -> one.name()).orElse(run.candidate());
        runTitle.setGraphic(index < 0 ? null : new CandidateMark(index).marker(6));
        runTitle.setText("Round " + run.round() + ", " + name + ": " + what);
    }

    private void draw(Study study, List<SecondSummary> seconds) {
        FigureTheme theme = FigureTheme.of(look);
        long warmUp = study.load().warmUp().toSeconds();
        long end = warmUp + study.load().measured().toSeconds();
        var charts = new ArrayList<JFreeChart>();
        charts.add(TimeFigure.chart(theme, "calls a second", Wording::significant, seconds, warmUp, end, "",
                Optional.empty(),
                List.of(new TimeFigure.Line("sent", theme.muted(), SecondSummary::sent),
                        new TimeFigure.Line("good", theme.accent(), SecondSummary::good),
                        new TimeFigure.Line("failed", theme.alarm(), SecondSummary::failedTotal))));
        charts.add(TimeFigure.chart(theme, "response time, ms", Wording::significant, seconds, warmUp, end, "",
                Optional.of(new TimeFigure.Band(theme.accent(), second -> second.p50() / 1e6,
                        second -> second.p99() / 1e6)),
                List.of(new TimeFigure.Line("p50", theme.muted(), second -> second.p50() / 1e6),
                        new TimeFigure.Line("p95", theme.accent(), second -> second.p95() / 1e6),
                        new TimeFigure.Line("p99", theme.ink(), second -> second.p99() / 1e6))));
        charts.add(TimeFigure.chart(theme, "generator's delay, ms", Wording::significant, seconds, warmUp, end,
                "seconds since the start of the warm-up", Optional.empty(),
                List.of(new TimeFigure.Line("p99", theme.muted(), second -> second.lagP99() / 1e6))));
        for (int i = 0; i < charts.size(); i++) {
            if (drawn.size() <= i) {
                var figure = new Figure(FIGURE_NAMES.get(i), charts.get(i));
                VBox.setVgrow(figure, Priority.ALWAYS);
                drawn.add(figure);
            } else {
                drawn.get(i).show(charts.get(i));
            }
        }
        if (!figures.getChildren().equals(drawn)) {
            figures.getChildren().setAll(drawn);
        }
    }

    private static String sentence(RunFigures shown) {
        return String.format(Locale.ROOT,
                "%,d calls sent, %,d good, %,d failed; response time p50 %s, p95 %s, p99 %s; throughput %s/s.",
                shown.sent(), shown.good(), shown.failedTotal(), Wording.duration(shown.response().p50()),
                Wording.duration(shown.response().p95()), Wording.duration(shown.response().p99()),
                Wording.significant(shown.throughput()));
    }

    private static String happened(Study study, List<SecondSummary> seconds) {
        if (seconds.isEmpty()) {
            return "No load yet.";
        }
        SecondSummary last = seconds.getLast();
        var failed = new ArrayList<String>();
        for (FailureKind kind : FailureKind.values()) {
            long count = seconds.stream().mapToLong(second -> second.failed().getOrDefault(kind, 0L)).sum();
            if (count > 0) {
                failed.add(count + " " + kind.id());
            }
        }
        boolean warm = last.second() < study.load().warmUp().toSeconds();
        return (warm ? "Warming up; nothing is counted yet. " : "Measuring. ") + last.busy() + " calls under way, "
                + last.backlog() + " arrivals waiting. "
                + (failed.isEmpty() ? "No failures." : "Failed so far: " + String.join(", ", failed) + ".");
    }

    private static Label words(String text, String style) {
        var label = new Label(text);
        label.setWrapText(true);
        label.getStyleClass().add(style);
        return label;
    }

    @Override
    public void close() {
        redraw.stop();
        Campaign measuring = campaign;
        Thread running = worker;
        if (measuring != null && running != null) {
            measuring.stop();
            try {
                running.join(java.time.Duration.ofSeconds(20));
            } catch (InterruptedException _) {
                Thread.currentThread().interrupt();
            }
        }
    }
}
