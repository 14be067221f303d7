package kadrem.desk.examine;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.BiFunction;
import java.util.function.Function;

import javafx.application.Platform;
import javafx.collections.FXCollections;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.CheckMenuItem;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.MenuButton;
import javafx.scene.control.ScrollPane;
import javafx.scene.control.ToggleButton;
import javafx.scene.control.ToggleGroup;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import kadrem.core.examine.RunView;
import kadrem.core.examine.Selection;
import kadrem.core.measure.Exchange;
import kadrem.core.measure.RunRecord;
import kadrem.core.study.Call;
import kadrem.core.study.Written;
import kadrem.desk.Session;
import kadrem.desk.Station;
import kadrem.desk.chart.CourseFigure;
import kadrem.desk.chart.DensityFigure;
import kadrem.desk.chart.Figure;
import kadrem.desk.chart.FigureTheme;
import kadrem.desk.chart.RunLine;
import kadrem.desk.chart.SpreadFigure;
import kadrem.desk.chart.TailFigure;
import kadrem.desk.look.CandidateMark;
import kadrem.desk.look.Look;
import kadrem.files.run.RunReader;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Runs on record, looked at from several sides. Which runs, which calls and which time are chosen once, and every side follows.
 */
public final class ExamineStation implements Station {
    private static final Logger LOG = LoggerFactory.getLogger(ExamineStation.class);
    /** More density maps beside each other could not be read. */
    private static final int MOST_MAPS = 4;
    private static final double FIGURE_CHOICE = 250;

    private final Look look;
    private final VBox view = new VBox(10);
    private final RunChooser chooser = new RunChooser(this::read);
    private final MenuButton calls = new MenuButton("All calls");
    private final Label time = new Label();
    private final Button wholeTime = new Button("Whole run");
    private final Button copy = new Button("Copy table");
    private final Label note = new Label();
    private final VBox side = new VBox(8);
    private final CallTable table = new CallTable();
    private final ErrorsPane errors = new ErrorsPane();
    private final ComboBox<CourseFigures> upper = choice(CourseFigures.values(), CourseFigures.P99, "course-upper");
    private final ComboBox<CourseFigures> lower = choice(CourseFigures.values(), CourseFigures.GOOD, "course-lower");
    private final ComboBox<HostFigures> hostUpper = choice(HostFigures.values(), HostFigures.CANDIDATE_CPU,
            "host-upper");
    private final ComboBox<HostFigures> hostLower = choice(HostFigures.values(), HostFigures.CANDIDATE_MEMORY,
            "host-lower");
    private final Map<Side, ToggleButton> sideToggles = new EnumMap<>(Side.class);
    private Side shown = Side.CALLS;
    private Selection selection = Selection.ALL;
    private Optional<Session.State> state = Optional.empty();
    private List<Read> runs = List.of();
    /** What was read for the present selection, by run. */
    private final Map<String, Read> cache = new HashMap<>();
    private int reading;

    /** A side from which runs are looked at. */
    public enum Side {
        CALLS("Calls"), TAIL("Tail"), SPREAD("Spread"), COURSE("Over time"), DENSITY("Density"), ERRORS(
                "Failures and slowest"), HOSTS("Hosts");

        private final String title;

        Side(String title) {
            this.title = title;
        }
    }

    /** What the files of a run say under a selection. */
    private record Read(RunRecord run, RunView view, List<Exchange> exchanges, Map<String, double[]> host) {
    }

    public ExamineStation(Look look) {
        this.look = look;
        var heading = new Label("Examine");
        heading.getStyleClass().add("station-heading");
        var sides = new ToggleGroup();
        var sideButtons = new FlowPane(4, 4);
        for (Side one : Side.values()) {
            var button = new ToggleButton(one.title);
            button.setId("side-" + one.name().toLowerCase(java.util.Locale.ROOT));
            button.setToggleGroup(sides);
            button.setSelected(one == shown);
            button.setOnAction(_ -> look(one));
            sideToggles.put(one, button);
            sideButtons.getChildren().add(button);
        }
        calls.setId("examine-calls");
        time.setId("examine-time");
        wholeTime.setId("examine-whole");
        wholeTime.setOnAction(_ -> choose(selection.between(0, Integer.MAX_VALUE)));
        copy.setId("copy-calls");
        copy.getStyleClass().add("accent");
        copy.setOnAction(_ -> table.copy());
        var filters = new HBox(10, calls, time, wholeTime, copy);
        filters.setAlignment(Pos.CENTER_LEFT);
        note.setId("examine-note");
        note.setWrapText(true);
        note.getStyleClass().add("muted");
        note.managedProperty().bind(note.textProperty().isNotEmpty());
        VBox.setVgrow(side, Priority.ALWAYS);
        var right = new VBox(10, sideButtons, filters, note, side);
        right.setMinWidth(0);
        HBox.setHgrow(right, Priority.ALWAYS);
        var scroll = new ScrollPane(chooser.view());
        scroll.getStyleClass().add("plain-scroll");
        scroll.setFitToWidth(true);
        scroll.setMinWidth(212);
        scroll.setPrefWidth(212);
        var columns = new HBox(16, scroll, right);
        VBox.setVgrow(columns, Priority.ALWAYS);
        view.getStyleClass().add("station");
        view.getChildren().addAll(heading, columns);
    }

    private <T> ComboBox<T> choice(T[] values, T first, String id) {
        var box = new ComboBox<>(FXCollections.observableArrayList(values));
        box.setValue(first);
        box.setId(id);
        box.setAccessibleText("figure that is drawn");
        box.setOnAction(_ -> draw());
        return box;
    }

    @Override
    public String name() {
        return "Examine";
    }

    @Override
    public Node view() {
        return view;
    }

    @Override
    public String summary(Session.State known) {
        long some = known.presentRuns().stream().filter(run -> run.figures().isPresent()).count();
        return some == 0 ? "no runs yet" : some + (some == 1 ? " run to look at" : " runs to look at");
    }

    @Override
    public Progress progress(Session.State known) {
        return known.presentRuns().stream().anyMatch(run -> run.figures().isPresent())
                ? Progress.DONE
                : Progress.EMPTY;
    }

    @Override
    public void show(Session.State known) {
        boolean other = state.filter(before -> before.file().folder().equals(known.file().folder())
                && before.digest().equals(known.digest())).isEmpty();
        if (other) {
            selection = Selection.ALL;
            cache.clear();
        }
        state = Optional.of(known);
        chooser.show(known);
        fillCalls(known);
        read();
    }

    /** Looks at the chosen runs from another side. */
    public void look(Side other) {
        shown = other;
        ToggleButton toggle = sideToggles.get(other);
        if (toggle != null) {
            toggle.setSelected(true);
        }
        draw();
    }

    private void fillCalls(Session.State known) {
        List<String> names = known.study().workload().calls().stream().map(Call::name).toList();
        if (!calls.getItems().stream().map(item -> item.getText()).toList().equals(names)) {
            calls.getItems().setAll(names.stream().map(name -> {
                var item = new CheckMenuItem(name);
                item.setSelected(selection.has(name));
                item.setOnAction(_ -> leaveOut());
                return item;
            }).toList());
        }
    }

    private void leaveOut() {
        Set<String> without = new HashSet<>();
        calls.getItems().forEach(item -> {
            if (item instanceof CheckMenuItem check && !check.isSelected()) {
                without.add(check.getText());
            }
        });
        choose(selection.without(without));
    }

    /** Looks at other calls or another time. */
    private void choose(Selection other) {
        selection = other;
        cache.clear();
        read();
    }

    private void brush(int from, int before) {
        choose(selection.between(from, before));
    }

    /** Reads the chosen runs in the background, those that are not read yet, and draws them. */
    private void read() {
        state.ifPresent(known -> {
            List<RunRecord> wanted = chooser.chosen(known);
            Selection under = selection;
            // what is no longer looked at is read again when it is wanted: a long run takes some megabytes
            cache.keySet().retainAll(wanted.stream().map(RunRecord::id).toList());
            Map<String, Read> have = new HashMap<>(cache);
            int number = ++reading;
            tellSelection();
            if (wanted.stream().allMatch(run -> have.containsKey(run.id()))) {
                runs = wanted.stream().map(run -> have.get(run.id())).toList();
                note.setText("");
                draw();
                return;
            }
            note.setText("Reading …");
            Path folder = known.file().folder().resolve("runs");
            Thread.ofVirtual().start(() -> {
                var read = new ArrayList<Read>();
                var unread = new ArrayList<String>();
                for (RunRecord run : wanted) {
                    try {
                        Read there = have.get(run.id());
                        read.add(there == null ? read(folder.resolve(run.folderName()), run, under) : there);
                    } catch (IOException | UncheckedIOException | IllegalArgumentException cause) {
                        LOG.warn("the files of run {} cannot be read", run.folderName(), cause);
                        unread.add("runs/" + run.folderName() + " cannot be read (" + cause.getMessage()
                                + ") and is left out here.");
                    }
                }
                Platform.runLater(() -> {
                    if (number == reading) {
                        read.forEach(one -> cache.put(one.run().id(), one));
                        runs = List.copyOf(read);
                        note.setText(String.join("\n", unread));
                        draw();
                    }
                });
            });
        });
    }

    private static Read read(Path folder, RunRecord run, Selection under) throws IOException {
        List<Exchange> exchanges = RunReader.exchanges(folder).stream().filter(one -> under.has(one.call()))
                .filter(one -> under.has((int) Math.floor(Math.max(0, one.dueSeconds())))).toList();
        return new Read(run, RunReader.view(folder, under), exchanges, RunReader.host(folder));
    }

    private void tellSelection() {
        int left = selection.withoutCalls().size();
        calls.setText(left == 0
                ? "All calls"
                : calls.getItems().size() - left + " of " + calls.getItems().size()
                        + " calls");
        wholeTime.setDisable(selection.isWholeTime());
        time.setText(selection.isWholeTime()
                ? "the measured part"
                : "of the measured part, second " + selection.from() + " to " + selection.to());
    }

    private List<RunLine> lines() {
        return state.map(known -> runs.stream().map(one -> {
            int candidate = known.study().indexOf(one.run().candidate());
            return new RunLine(RunChooser.name(candidate, one.run()), new CandidateMark(candidate).awtColour(),
                    one.view());
        }).toList()).orElse(List.of());
    }

    private void draw() {
        if (state.isEmpty()) {
            return;
        }
        copy.setVisible(shown == Side.CALLS);
        if (runs.isEmpty()) {
            var nothing = new Label("No run has figures yet. The Measure station makes runs; then they can be looked at"
                    + " here, call by call and second by second.");
            nothing.setWrapText(true);
            side.getChildren().setAll(nothing);
            return;
        }
        List<RunLine> lines = lines();
        FigureTheme theme = FigureTheme.of(look);
        switch (shown) {
            case CALLS -> {
                table.show(lines);
                side.getChildren().setAll(table.view());
            }
            case TAIL -> figures(new Figure("response time by percentile", TailFigure.chart(theme, lines)));
            case SPREAD -> figures(new Figure("spread of response times", SpreadFigure.chart(theme, lines)));
            case COURSE -> courses(upper, lower, (figure, last) -> course(theme, figure.toString(),
                    one -> figure.points(one.view()), last));
            case DENSITY -> maps(theme, lines);
            case ERRORS -> {
                errors.show(lines, kept());
                side.getChildren().setAll(errors.view());
            }
            case HOSTS -> courses(hostUpper, hostLower, (figure, last) -> course(theme, figure.toString(),
                    one -> figure.points(one.host()), last));
        }
    }

    private List<ErrorsPane.Kept> kept() {
        var kept = new ArrayList<ErrorsPane.Kept>();
        List<RunLine> lines = lines();
        for (int i = 0; i < runs.size(); i++) {
            String name = lines.get(i).name();
            runs.get(i).exchanges().forEach(one -> kept.add(new ErrorsPane.Kept(name, one)));
        }
        return kept;
    }

    private void figures(Node... figures) {
        for (Node figure : figures) {
            VBox.setVgrow(figure, Priority.ALWAYS);
        }
        side.getChildren().setAll(figures);
    }

    private <T> void courses(ComboBox<T> above, ComboBox<T> below, BiFunction<T, Boolean, Figure> figure) {
        above.setPrefWidth(FIGURE_CHOICE);
        below.setPrefWidth(FIGURE_CHOICE);
        var choices = new FlowPane(10, 4, above, below, styled("Drag over a figure to choose a time."));
        choices.setAlignment(Pos.CENTER_LEFT);
        var first = TimeBrush.over(figure.apply(above.getValue(), false), this::brush);
        var second = TimeBrush.over(figure.apply(below.getValue(), true), this::brush);
        VBox.setVgrow(first, Priority.ALWAYS);
        VBox.setVgrow(second, Priority.ALWAYS);
        side.getChildren().setAll(choices, first, second);
    }

    private static Label styled(String text) {
        var label = new Label(text);
        label.getStyleClass().add("muted");
        return label;
    }

    private Figure course(FigureTheme theme, String title, Function<Read, List<double[]>> points,
            boolean last) {
        List<RunLine> lines = lines();
        var courses = new ArrayList<CourseFigure.Course>();
        for (int i = 0; i < runs.size(); i++) {
            courses.add(new CourseFigure.Course(lines.get(i).name(), lines.get(i).colour(),
                    points.apply(runs.get(i))));
        }
        return new Figure(title, CourseFigure.chart(theme, title, Written::significant, courses, warmUp(), end(),
                chosenTime(), last));
    }

    private void maps(FigureTheme theme, List<RunLine> lines) {
        List<RunLine> some = lines.subList(0, Math.min(MOST_MAPS, lines.size()));
        var filled = new TreeMap<Integer, Integer>();
        some.forEach(line -> {
            int[] bins = line.view().density().filled();
            if (bins[0] < bins[1]) {
                filled.put(bins[0], bins[1]);
            }
        });
        int[] bins = filled.isEmpty()
                ? new int[]{0, 0}
                : new int[]{filled.firstKey(), filled.values().stream().mapToInt(Integer::intValue).max().orElse(0)};
        List<Node> maps = new ArrayList<>();
        for (RunLine line : some) {
            maps.add(TimeBrush.over(new Figure("density of response times, " + line.name(),
                    DensityFigure.chart(theme, line, bins, warmUp(), end(), chosenTime(), line == some.getLast())),
                    this::brush));
        }
        maps.forEach(map -> VBox.setVgrow(map, Priority.ALWAYS));
        side.getChildren().setAll(maps);
        if (some.size() < lines.size()) {
            side.getChildren().add(styled("The first " + MOST_MAPS + " of " + lines.size() + " runs."));
        }
    }

    private long warmUp() {
        return state.map(known -> known.study().load().course().search().isPresent()
                ? 0
                : known.study().load().warmUp().toSeconds()).orElse(0L);
    }

    /** The last second that any of the runs has. */
    private long end() {
        return runs.stream().flatMap(one -> one.view().seconds().stream())
                .mapToLong(second -> second.second() + 1L).max().orElse(1);
    }

    private Optional<double[]> chosenTime() {
        return selection.isWholeTime()
                ? Optional.empty()
                : Optional.of(new double[]{selection.from(), Math.min(selection.to(), end())});
    }
}
