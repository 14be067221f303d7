package kadrem.figures;

import java.awt.BasicStroke;

import kadrem.core.study.Written;
import kadrem.core.verdict.PlanCurve;
import kadrem.core.verdict.Planning;
import org.jfree.chart.JFreeChart;
import org.jfree.chart.axis.NumberAxis;
import org.jfree.chart.plot.IntervalMarker;
import org.jfree.chart.plot.ValueMarker;
import org.jfree.chart.plot.XYPlot;
import org.jfree.chart.renderer.xy.XYLineAndShapeRenderer;
import org.jfree.chart.ui.Layer;
import org.jfree.chart.ui.RectangleAnchor;
import org.jfree.chart.ui.TextAnchor;
import org.jfree.data.RangeType;
import org.jfree.data.xy.XYSeries;
import org.jfree.data.xy.XYSeriesCollection;

/** The smallest difference that a number of rounds settles, the margin shaded, the plan marked. */
public final class PlanFigure {
    private static final int MAX = 40;
    private static final int BEYOND = 2;

    private PlanFigure() {
    }

    /** The number of rounds to which a figure goes. */
    public static int most(int planned) {
        return Math.max(MAX, planned + BEYOND);
    }

    /** @param planned rounds of the plan */
    public static JFreeChart chart(FigureTheme theme, PlanCurve curve, int planned) {
        Planning plan = curve.plan();
        int most = most(planned);
        var series = new XYSeries("smallest difference");
        curve.smallest().forEach((rounds, size) -> series.add(rounds.doubleValue(),
                plan.metric().scale().size(size) * 100));
        var renderer = new XYLineAndShapeRenderer(true, false);
        renderer.setSeriesPaint(0, theme.accent());
        renderer.setSeriesStroke(0, theme.line());
        NumberAxis rounds = FigureTheme.axis("rounds", new NumberText(Written::significant));
        rounds.setRange(0, most);
        NumberAxis size = FigureTheme.axis(
                "smallest difference settled, " + plan.metric().scale().unit(),
                new NumberText(Written::significant));
        size.setRangeType(RangeType.POSITIVE);
        var plot = new XYPlot(new XYSeriesCollection(series), rounds, size, renderer);
        JFreeChart chart = theme.chart(plot);
        double margin = plan.margin().size() * 100;
        size.setRange(0, Math.max(margin * 2, series.isEmpty() ? 1 : Math.min(series.getMaxY(), margin * 8)));
        var zone = new IntervalMarker(0, margin, theme.zone());
        label(theme, zone, "below the margin");
        zone.setLabelAnchor(RectangleAnchor.BOTTOM_RIGHT);
        zone.setLabelTextAnchor(TextAnchor.BOTTOM_RIGHT);
        plot.addRangeMarker(zone, Layer.BACKGROUND);
        var few = new IntervalMarker(0, plan.fewest(), theme.zone());
        label(theme, few, "too few");
        // above the ground of the margin, where no line and no name of another is
        few.setLabelAnchor(RectangleAnchor.LEFT);
        few.setLabelTextAnchor(TextAnchor.CENTER_LEFT);
        plot.addDomainMarker(few, Layer.BACKGROUND);
        var now = new ValueMarker(planned, theme.ink(), new BasicStroke(1.2f));
        label(theme, now, "the plan, " + planned);
        now.setLabelPaint(theme.ink());
        now.setLabelAnchor(RectangleAnchor.TOP_RIGHT);
        now.setLabelTextAnchor(TextAnchor.TOP_LEFT);
        plot.addDomainMarker(now, Layer.FOREGROUND);
        return chart;
    }

    private static void label(FigureTheme theme, org.jfree.chart.plot.Marker marker, String text) {
        marker.setLabel(text);
        marker.setLabelFont(theme.font(12));
        marker.setLabelPaint(theme.muted());
        marker.setLabelBackgroundColor(new java.awt.Color(0, 0, 0, 0));
    }
}
