package kadrem.desk.chart;

import javafx.scene.layout.StackPane;
import org.jfree.chart.JFreeChart;
import org.jfree.chart.fx.ChartCanvas;

/** A place in the window that shows one figure and fills the room it is given. */
public final class Figure extends StackPane {
    private final ChartCanvas canvas;

    public Figure(String name, JFreeChart chart) {
        canvas = new ChartCanvas(chart);
        canvas.widthProperty().bind(widthProperty());
        canvas.heightProperty().bind(heightProperty());
        canvas.setTooltipEnabled(true);
        canvas.setManaged(false);
        getChildren().add(canvas);
        getStyleClass().add("figure");
        setMinSize(120, 80);
        setAccessibleText(name);
    }

    public void show(JFreeChart chart) {
        canvas.setChart(chart);
    }
}
