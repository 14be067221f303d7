package kadrem.desk.compare;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.Function;
import java.util.stream.Collectors;

import javafx.beans.property.SimpleStringProperty;
import javafx.collections.FXCollections;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.ListCell;
import javafx.scene.control.SelectionMode;
import javafx.scene.control.TableColumn;
import javafx.scene.control.TableView;
import javafx.scene.control.Tooltip;
import javafx.scene.input.Clipboard;
import javafx.scene.input.ClipboardContent;
import javafx.scene.input.KeyCode;
import javafx.scene.input.KeyCodeCombination;
import javafx.scene.input.KeyCombination;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;
import kadrem.core.measure.RunRecord;
import kadrem.core.study.Metric;
import kadrem.core.study.Study;
import kadrem.core.verdict.Comparison;
import kadrem.core.verdict.PairComparison;
import kadrem.core.verdict.Wording;
import kadrem.desk.Session;
import kadrem.desk.Station;
import kadrem.desk.chart.Figure;
import kadrem.desk.chart.FigureTheme;
import kadrem.desk.chart.IntervalsFigure;
import kadrem.desk.chart.RoundsFigure;
import kadrem.desk.look.CandidateMark;
import kadrem.desk.look.Look;

/** For one metric: every run as a dot joined by round, each pair's interval against the margin, the outcome in words. */
public final class CompareStation implements Station {
    private static final double ROW_HEIGHT = 25;

    private final Look look;
    private final VBox view = new VBox(10);
    private final ComboBox<Metric> metric = new ComboBox<>();
    private final HBox figures = new HBox(12);
    private final VBox outcomes = new VBox(4);
    private final TableView<PairComparison> table = new TableView<>();
    private final Label leftOut = new Label();
    private java.util.Optional<Session.State> shown = java.util.Optional.empty();

    public CompareStation(Look look) {
        this.look = look;
        var heading = new Label("Compare");
        heading.getStyleClass().add("station-heading");
        metric.setId("metric");
        metric.setAccessibleText("metric shown");
        metric.setCellFactory(_ -> metricCell());
        metric.setButtonCell(metricCell());
        metric.valueProperty().addListener((_, _, _) -> draw());
        var copy = new Button("Copy table");
        copy.setId("copy-table");
        copy.getStyleClass().add("accent");
        copy.setOnAction(_ -> copy(table.getItems()));
        var space = new Region();
        HBox.setHgrow(space, Priority.ALWAYS);
        var actions = new HBox(8, new Label("metric"), metric, space, copy);
        actions.setAlignment(javafx.geometry.Pos.CENTER_LEFT);
        figures.setMinHeight(220);
        VBox.setVgrow(figures, Priority.ALWAYS);
        buildTable();
        leftOut.setWrapText(true);
        leftOut.setId("left-out");
        leftOut.getStyleClass().add("muted");
        view.getStyleClass().add("station");
        view.getChildren().addAll(heading, actions, figures, outcomes, table, leftOut);
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

    private void buildTable() {
        column("metric", 76, pair -> pair.metric().id() + (pair.deciding() ? " *" : ""));
        column("candidate", 74, pair -> letters(pair.candidate()));
        column("against", 74, pair -> letters(pair.baseline()));
        column("outcome", 228, pair -> pair.outcome().words());
        column("change", 110, pair -> Wording.change(pair.metric(), pair.estimate()));
        column("interval", 168, pair -> pair.interval().map(interval -> Wording.interval(pair.metric(), interval))
                .orElse("too few rounds"));
        figures("rounds", 56, pair -> Integer.toString(pair.rounds()));
        figures("confidence", 80, pair -> pair.interval()
                .map(interval -> String.format(Locale.ROOT, "%.1f %%", interval.achievedConfidence() * 100))
                .orElse("–"));
        figures("p", 58, pair -> String.format(Locale.ROOT, "%.4f", pair.p()));
        figures("adjusted p", 80, pair -> String.format(Locale.ROOT, "%.4f", pair.adjustedP()));
        table.setId("comparison-table");
        table.setAccessibleText("all metrics and pairs");
        table.getSelectionModel().setSelectionMode(SelectionMode.MULTIPLE);
        table.setFixedCellSize(ROW_HEIGHT);
        table.setPrefHeight(ROW_HEIGHT * 9);
        table.setMinHeight(ROW_HEIGHT * 4);
        VBox.setVgrow(table, Priority.SOMETIMES);
        table.setPlaceholder(new Label("No two candidates have a sound run in the same round yet."));
        table.setOnKeyPressed(event -> {
            if (new KeyCodeCombination(KeyCode.C, KeyCombination.SHORTCUT_DOWN).match(event)) {
                copy(table.getSelectionModel().getSelectedItems());
            }
        });
        table.getSelectionModel().selectedItemProperty().addListener((_, _, pair) -> {
            if (pair != null) {
                metric.setValue(pair.metric());
            }
        });
    }

    private void figures(String name, double width, Function<PairComparison, String> value) {
        column(name, width, value).getStyleClass().add("figure-column");
    }

    private TableColumn<PairComparison, String> column(String name, double width,
            Function<PairComparison, String> value) {
        var column = new TableColumn<PairComparison, String>(name);
        column.setPrefWidth(width);
        column.setCellValueFactory(row -> new SimpleStringProperty(value.apply(row.getValue())));
        table.getColumns().add(column);
        return column;
    }

    private String letters(String id) {
        return shown.map(state -> new CandidateMark(state.study().indexOf(id)).letter() + " " + id).orElse(id);
    }

    @Override
    public String name() {
        return "Compare";
    }

    @Override
    public Node view() {
        return view;
    }

    @Override
    public String summary(Session.State state) {
        List<PairComparison> deciding = state.comparison().pairs().stream().filter(PairComparison::deciding).toList();
        if (deciding.isEmpty()) {
            return "nothing to compare yet";
        }
        long settled = deciding.stream().filter(pair -> pair.outcome().isSettled()).count();
        return settled + " of " + deciding.size() + " settled on "
                + state.study().question().deciders().stream().map(decider -> decider.metric().id())
                        .collect(Collectors.joining(", "));
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
        shown = java.util.Optional.of(state);
        List<Metric> metrics = Comparison.metrics(state.study().question());
        if (!metric.getItems().equals(metrics)) {
            metric.setItems(FXCollections.observableArrayList(metrics));
        }
        if (metric.getValue() == null) {
            metric.setValue(metrics.getFirst());
        }
        table.setItems(FXCollections.observableArrayList(state.comparison().pairs()));
        tellLeftOut(state);
        draw();
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
        Study study = state.study();
        FigureTheme theme = FigureTheme.of(look);
        List<PairComparison> pairs = state.comparison().on(chosen);
        figures.getChildren().clear();
        outcomes.getChildren().clear();
        figures.setManaged(!pairs.isEmpty());
        table.setManaged(!state.comparison().pairs().isEmpty());
        table.setVisible(!state.comparison().pairs().isEmpty());
        if (pairs.isEmpty()) {
            var nothing = new Label("Nothing to compare on the " + chosen.label()
                    + " yet: two candidates need a complete and sound run in the same round. The Measure station makes"
                    + " them.");
            nothing.setWrapText(true);
            nothing.getStyleClass().add("fact");
            outcomes.getChildren().add(nothing);
            return;
        }
        figure(new Figure("runs of each candidate joined by round",
                RoundsFigure.chart(theme, study, chosen, comparable(state))));
        figure(new Figure("interval of each pair against the margin", IntervalsFigure.chart(theme, study, pairs)));
        for (PairComparison pair : pairs) {
            var line = new Label(Wording.finding(study, pair) + ": " + Wording.outcome(pair) + ".",
                    new CandidateMark(study.indexOf(pair.candidate())).marker(5));
            line.setWrapText(true);
            line.getStyleClass().add(pair.outcome().isSettled() ? "outcome-settled" : "outcome-open");
            line.setId("outcome-" + pair.candidate() + "-" + pair.baseline());
            outcomes.getChildren().add(line);
        }
        if (!pairs.getFirst().deciding()) {
            var note = new Label("This metric does not decide: read it as an observation beside the decision.");
            note.getStyleClass().add("muted");
            outcomes.getChildren().add(note);
        }
    }

    private void figure(Figure figure) {
        HBox.setHgrow(figure, Priority.ALWAYS);
        figure.setPrefWidth(100);
        figures.getChildren().add(figure);
    }

    private static List<RunRecord> comparable(Session.State state) {
        var latest = new ArrayList<RunRecord>();
        state.presentRuns().stream().filter(RunRecord::isComparable)
                .sorted(Comparator.comparing(RunRecord::started)).forEach(run -> {
                    latest.removeIf(one -> one.round() == run.round() && one.candidate().equals(run.candidate()));
                    latest.add(run);
                });
        return latest;
    }

    /** Puts rows on the clipboard as CSV with a heading. */
    private void copy(List<PairComparison> pairs) {
        var csv = new StringBuilder(
                "metric,candidate,baseline,rounds,estimate,low,high,confidence,p,adjusted_p,outcome\r\n");
        for (PairComparison pair : pairs) {
            csv.append(pair.metric().id()).append(',').append(pair.candidate()).append(',').append(pair.baseline())
                    .append(',').append(pair.rounds()).append(',').append(pair.estimate()).append(',')
                    .append(pair.interval().map(i -> i.low() + "," + i.high() + "," + i.achievedConfidence())
                            .orElse(",,"))
                    .append(',').append(pair.p()).append(',').append(pair.adjustedP()).append(',')
                    .append(pair.outcome().id()).append("\r\n");
        }
        var content = new ClipboardContent();
        content.putString(csv.toString());
        Clipboard.getSystemClipboard().setContent(content);
    }
}
