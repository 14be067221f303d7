package kadrem.desk.compare;

import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.function.Function;

import javafx.beans.property.SimpleStringProperty;
import javafx.collections.FXCollections;
import javafx.scene.control.Label;
import javafx.scene.control.SelectionMode;
import javafx.scene.control.TableColumn;
import javafx.scene.control.TableView;
import javafx.scene.input.KeyCode;
import javafx.scene.input.KeyCodeCombination;
import javafx.scene.input.KeyCombination;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import kadrem.core.study.Study;
import kadrem.core.study.Written;
import kadrem.core.verdict.PairComparison;
import kadrem.core.verdict.Wording;
import kadrem.desk.look.CandidateMark;
import kadrem.desk.look.CopiedTable;

/** Pairs in figures, a row each, copied as CSV. */
final class PairTable {
    private static final double ROW_HEIGHT = 25;

    private final TableView<PairComparison> table = new TableView<>();
    private Study study;

    /**
     * @param byCall whether the rows are of single calls
     * @param chosen told of a row that is chosen
     */
    PairTable(Study first, boolean byCall, Consumer<PairComparison> chosen) {
        study = first;
        if (byCall) {
            column("call", 110, PairComparison::call);
        } else {
            column("metric", 100, pair -> pair.metric().id() + (pair.deciding() ? " *" : ""));
        }
        column("candidate", 74, pair -> letters(pair.candidate()));
        column("against", 74, pair -> letters(pair.baseline()));
        column("outcome", 228, pair -> pair.words());
        column("change", 96, pair -> Wording.change(pair.metric(), pair.estimate()));
        column("interval", 168, pair -> pair.interval().map(interval -> Wording.interval(pair.metric(), interval))
                .orElse("too few rounds"));
        figures("rounds", 54, pair -> Integer.toString(pair.rounds()));
        figures("confidence", 80, pair -> pair.interval()
                .map(interval -> Written.share(interval.achievedConfidence()))
                .orElse("–"));
        figures("p", 58, pair -> String.format(Locale.ROOT, "%.4f", pair.p()));
        figures("adjusted p", 73, pair -> String.format(Locale.ROOT, "%.4f", pair.adjustedP()));
        table.setId(byCall ? "call-comparisons" : "comparison-table");
        table.setAccessibleText(byCall ? "all calls and pairs of the metric" : "all metrics and pairs");
        table.getSelectionModel().setSelectionMode(SelectionMode.MULTIPLE);
        table.setFixedCellSize(ROW_HEIGHT);
        table.setPrefHeight(ROW_HEIGHT * 9);
        table.setMinHeight(ROW_HEIGHT * 4);
        VBox.setVgrow(table, byCall ? Priority.ALWAYS : Priority.SOMETIMES);
        table.setPlaceholder(new Label("No two candidates have a sound run in the same round yet."));
        table.setOnKeyPressed(event -> {
            if (new KeyCodeCombination(KeyCode.C, KeyCombination.SHORTCUT_DOWN).match(event)) {
                copy(table.getSelectionModel().getSelectedItems());
            }
        });
        table.getSelectionModel().selectedItemProperty().addListener((_, _, pair) -> {
            if (pair != null) {
                chosen.accept(pair);
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
        return new CandidateMark(study.indexOf(id)).letter() + " " + id;
    }

    TableView<PairComparison> view() {
        return table;
    }

    /** The row that was chosen last. */
    Optional<PairComparison> chosen() {
        return Optional.ofNullable(table.getSelectionModel().getSelectedItem());
    }

    void show(Study now, List<PairComparison> pairs) {
        study = now;
        if (!table.getItems().equals(pairs)) {
            table.setItems(FXCollections.observableArrayList(pairs));
        }
    }

    /** Puts all rows on the clipboard. */
    void copy() {
        copy(table.getItems());
    }

    private static void copy(List<PairComparison> pairs) {
        CopiedTable.copy(
                List.of("metric", "call", "candidate", "baseline", "rounds", "estimate", "low", "high", "confidence",
                        "p", "adjusted_p", "outcome"),
                pairs.stream().map(pair -> List.<Object>of(pair.metric().id(), pair.call(), pair.candidate(),
                        pair.baseline(), pair.rounds(), pair.estimate(),
                        pair.interval().<Object>map(i -> i.low()).orElse(""),
                        pair.interval().<Object>map(i -> i.high()).orElse(""),
                        pair.interval().<Object>map(i -> i.achievedConfidence()).orElse(""), pair.p(), pair.adjustedP(),
                        pair.outcome().id())).toList());
    }
}
