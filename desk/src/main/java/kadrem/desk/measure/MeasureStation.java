package kadrem.desk.measure;

import java.time.Duration;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.function.Consumer;

import javafx.application.Platform;
import javafx.scene.Parent;
import javafx.scene.control.Label;
import javafx.scene.control.ScrollPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import kadrem.core.study.Written;
import kadrem.core.measure.RunOutcome;
import kadrem.core.measure.RunRecord;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.MeasuredStudy;
import kadrem.desk.Session;
import kadrem.desk.Station;
import kadrem.desk.candidates.CandidatesStation;
import kadrem.desk.candidates.ConsentQuestion;
import kadrem.desk.look.Background;
import kadrem.desk.look.Look;
import kadrem.desk.run.RunStory;
import kadrem.work.Ended;
import kadrem.work.Measurement;
import kadrem.work.Measurement.SelfChecking;
import kadrem.work.NotDone;
import kadrem.work.Objection;
import kadrem.work.Order;
import kadrem.work.Preflight;
import kadrem.work.Rounds;
import kadrem.work.Target;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * The grid of rounds filling up, and the run in progress or the one chosen, over one time axis; one file, since it holds the life of one
 * measurement.
 */
public final class MeasureStation implements Station, AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger(MeasureStation.class);
    /** The display must not slow the generator: it looks four times a second, and draws when there is something new. */
    private static final Duration LOOK = Duration.ofMillis(250);
    /** Longer than a stop takes, in which a candidate is given time to end. */
    private static final Duration MAX_STOP = Duration.ofSeconds(20);

    /** Room for the runs of three candidates; where the window is narrow figures and runs share what there is. */
    private static final double GRID = 482;
    private static final double GRID_LEAST = 416;

    private final Session session;
    private final CandidatesStation candidates;
    private final VBox view = new VBox(10);
    private final MeasureControls controls;
    private final FloorPane floor;
    private final LiveView run;
    private final RoundGrid grid;
    private Runnable progressed = () -> {
    };
    private @Nullable Work work;
    private Optional<Runnable> then = Optional.empty();
    private Optional<RunRecord> selected = Optional.empty();
    private int drawnSeconds = -1;
    private DrawingPace pace = DrawingPace.ofWindow();

    /** A measurement under way, and the clock by which its news are looked for. */
    private record Work(Measurement measurement, LiveRun live, Background.Running thread, Background.Clock clock) {
    }

    public MeasureStation(Session session, Look look, CandidatesStation candidates) {
        this.session = session;
        this.candidates = candidates;
        floor = new FloorPane(candidate -> session.state().ifPresent(state -> begin(state,
                new Order.Floor(state.file(), candidate,
                        new Rounds.Further(Math.max(Order.MIN_FLOOR_ROUNDS, rounds()))),
                _ -> {
                })));
        controls = new MeasureControls(new Hands(), floor);
        grid = new RoundGrid(this::choose);
        run = new LiveView(look,
                new RunStory(session, why -> controls.say(why + " The study keeps its last good state.")));
        var heading = new Label("Measure");
        heading.getStyleClass().add("station-heading");
        var scroll = new ScrollPane(new VBox(10, grid.view(), floor.words()));
        scroll.getStyleClass().add("plain-scroll");
        scroll.setFitToWidth(true);
        scroll.setMinWidth(GRID_LEAST);
        scroll.setPrefWidth(GRID);
        HBox.setHgrow(run.view(), Priority.ALWAYS);
        var columns = new HBox(16, scroll, run.view());
        VBox.setVgrow(columns, Priority.ALWAYS);
        view.getStyleClass().add("station");
        view.getChildren().addAll(heading, controls.actions(), controls.outcome(), columns);
    }

    /** What the user's hands do here. */
    private final class Hands implements MeasureControls.Wishes {
        @Override
        public void measure(int rounds) {
            session.state().ifPresent(state -> begin(state,
                    new Order.OfStudy(state.file(), Optional.of(new Rounds.Further(rounds))), _ -> {
                    }));
        }

        @Override
        public void again() {
            session.state().ifPresent(state -> begin(state, new Order.Again(state.file()), _ -> {
            }));
        }

        @Override
        public void stop() {
            if (work != null) {
                controls.stopping();
                reach(Measurement::stop);
            }
        }

        @Override
        public void reach(Consumer<Measurement> hand) {
            Work now = work;
            if (now != null) {
                Background.AT_ONCE.run(() -> hand.accept(now.measurement()));
            }
        }

        @Override
        public void serve(boolean on) {
            Work now = work;
            if (now == null) {
                return;
            }
            Background.AT_ONCE.run(() -> {
                if (on) {
                    return "Live figures (OpenMetrics): " + now.measurement().serve(0);
                }
                now.measurement().close();
                return "Live figures are not served any more.";
            }, controls::say, cause -> {
                controls.served(false);
                controls.say("Live figures cannot be served: " + cause.getMessage());
            });
        }
    }

    private int rounds() {
        return controls.rounds();
    }

    @Override
    public String name() {
        return "Measure";
    }

    @Override
    public Parent view() {
        return view;
    }

    /** Told on the interface thread when the run under way has moved on. */
    public void onProgress(Runnable listener) {
        progressed = listener;
    }

    private boolean isMeasuring() {
        return work != null;
    }

    @Override
    public String summary(Session.State state) {
        String done = state.wholeRounds() + " of " + Math.max(state.wholeRounds(), state.study().plan().rounds())
                + " rounds";
        Work under = work;
        if (under == null) {
            return done;
        }
        LiveRun.Snapshot now = under.live().snapshot();
        return done + ", run " + now.number() + " of " + now.of() + " now";
    }

    @Override
    public Progress progress(Session.State state) {
        int whole = state.wholeRounds();
        return isMeasuring()
                ? Progress.IN_WORK
                : whole >= state.study().plan().rounds()
                        ? Progress.DONE
                        : state.runs().isEmpty() ? Progress.EMPTY : Progress.IN_WORK;
    }

    @Override
    public void show(Session.State state) {
        controls.show(state, isMeasuring());
        floor.show(state, isMeasuring());
        if (!isMeasuring() && selected.isEmpty()) {
            selected = state.presentRuns().stream().filter(one -> one.outcome() != RunOutcome.RUNNING)
                    .max(Comparator.comparing(RunRecord::started));
        }
        grid.show(state, running(), selected.map(RunRecord::id));
        if (isMeasuring()) {
            drawnSeconds = -1;
            drawLive();
        } else {
            selected.ifPresentOrElse(chosen -> run.showRecord(state, chosen,
                    () -> selected.filter(chosen::equals).isPresent() && !isMeasuring()), run::showNothing);
        }
        if (!state.unreadable().isEmpty()) {
            controls.say(String.join("\n", state.unreadable()));
        }
    }

    /** Runs of the study that are under way. */
    private List<RunRecord> running() {
        Work now = work;
        return now != null && now.live().target().filter(Target.OfStudy.class::isInstance).isPresent()
                ? now.live().snapshot().underWay()
                : List.of();
    }

    /**
     * Measures two versions of a candidate beside each other, and keeps them in the study's history.
     *
     * @param told given, on the interface thread, what came of it
     */
    public void measure(Order.Versions order, Consumer<String> told) {
        session.state().ifPresent(state -> begin(state, order, told));
    }

    /**
     * Measures what of the plan is not measured yet.
     *
     * @param then called on the interface thread when it is through and runs were made
     */
    public void measurePlan(Runnable then) {
        if (!isMeasuring()) {
            this.then = Optional.of(then);
            session.state().ifPresent(state -> begin(state, new Order.OfStudy(state.file(), Optional.empty()), _ -> {
            }));
        }
    }

    private void begin(Session.State state, Order order, Consumer<String> told) {
        if (isMeasuring()) {
            return;
        }
        controls.asked();
        Background.AT_ONCE.run(() -> Preflight.of(order.file()).objection(), objection -> {
            if (objection.isPresent()) {
                refused(objection.get(), told);
            } else {
                candidates.stopAll(() -> start(state, order, told));
            }
        }, cause -> failed(cause, told));
    }

    private void start(Session.State state, Order order, Consumer<String> told) {
        if (isMeasuring()) {
            return;
        }
        var live = new LiveRun(() -> Platform.runLater(session::refresh),
                found -> Platform.runLater(() -> session.keepCapacity(state, found)));
        var measurement = new Measurement(order,
                session.capacity(state).<SelfChecking>map(SelfChecking.Known::new)
                        .orElse(new SelfChecking.Before()),
                live);
        selected = Optional.empty();
        drawnSeconds = -1;
        pace = DrawingPace.ofWindow();
        run.begin();
        Background.Running thread = Background.AT_ONCE.run(measurement::run, ended -> ended(ended, told),
                cause -> failed(cause, told));
        work = new Work(measurement, live, thread, Background.every(LOOK, this::drawLive));
        controls.begun();
        session.state().ifPresent(this::show);
    }

    private void ended(Ended ended, Consumer<String> told) {
        Optional<Runnable> next = then;
        over(ended.words(), ended.follows(), told);
        if (!ended.made().isEmpty() && !ended.stopped()) {
            next.ifPresent(Runnable::run);
        }
    }

    private void refused(Objection objection, Consumer<String> told) {
        over("Nothing was measured.", sentence(ConsentQuestion.words(objection)), told);
    }

    private void failed(Exception cause, Consumer<String> told) {
        switch (cause) {
            case NotDone not -> refused(not.objection(), told);
            case InterruptedException _ -> over("Stopped before the first run.", "", told);
            default -> {
                LOG.error("the measurement ended early", cause);
                over("The measurement ended early.", String.valueOf(cause.getMessage()), told);
            }
        }
    }

    private static String sentence(String clause) {
        return clause.substring(0, 1).toUpperCase(Locale.ROOT) + clause.substring(1)
                + (clause.endsWith(".") ? "" : ".");
    }

    private void over(String words, String follows, Consumer<String> told) {
        then = Optional.empty();
        Work was = work;
        work = null;
        if (was != null) {
            was.measurement().close();
            was.clock().close();
        }
        controls.ended(words, follows);
        selected = Optional.empty();
        session.state().ifPresent(this::show);
        session.refresh();
        progressed.run();
        told.accept(follows.isEmpty() ? words : words + " " + follows);
    }

    private void drawLive() {
        Work under = work;
        if (under == null) {
            return;
        }
        LiveRun.Snapshot now = under.live().snapshot();
        controls.tell(now.notes().stream().map(MeasureStation::sentence).reduce((a, b) -> a + "\n" + b).orElse(""));
        if (now.run().isEmpty()) {
            run.showStep(now.step());
            return;
        }
        session.state().ifPresent(state -> {
            MeasuredStudy study = under.live().target().map(Target::study).orElse(state.measured());
            long instant = System.nanoTime();
            if ((now.seconds().size() != drawnSeconds || now.seconds().isEmpty()) && pace.mayDraw(instant)) {
                pace.drawing(instant);
                drawnSeconds = now.seconds().size();
                tellProgress(study.load(), now);
                grid.show(state, running(), Optional.empty());
                run.showLive(study, now.run().get(), under.live(), now);
                progressed.run();
            }
        });
    }

    private void tellProgress(LoadProfile load, LiveRun.Snapshot now) {
        double part = Math.min(1, now.seconds().size() / (double) Math.max(1, RunCharts.lastSecond(load)));
        controls.progress((now.number() - 1 + part) / Math.max(1, now.of()), String.format(Locale.ROOT,
                "run %d of %d, about %s left", now.number(), now.of(), Written.time(now.left())));
    }

    private void choose(RunRecord chosen) {
        if (!isMeasuring()) {
            selected = Optional.of(chosen);
            session.state().ifPresent(this::show);
        }
    }

    @Override
    public void close() {
        Work now = work;
        if (now != null) {
            now.clock().close();
            now.measurement().stop();
            now.thread().await(MAX_STOP);
        }
    }
}
