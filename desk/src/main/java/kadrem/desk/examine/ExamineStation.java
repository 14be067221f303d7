package kadrem.desk.examine;

import java.util.Arrays;
import java.util.EnumMap;
import java.util.HashMap;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;

import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.Parent;
import javafx.scene.control.Button;
import javafx.scene.control.CheckMenuItem;
import javafx.scene.control.Label;
import javafx.scene.control.MenuButton;
import javafx.scene.control.MenuItem;
import javafx.scene.control.ScrollPane;
import javafx.scene.control.ToggleButton;
import javafx.scene.control.ToggleGroup;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;
import kadrem.core.examine.Selection;
import kadrem.core.measure.FailureKind;
import kadrem.core.measure.RunRecord;
import kadrem.core.study.Call;
import kadrem.desk.Destination;
import kadrem.desk.Session;
import kadrem.desk.Station;
import kadrem.desk.chart.Figure;
import kadrem.figures.SpreadFigure;
import kadrem.figures.TailFigure;
import kadrem.desk.look.Background;
import kadrem.desk.look.Look;
import org.jfree.chart.JFreeChart;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Runs on record, looked at from several sides; one file, since what is chosen once holds for all sides. Which runs, which calls and which
 * time are chosen once, and every side follows.
 */
public final class ExamineStation implements Station {
    private static final Logger LOG = LoggerFactory.getLogger(ExamineStation.class);

    private final Look look;
    private final VBox view = new VBox(10);
    private final RunChooser chooser = new RunChooser(this::read);
    private final MenuButton calls = new MenuButton("All calls");
    private final MenuButton kinds = new MenuButton("All outcomes");
    private final Label time = new Label();
    private final Button wholeTime = new Button("Whole run");
    private final Button copy = new Button("Copy table");
    private final Label note = new Label();
    private final VBox side = new VBox(8);
    private final CallTable table = new CallTable();
    private final Map<Side, ExamineSide> sides = new EnumMap<>(Side.class);
    private final Map<Side, ToggleButton> sideToggles = new EnumMap<>(Side.class);
    private Side shown = Side.CALLS;
    private Selection selection = Selection.ALL;
    private Optional<Session.State> state = Optional.empty();
    private List<Examined> runs = List.of();
    /** What was read for the present selection, by run. */
    private final Map<String, Examined> cache = new HashMap<>();
    private int reading;

    /** A side from which runs are looked at. */
    public enum Side {
        CALLS(Group.CALLS, "Table"), LADDER(Group.CALLS, "Ladder"), TAIL(Group.DISTRIBUTION, "Tail"), SPREAD(
                Group.DISTRIBUTION, "Spread"), BANDS(Group.DISTRIBUTION, "Bands"), DENSITY(Group.TIME,
                        "Density"), COURSE(Group.TIME, "Course"), SCATTER(Group.TIME, "Scatter"), STORY(Group.TIME,
                                "What happened"), ERRORS(Group.FAILURES, "Failures"), HOSTS(Group.HOSTS, "What moved");

        private final Group group;
        private final String title;

        Side(Group group, String title) {
            this.group = group;
            this.title = title;
        }
    }

    /** What a side is about. */
    private enum Group {
        CALLS("calls"), DISTRIBUTION("distribution"), TIME("time"), FAILURES("failures"), HOSTS("hosts");

        private final String title;

        Group(String title) {
            this.title = title;
        }
    }

    public ExamineStation(Session session, Look look) {
        this.look = look;
        sides(session);
        var heading = new Label("Examine");
        heading.getStyleClass().add("station-heading");
        calls.setId("examine-calls");
        time.setId("examine-time");
        wholeTime.setId("examine-whole");
        wholeTime.setOnAction(_ -> choose(selection.between(0, Integer.MAX_VALUE)));
        copy.setId("copy-calls");
        copy.getStyleClass().add("accent");
        copy.setOnAction(_ -> table.copy());
        kinds.setId("examine-kinds");
        for (FailureKind kind : FailureKind.values()) {
            var item = new CheckMenuItem(kind.id());
            item.setSelected(true);
            item.setOnAction(_ -> choose(selection.withoutKinds(unchecked(kinds).stream()
                    .map(id -> Stream.of(FailureKind.values()).filter(one -> one.id().equals(id)).findFirst()
                            .orElseThrow())
                    .collect(Collectors.toSet()))));
            kinds.getItems().add(item);
        }
        var filters = new HBox(10, calls, kinds, time, wholeTime, copy);
        filters.setAlignment(Pos.CENTER_LEFT);
        note.setId("examine-note");
        note.setWrapText(true);
        note.getStyleClass().add("muted");
        note.managedProperty().bind(note.textProperty().isNotEmpty());
        VBox.setVgrow(side, Priority.ALWAYS);
        var right = new VBox(10, sideButtons(), filters, note, side);
        right.setMinWidth(0);
        HBox.setHgrow(right, Priority.ALWAYS);
        var scroll = new ScrollPane(chooser.view());
        scroll.getStyleClass().add("plain-scroll");
        scroll.setFitToWidth(true);
        scroll.setMinWidth(Region.USE_PREF_SIZE);
        var columns = new HBox(16, scroll, right);
        VBox.setVgrow(columns, Priority.ALWAYS);
        view.getStyleClass().add("station");
        view.getChildren().addAll(heading, columns);
    }

    private void sides(Session session) {
        sides.put(Side.CALLS, looked -> {
            table.show(looked.lines(), looked.runs().stream().flatMap(run -> run.calls().stream()).toList());
            return List.of(table.view());
        });
        sides.put(Side.TAIL, looked -> figure("response time by percentile",
                TailFigure.chart(looked.theme(), looked.lines())));
        sides.put(Side.SPREAD, looked -> figure("spread of response times",
                SpreadFigure.chart(looked.theme(), looked.lines())));
        sides.put(Side.BANDS, new BandsSide());
        sides.put(Side.COURSE, CourseSide.overTime(this::draw));
        sides.put(Side.DENSITY, new DensitySide());
        sides.put(Side.SCATTER, CourseSide.against(this::draw));
        sides.put(Side.ERRORS, new ErrorsSide());
        sides.put(Side.HOSTS, new HostsSide());
        sides.put(Side.LADDER, new LadderSide());
        sides.put(Side.STORY, new StorySide(session, note::setText));
    }

    /** The sides, by what they are about. */
    private Node sideButtons() {
        var toggles = new ToggleGroup();
        var groups = new FlowPane(18, 4);
        for (Group group : Group.values()) {
            var buttons = new HBox(4);
            for (Side one : Side.values()) {
                if (one.group == group) {
                    var button = new ToggleButton(one.title);
                    button.setId("side-" + one.name().toLowerCase(java.util.Locale.ROOT));
                    button.setToggleGroup(toggles);
                    button.getStyleClass().add("side-button");
                    button.setSelected(one == shown);
                    button.setAccessibleText(group.title + ": " + one.title);
                    button.setOnAction(_ -> look(one));
                    sideToggles.put(one, button);
                    buttons.getChildren().add(button);
                }
            }
            var title = new Label(group.title);
            title.getStyleClass().add("side-group");
            groups.getChildren().add(new VBox(2, title, buttons));
        }
        return groups;
    }

    private static List<Node> figure(String name, JFreeChart chart) {
        var figure = new Figure(name, chart);
        VBox.setVgrow(figure, Priority.ALWAYS);
        return List.of(figure);
    }

    @Override
    public String name() {
        return "Examine";
    }

    @Override
    public Parent view() {
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
            kinds.getItems().forEach(item -> ((CheckMenuItem) item).setSelected(true));
            cache.clear();
        }
        state = Optional.of(known);
        chooser.show(known);
        fillCalls(known);
        read();
    }

    @Override
    public List<Destination> destinations(Session.State known) {
        return Arrays.stream(Side.values()).map(one -> new Destination(one.title, "Examine, " + one.group.title,
                () -> look(one))).toList();
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
        List<String> names = known.measured().workload().calls().stream().map(Call::name).toList();
        if (!calls.getItems().stream().map(item -> item.getText()).toList().equals(names)) {
            calls.getItems().setAll(names.stream().map(name -> {
                var item = new CheckMenuItem(name);
                item.setSelected(selection.has(name));
                item.setOnAction(_ -> choose(selection.without(unchecked(calls))));
                return item;
            }).toList());
        }
    }

    private static Set<String> unchecked(MenuButton menu) {
        return menu.getItems().stream().filter(item -> item instanceof CheckMenuItem check && !check.isSelected())
                .map(MenuItem::getText).collect(Collectors.toSet());
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
            Map<String, Examined> have = new HashMap<>(cache);
            int number = ++reading;
            tellSelection();
            if (wanted.stream().allMatch(run -> have.containsKey(run.id()))) {
                runs = wanted.stream().map(run -> have.get(run.id())).toList();
                note.setText("");
                draw();
                return;
            }
            note.setText("Reading …");
            Background.AT_ONCE.run(() -> new RunsReading(known, table).readAll(wanted, have, under), read -> {
                if (number == reading) {
                    read.runs().forEach(one -> cache.put(one.run().id(), one));
                    runs = read.runs();
                    note.setText(String.join("\n", read.problems()));
                    draw();
                }
            }, cause -> {
                LOG.error("runs cannot be examined", cause);
                note.setText("The runs cannot be read: " + cause.getMessage());
            });
        });
    }

    private void tellSelection() {
        int left = selection.withoutCalls().size();
        calls.setText(left == 0
                ? "All calls"
                : calls.getItems().size() - left + " of " + calls.getItems().size()
                        + " calls");
        kinds.setText(selection.withoutKinds().isEmpty()
                ? "All outcomes"
                : "without " + selection.withoutKinds().stream().map(FailureKind::id).sorted()
                        .collect(Collectors.joining(", ")));
        wholeTime.setDisable(selection.isWholeTime());
        time.setText(selection.isWholeTime()
                ? "the measured part"
                : "of the measured part, second " + selection.from() + " to " + selection.to());
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
        // runs that were read before an edit are told of as the study judges them now
        Session.State now = state.get();
        List<Examined> judged = runs.stream().map(one -> now.runs().stream()
                .filter(run -> run.id().equals(one.run().id())).findFirst().map(one::judged).orElse(one)).toList();
        var looked = new Looked(now, judged, selection, look.figures(), this::brush);
        ExamineSide from = sides.get(shown);
        if (from != null) {
            side.getChildren().setAll(from.show(looked));
        }
    }
}
