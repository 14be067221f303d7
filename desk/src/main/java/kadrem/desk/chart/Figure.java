package kadrem.desk.chart;

import java.awt.geom.Rectangle2D;
import java.io.File;
import java.io.IOException;
import java.util.Optional;

import javafx.scene.control.Alert;
import javafx.scene.control.ButtonType;
import javafx.scene.control.ContextMenu;
import javafx.scene.control.MenuItem;
import javafx.scene.layout.StackPane;
import javafx.stage.FileChooser;
import kadrem.figures.FigureFile;
import org.jfree.chart.ChartRenderingInfo;
import org.jfree.chart.JFreeChart;
import org.jfree.chart.fx.ChartCanvas;
import org.jfree.chart.plot.XYPlot;

/** A place in the window that shows one figure and fills the room it is given; its menu saves it as PNG or SVG. */
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
        var save = new MenuItem("Save as a picture…");
        save.setOnAction(_ -> save(name));
        var menu = new ContextMenu(save);
        // its menu comes up by the menu key, too
        setFocusTraversable(true);
        setOnContextMenuRequested(event -> menu.show(this, event.getScreenX(), event.getScreenY()));
    }

    private void save(String name) {
        var chooser = new FileChooser();
        chooser.setTitle("Save the figure");
        chooser.setInitialFileName(name.replaceAll("[^A-Za-z0-9]+", "-") + ".png");
        chooser.getExtensionFilters().addAll(new FileChooser.ExtensionFilter("Picture (PNG)", "*.png"),
                new FileChooser.ExtensionFilter("Drawing (SVG)", "*.svg"));
        File file = chooser.showSaveDialog(getScene().getWindow());
        if (file != null) {
            try {
                FigureFile.write(canvas.getChart(), (int) getWidth(), (int) getHeight(), file.toPath());
            } catch (IOException cause) {
                var told = new Alert(Alert.AlertType.NONE, "The figure was not saved: " + cause.getMessage(),
                        ButtonType.CLOSE);
                told.initOwner(getScene().getWindow());
                told.show();
            }
        }
    }

    public void show(JFreeChart chart) {
        canvas.setChart(chart);
    }

    public XYPlot plot() {
        return canvas.getChart().getXYPlot();
    }

    /** Where the values are drawn, in pixels; empty before the figure has a size. */
    public Optional<Rectangle2D> dataArea() {
        ChartRenderingInfo drawn = canvas.getRenderingInfo();
        return drawn == null || drawn.getPlotInfo().getDataArea().isEmpty()
                ? Optional.empty()
                : Optional.of(drawn.getPlotInfo().getDataArea());
    }
}
