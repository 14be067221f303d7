package kadrem.figures;

import java.awt.BasicStroke;
import java.util.List;

import kadrem.core.study.Written;
import org.jfree.chart.JFreeChart;
import org.jfree.chart.axis.AxisLocation;
import org.jfree.chart.axis.AxisSpace;
import org.jfree.chart.axis.NumberAxis;
import org.jfree.chart.plot.XYPlot;
import org.jfree.chart.renderer.xy.XYLineAndShapeRenderer;
import org.jfree.data.RangeType;
import org.jfree.data.xy.XYSeriesCollection;

/** A second axis of values at the right of a figure over time, for lines in another unit; they are dashed. */
public final class RightAxis {
    private static final double WIDTH = 58;
    private static final int DATASET = 2;
    private static final float[] DASHES = {5, 4};

    private RightAxis() {
    }

    /**
     * Draws lines against an axis of their own.
     *
     * @param title what is drawn, with its unit, and that it is dashed
     */
    public static void add(FigureTheme theme, JFreeChart chart, String title, List<CourseFigure.Course> courses) {
        XYPlot plot = chart.getXYPlot();
        leaveRoom(chart);
        NumberAxis values = FigureTheme.axis(title, new NumberText(Written::significant));
        values.setRangeType(RangeType.POSITIVE);
        values.setAutoRangeMinimumSize(1);
        values.setUpperMargin(0.2);
        var data = new XYSeriesCollection();
        var renderer = new XYLineAndShapeRenderer(true, false);
        for (CourseFigure.Course course : courses) {
            renderer.setSeriesPaint(data.getSeriesCount(), course.colour());
            renderer.setSeriesStroke(data.getSeriesCount(),
                    new BasicStroke(1.4f, BasicStroke.CAP_BUTT, BasicStroke.JOIN_ROUND, 1, DASHES, 0));
            data.addSeries(CourseFigure.series(data.getSeriesCount() + " " + course.name(), course.points(),
                    plot.getDomainAxis().getUpperBound()));
        }
        plot.setRangeAxis(1, values);
        plot.setRangeAxisLocation(1, AxisLocation.TOP_OR_RIGHT);
        plot.setDataset(DATASET, data);
        plot.setRenderer(DATASET, renderer);
        plot.mapDatasetToRangeAxis(DATASET, 1);
        theme.dress(values);
    }

    /** Leaves the room of such an axis free, for a figure that stands below one that has it. */
    public static void leaveRoom(JFreeChart chart) {
        AxisSpace beside = TimeFigure.leftOfPlot();
        beside.setRight(WIDTH);
        chart.getXYPlot().setFixedRangeAxisSpace(beside);
    }
}
