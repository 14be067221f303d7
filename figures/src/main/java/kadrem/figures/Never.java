package kadrem.figures;

import java.awt.Color;
import java.awt.Polygon;
import java.util.List;

import org.jfree.chart.annotations.XYTextAnnotation;
import org.jfree.chart.plot.XYPlot;
import org.jfree.chart.renderer.xy.XYLineAndShapeRenderer;
import org.jfree.chart.ui.TextAnchor;
import org.jfree.data.xy.XYSeries;
import org.jfree.data.xy.XYSeriesCollection;

/** Marks at the upper edge of a figure over time, where a value was not reached: too many calls got no good answer. */
final class Never {
    /** Behind the datasets of lines, bands and a second axis. */
    private static final int DATASET = 9;
    private static final int HALF = 4;

    private Never() {
    }

    /**
     * Marks instants. Called when all else is drawn, since the axis of values stays as it is from then on.
     *
     * @param at seconds, in order; none leaves the figure as it is
     */
    static void mark(FigureTheme theme, XYPlot plot, List<Double> at, Color colour) {
        if (at.isEmpty()) {
            return;
        }
        plot.getRangeAxis().setRange(plot.getRangeAxis().getRange());
        double top = plot.getRangeAxis().getUpperBound();
        var series = new XYSeries("never");
        at.forEach(second -> series.add(second.doubleValue(), top));
        var renderer = new XYLineAndShapeRenderer(false, true);
        renderer.setSeriesShape(0, new Polygon(new int[]{-HALF, 0, HALF}, new int[]{2 * HALF, 0, 2 * HALF}, 3));
        renderer.setSeriesPaint(0, colour);
        plot.setDataset(DATASET, new XYSeriesCollection(series));
        plot.setRenderer(DATASET, renderer);
        var text = new XYTextAnnotation(" not reached", at.getFirst(), top);
        text.setFont(theme.font(11));
        text.setPaint(colour);
        text.setTextAnchor(TextAnchor.TOP_LEFT);
        plot.addAnnotation(text);
    }
}
