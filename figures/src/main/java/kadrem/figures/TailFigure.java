package kadrem.figures;

import java.awt.BasicStroke;
import java.util.List;
import java.util.Locale;

import kadrem.core.examine.CallView;
import kadrem.core.measure.LatencySummary;
import org.jfree.chart.JFreeChart;
import org.jfree.chart.axis.LogAxis;
import org.jfree.chart.axis.NumberAxis;
import org.jfree.chart.axis.NumberTickUnit;
import org.jfree.chart.plot.ValueMarker;
import org.jfree.chart.plot.XYPlot;
import org.jfree.chart.renderer.xy.XYLineAndShapeRenderer;
import org.jfree.chart.ui.Layer;
import org.jfree.chart.ui.RectangleAnchor;
import org.jfree.chart.ui.TextAnchor;
import org.jfree.data.Range;
import org.jfree.data.xy.XYSeries;
import org.jfree.data.xy.XYSeriesCollection;

/**
 * Response time by percentile. The axis is stretched towards the tail: every step to the right is a tenth of the calls before
 * it, so that 99 and 99.9 % are as far apart as 90 and 99 %. A line ends where fewer than {@value CallView#MIN_TAIL} calls
 * took longer.
 */
public final class TailFigure {
    private static final double STEP = 0.02;
    private static final double MAX = 5;
    /** Above so many decades an axis is labelled in steps of ten, below in steps of two. */
    private static final double DECADES_OF_TENS = 2.6;

    private TailFigure() {
    }

    /** @param stretched place on the axis: 0 is the fastest call, 1 is 90 %, 2 is 99 % */
    static double percentile(double stretched) {
        return 100 * (1 - Math.pow(10, -stretched));
    }

    /** Where the line of so many calls ends on the axis. */
    static double end(long calls) {
        return calls <= CallView.MIN_TAIL ? 0 : Math.min(MAX, Math.log10((double) calls / CallView.MIN_TAIL));
    }

    public static JFreeChart chart(FigureTheme theme, List<RunLine> runs) {
        var data = new XYSeriesCollection();
        var renderer = new XYLineAndShapeRenderer(true, false);
        var names = new LineNames(0.035);
        double least = Double.MAX_VALUE;
        double most = 0;
        double right = 2;
        for (RunLine run : runs) {
            CallView total = run.view().total();
            double end = total.response().getTotalCount() == 0 ? 0 : end(total.ranked());
            var series = new XYSeries(data.getSeriesCount() + " " + run.name());
            double y = 0;
            double reached = 0;
            boolean answered = true;
            for (int i = 0; i * STEP <= end + 1e-9 && total.response().getTotalCount() > 0 && answered; i++) {
                long nanos = total.percentile(percentile(i * STEP));
                answered = nanos != LatencySummary.NEVER;
                if (answered) {
                    y = nanos / 1e6;
                    reached = i * STEP;
                    series.add(reached, y);
                    least = Math.min(least, y);
                    most = Math.max(most, y);
                }
            }
            renderer.setSeriesPaint(data.getSeriesCount(), run.colour());
            renderer.setSeriesStroke(data.getSeriesCount(), theme.line());
            data.addSeries(series);
            if (!series.isEmpty()) {
                // beyond it calls went without a good answer
                names.add(answered ? run.name() : run.name() + ", then never", run.colour(), reached, y);
                right = Math.max(right, end);
            }
        }
        var percents = new NumberAxis("share of the calls that were at least as fast");
        percents.setRange(0, right * 1.08 + 0.1);
        percents.setTickUnit(new NumberTickUnit(1, new NumberText(place -> place > MAX
                ? ""
                : place == 0
                        ? "fastest"
                        : String.format(Locale.ROOT, "%." + Math.max(0, (int) place - 2) + "f %%",
                                percentile(place)))));
        LogAxis values = logarithmic("response time, ms", least, most);
        var plot = new XYPlot(data, percents, values, renderer);
        JFreeChart chart = theme.chart(plot);
        var half = new ValueMarker(Math.log10(2), theme.faint(), new BasicStroke(0.8f));
        half.setLabel("half");
        half.setLabelFont(theme.font(11));
        half.setLabelPaint(theme.muted());
        half.setLabelBackgroundColor(new java.awt.Color(0, 0, 0, 0));
        half.setLabelAnchor(RectangleAnchor.TOP_RIGHT);
        half.setLabelTextAnchor(TextAnchor.TOP_LEFT);
        plot.addDomainMarker(half, Layer.BACKGROUND);
        names.write(theme, plot, values.getRange(), Math::log10, y -> Math.pow(10, y));
        return chart;
    }

    /** A logarithmic axis whose labels are round numbers. */
    static LogAxis logarithmic(String title, double least, double most) {
        var axis = new LogAxis(title);
        axis.setSmallestValue(1e-9);
        axis.setNumberFormatOverride(new NumberText(NumberText::plain));
        boolean any = most > 0;
        double low = any ? Math.max(least, 1e-4) / 1.25 : 0.1;
        double high = any ? Math.max(most, least * 2) * 1.6 : 10;
        axis.setRange(new Range(low, high));
        axis.setTickUnit(new NumberTickUnit(Math.log10(high / low) > DECADES_OF_TENS ? 1 : Math.log10(2)));
        return axis;
    }
}
