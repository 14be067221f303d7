package kadrem.desk.examine;

import java.awt.geom.Rectangle2D;
import java.util.function.BiConsumer;

import javafx.scene.input.MouseButton;
import javafx.scene.input.MouseEvent;
import javafx.scene.layout.Pane;
import javafx.scene.layout.StackPane;
import javafx.scene.shape.Rectangle;
import kadrem.desk.chart.Figure;
import org.jfree.chart.axis.ValueAxis;

/** Lets a time be chosen by dragging over a figure whose axis is time. */
final class TimeBrush {
    private static final double MIN_PIXELS = 4;

    private final Figure figure;
    private final Pane sheet = new Pane();
    private final Rectangle band = new Rectangle();
    private final BiConsumer<Integer, Integer> chosen;
    private double from = Double.NaN;

    private TimeBrush(Figure figure, BiConsumer<Integer, Integer> chosen) {
        this.figure = figure;
        this.chosen = chosen;
        band.getStyleClass().add("time-brush");
        band.setVisible(false);
        band.setManaged(false);
        sheet.getChildren().add(band);
        sheet.setPickOnBounds(true);
        sheet.setOnMousePressed(this::press);
        sheet.setOnMouseDragged(this::drag);
        sheet.setOnMouseReleased(this::release);
        // the menu of the figure below
        sheet.setOnContextMenuRequested(event -> figure.fireEvent(event.copyFor(figure, figure)));
    }

    /**
     * The figure with a brush over it.
     *
     * @param chosen told of the first second and of the second before which the chosen time ends
     */
    static StackPane over(Figure figure, BiConsumer<Integer, Integer> chosen) {
        return new StackPane(figure, new TimeBrush(figure, chosen).sheet);
    }

    private void press(MouseEvent event) {
        figure.dataArea().filter(_ -> event.getButton() == MouseButton.PRIMARY).ifPresent(area -> {
            from = Math.clamp(event.getX(), area.getMinX(), area.getMaxX());
            band.setX(from);
            band.setY(area.getMinY());
            band.setWidth(0);
            band.setHeight(area.getHeight());
            band.setVisible(true);
        });
    }

    private void drag(MouseEvent event) {
        figure.dataArea().filter(_ -> !Double.isNaN(from)).ifPresent(area -> {
            double to = Math.clamp(event.getX(), area.getMinX(), area.getMaxX());
            band.setX(Math.min(from, to));
            band.setWidth(Math.abs(to - from));
        });
    }

    private void release(MouseEvent event) {
        band.setVisible(false);
        figure.dataArea().filter(_ -> !Double.isNaN(from) && band.getWidth() >= MIN_PIXELS).ifPresent(area -> {
            int first = (int) Math.floor(second(band.getX(), area));
            int before = (int) Math.ceil(second(band.getX() + band.getWidth(), area));
            chosen.accept(Math.max(0, first), Math.max(first + 1, before));
        });
        from = Double.NaN;
    }

    private double second(double x, Rectangle2D area) {
        ValueAxis axis = figure.plot().getDomainAxis();
        return axis.java2DToValue(x, area, figure.plot().getDomainAxisEdge());
    }
}
