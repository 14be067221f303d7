package kadrem.desk.compare;

import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.BiConsumer;
import java.util.function.Consumer;
import java.util.stream.Collectors;

import javafx.collections.FXCollections;
import javafx.geometry.Pos;
import javafx.scene.Parent;
import javafx.scene.control.Button;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.ListCell;
import javafx.scene.control.ToggleButton;
import javafx.scene.control.ToggleGroup;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;
import kadrem.core.study.Metric;
import kadrem.core.verdict.Comparison;
import kadrem.core.verdict.Explanation;
import kadrem.core.verdict.PairComparison;
import kadrem.desk.Destination;
import kadrem.desk.Session;
import kadrem.desk.Station;
import kadrem.desk.look.CandidateMark;
import kadrem.desk.look.Look;
import kadrem.desk.run.Ladders;
import kadrem.work.Order;

/** The candidates held against each other, from several sides. */
public final class CompareStation implements Station {
    private final Look look;
    private final Consumer<Explanation> why;
    private final VersionsForm.Measure versions;
    private final VBox view = new VBox(10);
    private final ComboBox<Metric> metric = new ComboBox<>();
    private final VBox side = new VBox(8);
    private final Button copy = new Button("Copy table");
    private final Label progress = new Label();
    private final Label leftOut = new Label();
    private final Map<Side, CompareSide> sides = new EnumMap<>(Side.class);
    private final Map<Side, ToggleButton> toggles = new EnumMap<>(Side.class);
    private Side from = Side.PAIRS;
    private Optional<Session.State> shown = Optional.empty();
    private Optional<PairTable> table = Optional.empty();
    private final Session session;

    /** A side from which a comparison is looked at. */
    public enum Side {
        PAIRS("Pairs"), MATRIX("All metrics"), DISTRIBUTION("Distribution"), CALLS("By call"), ORDER("In order"), COST(
                "Cost"), LADDER("Ladder"), HISTORY("History");

        private final String title;

        Side(String title) {
            this.title = title;
        }
    }

    /**
     * @param why opens the drawer in which a figure explains itself
     * @param versions measures two versions of a candidate, and tells what came of it
     */
    public CompareStation(Session session, Look look, Consumer<Explanation> why,
            BiConsumer<Order.Versions, Consumer<String>> versions) {
        this.session = session;
        this.look = look;
        this.why = why;
        this.versions = (candidate, pair, told) -> session.state().ifPresent(state -> versions
                .accept(new Order.Versions(state.file(), candidate, pair, Optional.empty(), true), told));
        var heading = new Label("Compare");
        heading.getStyleClass().add("station-heading");
        progress.setId("early-look");
        progress.getStyleClass().add("problem");
        progress.setWrapText(true);
        progress.managedProperty().bind(progress.textProperty().isNotEmpty());
        metric.setId("metric");
        metric.setAccessibleText("metric shown");
        metric.setCellFactory(_ -> metricCell());
        metric.setButtonCell(metricCell());
        metric.valueProperty().addListener((_, _, _) -> draw());
        copy.setId("copy-table");
        copy.getStyleClass().add("accent");
        copy.setOnAction(_ -> table.ifPresent(PairTable::copy));

        var buttons = new FlowPane(6, 4);
        buttons.setPrefWrapLength(560);
        var group = new ToggleGroup();
        for (Side one : Side.values()) {
            var button = new ToggleButton(one.title);
            button.setId("compare-" + one.name().toLowerCase(java.util.Locale.ROOT));
            button.setToggleGroup(group);
            button.getStyleClass().add("side-button");
            button.setSelected(one == from);
            button.setOnAction(_ -> look(one));
            toggles.put(one, button);
            buttons.getChildren().add(button);
        }
        copy.setMinWidth(Region.USE_PREF_SIZE);
        metric.setMinWidth(170);
        HBox.setHgrow(buttons, Priority.ALWAYS);
        var actions = new HBox(8, buttons, metric, copy);
        actions.setAlignment(Pos.CENTER_LEFT);
        VBox.setVgrow(side, Priority.ALWAYS);
        leftOut.setWrapText(true);
        leftOut.setId("left-out");
        leftOut.getStyleClass().add("muted");
        view.getStyleClass().add("station");
        view.getChildren().addAll(heading, actions, progress, side, leftOut);
    }

    private void makeSides(Session.State state) {
        var made = new PairTable(state.study(), false, pair -> metric.setValue(pair.metric()));
        table = Optional.of(made);
        sides.put(Side.PAIRS, new PairsSide(made, this::draw));
        sides.put(Side.MATRIX, new MatrixSide(chosen -> {
            metric.setValue(chosen);
            look(Side.PAIRS);
        }));
        sides.put(Side.DISTRIBUTION, new DistributionSide(this::draw));
        sides.put(Side.CALLS, new CallsSide(this::draw));
        sides.put(Side.ORDER, new OrderSide(session, this::draw));
        sides.put(Side.COST, new CostSide());
        sides.put(Side.HISTORY, new HistorySide(this::draw, versions));
        sides.put(Side.LADDER, looked -> Ladders.of(looked.theme(), looked.study(), looked.comparison().inOrder()));
    }

    @Override
    public List<Destination> destinations(Session.State state) {
        var all = new ArrayList<Destination>();
        for (Side one : Side.values()) {
            all.add(new Destination(one.title, "Compare", () -> look(one)));
        }
        for (Metric one : metric.getItems()) {
            all.add(new Destination(one.label(), "Compare, pairs on this metric", () -> {
                metric.setValue(one);
                look(Side.PAIRS);
            }));
        }
        return all;
    }

    /** Looks at the comparison from another side. */
    public void look(Side other) {
        from = other;
        ToggleButton toggle = toggles.get(other);
        if (toggle != null) {
            toggle.setSelected(true);
        }
        draw();
    }

    private ListCell<Metric> metricCell() {
        return new ListCell<>() {
            @Override
            protected void updateItem(Metric item, boolean empty) {
                super.updateItem(item, empty);
                setText(empty || item == null ? "" : item.label() + (decides(item) ? "  (decides)" : ""));
            }
        };
    }

    private boolean decides(Metric item) {
        return shown.filter(state -> state.study().question().decider(item).isPresent()).isPresent();
    }

    @Override
    public String name() {
        return "Compare";
    }

    @Override
    public Parent view() {
        return view;
    }

    @Override
    public boolean needsLoad() {
        return false;
    }

    @Override
    public String summary(Session.State state) {
        List<PairComparison> deciding = state.comparison().pairs().stream().filter(PairComparison::deciding).toList();
        if (deciding.isEmpty()) {
            return "nothing to compare yet";
        }
        long settled = deciding.stream().filter(pair -> pair.outcome().isSettled()).count();
        return settled + " of " + deciding.size() + " settled";
    }

    @Override
    public Progress progress(Session.State state) {
        List<PairComparison> deciding = state.comparison().pairs().stream().filter(PairComparison::deciding).toList();
        return deciding.isEmpty()
                ? Progress.EMPTY
                : deciding.stream().allMatch(pair -> pair.outcome().isSettled()) ? Progress.DONE : Progress.IN_WORK;
    }

    @Override
    public void show(Session.State state) {
        shown = Optional.of(state);
        if (sides.isEmpty()) {
            makeSides(state);
        }
        List<Metric> metrics = Comparison.metrics(state.study());
        if (!metric.getItems().equals(metrics)) {
            metric.setItems(FXCollections.observableArrayList(metrics));
        }
        if (metric.getValue() == null) {
            metric.setValue(metrics.getFirst());
        }
        Comparison.Progress known = state.comparison().progress();
        progress.setText(known.isEarlyLook() && !state.comparison().pairs().isEmpty()
                ? "In progress: " + known.measured() + " of " + known.planned()
                        + " rounds. These figures may be looked at, and nothing is concluded from them before the plan is through."
                : known.waitingSentence().orElse(""));
        tellLeftOut(state);
        draw();
    }

    /** The comparison that is chosen in the table, else the metric's first pair, for the key F1. */
    @Override
    public Optional<Explanation> why() {
        return shown.flatMap(state -> table.flatMap(PairTable::chosen)
                .filter(pair -> pair.metric().equals(metric.getValue()))
                .or(() -> state.comparison().on(metric.getValue()).stream().findFirst())
                .map(pair -> Explanation.of(state.comparison(), pair, state.floor())));
    }

    /** The runs that do not enter, by round and letter; the reasons stand in the tooltip and in Measure. */
    private void tellLeftOut(Session.State state) {
        List<Comparison.LeftOut> out = state.comparison().leftOut();
        List<String> otherwise = state.comparison().judgedOtherwise();
        String judged = otherwise.isEmpty()
                ? ""
                : " Judged otherwise than usual: " + String.join("; ", otherwise) + ".";
        if (out.isEmpty()) {
            leftOut.setText("Every run enters the comparison." + judged);
            leftOut.setTooltip(null);
            return;
        }
        var byRound = new TreeMap<Integer, TreeSet<String>>();
        out.forEach(run -> {
            int index = state.study().indexOf(run.candidate());
            byRound.computeIfAbsent(run.round(), _ -> new TreeSet<>())
                    .add(index < 0 ? run.candidate() : new CandidateMark(index).letter());
        });
        leftOut.setText("Left out, " + out.size() + " of " + state.runs().size() + " runs: "
                + byRound.entrySet().stream()
                        .map(round -> "round " + round.getKey() + " " + String.join(", ", round.getValue()))
                        .collect(Collectors.joining(" · "))
                + ". Measure says why." + judged);
        leftOut.setTooltip(new Tooltip(
                out.stream().map(Comparison.LeftOut::sentence).collect(Collectors.joining("\n"))));
    }

    private void draw() {
        Metric chosen = metric.getValue();
        if (shown.isEmpty() || chosen == null) {
            return;
        }
        Session.State state = shown.get();
        copy.setVisible(from == Side.PAIRS);
        if (from != Side.HISTORY && state.comparison().on(chosen).isEmpty()) {
            var nothing = new Label("Nothing to compare on the " + chosen.label()
                    + " yet: two candidates need a complete and sound run in the same round. The Measure station makes"
                    + " them.");
            nothing.setWrapText(true);
            nothing.getStyleClass().add("fact");
            side.getChildren().setAll(nothing);
            return;
        }
        CompareSide now = sides.get(from);
        if (now != null) {
            side.getChildren().setAll(now.show(new CompareSide.Looked(state, chosen, look.figures(), why)));
        }
    }
}
