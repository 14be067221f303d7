package kadrem.figures;

import java.awt.Color;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.TreeSet;
import java.util.function.DoubleFunction;
import java.util.function.ToDoubleFunction;

import kadrem.core.measure.SecondSummary;
import org.jfree.chart.JFreeChart;
import org.jfree.chart.axis.AxisSpace;
import org.jfree.chart.axis.NumberAxis;
import org.jfree.chart.axis.NumberTickUnit;
import org.jfree.chart.axis.TickUnits;
import org.jfree.chart.plot.IntervalMarker;
import org.jfree.chart.plot.XYPlot;
import org.jfree.chart.renderer.xy.DeviationRenderer;
import org.jfree.chart.renderer.xy.XYLineAndShapeRenderer;
import org.jfree.chart.ui.Layer;
import org.jfree.chart.ui.TextAnchor;
import org.jfree.data.RangeType;
import org.jfree.data.xy.XYSeries;
import org.jfree.data.xy.XYSeriesCollection;
import org.jfree.data.xy.YIntervalSeries;
import org.jfree.data.xy.YIntervalSeriesCollection;

/** Figures of a run second by second, the warm-up shaded, each line named at its end. */
public final class TimeFigure {
    /** Height of a name as a share of the value axis. */
    private static final double NAME_ROOM = 0.13;
    /** Width left of the plot, the same for all, so that the time axes of figures below each other are in line. */
    private static final double AXIS_WIDTH = 62;
    private static final int MAX_TICKS = 14;
    private static final double[] STEPS = {1, 2, 5, 10, 15, 30, 60};
    /** Length of a time axis in times of a run: names are written behind its end. */
    static final double ROOM_FOR_NAMES = 1.14;
    private static final float BAND_ALPHA = 0.18f;

    private TimeFigure() {
    }

    /** One line of a figure. */
    public record Line(String name, Color colour, ToDoubleFunction<SecondSummary> value) {
    }

    /** A shaded range between two values of each second. */
    public record Band(Color colour, ToDoubleFunction<SecondSummary> low, ToDoubleFunction<SecondSummary> high) {
    }

    /**
     * @param title what is drawn, with its unit
     * @param lastSecond end of the time axis, so that figures below each other share it
     * @param band drawn below the lines
     * @param timeTitle title of the time axis; empty for all but the last of figures below each other
     */
    public static JFreeChart chart(FigureTheme theme, String title, DoubleFunction<String> labels,
            List<SecondSummary> seconds, long warmUpSeconds, long lastSecond, String timeTitle, Optional<Band> band,
            List<Line> lines) {
        var data = new XYSeriesCollection();
        var renderer = new XYLineAndShapeRenderer(true, false);
        var time = new NumberAxis(timeTitle.isEmpty() ? null : timeTitle);
        time.setRange(0, Math.max(1, lastSecond) * ROOM_FOR_NAMES);
        ticks(time, lastSecond);
        NumberAxis values = FigureTheme.axis(title, new NumberText(labels));
        values.setRangeType(RangeType.POSITIVE);
        values.setAutoRangeMinimumSize(1);
        values.setUpperMargin(0.25);
        var plot = new XYPlot(data, time, values, renderer);
        JFreeChart chart = theme.chart(plot);
        plot.setFixedRangeAxisSpace(leftOfPlot());
        band.ifPresent(shade -> shade(plot, shade, seconds, lastSecond));
        var names = new LineNames(NAME_ROOM);
        var never = new TreeSet<Double>();
        for (int i = 0; i < lines.size(); i++) {
            Line line = lines.get(i);
            var series = new XYSeries(line.name());
            for (SecondSummary second : seconds) {
                if (second.second() < lastSecond) {
                    double value = line.value().applyAsDouble(second);
                    // the line breaks off where it has no end
                    series.add(second.second() + 0.5, Double.isInfinite(value) ? Double.NaN : value);
                    if (Double.isInfinite(value)) {
                        never.add(second.second() + 0.5);
                    }
                }
            }
            data.addSeries(series);
            renderer.setSeriesPaint(i, line.colour());
            renderer.setSeriesStroke(i, theme.line());
            if (!series.isEmpty()) {
                int last = series.getItemCount() - 1;
                double end = series.getY(last).doubleValue();
                names.add(line.name(), line.colour(), series.getX(last).doubleValue(),
                        Double.isNaN(end) ? values.getRange().getUpperBound() : end);
            }
        }
        names.write(theme, plot, values.getRange(), y -> y, y -> y);
        Never.mark(theme, plot, List.copyOf(never), theme.alarm());
        if (warmUpSeconds > 0) {
            plot.addDomainMarker(warmUp(theme, warmUpSeconds), Layer.BACKGROUND);
        }
        return chart;
    }

    /** The room for the value axis. */
    static AxisSpace leftOfPlot() {
        var left = new AxisSpace();
        left.setLeft(AXIS_WIDTH);
        return left;
    }

    /** The ground of the warm-up, with its name. */
    static IntervalMarker warmUp(FigureTheme theme, long seconds) {
        var warmUp = new IntervalMarker(0, seconds, theme.zone());
        warmUp.setLabel("warm-up");
        warmUp.setLabelBackgroundColor(new Color(0, 0, 0, 0));
        warmUp.setLabelFont(theme.font(11));
        warmUp.setLabelPaint(theme.muted());
        warmUp.setLabelAnchor(org.jfree.chart.ui.RectangleAnchor.TOP_LEFT);
        warmUp.setLabelTextAnchor(TextAnchor.TOP_LEFT);
        return warmUp;
    }

    /** Ticks of a time axis: seconds that are easy to read, so few that they have room, none behind {@code end}. */
    static void ticks(NumberAxis time, long end) {
        var text = new NumberText(second -> second > end ? "" : String.format(Locale.ROOT, "%.0f", second));
        double least = tick(end);
        var units = new TickUnits();
        var first = new NumberTickUnit(least, text);
        units.add(first);
        for (double step : STEPS) {
            if (step > least) {
                units.add(new NumberTickUnit(step, text));
            }
        }
        for (double step = Math.max(least, STEPS[STEPS.length - 1]) * 2; step < end; step *= 2) {
            units.add(new NumberTickUnit(step, text));
        }
        time.setStandardTickUnits(units);
        time.setTickUnit(first, false, false);
        time.setAutoTickUnitSelection(true);
    }

    /** The least seconds between two ticks, so that at most {@value #MAX_TICKS} are shown. */
    static double tick(long seconds) {
        for (double step : STEPS) {
            if (seconds <= step * MAX_TICKS) {
                return step;
            }
        }
        return Math.ceilDiv(seconds, 60L * MAX_TICKS) * 60.0;
    }

    private static void shade(XYPlot plot, Band band, List<SecondSummary> seconds, long lastSecond) {
        var range = new YIntervalSeries("");
        double most = seconds.stream().mapToDouble(band.high()).filter(Double::isFinite).max().orElse(0);
        for (SecondSummary second : seconds) {
            if (second.second() < lastSecond) {
                double high = Math.min(most, band.high().applyAsDouble(second));
                range.add(second.second() + 0.5, high, Math.min(most, band.low().applyAsDouble(second)), high);
            }
        }
        var ranges = new YIntervalSeriesCollection();
        ranges.addSeries(range);
        var renderer = new DeviationRenderer(false, false);
        renderer.setSeriesFillPaint(0, band.colour());
        renderer.setAlpha(BAND_ALPHA);
        plot.setDataset(1, ranges);
        plot.setRenderer(1, renderer);
    }
}
