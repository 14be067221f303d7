package kadrem.figures;

import java.awt.BasicStroke;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;

import kadrem.core.stats.ChangePoints;
import kadrem.core.study.Metric;
import kadrem.core.study.Written;
import kadrem.core.verdict.History;
import kadrem.core.verdict.Wording;
import org.jfree.chart.JFreeChart;
import org.jfree.chart.axis.NumberAxis;
import org.jfree.chart.axis.SymbolAxis;
import org.jfree.chart.plot.SeriesRenderingOrder;
import org.jfree.chart.plot.ValueMarker;
import org.jfree.chart.plot.XYPlot;
import org.jfree.chart.renderer.xy.XYLineAndShapeRenderer;
import org.jfree.chart.ui.Layer;
import org.jfree.chart.ui.RectangleAnchor;
import org.jfree.chart.ui.TextAnchor;
import org.jfree.data.xy.XYSeries;
import org.jfree.data.xy.XYSeriesCollection;

/** A metric over versions: each run a faint mark, the centre of a version a full one, and the levels between changes as lines. */
public final class HistoryFigure {
    private static final int NAME_LENGTH = 10;
    private static final int FAINT = 130;
    private static final int MAX_NAMES = 12;
    private static final DateTimeFormatter DAY = DateTimeFormatter.ofPattern("d MMM yyyy", Locale.ENGLISH)
            .withZone(ZoneOffset.UTC);

    private HistoryFigure() {
    }

    /** @param candidate place of the candidate in its study, which gives it its mark */
    public static JFreeChart chart(FigureTheme theme, int candidate, History history) {
        Metric metric = history.metric();
        var mark = new Mark(candidate);
        var data = new XYSeriesCollection();
        var renderer = new XYLineAndShapeRenderer();
        levels(theme, history, data, renderer);
        int runs = data.getSeriesCount();
        var each = new XYSeries("runs");
        var centres = new XYSeries("centres");
        for (int i = 0; i < history.entries().size(); i++) {
            History.Entry entry = history.entries().get(i);
            for (double value : entry.values().getOrDefault(metric, List.of())) {
                if (Double.isFinite(value)) {
                    each.add(i, value);
                }
            }
            centres.add(i, entry.centre(metric).orElseThrow());
        }
        data.addSeries(each);
        data.addSeries(centres);
        renderer.setSeriesLinesVisible(runs, false);
        renderer.setSeriesLinesVisible(runs + 1, false);
        renderer.setSeriesShape(runs, mark.awtShape(3));
        renderer.setSeriesShape(runs + 1, mark.awtShape(6));
        java.awt.Color muted = theme.muted();
        renderer.setSeriesPaint(runs, new java.awt.Color(muted.getRed(), muted.getGreen(), muted.getBlue(), FAINT));
        renderer.setSeriesPaint(runs + 1, mark.awtColour());
        renderer.setDefaultToolTipGenerator((dataset, series, item) -> {
            History.Entry entry = history.entries().get((int) Math.round(dataset.getXValue(series, item)));
            return entry.version() + ", " + DAY.format(entry.at()) + ": "
                    + Written.value(metric.unit(), dataset.getYValue(series, item));
        });
        NumberAxis values = FigureTheme.axis(metric.label(),
                new NumberText(value -> Written.value(metric.unit(), value)));
        var plot = new XYPlot(data, names(history), values, renderer);
        // the centres lie above the runs
        plot.setSeriesRenderingOrder(SeriesRenderingOrder.FORWARD);
        JFreeChart chart = theme.chart(plot);
        for (History.Step step : history.steps()) {
            var change = new ValueMarker(step.at() - 0.5, theme.alarm(), new BasicStroke(1.2f));
            change.setLabel(" " + Wording.change(metric, step.estimate()));
            change.setLabelFont(theme.font(12));
            change.setLabelPaint(theme.ink());
            change.setLabelBackgroundColor(new java.awt.Color(0, 0, 0, 0));
            change.setLabelAnchor(RectangleAnchor.TOP_RIGHT);
            change.setLabelTextAnchor(TextAnchor.TOP_LEFT);
            plot.addDomainMarker(change, Layer.BACKGROUND);
        }
        return chart;
    }

    /** The mean level of each piece between changes; none where too few versions could show a change. */
    private static void levels(FigureTheme theme, History history, XYSeriesCollection data,
            XYLineAndShapeRenderer renderer) {
        if (history.entries().size() < ChangePoints.MIN) {
            return;
        }
        List<Integer> bounds = new ArrayList<>(List.of(0));
        history.steps().forEach(step -> bounds.add(step.at()));
        bounds.add(history.entries().size());
        for (int i = 0; i + 1 < bounds.size(); i++) {
            double level = history.entries().subList(bounds.get(i), bounds.get(i + 1)).stream()
                    .mapToDouble(entry -> entry.centre(history.metric()).orElseThrow()).average().orElse(0);
            var series = new XYSeries("level " + i);
            series.add(Math.max(0, bounds.get(i) - 0.5), level);
            series.add(Math.min(history.entries().size() - 1.0, bounds.get(i + 1) - 0.5), level);
            renderer.setSeriesShapesVisible(data.getSeriesCount(), false);
            renderer.setSeriesPaint(data.getSeriesCount(), theme.ink());
            renderer.setSeriesStroke(data.getSeriesCount(), new BasicStroke(1.4f));
            data.addSeries(series);
        }
    }

    private static SymbolAxis names(History history) {
        int count = history.entries().size();
        int step = Math.max(1, (count + MAX_NAMES - 1) / MAX_NAMES);
        var texts = new String[count];
        for (int i = 0; i < count; i++) {
            String version = history.entries().get(i).version();
            texts[i] = i % step == 0 ? version.substring(0, Math.min(NAME_LENGTH, version.length())) : "";
        }
        var names = new SymbolAxis("version, oldest first", texts);
        names.setRange(-0.5, count - 0.5);
        names.setGridBandsVisible(false);
        return names;
    }
}
