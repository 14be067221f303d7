package kadrem.figures;

import java.awt.BasicStroke;
import java.awt.Color;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

import kadrem.core.study.Metric;
import kadrem.core.study.Study;
import kadrem.core.study.Written;
import kadrem.core.verdict.Comparison;
import org.jfree.chart.JFreeChart;
import org.jfree.chart.axis.NumberAxis;
import org.jfree.chart.plot.XYPlot;
import org.jfree.chart.renderer.xy.XYLineAndShapeRenderer;
import org.jfree.data.xy.XYSeries;
import org.jfree.data.xy.XYSeriesCollection;

/**
 * What a candidate costs against what it gives: each run a faint dot, each candidate's geometric mean a full one, and the
 * front of those that no other beats on both (Pareto) as a dashed line.
 */
public final class CostFigure {
    private static final int FAINT = 90;

    private CostFigure() {
    }

    /** The place of a candidate. */
    private record Place(int candidate, double cost, double value) {
    }

    /** @param metric across against {@code cost}; both lower is better or turned by the figure's axis */
    public static JFreeChart chart(FigureTheme theme, Study study, Comparison comparison, Metric metric, Metric cost) {
        var data = new XYSeriesCollection();
        var renderer = new XYLineAndShapeRenderer(false, true);
        var places = new ArrayList<Place>();
        for (int i = 0; i < study.candidates().size(); i++) {
            String id = study.candidates().get(i).id();
            TreeMap<Integer, Double> costs = comparison.values(cost, id);
            TreeMap<Integer, Double> values = comparison.values(metric, id);
            var mark = new Mark(i);
            var runs = new XYSeries("runs of " + study.candidates().get(i).name(), false, true);
            double logCost = 0;
            double logValue = 0;
            boolean reached = true;
            for (Map.Entry<Integer, Double> one : costs.entrySet()) {
                Double value = values.get(one.getKey());
                if (value != null && (value.isInfinite() || one.getValue().isInfinite())) {
                    // a run without the figure has no place, and a candidate with such runs no middle
                    reached = false;
                } else if (value != null && value > 0 && one.getValue() > 0) {
                    runs.add(value.doubleValue(), one.getValue().doubleValue());
                    logCost += Math.log(one.getValue());
                    logValue += Math.log(value);
                }
            }
            Color colour = mark.awtColour();
            add(data, renderer, runs, new Color(colour.getRed(), colour.getGreen(), colour.getBlue(), FAINT), mark, 4);
            if (!runs.isEmpty() && reached) {
                var mean = new Place(i, Math.exp(logCost / runs.getItemCount()),
                        Math.exp(logValue / runs.getItemCount()));
                places.add(mean);
                var middle = new XYSeries(study.candidates().get(i).name());
                middle.add(mean.value(), mean.cost());
                add(data, renderer, middle, colour, mark, 8);
            }
        }
        front(theme, metric, places, data, renderer);
        renderer.setDefaultToolTipGenerator((dataset, series, item) -> dataset.getSeriesKey(series) + ": "
                + Written.value(metric.unit(), dataset.getXValue(series, item)) + ", "
                + Written.value(cost.unit(), dataset.getYValue(series, item)));
        NumberAxis across = FigureTheme.axis(metric.label(),
                new NumberText(value -> Written.value(metric.unit(), value)));
        NumberAxis up = FigureTheme.axis(cost.label(), new NumberText(value -> Written.value(cost.unit(), value)));
        across.setUpperMargin(0.12);
        up.setUpperMargin(0.12);
        var plot = new XYPlot(data, across, up, renderer);
        JFreeChart chart = theme.chart(plot);
        var names = new LineNames(0.045);
        places.forEach(place -> names.add("    " + new Mark(place.candidate()).letter(),
                new Mark(place.candidate()).awtColour(), place.value(), place.cost()));
        names.write(theme, plot, up.getRange(), y -> y, y -> y);
        return chart;
    }

    private static void front(FigureTheme theme, Metric metric, List<Place> places, XYSeriesCollection data,
            XYLineAndShapeRenderer renderer) {
        int sign = metric.higherIsBetter() ? -1 : 1;
        List<Place> unbeaten = places.stream()
                .filter(one -> places.stream().noneMatch(other -> other.cost() <= one.cost()
                        && sign * other.value() <= sign * one.value()
                        && (other.cost() < one.cost() || sign * other.value() < sign * one.value())))
                .sorted(Comparator.comparingDouble(Place::value)).toList();
        if (unbeaten.size() > 1) {
            var line = new XYSeries("not beaten on both");
            unbeaten.forEach(one -> line.add(one.value(), one.cost()));
            int index = data.getSeriesCount();
            renderer.setSeriesLinesVisible(index, true);
            renderer.setSeriesShapesVisible(index, false);
            renderer.setSeriesPaint(index, theme.muted());
            renderer.setSeriesStroke(index, new BasicStroke(1.2f, BasicStroke.CAP_BUTT, BasicStroke.JOIN_ROUND, 1,
                    new float[]{5, 4}, 0));
            data.addSeries(line);
        }
    }

    private static void add(XYSeriesCollection data, XYLineAndShapeRenderer renderer, XYSeries series, Color colour,
            Mark mark, double size) {
        int index = data.getSeriesCount();
        renderer.setSeriesPaint(index, colour);
        renderer.setSeriesShape(index, mark.awtShape(size));
        data.addSeries(series);
    }
}
