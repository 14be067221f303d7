package kadrem.figures;

import java.awt.BasicStroke;
import java.util.List;

import kadrem.core.measure.RunRecord;
import kadrem.core.study.Candidate;
import kadrem.core.study.Metric;
import kadrem.core.study.Study;
import kadrem.core.study.Written;
import org.jfree.chart.JFreeChart;
import org.jfree.chart.axis.SymbolAxis;
import org.jfree.chart.plot.XYPlot;
import org.jfree.chart.renderer.xy.XYLineAndShapeRenderer;
import org.jfree.data.xy.XYSeries;
import org.jfree.data.xy.XYSeriesCollection;

/** Every comparable run as a dot above its candidate, dots of one round joined: the slopes are the paired differences. */
public final class RoundsFigure {
    private RoundsFigure() {
    }

    /** @param runs the comparable runs, at most one of each candidate and round */
    public static JFreeChart chart(FigureTheme theme, Study study, Metric metric, List<RunRecord> runs) {
        var data = new XYSeriesCollection();
        var renderer = new XYLineAndShapeRenderer();
        for (int round : runs.stream().mapToInt(RunRecord::round).distinct().sorted().toArray()) {
            var series = new XYSeries("round " + round);
            for (int i = 0; i < study.candidates().size(); i++) {
                addPoint(series, study, i, metric, runs, round);
            }
            renderer.setSeriesLinesVisible(data.getSeriesCount(), true);
            renderer.setSeriesShapesVisible(data.getSeriesCount(), false);
            renderer.setSeriesPaint(data.getSeriesCount(), theme.muted());
            renderer.setSeriesStroke(data.getSeriesCount(), new BasicStroke(0.8f));
            data.addSeries(series);
        }
        for (int i = 0; i < study.candidates().size(); i++) {
            var mark = new Mark(i);
            var series = new XYSeries(study.candidates().get(i).name());
            for (RunRecord run : runs) {
                if (run.candidate().equals(study.candidates().get(i).id())) {
                    addPoint(series, study, i, metric, List.of(run), run.round());
                }
            }
            renderer.setSeriesLinesVisible(data.getSeriesCount(), false);
            renderer.setSeriesShapesVisible(data.getSeriesCount(), true);
            renderer.setSeriesShape(data.getSeriesCount(), mark.awtShape(5));
            renderer.setSeriesPaint(data.getSeriesCount(), mark.awtColour());
            data.addSeries(series);
        }
        renderer.setDefaultToolTipGenerator((dataset, series, item) -> dataset.getSeriesKey(series) + ": "
                + Written.value(metric.unit(), dataset.getYValue(series, item)));
        var values = FigureTheme.axis(metric.label(), new NumberText(value -> Written.value(metric.unit(), value)));
        var names = new SymbolAxis("", study.candidates().stream()
                .map(candidate -> new Mark(study.indexOf(candidate.id())).letter() + "  " + candidate.id())
                .toArray(String[]::new));
        names.setRange(-0.5, study.candidates().size() - 0.5);
        names.setGridBandsVisible(false);
        var plot = new XYPlot(data, names, values, renderer);
        JFreeChart chart = theme.chart(plot);
        names.setTickLabelFont(theme.font(13));
        names.setTickLabelPaint(theme.ink());
        for (int i = 0; i < study.candidates().size(); i++) {
            String id = study.candidates().get(i).id();
            boolean reached = runs.stream().filter(run -> run.candidate().equals(id))
                    .noneMatch(run -> run.value(metric).stream().anyMatch(Double::isInfinite));
            Never.mark(theme, plot, reached ? List.of() : List.of((double) i), new Mark(i).awtColour());
        }
        return chart;
    }

    private static void addPoint(XYSeries series, Study study, int index, Metric metric, List<RunRecord> runs,
            int round) {
        Candidate candidate = study.candidates().get(index);
        runs.stream().filter(run -> run.round() == round && run.candidate().equals(candidate.id())).findFirst()
                .flatMap(RunRecord::figures).map(figures -> figures.value(metric))
                .filter(value -> value.isPresent() && Double.isFinite(value.getAsDouble()))
                .ifPresent(value -> series.add(index, value.getAsDouble()));
    }
}
