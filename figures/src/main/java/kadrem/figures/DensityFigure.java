package kadrem.figures;

import java.awt.Color;
import java.awt.Paint;
import java.util.Optional;

import kadrem.core.examine.Density;
import kadrem.core.study.Written;
import org.jfree.chart.JFreeChart;
import org.jfree.chart.axis.NumberAxis;
import org.jfree.chart.axis.NumberTickUnit;
import org.jfree.chart.plot.IntervalMarker;
import org.jfree.chart.plot.XYPlot;
import org.jfree.chart.renderer.PaintScale;
import org.jfree.chart.renderer.xy.XYBlockRenderer;
import org.jfree.chart.ui.Layer;
import org.jfree.chart.ui.RectangleAnchor;
import org.jfree.data.xy.DefaultXYZDataset;

/** Response time over time: the more calls of a second took so long, the darker the place. */
public final class DensityFigure {
    private static final int MAX_COLUMNS = 300;
    /** A place with a single call can still be seen. */
    private static final double FAINTEST = 0.12;

    private DensityFigure() {
    }

    /**
     * @param last whether no figure with the same time axis stands below it
     * @param bins first bin shown and the one behind the last, the same for figures that are to be set against each other
     */
    public static JFreeChart chart(FigureTheme theme, RunLine run, int[] bins, long warmUp, long end,
            Optional<double[]> chosen, boolean last) {
        Density density = run.view().density();
        int width = Math.max(1, Math.ceilDiv(density.seconds(), MAX_COLUMNS));
        int columns = Math.ceilDiv(density.seconds(), width);
        var counts = new long[columns][Density.bins()];
        long most = 1;
        int filled = 0;
        for (int second = 0; second < density.seconds(); second++) {
            for (int bin = 0; bin < Density.bins(); bin++) {
                long count = density.count(second, bin);
                if (count > 0) {
                    filled += counts[second / width][bin] == 0 ? 1 : 0;
                    counts[second / width][bin] += count;
                    most = Math.max(most, counts[second / width][bin]);
                }
            }
        }
        var points = new double[3][filled];
        int at = 0;
        for (int column = 0; column < columns; column++) {
            for (int bin = 0; bin < Density.bins(); bin++) {
                if (counts[column][bin] > 0) {
                    points[0][at] = (double) column * width * run.view().step();
                    points[1][at] = Math.log10(Density.edge(bin) / 1e6);
                    points[2][at++] = counts[column][bin];
                }
            }
        }
        var data = new DefaultXYZDataset();
        data.addSeries(run.name(), points);
        var renderer = new XYBlockRenderer();
        renderer.setBlockWidth((double) width * run.view().step());
        renderer.setBlockHeight(1.0 / Density.BINS_PER_DECADE);
        renderer.setBlockAnchor(RectangleAnchor.BOTTOM_LEFT);
        renderer.setPaintScale(new Shade(theme.paper(), run.colour(), most));
        var values = new NumberAxis(run.name() + ": response time, ms");
        boolean any = bins[0] < bins[1];
        values.setRange(any ? Math.log10(Density.edge(bins[0]) / 1e6) : 0,
                any ? Math.log10(Density.edge(bins[1]) / 1e6) : 1);
        values.setNumberFormatOverride(new NumberText(power -> Written.significant(Math.pow(10, power))));
        values.setTickUnit(new NumberTickUnit(1));
        var plot = new XYPlot(data, CourseFigure.time(end, last), values, renderer);
        JFreeChart chart = theme.chart(plot);
        plot.setFixedRangeAxisSpace(TimeFigure.leftOfPlot());
        if (warmUp > 0) {
            // without its name, which the density would cover
            plot.addDomainMarker(new IntervalMarker(0, warmUp, theme.zone()), Layer.BACKGROUND);
        }
        CourseFigure.shade(theme, plot, chosen);
        return chart;
    }

    /** From the ground to the candidate's colour, by the logarithm of the count. */
    private record Shade(Color ground, Color colour, long most) implements PaintScale {
        @Override
        public double getLowerBound() {
            return 1;
        }

        @Override
        public double getUpperBound() {
            return most;
        }

        @Override
        public Paint getPaint(double count) {
            double share = most <= 1 ? 1 : Math.log(count) / Math.log(most);
            double part = FAINTEST + (1 - FAINTEST) * Math.clamp(share, 0, 1);
            return new Color(mix(ground.getRed(), colour.getRed(), part), mix(ground.getGreen(), colour.getGreen(),
                    part), mix(ground.getBlue(), colour.getBlue(), part));
        }

        private static int mix(int from, int to, double part) {
            return (int) Math.round(from + (to - from) * part);
        }
    }
}
