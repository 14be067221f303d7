package kadrem.desk.measure;

import java.io.IOException;
import java.nio.file.Path;
import java.time.Clock;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.stream.Collectors;

import javafx.application.Platform;
import javafx.beans.binding.Bindings;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.CheckMenuItem;
import javafx.scene.control.Label;
import javafx.scene.control.MenuButton;
import javafx.scene.control.MenuItem;
import javafx.scene.control.ProgressBar;
import javafx.scene.control.ScrollPane;
import javafx.scene.control.Spinner;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;
import kadrem.core.examine.Occurrence;
import kadrem.core.examine.Occurrences;
import kadrem.core.examine.WatchView;
import kadrem.core.measure.Capacity;
import kadrem.core.measure.FailureKind;
import kadrem.core.measure.RunOutcome;
import kadrem.core.measure.RunRecord;
import kadrem.core.measure.Standing;
import kadrem.core.measure.LatencySummary;
import kadrem.core.measure.SecondSummary;
import kadrem.core.study.Candidate;
import kadrem.core.study.LevelSearch;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Metric;
import kadrem.core.study.Study;
import kadrem.core.study.Written;
import kadrem.core.verdict.Comparison;
import kadrem.core.verdict.NoiseFloor;
import kadrem.desk.Session;
import kadrem.desk.Station;
import kadrem.desk.candidates.CandidatesStation;
import kadrem.desk.candidates.ConsentQuestion;
import kadrem.figures.CourseFigure;
import kadrem.desk.chart.Figure;
import kadrem.figures.RightAxis;
import kadrem.figures.FigureTheme;
import kadrem.figures.TimeFigure;
import kadrem.desk.look.CandidateMark;
import kadrem.desk.look.Look;
import kadrem.desk.run.RunStory;
import kadrem.desk.run.SourceMarks;
import kadrem.files.run.StudyLock;
import kadrem.files.run.RunFolders;
import kadrem.files.run.RunReader;
import kadrem.load.campaign.Campaign;
import kadrem.load.campaign.Leftovers;
import kadrem.load.campaign.LiveMetrics;
import kadrem.load.campaign.SelfCheck;
import kadrem.load.campaign.Sittings;
import kadrem.load.drive.UnusableCall;
import kadrem.load.engine.LoadMaker;
import kadrem.load.generator.GeneratorProcess;
import kadrem.load.host.HostSources;
import kadrem.load.host.local.OwnHost;
import org.jfree.chart.JFreeChart;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** The grid of rounds filling up, and the run in progress or the one chosen, over one time axis. */
public final class MeasureStation implements Station, AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger(MeasureStation.class);
    /** The display must not slow the generator: it looks four times a second, and draws when there is something new. */
    private static final long LOOK_MILLIS = 250;
    private static final double STORY_HEIGHT = 250;
    /** Names that find room at the end of a line. */
    private static final Map<String, String> SHORT_NAMES = Map.of(HostSources.CANDIDATE, "cand.", OwnHost.NAME, "host",
            LiveRun.LANES.source(), "gen.");
    /** The deeper look takes at most one part in so many of the time. */
    private static final long DEEPER_SHARE = 50;
    private static final List<String> FIGURE_NAMES = List.of("calls sent and answered each second",
            "response time each second", "parts of a response time each second: late, waiting, service",
            "processors each second");

    private final Session session;
    private final Look look;
    private final CandidatesStation candidates;
    private final VBox view = new VBox(10);
    private final Button begin = new Button("Measure");
    private final Button again = new Button("A further sitting");
    private final Button stop = new Button("Stop");
    private final Spinner<Integer> rounds = new Spinner<>(1, 200, 2);
    private final ProgressBar progress = new ProgressBar(0);
    private final Label status = new Label();
    private final Label outcome = new Label();
    private final Label runTitle = new Label();
    private final RunStory story;
    private final MenuButton floor = new MenuButton("Noise floor");
    private final VBox floorWords = new VBox(3);
    private final VBox figures = new VBox(6);
    private final FlowPane sources = new FlowPane(6, 2);
    /** The figures' canvases, made once: new ones for each second would cost more than the drawing. */
    private final List<Figure> drawn = new ArrayList<>();
    private final RoundGrid grid;
    /** Looks for news while something is measured. No animation, which would have the window pulse sixty times a second. */
    private @Nullable ScheduledExecutorService looking;
    private Runnable progressed = () -> {
    };
    private volatile @Nullable Campaign campaign;
    private @Nullable Thread worker;
    private volatile boolean stopping;
    private LiveRun live = new LiveRun(() -> {
    });
    private Optional<RunRecord> selected = Optional.empty();
    private int drawnSeconds = -1;
    /** What is being measured: the study that the window shows, or another one made from it. */
    private volatile @Nullable Job job;
    private DrawingPace pace = DrawingPace.ofWindow();
    private final MenuButton hands = new MenuButton("This run");
    private final CheckMenuItem serve = new CheckMenuItem("Serve live figures to a dashboard");
    private LiveMetrics metrics = new LiveMetrics(live);
    private final CheckMenuItem hold = new CheckMenuItem("Wait after this run");
    private Deeper deeper = Deeper.NOTHING;
    private boolean lookingDeeper;
    private long deeperFrom = System.nanoTime();

    /** What was found in a run under way by a look that takes more than a moment. */
    private record Deeper(String run, WatchView watch, List<Occurrence> occurrences) {
        private static final Deeper NOTHING = new Deeper("", WatchView.NOTHING, List.of());
    }

    public MeasureStation(Session session, Look look, CandidatesStation candidates) {
        this.session = session;
        this.look = look;
        this.candidates = candidates;
        grid = new RoundGrid(this::choose);
        story = new RunStory(session, why -> status.setText(why + " The study keeps its last good state."));
        floor.setId("noise-floor");
        floor.setTooltip(new Tooltip("Measures a candidate against itself: so much differs without a difference"));
        var heading = new Label("Measure");
        heading.getStyleClass().add("station-heading");
        begin.getStyleClass().add("accent");
        begin.setId("measure");
        begin.setOnAction(_ -> begin(state -> {
            var ofStudy = new Job.OfStudy(state, rounds.getValue());
            return _ -> ofStudy;
        }, _ -> {
        }));
        again.setId("measure-again");
        again.setTooltip(new Tooltip(
                "Measures the plan once more: on another day, after the system was started anew, or on another host."
                        + " When three sittings are through, and six, and twelve, what is said is said over sittings."));
        again.setOnAction(_ -> measureAgain());
        again.managedProperty().bind(again.visibleProperty());
        stop.setId("stop-measuring");
        stop.setOnAction(_ -> stop());
        stop.setDisable(true);
        hands.setId("campaign-hands");
        hands.setDisable(true);
        hands.setTooltip(new Tooltip("What can be done with the runs that are being made"));
        hands.getItems().addAll(hand("skip-run", "Skip this run", Campaign::skip),
                hand("redo-run", "Give this run up and make it again", Campaign::redo), hold,
                hand("add-round", "Add a round", measuring -> measuring.addRounds(1)), serve);
        serve.setId("serve-metrics");
        serve.setOnAction(_ -> serve());
        hold.setId("hold-campaign");
        hold.setOnAction(_ -> withCampaign(measuring -> measuring.hold(hold.isSelected())));
        rounds.setEditable(true);
        rounds.setPrefWidth(80);
        rounds.setId("rounds-now");
        rounds.getEditor().setAccessibleText("rounds to measure now");
        rounds.valueProperty().addListener((_, _, _) -> session.state().ifPresent(this::nameAction));
        progress.setPrefWidth(100);
        progress.setVisible(false);
        status.setId("measure-status");
        status.setWrapText(true);
        HBox.setHgrow(status, Priority.ALWAYS);
        outcome.setId("measure-outcome");
        outcome.setWrapText(true);
        outcome.setMinHeight(Region.USE_PREF_SIZE);
        outcome.managedProperty().bind(outcome.textProperty().isNotEmpty());
        var actions = new HBox(8, begin, new Label("rounds"), rounds, again, stop, hands, floor);
        actions.setAlignment(Pos.CENTER_LEFT);
        actions.getChildren().forEach(one -> ((Region) one).setMinWidth(Region.USE_PREF_SIZE));
        progress.setMinWidth(Region.USE_PREF_SIZE);
        actions.getChildren().addAll(progress, status);
        var scroll = new ScrollPane(new VBox(10, grid.view(), floorWords));
        scroll.getStyleClass().add("plain-scroll");
        scroll.setFitToWidth(true);
        scroll.setMinWidth(482);
        scroll.setPrefWidth(482);
        var storyScroll = new ScrollPane(story.view());
        storyScroll.getStyleClass().add("plain-scroll");
        storyScroll.setFitToWidth(true);
        storyScroll.setMaxHeight(STORY_HEIGHT);
        story.view().heightProperty().addListener((_, _, height) -> storyScroll
                .setMinHeight(Math.min(STORY_HEIGHT, height.doubleValue() + 6)));
        runTitle.getStyleClass().add("section-heading");
        runTitle.setId("run-title");
        VBox.setVgrow(figures, Priority.ALWAYS);
        sources.setId("live-sources");
        sources.managedProperty().bind(Bindings.isNotEmpty(sources.getChildren()));
        var right = new VBox(6, runTitle, figures, sources, storyScroll);
        HBox.setHgrow(right, Priority.ALWAYS);
        var columns = new HBox(16, scroll, right);
        VBox.setVgrow(columns, Priority.ALWAYS);
        view.getStyleClass().add("station");
        view.getChildren().addAll(heading, actions, outcome, columns);
    }

    private MenuItem hand(String id, String words, Consumer<Campaign> action) {
        var item = new MenuItem(words);
        item.setId(id);
        item.setOnAction(_ -> withCampaign(action));
        return item;
    }

    private void withCampaign(Consumer<Campaign> action) {
        Campaign measuring = campaign;
        if (measuring != null) {
            Thread.ofVirtual().start(() -> action.accept(measuring));
        }
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
        showFloor(state);
        if (!isMeasuring() && selected.isEmpty()) {
            selected = state.presentRuns().stream().filter(run -> run.outcome() != RunOutcome.RUNNING)
                    .max(Comparator.comparing(RunRecord::started));
        }
        grid.show(state, running(), selected.map(RunRecord::id));
        if (isMeasuring()) {
            drawnSeconds = -1;
            drawLive();
        } else {
            selected.ifPresentOrElse(run -> open(state, run), () -> {
                runTitle.setGraphic(null);
                runTitle.setText("Nothing measured yet");
                sources.getChildren().clear();
                figures.getChildren().clear();
                story.say("Press Measure: each candidate is launched, warmed up, measured and stopped in turn, in a"
                        + " random order inside each round.", "fact");
            });
        }
        if (!state.unreadable().isEmpty()) {
            status.setText(String.join("\n", state.unreadable()));
        }
    }

    /** Runs of the study that are under way. */
    private List<RunRecord> running() {
        Job measured = job;
        return measured != null && measured.isOfStudy() ? live.snapshot().underWay() : List.of();
    }

    private void showFloor(Session.State state) {
        floor.setDisable(isMeasuring() || state.study().candidates().isEmpty());
        floor.getItems().setAll(state.study().candidates().stream().map(candidate -> {
            var item = new MenuItem(candidate.name() + " against itself");
            item.setId("floor-" + candidate.id());
            item.setOnAction(_ -> begin(given -> {
                var ofFloor = new Job.OfFloor(given, candidate.id(), rounds.getValue());
                return _ -> ofFloor;
            }, _ -> {
            }));
            return item;
        }).toList());
        floorWords.getChildren().clear();
        state.floor().ifPresent(known -> {
            String name = state.study().candidate(known.candidate()).map(Candidate::name).orElse(known.candidate());
            floorWords.getChildren().add(RunStory.words("Noise floor, " + name + " against itself over "
                    + known.rounds() + " rounds: " + known.floors().stream()
                            .filter(one -> one.metric() != Metric.ERROR_SHARE)
                            .map(one -> one.metric().id() + " " + NoiseFloor.words(one.metric(), one.size()))
                            .collect(Collectors.joining(", "))
                    + ".", "fact"));
            known.marginsBelow(state.study().question())
                    .forEach(sentence -> floorWords.getChildren().add(RunStory.words(sentence, "problem")));
        });
    }

    private void nameAction(Session.State state) {
        int now = rounds.getValue() == null ? 1 : rounds.getValue();
        begin.setText(now == 1 ? "Measure a round" : "Measure " + now + " rounds");
        begin.setDisable(isMeasuring() || state.study().candidates().isEmpty());
        Comparison.Progress progress = state.comparison().progress();
        boolean measured = progress.measured() >= progress.planned() && progress.measured() > 0;
        begin.setTooltip(measured && progress.look().isOneOfSeveral()
                ? new Tooltip("The plan is through. Gone on with, the study is judged again at "
                        + progress.look().nextWords()
                        + (progress.look().isOfSittings()
                                ? ", "
                                : ", " + (progress.look().next() - progress.measured() - progress.waiting())
                                        + " more, ")
                        + "by what is kept back of the significance; a further sitting on another day says more.")
                : null);
        again.setVisible((measured || state.comparison().allSittings().size() > 1) && !state.study().isElsewhere());
        again.setDisable(isMeasuring());
    }

    /** Begins a further sitting, or goes on with the present one, unless something is to be said against it. */
    private void measureAgain() {
        session.state().ifPresent(state -> {
            again.setDisable(true);
            // what this host is takes a moment to find out
            Thread.ofVirtual().start(() -> {
                Sittings.Further further = Sittings.further(state.study(), state.runs());
                Platform.runLater(() -> measure(further));
            });
        });
    }

    private void measure(Sittings.Further further) {
        again.setDisable(isMeasuring());
        if (further.objection().isPresent()) {
            status.setText(further.objection().get());
            return;
        }
        if (further.rounds() == 0) {
            status.setText("All rounds of this sitting are measured.");
            return;
        }
        begin(state -> {
            var ofStudy = new Job.OfStudy(state, further.rounds());
            return _ -> ofStudy;
        }, _ -> {
        });
        if (again.isDisabled()) {
            // it has begun
            outcome.setText(further.changes().isEmpty()
                    ? further.words()
                    : further.words() + " Changed since the first run: " + String.join("; ", further.changes()) + ".");
        }
    }

    /**
     * Measures two versions of a candidate beside each other, and keeps them in the study's history.
     *
     * @param told given, on the interface thread, what came of it
     */
    public void measure(TwoVersions asked, Consumer<String> told) {
        begin(state -> step -> Job.OfVersions.ready(state.file(), asked, step), told);
    }

    private void begin(Function<Session.State, Job.Order> what, Consumer<String> told) {
        session.state().filter(_ -> !isMeasuring()).ifPresent(state -> {
            Optional<String> objection = ConsentQuestion.objection(state).or(() -> state.presentRehearsal()
                    .flatMap(one -> one.objection(state.study().agreement())));
            if (objection.isPresent()) {
                status.setText("Nothing was measured: " + objection.get() + ".");
                told.accept(status.getText());
                return;
            }
            begin.setDisable(true);
            floor.setDisable(true);
            again.setDisable(true);
            status.setText("");
            outcome.setText("");
            candidates.stopAll(() -> start(state, what.apply(state), told));
        });
    }

    private void start(Session.State state, Job.Order order, Consumer<String> told) {
        var now = new LiveRun(() -> Platform.runLater(session::refresh));
        var figuresOf = new LiveMetrics(now);
        live = now;
        metrics = figuresOf;
        selected = Optional.empty();
        drawnSeconds = -1;
        stopping = false;
        pace = DrawingPace.ofWindow();
        worker = Thread.ofPlatform().name("kadrem-campaign").daemon().start(() -> {
            Ended end;
            try {
                end = measure(state, order, now, figuresOf);
            } catch (InterruptedException _) {
                end = new Ended("Stopped before the first run.", "");
            } catch (IOException cause) {
                LOG.warn("what was to be measured", cause);
                end = new Ended("Nothing was measured.", "It cannot be: " + cause.getMessage());
            } catch (RuntimeException failure) {
                LOG.error("the measurement ended early", failure);
                end = new Ended("The measurement ended early.", String.valueOf(failure.getMessage()));
            }
            Ended how = end;
            Platform.runLater(() -> {
                ended(how);
                told.accept(how.all());
            });
        });
        stop.setDisable(false);
        hands.setDisable(false);
        hold.setSelected(false);
        serve.setSelected(false);
        deeper = Deeper.NOTHING;
        progress.setVisible(true);
        var look = Executors.newSingleThreadScheduledExecutor(
                Thread.ofPlatform().name("kadrem-live-view").daemon().factory());
        look.scheduleAtFixedRate(() -> Platform.runLater(this::drawLive), LOOK_MILLIS, LOOK_MILLIS,
                TimeUnit.MILLISECONDS);
        looking = look;
        show(state);
    }

    /** What load this machine can make is found out once for a load, and kept with its runs. */
    private void checkMachine(Session.State state, LoadMaker maker, Campaign campaign, LiveRun live) {
        Optional<Capacity> known = session.capacity(state);
        if (known.isEmpty()) {
            live.prepare("checking what load this machine can make");
            try {
                known = SelfCheck.of(maker, state.study(), state.file().folder(), state.presentRehearsal());
                known.ifPresent(found -> Platform.runLater(() -> session.keepCapacity(state, found)));
            } catch (UnusableCall cause) {
                // told again, with the candidate, by the first run
                LOG.warn("no self-check", cause);
            }
        }
        known.ifPresent(campaign::keep);
    }

    /**
     * How a measurement ended.
     *
     * @param words a few words
     * @param follows what follows from its runs, or why there are none; empty where nothing is to be added
     */
    private record Ended(String words, String follows) {
        private String all() {
            return follows.isEmpty() ? words : words + " " + follows;
        }
    }

    private Ended measure(Session.State state, Job.Order order, LiveRun now, LiveMetrics figuresOf)
            throws IOException, InterruptedException {
        try (StudyLock _ = StudyLock.take(state.file().folder());
                Job ready = order.ready(now::prepare);
                var generator = new GeneratorProcess()) {
            job = ready;
            var made = new Campaign(ready.study(), state.file().folder(),
                    System.getProperty("kadrem.program", "kadrem"), generator,
                    ready.store(), Clock.systemUTC(), figuresOf);
            campaign = made;
            if (Thread.interrupted() || stopping) {
                throw new InterruptedException();
            }
            checkMachine(state, generator, made, now);
            now.prepare("making the generator's own code quick");
            made.warmUp(state.presentRehearsal());
            String words = run(ready, made);
            try {
                return new Ended(words, made.wasStopped() ? "" : ready.told());
            } catch (IOException cause) {
                LOG.warn("what follows from the runs", cause);
                return new Ended(words, "What follows from them could not be kept: " + cause.getMessage());
            }
        }
    }

    private static String run(Job job, Campaign campaign) {
        Leftovers.clear(job.store(), Clock.systemUTC().instant());
        List<RunRecord> made = campaign.run(job.lastRound());
        long failed = made.stream().filter(run -> run.outcome() == RunOutcome.FAILED).count();
        long ruled = made.stream().filter(run -> run.outcome() == RunOutcome.ENDED_BY_RULE).count();
        long disturbed = made.stream().filter(run -> run.standing() instanceof Standing.Disturbed).map(RunRecord::round)
                .distinct().count();
        boolean stopped = campaign.wasStopped() && ruled == 0 && campaign.gaveUp().isEmpty();
        return (stopped
                ? "Stopped; what was measured stays, and Measure goes on from there."
                : made.size() + (made.size() == 1 ? " run made." : " runs made."))
                + made.stream().filter(run -> run.outcome() == RunOutcome.FAILED).findFirst()
                        .map(run -> " " + failed + " failed, the first because " + run.reason() + ".").orElse("")
                + made.stream().filter(run -> run.standing() instanceof Standing.OfCandidate)
                        .filter(run -> run.outcome() != RunOutcome.ENDED_BY_RULE).findFirst()
                        .map(run -> " Round " + run.round() + ", " + run.candidate() + ": "
                                + ((Standing.OfCandidate) run.standing()).words() + ", which is a result.")
                        .orElse("")
                + (ruled > 0 ? " " + ruled + " ended by a stop rule." : "")
                + (disturbed > 0
                        ? " " + disturbed + (disturbed == 1 ? " round was" : " rounds were")
                                + " disturbed and set aside; others were added."
                        : "")
                + (campaign.gaveUp().isPresent() ? " It was ended, since every run failed for the same reason." : "");
    }

    /** Begins or ends to serve the figures of the runs that are being made, on a free port of loopback. */
    private void serve() {
        if (!serve.isSelected()) {
            metrics.close();
            status.setText("Live figures are not served any more.");
            return;
        }
        try {
            status.setText("Live figures (OpenMetrics): " + metrics.serve(0));
        } catch (IOException cause) {
            serve.setSelected(false);
            status.setText("Live figures cannot be served: " + cause.getMessage());
        }
    }

    private void ended(Ended how) {
        metrics.close();
        stopLooking();
        worker = null;
        campaign = null;
        job = null;
        stop.setDisable(true);
        hands.setDisable(true);
        progress.setVisible(false);
        status.setText(how.words());
        outcome.setText(how.follows());
        selected = Optional.empty();
        session.state().ifPresent(this::show);
        session.refresh();
        progressed.run();
    }

    private void stopLooking() {
        ScheduledExecutorService look = looking;
        if (look != null) {
            look.shutdownNow();
            looking = null;
        }
    }

    private void stop() {
        Campaign measuring = campaign;
        Thread preparing = worker;
        if (preparing != null) {
            stop.setDisable(true);
            status.setText("Stopping …");
            stopping = true;
            if (measuring != null) {
                Thread.ofVirtual().start(measuring::stop);
            } else {
                preparing.interrupt();
            }
        }
    }

    private void drawLive() {
        LiveRun.Snapshot now = live.snapshot();
        if (!isMeasuring()) {
            return;
        }
        if (now.run().isEmpty()) {
            runTitle.setGraphic(null);
            runTitle.setText(now.step().isEmpty() ? "Beginning …" : now.step() + " …");
            return;
        }
        Job measured = job;
        session.state().ifPresent(state -> {
            Study study = measured == null ? state.study() : measured.study();
            LoadProfile load = study.load();
            long instant = System.nanoTime();
            if ((now.seconds().size() != drawnSeconds || now.seconds().isEmpty()) && pace.mayDraw(instant)) {
                pace.drawing(instant);
                drawnSeconds = now.seconds().size();
                double whole = Math.max(1, lastSecond(load));
                double part = Math.min(1, now.seconds().size() / whole);
                progress.setProgress((now.number() - 1 + part) / Math.max(1, now.of()));
                if (!stop.isDisabled()) {
                    status.setText(String.format(Locale.ROOT, "run %d of %d, about %s left", now.number(), now.of(),
                            time(now.left().toSeconds())));
                }
                RunRecord run = now.run().get();
                grid.show(state, running(), Optional.empty());
                boolean atLevel = load.course().search().isPresent() || now.seconds().isEmpty();
                title(study, run, atLevel ? now.step() + " …" : "now");
                lookDeeper(study, run, now.seconds());
                boolean known = deeper.run().equals(run.id());
                draw(study, now.seconds(), known ? deeper.watch() : WatchView.NOTHING);
                sources.getChildren().setAll(known ? SourceMarks.of("", deeper.watch()) : List.of());
                story.say(told(study, now, known ? deeper.occurrences() : List.of()), "fact");
                progressed.run();
            }
        });
    }

    /** The longest that a run of this load can take. */
    private static long lastSecond(LoadProfile load) {
        return load.total().toSeconds() * load.course().search().map(LevelSearch::most).orElse(1);
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
        sources.getChildren().clear();
        title(state.study(), run, run.outcome().id());
        story.show(state, run);
        Path folder = state.file().folder().resolve("runs").resolve(run.folderName());
        Thread.ofVirtual().start(() -> {
            List<SecondSummary> seconds = List.of();
            WatchView watch = WatchView.NOTHING;
            try {
                seconds = RunReader.seconds(folder);
                watch = RunReader.watch(folder);
            } catch (IOException | RuntimeException cause) {
                LOG.warn("the seconds of {} cannot be read", folder, cause);
            }
            List<SecondSummary> read = seconds;
            WatchView seen = watch;
            Platform.runLater(() -> {
                if (selected.filter(run::equals).isPresent() && !isMeasuring()) {
                    draw(state.study(), read, seen);
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

    private void draw(Study study, List<SecondSummary> seconds, WatchView watch) {
        FigureTheme theme = look.figures();
        boolean search = study.load().course().search().isPresent();
        long warmUp = search ? 0 : study.load().warmUp().toSeconds();
        long end = search || study.load().course().visits().isPresent()
                ? seconds.isEmpty() ? lastSecond(study.load()) : seconds.getLast().second() + 1L
                : lastSecond(study.load());
        var charts = new ArrayList<JFreeChart>();
        charts.add(TimeFigure.chart(theme, "calls a second", Written::significant, seconds, warmUp, end, "",
                Optional.empty(),
                List.of(new TimeFigure.Line("sent", theme.muted(), SecondSummary::sent),
                        new TimeFigure.Line("good", theme.accent(), SecondSummary::good),
                        new TimeFigure.Line("failed", theme.alarm(), SecondSummary::failedTotal))));
        RightAxis.add(theme, charts.getFirst(),
                study.load() instanceof LoadProfile.Open ? "under way - -" : "waiting - -",
                List.of(new CourseFigure.Course("", theme.muted(), seconds.stream()
                        .filter(second -> second.second() < end)
                        .map(second -> new double[]{second.second() + 0.5, second.busy()}).toList())));
        charts.add(TimeFigure.chart(theme, "response, ms", Written::significant, seconds, warmUp, end, "",
                Optional.of(new TimeFigure.Band(theme.accent(), second -> LatencySummary.millis(second.p50()),
                        second -> LatencySummary.millis(second.p99()))),
                List.of(new TimeFigure.Line("p50", theme.muted(), second -> LatencySummary.millis(second.p50())),
                        new TimeFigure.Line("p95", theme.accent(), second -> LatencySummary.millis(second.p95())),
                        new TimeFigure.Line("p99", theme.ink(), second -> LatencySummary.millis(second.p99())))));
        List<CourseFigure.Course> processors = processors(theme, watch);
        charts.add(TimeFigure.chart(theme, "its parts, ms", Written::significant, seconds, warmUp, end,
                processors.isEmpty() ? "seconds since the start of the warm-up" : "", Optional.empty(),
                List.of(new TimeFigure.Line("late", theme.alarm(), second -> second.parts().late() / 1e6),
                        new TimeFigure.Line("waiting", theme.muted(), second -> second.parts().waiting() / 1e6),
                        new TimeFigure.Line("service", theme.accent(), second -> second.parts().service() / 1e6))));
        // runs from before hosts were watched have none
        if (!processors.isEmpty()) {
            charts.add(CourseFigure.chart(theme, "CPU, %", Written::significant, processors, warmUp, end,
                    Optional.empty(), List.of(), CourseFigure.Style.lines(true)));
        }
        charts.stream().skip(1).forEach(RightAxis::leaveRoom);
        for (int i = 0; i < charts.size(); i++) {
            if (drawn.size() <= i) {
                var figure = new Figure(FIGURE_NAMES.get(i), charts.get(i));
                VBox.setVgrow(figure, Priority.ALWAYS);
                drawn.add(figure);
            } else {
                drawn.get(i).show(charts.get(i));
            }
        }
        List<Figure> wanted = drawn.subList(0, charts.size());
        if (!figures.getChildren().equals(wanted)) {
            figures.getChildren().setAll(wanted);
        }
    }

    /** Candidate and generator in per cent of a core, this host in per cent of all its processors. */
    private static List<CourseFigure.Course> processors(FigureTheme theme, WatchView watch) {
        return watch.courses().stream().filter(one -> one.series().name().equals("CPU"))
                .filter(one -> Set.of(HostSources.CANDIDATE, OwnHost.NAME, LiveRun.LANES.source())
                        .contains(one.series().source()))
                .map(one -> new CourseFigure.Course(
                        SHORT_NAMES.getOrDefault(one.series().source(), one.series().source()),
                        one.series().source().equals(HostSources.CANDIDATE)
                                ? theme.accent()
                                : one.series().source().equals(OwnHost.NAME) ? theme.muted() : theme.ink(),
                        one.points().stream().filter(point -> point[0] >= 0).toList()))
                .toList();
    }

    /** What takes more than a moment is computed beside the interface thread, and for a small part of the time only. */
    private void lookDeeper(Study study, RunRecord run, List<SecondSummary> seconds) {
        if (lookingDeeper) {
            return;
        }
        lookingDeeper = true;
        LiveRun from = live;
        Deeper before = deeper;
        long due = deeperFrom;
        Thread.ofVirtual().start(() -> {
            long now = System.nanoTime();
            WatchView watch = from.watch(run.id());
            boolean anew = now >= due || !before.run().equals(run.id());
            List<Occurrence> found = seconds.isEmpty()
                    ? List.of()
                    : anew ? Occurrences.of(seconds, watch, frame(study, run)) : before.occurrences();
            long took = System.nanoTime() - now;
            Platform.runLater(() -> {
                lookingDeeper = false;
                deeperFrom = anew ? now + DEEPER_SHARE * took : due;
                deeper = new Deeper(run.id(), watch, found);
            });
        });
    }

    private static Occurrences.Frame frame(Study study, RunRecord run) {
        return new Occurrences.Frame((int) study.load().warmUp().toSeconds(),
                study.load().shape().isFlat() && study.load().course().search().isEmpty(), run.cores(study));
    }

    /** The state of things, what happened so far, and the newest failures. */
    private static String told(Study study, LiveRun.Snapshot now, List<Occurrence> occurrences) {
        var lines = new ArrayList<String>();
        lines.add(happened(study, now.seconds()));
        occurrences.forEach(one -> lines.add("• " + one.sentence() + "."));
        now.failed().forEach(one -> lines.add(String.format(Locale.ROOT, "✕ %.1f s, %s: %s%s", one.dueSeconds(),
                one.call(), one.reason(), one.detail().isEmpty() ? "" : ", " + one.detail())));
        return String.join("\n", lines);
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
        boolean warm = study.load().course().search().isEmpty()
                && last.second() < study.load().warmUp().toSeconds();
        return (warm ? "Warming up; nothing is counted yet. " : "Measuring. ")
                + String.format(Locale.ROOT, "In the last second %,d sent, %,d good; so far %,d sent, %,d good. ",
                        last.sent(), last.good(), seconds.stream().mapToLong(SecondSummary::sent).sum(),
                        seconds.stream().mapToLong(SecondSummary::good).sum())
                + last.busy() + " calls under way, "
                + last.backlog() + " arrivals waiting. "
                + (failed.isEmpty() ? "No failures." : "Failed so far: " + String.join(", ", failed) + ".");
    }

    @Override
    public void close() {
        stopLooking();
        Campaign measuring = campaign;
        Thread running = worker;
        if (running != null) {
            stopping = true;
            if (measuring != null) {
                measuring.stop();
            } else {
                running.interrupt();
            }
            try {
                running.join(java.time.Duration.ofSeconds(20));
            } catch (InterruptedException _) {
                Thread.currentThread().interrupt();
            }
        }
    }
}
