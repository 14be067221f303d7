package kadrem.figures;

import java.util.List;

import kadrem.core.measure.RunRecord;
import kadrem.core.study.Metric;
import kadrem.core.study.Study;
import kadrem.core.study.Written;
import org.jfree.chart.JFreeChart;
import org.jfree.chart.axis.NumberAxis;
import org.jfree.chart.plot.XYPlot;
import org.jfree.chart.renderer.xy.XYLineAndShapeRenderer;
import org.jfree.data.xy.XYSeries;
import org.jfree.data.xy.XYSeriesCollection;

/** The runs in the order in which they were measured, so that a drift of the whole host is seen. */
public final class OrderFigure {
    private static final double MINUTE = 60;

    private OrderFigure() {
    }

    /**
     * @param runs in the order of their start, at least one
     * @param byTime whether the axis is time and not the round
     */
    public static JFreeChart chart(FigureTheme theme, Study study, Metric metric, List<RunRecord> runs,
            boolean byTime) {
        var data = new XYSeriesCollection();
        var renderer = new XYLineAndShapeRenderer(true, true);
        var names = new LineNames(0.05);
        for (int i = 0; i < study.candidates().size(); i++) {
            String id = study.candidates().get(i).id();
            var mark = new Mark(i);
            var series = new XYSeries(study.candidates().get(i).name());
            // what never started, and what was not reached, has no place on the axis
            runs.stream().filter(run -> run.candidate().equals(id)).forEach(run -> run.value(metric).stream()
                    .filter(Double::isFinite)
                    .forEach(value -> series.add(byTime
                            ? java.time.Duration.between(runs.getFirst().started(), run.started()).toMillis() / 1e3
                                    / MINUTE
                            : run.round(), value)));
            int index = data.getSeriesCount();
            renderer.setSeriesPaint(index, mark.awtColour());
            renderer.setSeriesStroke(index, theme.line());
            renderer.setSeriesShape(index, mark.awtShape(5));
            data.addSeries(series);
            if (!series.isEmpty()) {
                int last = series.getItemCount() - 1;
                names.add("  " + mark.letter(), mark.awtColour(), series.getX(last).doubleValue(),
                        series.getY(last).doubleValue());
            }
        }
        renderer.setDefaultToolTipGenerator((dataset, series, item) -> dataset.getSeriesKey(series) + ": "
                + Written.value(metric.unit(), dataset.getYValue(series, item)));
        NumberAxis across = FigureTheme.axis(byTime ? "minutes since the first run" : "round",
                new NumberText(Written::significant));
        across.setAutoRangeIncludesZero(byTime);
        across.setUpperMargin(0.08);
        if (!byTime) {
            across.setStandardTickUnits(NumberAxis.createIntegerTickUnits());
        }
        NumberAxis values = FigureTheme.axis(metric.label(),
                new NumberText(value -> Written.value(metric.unit(), value)));
        var plot = new XYPlot(data, across, values, renderer);
        JFreeChart chart = theme.chart(plot);
        names.write(theme, plot, values.getRange(), y -> y, y -> y);
        return chart;
    }
}
