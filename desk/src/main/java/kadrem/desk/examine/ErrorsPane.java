package kadrem.desk.examine;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.function.Function;
import java.util.stream.Collectors;

import javafx.beans.property.SimpleStringProperty;
import javafx.collections.FXCollections;
import javafx.geometry.Orientation;
import javafx.scene.Node;
import javafx.scene.control.Label;
import javafx.scene.control.SplitPane;
import javafx.scene.control.TableColumn;
import javafx.scene.control.TableView;
import javafx.scene.control.TextArea;
import javafx.scene.input.KeyCode;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;
import kadrem.core.examine.CallView;
import kadrem.core.measure.Exchange;
import kadrem.core.measure.FailureKind;
import kadrem.core.measure.SecondSummary;
import kadrem.core.study.Written;
import kadrem.figures.RunLine;
import kadrem.desk.look.CopiedTable;

/** What failed, by kind and call, and the exchanges that were kept: the first failures of each kind and the slowest calls. */
final class ErrorsPane {
    private static final double ROW_HEIGHT = 25;

    private final Label sums = new Label();
    private final TableView<Kept> kept = new TableView<>();
    private final TextArea text = new TextArea();
    private final VBox view;

    /** An example of a run. */
    record Kept(String run, Exchange exchange) {
    }

    ErrorsPane() {
        sums.setWrapText(true);
        sums.setMinHeight(Region.USE_PREF_SIZE);
        kept.setFixedCellSize(ROW_HEIGHT);
        sums.setId("failure-sums");
        column("run", 52, one -> one.run());
        column("at, s", 70, one -> String.format(Locale.ROOT, "%.2f", one.exchange().dueSeconds()));
        column("call", 150, one -> one.exchange().call());
        column("why kept", 150, one -> one.exchange().reason());
        column("status", 60, one -> one.exchange().statusWord());
        column("response time", 110, one -> Written.duration(one.exchange().responseNanos()));
        column("what was missing", 300, one -> one.exchange().detail());
        kept.setId("kept-exchanges");
        kept.setAccessibleText("kept exchanges");
        kept.setOnKeyPressed(event -> {
            if (event.isShortcutDown() && event.getCode() == KeyCode.C) {
                CopiedTable.copy(
                        List.of("run", "due_s", "call", "reason", "status", "response_ms", "service_ms", "detail"),
                        kept.getItems().stream().map(one -> List.of(one.run(), one.exchange().dueSeconds(),
                                one.exchange().call(), one.exchange().reason(), one.exchange().statusWord(),
                                one.exchange().responseNanos() / 1e6, one.exchange().serviceNanos() / 1e6,
                                one.exchange().detail())).toList());
            }
        });
        kept.setPlaceholder(new Label("No exchange was kept in the chosen time."));
        kept.getSelectionModel().selectedItemProperty().addListener((_, _, one) -> text.setText(one == null
                ? "Choose an exchange above to read what was sent and what came back."
                : written(one.exchange())));
        text.setEditable(false);
        text.setId("kept-exchange-text");
        text.getStyleClass().add("exchange-text");
        text.setText("Choose an exchange above to read what was sent and what came back.");
        var split = new SplitPane(kept, text);
        split.setOrientation(Orientation.VERTICAL);
        VBox.setVgrow(split, Priority.ALWAYS);
        view = new VBox(8, sums, split);
        VBox.setVgrow(view, Priority.ALWAYS);
    }

    private void column(String name, double width, Function<Kept, String> value) {
        var column = new TableColumn<Kept, String>(name);
        column.setPrefWidth(width);
        column.setCellValueFactory(row -> new SimpleStringProperty(value.apply(row.getValue())));
        kept.getColumns().add(column);
    }

    private static String written(Exchange exchange) {
        return "service time " + Written.duration(exchange.serviceNanos()) + ", response time "
                + Written.duration(exchange.responseNanos())
                + exchange.traceId().map(id -> ", trace " + id).orElse("") + (exchange.detail().isEmpty()
                        ? ""
                        : "\n" + exchange.detail())
                + "\n\n" + exchange.request().strip() + "\n\n"
                + (exchange.response().isEmpty() ? "(no answer)" : exchange.response().strip());
    }

    Node view() {
        return view;
    }

    /** @param examples of all chosen runs, inside the chosen time and of the chosen calls */
    void show(List<RunLine> runs, List<Kept> examples) {
        var sentences = new ArrayList<String>();
        for (RunLine run : runs) {
            var failed = new ArrayList<String>();
            for (CallView call : run.view().calls()) {
                call.failed().forEach((kind, count) -> {
                    if (count > 0) {
                        failed.add(String.format(Locale.ROOT, "%,d %s%s in %s%s", count, kind.id(),
                                kind == FailureKind.UNEXPECTED_STATUS ? statuses(call) : "", call.name(),
                                span(run, examples, call.name(), kind.id())));
                    }
                });
            }
            sentences.add(run.name() + ": " + (failed.isEmpty() ? "nothing failed" : String.join("; ", failed)) + "."
                    + (failed.isEmpty() ? "" : " " + times(run)));
        }
        sums.setText(String.join("\n", sentences));
        kept.setItems(FXCollections.observableArrayList(examples));
        kept.getSelectionModel().selectFirst();
    }

    /** " (404: 2, 503: 1)": with which statuses they were answered. */
    private static String statuses(CallView call) {
        return call.statuses().isEmpty()
                ? ""
                : call.statuses().entrySet().stream().map(one -> one.getKey() + ": " + one.getValue())
                        .collect(Collectors.joining(", ", " (", ")"));
    }

    /** From when to when each kind was seen. */
    private static String times(RunLine run) {
        var times = new ArrayList<String>();
        for (FailureKind kind : FailureKind.values()) {
            List<Integer> seconds = run.view().seconds().stream()
                    .filter(one -> one.failed().getOrDefault(kind, 0L) > 0).map(SecondSummary::second).toList();
            if (!seconds.isEmpty()) {
                times.add(kind.id() + " from " + seconds.getFirst() + " s to "
                        + (seconds.getLast() + run.view().step()) + " s");
            }
        }
        return times.isEmpty() ? "" : "Seen: " + String.join(", ", times) + ".";
    }

    /** When the first of them was due, as far as it was kept. */
    private static String span(RunLine run, List<Kept> examples, String call, String kind) {
        return examples.stream().filter(one -> one.run().equals(run.name()))
                .filter(one -> one.exchange().call().equals(call) && one.exchange().reason().equals(kind))
                .mapToDouble(one -> one.exchange().dueSeconds()).min().stream()
                .mapToObj(first -> String.format(Locale.ROOT, ", first at %.1f s", first)).findFirst().orElse("");
    }
}
