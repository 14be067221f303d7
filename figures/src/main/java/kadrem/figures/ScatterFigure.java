package kadrem.figures;

import java.awt.Color;
import java.awt.Paint;
import java.awt.geom.Ellipse2D;
import java.util.List;

import kadrem.core.study.Written;
import org.jfree.chart.JFreeChart;
import org.jfree.chart.axis.NumberAxis;
import org.jfree.chart.plot.XYPlot;
import org.jfree.chart.renderer.xy.XYLineAndShapeRenderer;
import org.jfree.data.xy.XYSeries;
import org.jfree.data.xy.XYSeriesCollection;

/** One figure against another, a dot a second; the later the second, the fuller the dot. */
public final class ScatterFigure {
    private static final double DOT = 7;
    private static final int FAINTEST = 40;

    private ScatterFigure() {
    }

    /**
     * The dots of a run.
     *
     * @param points pairs of values in the order of time
     */
    public record Cloud(String name, Color colour, List<double[]> points) {
    }

    public static JFreeChart chart(FigureTheme theme, String across, String up, List<Cloud> clouds) {
        var data = new XYSeriesCollection();
        var renderer = new XYLineAndShapeRenderer(false, true) {
            private static final long serialVersionUID = 1L;

            @Override
            public Paint getItemPaint(int series, int item) {
                Color colour = clouds.get(series).colour();
                int last = Math.max(1, clouds.get(series).points().size() - 1);
                return new Color(colour.getRed(), colour.getGreen(), colour.getBlue(),
                        FAINTEST + (255 - FAINTEST) * item / last);
            }
        };
        var dot = new Ellipse2D.Double(-DOT / 2, -DOT / 2, DOT, DOT);
        for (Cloud cloud : clouds) {
            // seconds follow each other whatever their values are
            var series = new XYSeries(data.getSeriesCount() + " " + cloud.name(), false, true);
            cloud.points().forEach(point -> series.add(point[0], point[1]));
            renderer.setSeriesShape(data.getSeriesCount(), dot);
            data.addSeries(series);
        }
        NumberAxis values = axis(up);
        var plot = new XYPlot(data, axis(across), values, renderer);
        JFreeChart chart = theme.chart(plot);
        var names = new LineNames(0.045);
        for (Cloud cloud : clouds) {
            if (!cloud.points().isEmpty()) {
                double[] last = cloud.points().getLast();
                names.add(cloud.name(), cloud.colour(), last[0], last[1]);
            }
        }
        names.write(theme, plot, values.getRange(), y -> y, y -> y);
        return chart;
    }

    private static NumberAxis axis(String title) {
        NumberAxis axis = FigureTheme.axis(title, new NumberText(Written::significant));
        axis.setAutoRangeIncludesZero(true);
        axis.setAutoRangeMinimumSize(1e-3);
        axis.setUpperMargin(0.12);
        return axis;
    }
}
