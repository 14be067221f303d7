package kadrem.figures;

import java.awt.Color;
import java.awt.geom.Ellipse2D;
import java.util.List;

import kadrem.core.scaling.LadderResult;
import kadrem.core.scaling.ScalabilityFit;
import kadrem.core.study.Study;
import kadrem.core.study.Written;
import org.jfree.chart.JFreeChart;
import org.jfree.chart.axis.NumberAxis;
import org.jfree.chart.plot.XYPlot;
import org.jfree.chart.renderer.xy.XYLineAndShapeRenderer;
import org.jfree.data.xy.XYSeries;
import org.jfree.data.xy.XYSeriesCollection;

/** Throughput against the level of a ladder: a dot a level and run, and the fitted law as a line. */
public final class LadderFigure {
    private static final double DOT = 7;
    private static final int STEPS = 120;

    private LadderFigure() {
    }

    /** @param ladders of the study's candidates, at least one */
    public static JFreeChart chart(FigureTheme theme, Study study, List<LadderResult> ladders) {
        var data = new XYSeriesCollection();
        var renderer = new XYLineAndShapeRenderer();
        var names = new LineNames(0.045);
        double most = ladders.stream().flatMap(one -> one.points().stream()).mapToDouble(ScalabilityFit.Point::users)
                .max().orElse(1);
        for (LadderResult ladder : ladders) {
            var mark = new Mark(study.indexOf(ladder.candidate()));
            var dots = new XYSeries("levels of " + mark.letter());
            ladder.points().forEach(point -> dots.add(point.users(), point.throughput()));
            add(data, renderer, dots, mark.awtColour(), false, theme);
            ladder.fit().ifPresent(fit -> {
                var line = new XYSeries("law of " + mark.letter());
                for (int i = 0; i <= STEPS; i++) {
                    double users = Math.max(1, most * 1.1 * i / STEPS);
                    line.add(users, fit.throughput(users));
                }
                add(data, renderer, line, mark.awtColour(), true, theme);
            });
            ladder.points().stream().max(java.util.Comparator.comparingDouble(ScalabilityFit.Point::users))
                    .ifPresent(last -> names.add(mark.letter(), mark.awtColour(), last.users(), last.throughput()));
        }
        NumberAxis levels = FigureTheme.axis(LadderResult.isOfUsers(study) ? "users" : "arrivals a second",
                new NumberText(Written::significant));
        levels.setAutoRangeIncludesZero(true);
        levels.setUpperMargin(0.12);
        NumberAxis throughput = FigureTheme.axis("good calls a second", new NumberText(Written::significant));
        throughput.setAutoRangeIncludesZero(true);
        throughput.setUpperMargin(0.12);
        var plot = new XYPlot(data, levels, throughput, renderer);
        JFreeChart chart = theme.chart(plot);
        names.write(theme, plot, throughput.getRange(), y -> y, y -> y);
        return chart;
    }

    private static void add(XYSeriesCollection data, XYLineAndShapeRenderer renderer, XYSeries series, Color colour,
            boolean line, FigureTheme theme) {
        int index = data.getSeriesCount();
        data.addSeries(series);
        renderer.setSeriesPaint(index, colour);
        renderer.setSeriesLinesVisible(index, line);
        renderer.setSeriesShapesVisible(index, !line);
        renderer.setSeriesStroke(index, theme.line());
        renderer.setSeriesShape(index, new Ellipse2D.Double(-DOT / 2, -DOT / 2, DOT, DOT));
    }
}
