package kadrem.desk.chart;

import java.awt.Color;
import java.util.ArrayList;
import java.util.Comparator;
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
import org.jfree.data.RangeType;
import org.jfree.data.xy.XYSeries;
import org.jfree.data.xy.XYSeriesCollection;

/** Figures of a run second by second, the warm-up shaded, each line named at its end. */
public final class TimeFigure {
    /** Height of a name as a share of the value axis. */
    private static final double NAME_ROOM = 0.13;

    private TimeFigure() {
    }

    /** One line of a figure. */
    public record Line(String name, Color colour, ToDoubleFunction<SecondSummary> value) {
    }

    /**
     * @param title what is drawn, with its unit
     * @param lastSecond end of the time axis, so that figures below each other share it
     * @param timeTitle title of the time axis; empty for all but the last of figures below each other
     */
    public static JFreeChart chart(FigureTheme theme, String title, DoubleFunction<String> labels,
            List<SecondSummary> seconds, long warmUpSeconds, long lastSecond, String timeTitle, List<Line> lines) {
        var data = new XYSeriesCollection();
        var renderer = new XYLineAndShapeRenderer(true, false);
        var time = new NumberAxis(timeTitle.isEmpty() ? null : timeTitle);
        time.setRange(0, Math.max(1, lastSecond) * 1.14);
        time.setStandardTickUnits(NumberAxis.createIntegerTickUnits());
        NumberAxis values = FigureTheme.axis(title, new NumberText(labels));
        values.setRangeType(RangeType.POSITIVE);
        values.setAutoRangeMinimumSize(1);
        values.setUpperMargin(0.25);
        var plot = new XYPlot(data, time, values, renderer);
        JFreeChart chart = theme.chart(plot);
        var names = new ArrayList<Name>();
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
            if (!series.isEmpty()) {
                names.add(new Name(line, series.getX(series.getItemCount() - 1).doubleValue(),
                        series.getY(series.getItemCount() - 1).doubleValue()));
            }
        }
        nameAtEnd(theme, plot, names, values.getRange().getLength() * NAME_ROOM);
        if (warmUpSeconds > 0) {
            var warmUp = new IntervalMarker(0, warmUpSeconds, theme.zone());
            warmUp.setLabel("warm-up");
            warmUp.setLabelBackgroundColor(new Color(0, 0, 0, 0));
            warmUp.setLabelFont(theme.font(11));
            warmUp.setLabelPaint(theme.muted());
            warmUp.setLabelAnchor(org.jfree.chart.ui.RectangleAnchor.TOP_LEFT);
            warmUp.setLabelTextAnchor(TextAnchor.TOP_LEFT);
            plot.addDomainMarker(warmUp, Layer.BACKGROUND);
        }
        return chart;
    }

    /** Where the name of a line would stand by its last value. */
    private record Name(Line line, double x, double y) {
    }

    /** Names stand by the ends of their lines, moved apart where they would cover each other. */
    private static void nameAtEnd(FigureTheme theme, XYPlot plot, List<Name> names, double room) {
        names.sort(Comparator.comparingDouble(Name::y));
        double lowest = Double.NEGATIVE_INFINITY;
        for (Name name : names) {
            double y = Math.max(name.y(), lowest);
            lowest = y + room;
            var text = new XYTextAnnotation(" " + name.line().name(), name.x(), y);
            text.setFont(theme.font(12));
            text.setPaint(name.line().colour());
            text.setTextAnchor(TextAnchor.CENTER_LEFT);
            plot.addAnnotation(text);
        }
    }
}
