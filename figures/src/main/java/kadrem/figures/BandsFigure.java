package kadrem.figures;

import java.awt.Color;
import java.util.ArrayList;
import java.util.List;

import kadrem.core.study.Written;
import org.HdrHistogram.Histogram;
import org.jfree.chart.JFreeChart;
import org.jfree.chart.axis.CategoryAxis;
import org.jfree.chart.axis.NumberAxis;
import org.jfree.chart.labels.CategoryItemLabelGenerator;
import org.jfree.chart.plot.CategoryPlot;
import org.jfree.chart.plot.PlotOrientation;
import org.jfree.chart.renderer.category.StackedBarRenderer;
import org.jfree.chart.renderer.category.StandardBarPainter;
import org.jfree.chart.ui.RectangleInsets;
import org.jfree.data.category.CategoryDataset;
import org.jfree.data.category.DefaultCategoryDataset;

/** Share of the calls whose response time lies inside each band: a bar a run, the quickest band first. */
public final class BandsFigure {
    /** A band narrower than this has no room for its number. */
    private static final double MIN_LABELLED = 4;

    private BandsFigure() {
    }

    /** Shares of the calls below, between and above the edges, in per cent; empty histograms have none. */
    public static double[] shares(Histogram response, List<Double> edgesNanos) {
        var shares = new double[edgesNanos.size() + 1];
        long total = response.getTotalCount();
        long before = 0;
        for (int i = 0; i < edgesNanos.size() && total > 0; i++) {
            long upTo = response.getCountBetweenValues(0, Math.round(edgesNanos.get(i)));
            shares[i] = 100.0 * (upTo - before) / total;
            before = upTo;
        }
        shares[edgesNanos.size()] = total == 0 ? 0 : 100.0 * (total - before) / total;
        return shares;
    }

    /** Words for the bands: "up to 5 ms", "5 ms to 10 ms", "over 10 ms". */
    public static List<String> words(List<Double> edgesNanos) {
        var words = new ArrayList<String>();
        for (int i = 0; i <= edgesNanos.size(); i++) {
            words.add(i == 0
                    ? "up to " + Written.duration(edgesNanos.getFirst())
                    : i == edgesNanos.size()
                            ? "over " + Written.duration(edgesNanos.getLast())
                            : Written.duration(edgesNanos.get(i - 1)) + " to " + Written.duration(edgesNanos.get(i)));
        }
        return words;
    }

    public static JFreeChart chart(FigureTheme theme, List<RunLine> runs, List<Double> edgesNanos) {
        var data = new DefaultCategoryDataset();
        List<String> words = words(edgesNanos);
        for (RunLine run : runs) {
            double[] shares = shares(run.view().total().response(), edgesNanos);
            for (int i = 0; i < shares.length; i++) {
                data.addValue(shares[i], words.get(i), run.name());
            }
        }
        var renderer = new StackedBarRenderer();
        renderer.setBarPainter(new StandardBarPainter());
        renderer.setShadowVisible(false);
        renderer.setMaximumBarWidth(0.12);
        renderer.setDefaultItemLabelsVisible(true);
        renderer.setDefaultItemLabelFont(theme.font(11));
        renderer.setDefaultItemLabelGenerator(new Labels(words));
        for (int i = 0; i < words.size(); i++) {
            renderer.setSeriesPaint(i, shade(theme, i, words.size()));
            renderer.setSeriesItemLabelPaint(i, i * 2 >= words.size() ? theme.paper() : theme.ink());
        }
        var runsAxis = new CategoryAxis();
        runsAxis.setTickLabelFont(theme.font(12));
        runsAxis.setTickLabelPaint(theme.ink());
        runsAxis.setAxisLineVisible(false);
        var share = new NumberAxis("share of the calls, %");
        share.setRange(0, 100);
        share.setLabelFont(theme.font(12));
        share.setLabelPaint(theme.muted());
        share.setTickLabelFont(theme.font(11));
        share.setTickLabelPaint(theme.muted());
        share.setAxisLinePaint(theme.faint());
        var plot = new CategoryPlot(data, runsAxis, share, renderer);
        plot.setOrientation(PlotOrientation.HORIZONTAL);
        plot.setBackgroundPaint(theme.paper());
        plot.setOutlineVisible(false);
        plot.setRangeGridlinePaint(theme.faint());
        var chart = new JFreeChart(null, theme.font(12), plot, false);
        chart.setBackgroundPaint(theme.paper());
        chart.setPadding(new RectangleInsets(6, 4, 2, 24));
        return chart;
    }

    /** From paper-like to ink-like: the slower the darker, whatever the colour vision. */
    private static Color shade(FigureTheme theme, int band, int bands) {
        Color from = theme.zone();
        Color to = theme.alarm();
        double part = bands == 1 ? 0 : (double) band / (bands - 1);
        return new Color(mix(from.getRed(), to.getRed(), part), mix(from.getGreen(), to.getGreen(), part),
                mix(from.getBlue(), to.getBlue(), part));
    }

    private static int mix(int from, int to, double part) {
        return (int) Math.round(from + (to - from) * part);
    }

    /** A share, with its band's words where there is room. */
    private record Labels(List<String> words) implements CategoryItemLabelGenerator {
        private static final double ROOM_FOR_WORDS = 14;

        @Override
        public String generateLabel(CategoryDataset data, int row, int column) {
            double share = data.getValue(row, column).doubleValue();
            if (share < MIN_LABELLED) {
                return "";
            }
            String number = Written.significant(share) + " %";
            return share >= ROOM_FOR_WORDS ? words.get(row) + ": " + number : number;
        }

        @Override
        public String generateRowLabel(CategoryDataset data, int row) {
            return words.get(row);
        }

        @Override
        public String generateColumnLabel(CategoryDataset data, int column) {
            return data.getColumnKey(column).toString();
        }
    }
}
