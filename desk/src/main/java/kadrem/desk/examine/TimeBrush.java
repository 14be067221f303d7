package kadrem.desk.examine;

import java.awt.geom.Rectangle2D;
import java.util.function.BiConsumer;

import javafx.scene.input.KeyCode;
import javafx.scene.input.KeyEvent;
import javafx.scene.input.MouseButton;
import javafx.scene.input.MouseEvent;
import javafx.scene.layout.Pane;
import javafx.scene.layout.StackPane;
import javafx.scene.shape.Rectangle;
import kadrem.desk.chart.Figure;
import org.jfree.chart.axis.ValueAxis;

/**
 * Lets a time be chosen over a figure whose axis is time: by dragging, or by the arrow keys. An arrow moves the band by a second, with Ctrl
 * by ten, with Shift it grows or shrinks; Enter takes it.
 */
final class TimeBrush {
    private static final double MIN_PIXELS = 4;
    /** Seconds by which a key with Ctrl moves. */
    private static final int MANY = 10;

    private final Figure figure;
    private final Pane sheet = new Pane();
    private final Rectangle band = new Rectangle();
    private final BiConsumer<Integer, Integer> chosen;
    private double from = Double.NaN;
    /** The band that keys move: the second where it was begun, and the one where it ends; both are in it. */
    private int begun;
    private int at;

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
        sheet.setFocusTraversable(true);
        sheet.getStyleClass().add("time-sheet");
        sheet.setAccessibleText(figure.getAccessibleText()
                + "; arrow keys choose a time, with Shift a longer one, Enter takes it");
        sheet.setOnKeyPressed(this::key);
        sheet.focusedProperty().addListener((_, _, focused) -> {
            if (focused) {
                figure.dataArea().ifPresent(area -> reach((int) Math.ceil(second(area.getMinX(), area)), false, area));
            } else {
                band.setVisible(false);
            }
        });
        // the menu of the figure below
        sheet.setOnContextMenuRequested(event -> figure.fireEvent(event.copyFor(figure, figure)));
    }

    /**
     * The figure with a brush over it.
     *
     * @param chosen told of the first second and of the second before which the chosen time ends
     */
    static StackPane over(Figure figure, BiConsumer<Integer, Integer> chosen) {
        // what lies over it is reached in its place
        figure.setFocusTraversable(false);
        return new StackPane(figure, new TimeBrush(figure, chosen).sheet);
    }

    private void key(KeyEvent event) {
        int step = switch (event.getCode()) {
            case LEFT -> -1;
            case RIGHT -> 1;
            default -> 0;
        };
        if (step != 0) {
            int to = at + (event.isControlDown() ? MANY * step : step);
            figure.dataArea().ifPresent(area -> reach(to, event.isShiftDown(), area));
            event.consume();
        } else if (event.getCode() == KeyCode.ENTER && band.isVisible()) {
            chosen.accept(Math.min(begun, at), Math.max(begun, at) + 1);
            event.consume();
        }
    }

    /** Has the band end at a second, within the axis. */
    private void reach(int second, boolean longer, Rectangle2D area) {
        at = Math.clamp(second, (int) Math.max(0, Math.ceil(second(area.getMinX(), area))),
                (int) Math.max(1, Math.floor(second(area.getMaxX(), area))) - 1);
        begun = longer ? begun : at;
        double left = pixel(Math.min(begun, at), area);
        band.setX(left);
        band.setY(area.getMinY());
        band.setWidth(Math.max(1, pixel(Math.max(begun, at) + 1, area) - left));
        band.setHeight(area.getHeight());
        band.setVisible(true);
    }

    private double pixel(int second, Rectangle2D area) {
        return figure.plot().getDomainAxis().valueToJava2D(second, area, figure.plot().getDomainAxisEdge());
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
