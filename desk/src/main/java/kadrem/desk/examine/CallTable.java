package kadrem.desk.examine;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.Stream;

import javafx.beans.property.SimpleObjectProperty;
import javafx.collections.FXCollections;
import javafx.collections.ObservableList;
import javafx.collections.transformation.FilteredList;
import javafx.collections.transformation.SortedList;
import javafx.scene.Node;
import javafx.scene.control.Label;
import javafx.scene.control.SelectionMode;
import javafx.scene.control.TableCell;
import javafx.scene.control.TableColumn;
import javafx.scene.control.TableView;
import javafx.scene.control.TextField;
import javafx.scene.input.KeyCode;
import javafx.scene.input.KeyCodeCombination;
import javafx.scene.input.KeyCombination;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import kadrem.core.examine.CallView;
import kadrem.core.examine.RunView;
import kadrem.core.measure.LatencySummary;
import kadrem.core.stats.Interval;
import kadrem.core.study.Written;
import kadrem.desk.look.CopiedTable;
import kadrem.figures.RunLine;
import org.HdrHistogram.Histogram;

/** Every call of the chosen runs, and all calls of each together, in figures. */
final class CallTable {
    private static final double ROW_HEIGHT = 25;
    private static final double KIB = 1024;

    private final TableView<Line> table = new TableView<>();
    private static final String HOW_TO_READ = "Times in milliseconds. ~ fewer than " + CallView.WEAK_TAIL
            + " calls took longer: read it with care; – fewer than " + CallView.MIN_TAIL
            + ": no figure. \"Lies in\": 95 % intervals of this run alone (order statistics, Hahn and Meeker 1991; failures: Wilson"
            + " 1927); runs differ by more. Connections are the run's, not a call's. Click a head to sort; Ctrl C copies the chosen rows.";
    private static final int SECONDS_A_MINUTE = 60;

    private final Label note = new Label(HOW_TO_READ);
    private final TextField filter = new TextField();
    private final ObservableList<Line> rowsOfRuns = FXCollections.observableArrayList();
    private List<Line> wanted = List.of();
    private final FilteredList<Line> filtered = new FilteredList<>(rowsOfRuns);
    private final VBox view = new VBox(6, filter, table, note);
    private final List<Column> columns = new ArrayList<>();

    /**
     * What a column says of a row.
     *
     * @param value by which it is sorted and which is copied
     * @param text as it is read
     */
    record Figure(Comparable<?> value, String text) {
    }

    /** A call of a run, or all of them, with what every column says of it. */
    record Line(Row row, List<Figure> figures) {
    }

    /** A call of a run, or all of them. */
    record Row(String run, CallView call, RunView view) {
        boolean isWhole() {
            return call == view.total();
        }

        int seconds() {
            return Math.max(1, view.countedSeconds());
        }
    }

    /**
     * A column.
     *
     * @param value by which it is sorted and which is copied
     * @param text as it is read
     */
    private record Column(String name, Function<Row, Comparable<?>> value, Function<Row, String> text) {
    }

    CallTable() {
        column("run", 44, false, Row::run, Row::run);
        column("call", 100, false, row -> row.call().name(), row -> row.call().name());
        number("sent", 58, row -> (double) row.call().sent(), CallTable::count);
        number("failed", 52, row -> (double) row.call().failedTotal(), CallTable::count);
        number("share %", 60, row -> 100.0 * row.call().sent() / Math.max(1, row.view().total().sent()),
                Written::significant);
        number("good/s", 60, row -> (double) row.call().good() / row.seconds(), Written::significant);
        for (double percentile : new double[]{50, 90, 95, 99, 99.9}) {
            percentile(percentile);
        }
        for (double percentile : new double[]{95, 99}) {
            interval("p" + Written.significant(percentile) + " lies in", 110, row -> row.call().isShown(percentile)
                    ? row.call().percentileInterval(percentile)
                    : Optional.empty(), 1e-6);
        }
        interval("failed lies in %", 110, row -> row.call().failedShare(), 100);
        time("max", row -> (double) response(row).getMaxValue());
        time("mean", row -> response(row).getMean());
        time("SD", row -> response(row).getStdDeviation());
        time("min", row -> (double) response(row).getMinValue());
        number("good", 66, row -> (double) row.call().good(), CallTable::count);
        number("KiB in", 70, row -> row.call().bytesIn() / KIB, Written::significant);
        number("KiB out", 70, row -> row.call().bytesOut() / KIB, Written::significant);
        number("KiB in/s", 70, row -> row.call().bytesIn() / KIB / row.seconds(), Written::significant);
        number("KiB out/s", 70, row -> row.call().bytesOut() / KIB / row.seconds(), Written::significant);
        parts("first part p50", row -> row.call().first(), 50);
        parts("first part p99", row -> row.call().first(), 99);
        parts("gap p50", row -> row.call().gap(), 50);
        parts("gap p99", row -> row.call().gap(), 99);
        number("parts/s", 70, row -> row.call().parts() == 0
                ? Double.NaN
                : (double) row.call().parts() / row.seconds(), Written::significant);
        connections("connects", row -> (double) row.view().connect().getTotalCount());
        connections("connect p50", row -> row.view().connect().getValueAtPercentile(50) / 1e6);
        connections("TLS p50", row -> row.view().handshake().getTotalCount() == 0
                ? Double.NaN
                : row.view().handshake().getValueAtPercentile(50) / 1e6);
        var sorted = new SortedList<>(filtered);
        sorted.comparatorProperty().bind(table.comparatorProperty());
        table.setItems(sorted);
        filter.setId("call-filter");
        filter.setAccessibleText("calls whose name holds");
        filter.setPromptText("only calls with these letters, or one run such as A3");
        filter.setMaxWidth(340);
        filter.textProperty().addListener((_, _, _) -> filter());
        table.setId("call-table");
        table.setAccessibleText("calls of the chosen runs, times in milliseconds");
        table.getSelectionModel().setSelectionMode(SelectionMode.MULTIPLE);
        table.setFixedCellSize(ROW_HEIGHT);
        table.setTableMenuButtonVisible(true);
        table.setPlaceholder(new Label("No call of the chosen runs lies in the chosen time."));
        table.setOnKeyPressed(event -> {
            if (new KeyCodeCombination(KeyCode.C, KeyCombination.SHORTCUT_DOWN).match(event)) {
                copy(table.getSelectionModel().getSelectedItems());
            }
        });
        VBox.setVgrow(table, Priority.ALWAYS);
        VBox.setVgrow(view, Priority.ALWAYS);
        note.getStyleClass().add("muted");
        note.setWrapText(true);
    }

    private static Histogram response(Row row) {
        return row.call().response();
    }

    private static String count(double number) {
        return String.format(Locale.ROOT, "%,.0f", number);
    }

    private void percentile(double percentile) {
        String name = "p" + Written.significant(percentile);
        number(name, 60, row -> row.call().isShown(percentile)
                ? LatencySummary.comparable(row.call().percentile(percentile)) / 1e6
                : Double.NaN, Written::significant, row -> row.call().isWeak(percentile) ? "~" : "");
    }

    /** What is known of the connections of a run, in its row of all calls. */
    private void connections(String name, Function<Row, Double> value) {
        number(name, 84, row -> row.isWhole() && row.view().connect().getTotalCount() > 0
                ? value.apply(row)
                : Double.NaN, Written::significant);
    }

    /** Of answers that come in parts. */
    private void parts(String name, Function<Row, Histogram> times, double percentile) {
        number(name, 96, row -> times.apply(row).getTotalCount() == 0
                ? Double.NaN
                : times.apply(row).getValueAtPercentile(percentile) / 1e6, Written::significant);
    }

    private void time(String name, Function<Row, Double> nanos) {
        number(name, 62, row -> response(row).getTotalCount() == 0 ? 0 : nanos.apply(row) / 1e6, Written::significant);
    }

    private void number(String name, double width, Function<Row, Double> value, Function<Double, String> text) {
        number(name, width, value, text, _ -> "");
    }

    private void number(String name, double width, Function<Row, Double> value, Function<Double, String> text,
            Function<Row, String> mark) {
        column(name, width, true, value::apply, row -> Double.isNaN(value.apply(row))
                ? "–"
                : Double.isInfinite(value.apply(row)) ? "never" : mark.apply(row) + text.apply(value.apply(row)));
    }

    /** An interval of 95 %, sorted by its upper end. */
    private void interval(String name, double width, Function<Row, Optional<Interval>> value, double scale) {
        column(name, width, true, row -> value.apply(row).map(one -> one.high() * scale).orElse(Double.NaN),
                row -> value.apply(row).map(one -> Written.significant(one.low() * scale) + " to "
                        + Written.significant(one.high() * scale)).orElse("–"));
    }

    private void column(String name, double width, boolean figures, Function<Row, Comparable<?>> value,
            Function<Row, String> text) {
        int place = columns.size();
        columns.add(new Column(name, value, text));
        var column = new TableColumn<Line, Line>(name);
        column.setPrefWidth(width);
        column.setCellValueFactory(row -> new SimpleObjectProperty<>(row.getValue()));
        column.setComparator((a, b) -> compare(a.figures().get(place).value(), b.figures().get(place).value()));
        column.setCellFactory(_ -> new TableCell<>() {
            @Override
            protected void updateItem(Line item, boolean empty) {
                super.updateItem(item, empty);
                setText(empty || item == null ? "" : item.figures().get(place).text());
            }
        });
        if (figures) {
            column.getStyleClass().add("figure-column");
        }
        table.getColumns().add(column);
    }

    private static int compare(Comparable<?> a, Comparable<?> b) {
        return a instanceof Double left && b instanceof Double right
                ? Double.compare(left, right)
                : a.toString().compareTo(b.toString());
    }

    Node view() {
        return view;
    }

    /**
     * The rows of a run; it takes its time, and any thread may ask.
     *
     * @param crowds names of the calls of each, by its name
     */
    List<Line> lines(String run, RunView view, Map<String, List<String>> crowds) {
        Stream<CallView> ofCrowds = crowds.entrySet().stream()
                .map(crowd -> view.together(crowd.getKey() + ", all calls", crowd.getValue()));
        return Stream.of(view.calls().stream(), ofCrowds, Stream.of(view.total())).flatMap(Function.identity())
                .map(call -> new Row(run, call, view))
                .map(row -> new Line(row, columns.stream()
                        .map(column -> new Figure(column.value().apply(row), column.text().apply(row))).toList()))
                .toList();
    }

    void show(List<RunLine> runs, List<Line> rows) {
        note.setText(HOW_TO_READ + " Users who call once a minute, served at this rate: " + runs.stream()
                .map(run -> run.name() + " " + Written.significant(run.view().throughput() * SECONDS_A_MINUTE))
                .collect(Collectors.joining(", ")) + ".");
        if (!rows.equals(wanted)) {
            wanted = rows;
            rowsOfRuns.setAll(rows);
        }
    }

    /** Puts all rows that are shown on the clipboard. */
    void copy() {
        copy(table.getItems());
    }

    /** Rows with times in milliseconds, figures unrounded. */
    private void copy(List<Line> lines) {
        CopiedTable.copy(columns.stream().map(Column::name).toList(), lines.stream()
                .map(line -> line.figures().stream().<Object>map(figure -> copied(figure.value())).toList()).toList());
    }

    private static Object copied(Comparable<?> value) {
        return value instanceof Double number && number.isNaN() ? "" : value;
    }

    private void filter() {
        String wanted = filter.getText().strip().toLowerCase(Locale.ROOT);
        filtered.setPredicate(line -> wanted.isEmpty()
                || line.row().call().name().toLowerCase(Locale.ROOT).contains(wanted)
                || line.row().run().toLowerCase(Locale.ROOT).equals(wanted));
    }
}
