package kadrem.desk.examine;

import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.function.Function;

import javafx.beans.property.SimpleObjectProperty;
import javafx.collections.ObservableList;
import javafx.scene.Node;
import javafx.scene.canvas.Canvas;
import javafx.scene.canvas.GraphicsContext;
import javafx.scene.control.Label;
import javafx.scene.control.TableCell;
import javafx.scene.control.TableColumn;
import javafx.scene.control.TableView;
import javafx.scene.paint.Color;
import kadrem.core.examine.Moved;
import kadrem.core.measure.HostSeries;
import kadrem.core.study.Written;
import kadrem.figures.FigureTheme;
import kadrem.desk.look.CopiedTable;

/** Host series and how far the load moved them, a row a run and series, each with its small curve. */
final class MovedTable {
    private static final double ROW_HEIGHT = 26;
    private static final double CURVE_WIDTH = 120;
    private static final double CURVE_HEIGHT = 20;

    private final TableView<Row> table = new TableView<>();
    private FigureTheme theme = new FigureTheme(false);

    record Row(Examined run, Moved moved) {
    }

    /** @param chosen told when another row is chosen */
    MovedTable(Runnable chosen) {
        text("run", 46, row -> row.run().name(), row -> row.run().name());
        text("series", 232, row -> row.moved().series().words(), row -> row.moved().series().words());
        text("at rest", 92, row -> quantity(row.moved(), row.moved().idle()), row -> row.moved().idle());
        text("under load", 92, row -> quantity(row.moved(), row.moved().loaded()), row -> row.moved().loaded());
        text("robust z", 66, row -> score(row.moved().score()), row -> Math.abs(row.moved().score()));
        curve();
        text("with p99", 100, row -> row.moved().associationFigure(),
                row -> row.moved().withLatency().map(one -> Math.abs(one.rho())).orElse(0.0));
        table.setId("moved-table");
        table.setAccessibleText("host series by how far the load moved them");
        table.setFixedCellSize(ROW_HEIGHT);
        table.setPlaceholder(
                new Label("No series of a host source with a stretch at rest was recorded in these runs."));
        table.getSelectionModel().selectedItemProperty().addListener((_, _, now) -> {
            if (now != null) {
                chosen.run();
            }
        });
        table.setOnKeyPressed(event -> {
            if (event.isShortcutDown() && event.getCode() == javafx.scene.input.KeyCode.C) {
                copy();
            }
        });
    }

    private static String quantity(Moved moved, double value) {
        String unit = moved.series().unit();
        // percentages say of what in the name of their series' unit, which the table has no room for
        return unit.startsWith("%")
                ? Written.significant(value) + " %"
                : unit.endsWith("/s") && !unit.startsWith("bytes")
                        ? Written.significant(value) + "/s"
                        : Written.quantity(value, unit.contains(" ") ? "" : unit);
    }

    private static String score(double score) {
        return Double.isNaN(score)
                ? "–"
                : Math.abs(score) >= 1000
                        ? (score > 0 ? "> 999" : "< -999")
                        : String.format(Locale.ROOT, "%.1f", score);
    }

    private void text(String name, double width, Function<Row, String> text, Function<Row, Comparable<?>> order) {
        var column = new TableColumn<Row, Row>(name);
        column.setPrefWidth(width);
        column.setCellValueFactory(row -> new SimpleObjectProperty<>(row.getValue()));
        column.setComparator((a, b) -> compare(order.apply(a), order.apply(b)));
        column.setCellFactory(_ -> new TableCell<>() {
            @Override
            protected void updateItem(Row item, boolean empty) {
                super.updateItem(item, empty);
                setText(empty || item == null ? "" : text.apply(item));
            }
        });
        table.getColumns().add(column);
    }

    private static int compare(Comparable<?> a, Comparable<?> b) {
        return a instanceof Double left && b instanceof Double right
                ? Double.compare(left, right)
                : a.toString().compareTo(b.toString());
    }

    private void curve() {
        var column = new TableColumn<Row, Row>("from rest to load");
        column.setPrefWidth(CURVE_WIDTH + 14);
        column.setSortable(false);
        column.setCellValueFactory(row -> new SimpleObjectProperty<>(row.getValue()));
        column.setCellFactory(_ -> new TableCell<>() {
            private final Canvas canvas = new Canvas(CURVE_WIDTH, CURVE_HEIGHT);

            @Override
            protected void updateItem(Row item, boolean empty) {
                super.updateItem(item, empty);
                if (!empty && item != null) {
                    draw(canvas.getGraphicsContext2D(), item);
                }
                setGraphic(empty || item == null ? null : canvas);
            }
        });
        table.getColumns().add(column);
    }

    /** The idle stretch is on a ground of its own; both parts share the axis of values. */
    private void draw(GraphicsContext at, Row row) {
        List<double[]> points = row.moved().course().points();
        double first = points.getFirst()[0];
        double last = Math.max(first + 1, points.getLast()[0]);
        double low = points.stream().mapToDouble(point -> point[1]).min().orElse(0);
        double high = Math.max(low + 1e-12, points.stream().mapToDouble(point -> point[1]).max().orElse(1));
        at.clearRect(0, 0, CURVE_WIDTH, CURVE_HEIGHT);
        at.setFill(fx(theme.zone()));
        at.fillRect(0, 0, CURVE_WIDTH * Math.clamp(-first / (last - first), 0, 1), CURVE_HEIGHT);
        at.setStroke(fx(row.run().colour()));
        at.setLineWidth(1.4);
        at.beginPath();
        for (int i = 0; i < points.size(); i++) {
            double x = (points.get(i)[0] - first) / (last - first) * (CURVE_WIDTH - 2) + 1;
            double y = CURVE_HEIGHT - 2 - (points.get(i)[1] - low) / (high - low) * (CURVE_HEIGHT - 4);
            if (i == 0) {
                at.moveTo(x, y);
            } else {
                at.lineTo(x, y);
            }
        }
        at.stroke();
    }

    private static Color fx(java.awt.Color colour) {
        return Color.rgb(colour.getRed(), colour.getGreen(), colour.getBlue());
    }

    Node view() {
        return table;
    }

    /** The series of the chosen row. */
    Optional<HostSeries> chosen() {
        return Optional.ofNullable(table.getSelectionModel().getSelectedItem()).map(row -> row.moved().series());
    }

    void show(ObservableList<Row> rows, FigureTheme now) {
        theme = now;
        Optional<HostSeries> before = chosen();
        List<TableColumn<Row, ?>> order = List.copyOf(table.getSortOrder());
        table.setItems(rows);
        table.getSortOrder().setAll(order);
        int index = 0;
        for (int i = rows.size() - 1; i >= 0; i--) {
            if (before.filter(rows.get(i).moved().series()::equals).isPresent()) {
                index = i;
            }
        }
        table.getSelectionModel().select(index);
    }

    /** Puts all rows on the clipboard, figures unrounded. */
    void copy() {
        CopiedTable.copy(List.of("run", "source", "series", "unit", "role", "at_rest", "under_load", "robust_z",
                "rho_with_p99", "delay_s", "p_by_chance"), table.getItems().stream().map(row -> {
                    Moved moved = row.moved();
                    HostSeries series = moved.series();
                    return List.of(row.run().name(), series.source(), series.name(), series.unit(), series.role().id(),
                            moved.idle(), moved.loaded(), moved.isScored() ? moved.score() : "",
                            moved.withLatency().<Object>map(one -> one.rho()).orElse(""),
                            moved.withLatency().<Object>map(one -> one.delay()).orElse(""),
                            moved.withLatency().<Object>map(one -> one.p()).orElse(""));
                }).toList());
    }
}
