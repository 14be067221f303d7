package kadrem.figures;

import java.util.List;

import kadrem.core.study.Written;
import org.HdrHistogram.Histogram;
import org.HdrHistogram.HistogramIterationValue;
import org.jfree.chart.JFreeChart;
import org.jfree.chart.axis.LogAxis;
import org.jfree.chart.axis.NumberAxis;
import org.jfree.chart.plot.XYPlot;
import org.jfree.chart.renderer.xy.XYStepRenderer;
import org.jfree.data.xy.XYSeries;
import org.jfree.data.xy.XYSeriesCollection;

/** How the calls spread over response times: the share of them in each of the equal steps of a logarithmic axis. */
public final class SpreadFigure {
    private static final int BINS_PER_DECADE = 20;
    private static final int BINS = 10 * BINS_PER_DECADE;

    private SpreadFigure() {
    }

    /** The share of the calls in each bin; bin 0 begins at 100 ns. */
    static double[] shares(Histogram response) {
        var shares = new double[BINS];
        for (HistogramIterationValue value : response.recordedValues()) {
            int bin = (int) Math.floor(Math.log10(Math.max(1, value.getValueIteratedTo() / 100.0)) * BINS_PER_DECADE);
            shares[Math.min(bin, BINS - 1)] += (double) value.getCountAddedInThisIterationStep()
                    / response.getTotalCount();
        }
        return shares;
    }

    private static double edge(int bin) {
        return 1e-4 * Math.pow(10, (double) bin / BINS_PER_DECADE);
    }

    public static JFreeChart chart(FigureTheme theme, List<RunLine> runs) {
        var data = new XYSeriesCollection();
        var renderer = new XYStepRenderer();
        var names = new LineNames(0.035);
        int first = BINS;
        int last = 0;
        double top = 0;
        for (RunLine run : runs) {
            double[] shares = shares(run.view().total().response());
            var series = new XYSeries(data.getSeriesCount() + " " + run.name());
            int highest = 0;
            int lowest = BINS;
            int end = 0;
            for (int i = 0; i < BINS; i++) {
                highest = shares[i] > shares[highest] ? i : highest;
                lowest = shares[i] > 0 ? Math.min(lowest, i) : lowest;
                end = shares[i] > 0 ? i + 1 : end;
            }
            for (int i = lowest; i <= end && i < BINS; i++) {
                series.add(edge(i), shares[i] * 100);
            }
            first = Math.min(first, lowest);
            last = Math.max(last, end);
            renderer.setSeriesPaint(data.getSeriesCount(), run.colour());
            renderer.setSeriesStroke(data.getSeriesCount(), theme.line());
            data.addSeries(series);
            if (shares[highest] > 0) {
                names.add(run.name(), run.colour(), edge(highest + 1), shares[highest] * 100);
                top = Math.max(top, shares[highest] * 100);
            }
        }
        boolean any = first < last;
        LogAxis times = TailFigure.logarithmic("response time, ms", any ? edge(first) : 1, any ? edge(last) : 10);
        NumberAxis values = FigureTheme.axis("share of the calls, %", new NumberText(Written::significant));
        values.setRange(0, any ? top * 1.15 : 1);
        var plot = new XYPlot(data, times, values, renderer);
        JFreeChart chart = theme.chart(plot);
        names.write(theme, plot, values.getRange(), y -> y, y -> y);
        return chart;
    }
}
