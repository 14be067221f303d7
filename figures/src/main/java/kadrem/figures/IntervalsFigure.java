package kadrem.figures;

import java.awt.BasicStroke;
import java.awt.Color;
import java.util.List;
import java.util.Locale;
import java.util.stream.DoubleStream;

import kadrem.core.stats.Interval;
import kadrem.core.study.Metric;
import kadrem.core.study.Study;
import kadrem.core.study.Written;
import kadrem.core.verdict.PairComparison;
import kadrem.core.verdict.Wording;
import org.jfree.chart.JFreeChart;
import org.jfree.chart.axis.NumberAxis;
import org.jfree.chart.axis.SymbolAxis;
import org.jfree.chart.plot.IntervalMarker;
import org.jfree.chart.plot.ValueMarker;
import org.jfree.chart.plot.XYPlot;
import org.jfree.chart.renderer.xy.XYErrorRenderer;
import org.jfree.chart.ui.Layer;
import org.jfree.chart.ui.RectangleAnchor;
import org.jfree.chart.ui.TextAnchor;
import org.jfree.data.xy.XYIntervalSeries;
import org.jfree.data.xy.XYIntervalSeriesCollection;

/** The estimate of each pair with its interval, against the zone in which a difference does not matter. */
public final class IntervalsFigure {
    private static final int ARROW = 13;

    private IntervalsFigure() {
    }

    /** @param pairs the pairs of one metric, at least one */
    public static JFreeChart chart(FigureTheme theme, Study study, List<PairComparison> pairs) {
        Metric metric = pairs.getFirst().metric();
        var data = new XYIntervalSeriesCollection();
        var renderer = new XYErrorRenderer();
        renderer.setDrawYError(false);
        renderer.setErrorStroke(new BasicStroke(2.2f));
        renderer.setCapLength(9);
        double[] shown = pairs.stream().flatMapToDouble(pair -> DoubleStream.of(percent(pair, pair.estimate()),
                from(pair), to(pair), percent(pair, pair.margin().low()), percent(pair, pair.margin().high()), 0))
                .filter(Double::isFinite).toArray();
        double low = DoubleStream.of(shown).min().orElse(0);
        double high = DoubleStream.of(shown).max().orElse(0);
        double room = Math.max(1e-9, high - low) * 0.08;
        double left = low - room;
        double right = high + room;
        for (int i = 0; i < pairs.size(); i++) {
            PairComparison pair = pairs.get(i);
            int row = pairs.size() - 1 - i;
            // what is without bound goes on to the edge
            double estimate = Math.clamp(percent(pair, pair.estimate()), left, right);
            double from = Math.clamp(from(pair), left, right);
            double to = Math.clamp(to(pair), left, right);
            var mark = new Mark(study.indexOf(pair.candidate()));
            var series = new XYIntervalSeries(pair.candidate() + " against " + pair.baseline());
            series.add(estimate, from, to, row, row, row);
            data.addSeries(series);
            renderer.setSeriesShape(i, mark.awtShape(6));
            renderer.setSeriesPaint(i, mark.awtColour());
        }
        renderer.setDefaultToolTipGenerator((_, series, _) -> Wording.finding(study, pairs.get(series)));
        NumberAxis change = FigureTheme.axis(
                "change of the " + metric.label() + ", " + metric.scale().unit(),
                new NumberText(IntervalsFigure::signed));
        change.setRange(left, right);
        var names = new SymbolAxis("", pairs.reversed().stream().map(pair -> letter(study, pair.candidate())
                + " against " + letter(study, pair.baseline())).toArray(String[]::new));
        names.setRange(-0.6, pairs.size() - 0.4);
        names.setGridBandsVisible(false);
        var plot = new XYPlot(data, change, names, renderer);
        JFreeChart chart = theme.chart(plot);
        plot.setRangeGridlinesVisible(false);
        plot.setDomainGridlinesVisible(true);
        plot.setDomainGridlinePaint(theme.faint());
        names.setTickLabelFont(theme.font(13));
        names.setTickLabelPaint(theme.ink());
        PairComparison first = pairs.getFirst();
        var zone = new IntervalMarker(percent(first, first.margin().low()), percent(first, first.margin().high()),
                theme.zone());
        zone.setLabel("does not matter");
        zone.setLabelBackgroundColor(new Color(0, 0, 0, 0));
        zone.setLabelFont(theme.font(11));
        zone.setLabelPaint(theme.muted());
        zone.setLabelAnchor(RectangleAnchor.TOP);
        zone.setLabelTextAnchor(TextAnchor.TOP_CENTER);
        for (int i = 0; i < pairs.size(); i++) {
            int row = pairs.size() - 1 - i;
            Color colour = new Mark(study.indexOf(pairs.get(i).candidate())).awtColour();
            if (from(pairs.get(i)) < left) {
                theme.write(plot, "◀", left, row, ARROW, TextAnchor.CENTER_LEFT, colour);
            }
            if (to(pairs.get(i)) > right) {
                theme.write(plot, "▶", right, row, ARROW, TextAnchor.CENTER_RIGHT, colour);
            }
        }
        plot.addDomainMarker(zone, Layer.BACKGROUND);
        plot.addDomainMarker(new ValueMarker(0, theme.muted(), new BasicStroke(1f)), Layer.BACKGROUND);
        return chart;
    }

    private static double from(PairComparison pair) {
        return percent(pair, pair.interval().map(Interval::low).orElse(pair.estimate()));
    }

    private static double to(PairComparison pair) {
        return percent(pair, pair.interval().map(Interval::high).orElse(pair.estimate()));
    }

    private static double percent(PairComparison pair, double value) {
        return (value - pair.metric().scale().neutral()) * 100;
    }

    private static String signed(double percent) {
        return percent == 0 ? "0" : String.format(Locale.ROOT, percent > 0 ? "+%s" : "−%s", plain(Math.abs(percent)));
    }

    private static String plain(double value) {
        return value == Math.rint(value) ? String.format(Locale.ROOT, "%,.0f", value) : Written.significant(value);
    }

    private static String letter(Study study, String id) {
        return new Mark(study.indexOf(id)).letter();
    }
}
