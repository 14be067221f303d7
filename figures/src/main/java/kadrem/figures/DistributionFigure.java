package kadrem.figures;

import java.awt.Color;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.stream.IntStream;

import kadrem.core.examine.CallView;
import kadrem.core.study.Study;
import kadrem.core.verdict.QuantileDifferences;
import kadrem.core.verdict.RunTimes;
import org.jfree.chart.JFreeChart;
import org.jfree.chart.axis.LogAxis;
import org.jfree.chart.axis.NumberAxis;
import org.jfree.chart.axis.NumberTickUnit;
import org.jfree.chart.plot.IntervalMarker;
import org.jfree.chart.plot.ValueMarker;
import org.jfree.chart.plot.XYPlot;
import org.jfree.chart.renderer.xy.DeviationRenderer;
import org.jfree.chart.ui.Layer;
import org.jfree.data.xy.YIntervalSeries;
import org.jfree.data.xy.YIntervalSeriesCollection;

/** Whole distributions over all rounds, on the tail-stretched axis: each candidate's, and the differences of pairs. */
public final class DistributionFigure {
    private static final double STEP = 0.04;
    private static final float BAND = 0.16f;

    private DistributionFigure() {
    }

    /**
     * Each candidate's response times by percentile: the geometric mean of its rounds, and the range of them as a band, up to where calls
     * of a round went without a good answer.
     *
     * @param rounds by candidate and round
     */
    public static JFreeChart curves(FigureTheme theme, Study study, Map<String, Map<Integer, RunTimes>> rounds) {
        var data = new YIntervalSeriesCollection();
        var renderer = renderer();
        var names = new LineNames(0.045);
        double least = Double.MAX_VALUE;
        double most = 0;
        double right = 1;
        for (int i = 0; i < study.candidates().size(); i++) {
            List<RunTimes> own = List.copyOf(rounds.getOrDefault(study.candidates().get(i).id(), Map.of()).values());
            double end = own.stream().mapToDouble(one -> TailFigure.end(one.due())).min().orElse(0);
            var series = new YIntervalSeries(study.candidates().get(i).name());
            double y = 0;
            double reached = 0;
            boolean answered = true;
            for (int step = 0; step * STEP <= end + 1e-9 && !own.isEmpty(); step++) {
                double percentile = TailFigure.percentile(step * STEP);
                double[] values = own.stream().mapToDouble(one -> one.at(percentile) / 1e6).sorted().toArray();
                answered = Double.isFinite(values[values.length - 1]);
                if (!answered) {
                    break;
                }
                reached = step * STEP;
                y = Math.exp(
                        IntStream.range(0, values.length).mapToDouble(k -> Math.log(values[k])).average().orElse(0));
                series.add(step * STEP, y, values[0], values[values.length - 1]);
                least = Math.min(least, values[0]);
                most = Math.max(most, values[values.length - 1]);
            }
            colour(theme, renderer, data.getSeriesCount(), new Mark(i).awtColour());
            data.addSeries(series);
            if (series.getItemCount() > 0) {
                // beyond it calls of a round went without a good answer
                names.add(new Mark(i).letter() + (answered ? "" : ", then never"), new Mark(i).awtColour(), reached, y);
                right = Math.max(right, end);
            }
        }
        LogAxis values = TailFigure.logarithmic("response time, ms", least, most);
        var plot = new XYPlot(data, percents(right), values, renderer);
        JFreeChart chart = theme.chart(plot);
        names.write(theme, plot, values.getRange(), Math::log10, y -> Math.pow(10, y));
        return chart;
    }

    /**
     * The differences of pairs by percentile with their bands, the margin shaded.
     *
     * @param pairs at least one
     * @param margin of response times, a ratio less 1
     */
    public static JFreeChart differences(FigureTheme theme, Study study, List<QuantileDifferences> pairs,
            double margin) {
        var data = new YIntervalSeriesCollection();
        var renderer = renderer();
        var names = new LineNames(0.045);
        double right = 1;
        for (QuantileDifferences pair : pairs) {
            var mark = new Mark(study.indexOf(pair.candidate()));
            var series = new YIntervalSeries(pair.candidate() + " against " + pair.baseline());
            double x = 0;
            double y = 0;
            for (QuantileDifferences.At at : pair.at()) {
                x = -Math.log10(1 - at.percentile() / 100);
                y = percent(at.ratio());
                double middle = y;
                series.add(x, y, at.band().map(one -> percent(one.low())).orElse(middle),
                        at.band().map(one -> percent(one.high())).orElse(middle));
            }
            colour(theme, renderer, data.getSeriesCount(), mark.awtColour());
            data.addSeries(series);
            if (!pair.at().isEmpty()) {
                names.add(mark.letter() + " against " + new Mark(study.indexOf(pair.baseline())).letter(),
                        mark.awtColour(), x, y);
            }
            right = Math.max(right, x);
        }
        NumberAxis change = FigureTheme.axis("change of the response time, %", new NumberText(
                percent -> String.format(Locale.ROOT, percent > 0 ? "+%.0f" : "%.0f", percent)));
        NumberAxis percents = percents(right);
        percents.setRange(0, right * 1.3 + 0.1);
        var plot = new XYPlot(data, percents, change, renderer);
        JFreeChart chart = theme.chart(plot);
        plot.addRangeMarker(new IntervalMarker(percent(1 / (1 + margin)), percent(1 + margin), theme.zone()),
                Layer.BACKGROUND);
        plot.addRangeMarker(new ValueMarker(0, theme.muted(), new java.awt.BasicStroke(1f)), Layer.BACKGROUND);
        names.write(theme, plot, change.getRange(), y -> y, y -> y);
        return chart;
    }

    private static double percent(double ratio) {
        return (ratio - 1) * 100;
    }

    private static DeviationRenderer renderer() {
        var renderer = new DeviationRenderer(true, false);
        renderer.setAlpha(BAND);
        return renderer;
    }

    private static void colour(FigureTheme theme, DeviationRenderer renderer, int series, Color colour) {
        renderer.setSeriesPaint(series, colour);
        renderer.setSeriesFillPaint(series, colour);
        renderer.setSeriesStroke(series, theme.line());
    }

    /** The axis of {@link TailFigure}; a curve ends where fewer than {@value CallView#MIN_TAIL} calls took longer. */
    private static NumberAxis percents(double right) {
        var percents = new NumberAxis("share of the calls that were at least as fast");
        percents.setRange(0, right * 1.12 + 0.1);
        percents.setTickUnit(new NumberTickUnit(1, new NumberText(place -> place > right + 1e-9
                ? ""
                : place == 0
                        ? "fastest"
                        : String.format(Locale.ROOT, "%." + Math.max(0, (int) place - 2) + "f %%",
                                TailFigure.percentile(place)))));
        return percents;
    }
}
