package kadrem.figures;

import java.awt.BasicStroke;
import java.awt.Color;
import java.util.List;
import java.util.Optional;
import java.util.function.DoubleFunction;
import java.util.stream.IntStream;

import org.jfree.chart.JFreeChart;
import org.jfree.chart.axis.NumberAxis;
import org.jfree.chart.plot.IntervalMarker;
import org.jfree.chart.plot.ValueMarker;
import org.jfree.chart.plot.XYPlot;
import org.jfree.chart.renderer.xy.AbstractXYItemRenderer;
import org.jfree.chart.renderer.xy.XYAreaRenderer;
import org.jfree.chart.renderer.xy.XYItemRenderer;
import org.jfree.chart.renderer.xy.XYLineAndShapeRenderer;
import org.jfree.chart.ui.Layer;
import org.jfree.chart.ui.RectangleAnchor;
import org.jfree.chart.ui.TextAnchor;
import org.jfree.data.RangeType;
import org.jfree.data.xy.XYSeries;
import org.jfree.data.xy.XYSeriesCollection;

/** One figure of several runs over the time of a run, one line a run, the warm-up and the chosen time shaded. */
public final class CourseFigure {
    private static final double GAP = 2.5;

    private CourseFigure() {
    }

    /**
     * One line.
     *
     * @param points seconds after the start of the warm-up, with values
     */
    public record Course(String name, Color colour, List<double[]> points) {
    }

    /**
     * How a figure is drawn.
     *
     * @param last whether no figure with the same time axis stands below it
     * @param area whether the ground under its lines is filled
     * @param most end of the axis of values, for figures that are to be set against each other; 0 for its own
     */
    public record Style(boolean last, boolean area, double most) {
        /** Lines on an axis of their own. */
        public static Style lines(boolean last) {
            return new Style(last, false, 0);
        }
    }

    private static Color clear(Color colour) {
        return new Color(colour.getRed(), colour.getGreen(), colour.getBlue(), 110);
    }

    /** What was noted of a moment. */
    public record Note(int second, String text) {
    }

    /**
     * @param title what is drawn, with its unit
     * @param end last second of the time axis
     * @param chosen first and last second of a time that was chosen
     */
    public static JFreeChart chart(FigureTheme theme, String title, DoubleFunction<String> labels, List<Course> courses,
            long warmUp, long end, Optional<double[]> chosen, List<Note> notes, Style style) {
        var data = new XYSeriesCollection();
        AbstractXYItemRenderer renderer = style.area()
                ? new XYAreaRenderer(XYAreaRenderer.AREA)
                : new XYLineAndShapeRenderer(true, false);
        NumberAxis time = time(end, style.last());
        NumberAxis values = FigureTheme.axis(title, new NumberText(labels));
        values.setRangeType(RangeType.POSITIVE);
        values.setAutoRangeMinimumSize(1e-3);
        values.setUpperMargin(0.15);
        var plot = new XYPlot(data, time, values, (XYItemRenderer) renderer);
        JFreeChart chart = theme.chart(plot);
        plot.setFixedRangeAxisSpace(TimeFigure.leftOfPlot());
        var names = new LineNames(0.075);
        for (Course course : courses) {
            XYSeries series = series(data.getSeriesCount() + " " + course.name(), course.points(), end);
            renderer.setSeriesPaint(data.getSeriesCount(), style.area() ? clear(course.colour()) : course.colour());
            renderer.setSeriesStroke(data.getSeriesCount(), theme.line());
            data.addSeries(series);
            if (!series.isEmpty()) {
                int newest = series.getItemCount() - 1;
                Number lastValue = series.getY(newest);
                names.add(course.name(), course.colour(), series.getX(newest).doubleValue(),
                        lastValue == null ? values.getRange().getUpperBound() : lastValue.doubleValue());
            }
        }
        if (style.most() > 0) {
            values.setRange(0, style.most() * 1.15);
        }
        names.write(theme, plot, values.getRange(), y -> y, y -> y);
        Never.mark(theme, plot,
                courses.stream().flatMap(course -> course.points().stream())
                        .filter(point -> point[0] <= end && Double.isInfinite(point[1])).map(point -> point[0]).sorted()
                        .distinct().toList(),
                theme.alarm());
        if (warmUp > 0) {
            plot.addDomainMarker(TimeFigure.warmUp(theme, warmUp), Layer.BACKGROUND);
        }
        shade(theme, plot, chosen);
        notes.forEach(note -> plot.addDomainMarker(marker(theme, note), Layer.FOREGROUND));
        return chart;
    }

    /** The line of some points; it breaks where nothing was told for more than {@value #GAP} of its usual steps. */
    static XYSeries series(String key, List<double[]> points, double end) {
        var series = new XYSeries(key);
        double[] steps = IntStream.range(1, points.size()).mapToDouble(i -> points.get(i)[0] - points.get(i - 1)[0])
                .sorted().toArray();
        double usual = steps.length == 0 ? Double.MAX_VALUE : steps[steps.length / 2];
        double before = Double.NaN;
        for (double[] point : points) {
            if (point[0] <= end && !Double.isNaN(point[1])) {
                if (point[0] - before > GAP * usual) {
                    series.add((before + point[0]) / 2, null);
                }
                series.add(point[0], Double.isInfinite(point[1]) ? null : Double.valueOf(point[1]));
                before = point[0];
            }
        }
        return series;
    }

    private static ValueMarker marker(FigureTheme theme, Note note) {
        var marker = new ValueMarker(note.second(), theme.ink(), new BasicStroke(0.9f));
        marker.setLabel(note.text());
        marker.setLabelFont(theme.font(11));
        marker.setLabelPaint(theme.ink());
        marker.setLabelBackgroundColor(new Color(0, 0, 0, 0));
        marker.setLabelAnchor(RectangleAnchor.TOP_RIGHT);
        marker.setLabelTextAnchor(TextAnchor.TOP_LEFT);
        return marker;
    }

    /** The time axis of a run, with room for names behind its end. */
    static NumberAxis time(long end, boolean titled) {
        var time = new NumberAxis(titled ? "seconds since the start of the warm-up" : null);
        time.setRange(0, Math.max(1, end) * TimeFigure.ROOM_FOR_NAMES);
        TimeFigure.ticks(time, end);
        return time;
    }

    /** Marks the time that was chosen. */
    static void shade(FigureTheme theme, XYPlot plot, Optional<double[]> chosen) {
        chosen.ifPresent(time -> {
            Color accent = theme.accent();
            plot.addDomainMarker(new IntervalMarker(time[0], time[1],
                    new Color(accent.getRed(), accent.getGreen(), accent.getBlue(), 40)), Layer.FOREGROUND);
        });
    }
}
