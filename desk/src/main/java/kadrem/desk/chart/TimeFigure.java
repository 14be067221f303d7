package kadrem.desk.chart;

import java.awt.Color;
import java.util.List;
import java.util.function.DoubleFunction;
import java.util.function.ToDoubleFunction;

import kadrem.core.measure.SecondSummary;
import org.jfree.chart.JFreeChart;
import org.jfree.chart.annotations.XYTextAnnotation;
import org.jfree.chart.axis.NumberAxis;
import org.jfree.chart.plot.IntervalMarker;
import org.jfree.chart.plot.XYPlot;
import org.jfree.chart.renderer.xy.XYLineAndShapeRenderer;
import org.jfree.chart.ui.Layer;
import org.jfree.chart.ui.TextAnchor;
import org.jfree.data.xy.XYSeries;
import org.jfree.data.xy.XYSeriesCollection;

/** Figures of a run second by second, the warm-up shaded, each line named at its end. */
public final class TimeFigure {
    private TimeFigure() {
    }

    /** One line of a figure. */
    public record Line(String name, Color colour, ToDoubleFunction<SecondSummary> value) {
    }

    /**
     * @param title what is drawn, with its unit
     * @param lastSecond end of the time axis, so that figures below each other share it
     */
    public static JFreeChart chart(FigureTheme theme, String title, DoubleFunction<String> labels,
            List<SecondSummary> seconds, long warmUpSeconds, long lastSecond, List<Line> lines) {
        var data = new XYSeriesCollection();
        var renderer = new XYLineAndShapeRenderer(true, false);
        var time = new NumberAxis("seconds since the start of the warm-up");
        time.setRange(0, Math.max(1, lastSecond) * 1.14);
        time.setStandardTickUnits(NumberAxis.createIntegerTickUnits());
        NumberAxis values = FigureTheme.axis(title, new NumberText(labels));
        var plot = new XYPlot(data, time, values, renderer);
        JFreeChart chart = theme.chart(plot);
        for (int i = 0; i < lines.size(); i++) {
            Line line = lines.get(i);
            var series = new XYSeries(line.name());
            for (SecondSummary second : seconds) {
                if (second.second() < lastSecond) {
                    series.add(second.second() + 0.5, line.value().applyAsDouble(second));
                }
            }
            data.addSeries(series);
            renderer.setSeriesPaint(i, line.colour());
            renderer.setSeriesStroke(i, theme.line());
            nameAtEnd(theme, plot, line, series);
        }
        if (warmUpSeconds > 0) {
            var warmUp = new IntervalMarker(0, warmUpSeconds, theme.zone());
            warmUp.setLabel("warm-up");
            warmUp.setLabelFont(theme.font(11));
            warmUp.setLabelPaint(theme.muted());
            warmUp.setLabelAnchor(org.jfree.chart.ui.RectangleAnchor.TOP_LEFT);
            warmUp.setLabelTextAnchor(TextAnchor.TOP_LEFT);
            plot.addDomainMarker(warmUp, Layer.BACKGROUND);
        }
        return chart;
    }

    private static void nameAtEnd(FigureTheme theme, XYPlot plot, Line line, XYSeries series) {
        if (series.getItemCount() == 0) {
            return;
        }
        int last = series.getItemCount() - 1;
        var name = new XYTextAnnotation(" " + line.name(), series.getX(last).doubleValue(),
                series.getY(last).doubleValue());
        name.setFont(theme.font(12));
        name.setPaint(line.colour());
        name.setTextAnchor(TextAnchor.CENTER_LEFT);
        plot.addAnnotation(name);
    }
}
