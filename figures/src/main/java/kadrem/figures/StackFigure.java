package kadrem.figures;

import java.awt.Color;
import java.util.List;
import java.util.Optional;

import kadrem.core.study.Written;
import org.jfree.chart.JFreeChart;
import org.jfree.chart.axis.NumberAxis;
import org.jfree.chart.plot.XYPlot;
import org.jfree.chart.renderer.xy.StackedXYBarRenderer;
import org.jfree.chart.renderer.xy.StandardXYBarPainter;
import org.jfree.chart.ui.Layer;
import org.jfree.data.xy.CategoryTableXYDataset;

/** Counts of several kinds over the time of a run, on top of each other; each kind is named where it is tallest. */
public final class StackFigure {
    /** From Okabe and Ito's palette for all kinds of colour vision, without those of candidates nearby. */
    private static final List<Color> KINDS = List.of(new Color(0xD5, 0x5E, 0x00), new Color(0xCC, 0x79, 0xA7),
            new Color(0xE6, 0x9F, 0x00), new Color(0x56, 0xB4, 0xE9), new Color(0x00, 0x9E, 0x73),
            new Color(0x00, 0x72, 0xB2), new Color(0x8A, 0x80, 0x20), new Color(0x7A, 0x5C, 0x3A),
            new Color(0x9A, 0x9A, 0x9A), new Color(0x5A, 0x3A, 0x7A), new Color(0x3A, 0x3A, 0x3A));

    private StackFigure() {
    }

    /**
     * @param counts of one kind, second by second
     */
    public record Kind(String name, List<double[]> counts) {
    }

    /** @param last whether no figure with the same time axis stands below it */
    public static JFreeChart chart(FigureTheme theme, String title, List<Kind> kinds, long warmUp, long end,
            Optional<double[]> chosen, boolean last) {
        var data = new CategoryTableXYDataset();
        var renderer = new StackedXYBarRenderer(0.1);
        renderer.setBarPainter(new StandardXYBarPainter());
        renderer.setShadowVisible(false);
        renderer.setDrawBarOutline(false);
        var names = new LineNames(0.09);
        for (int i = 0; i < kinds.size(); i++) {
            Kind kind = kinds.get(i);
            Color colour = KINDS.get(i % KINDS.size());
            kind.counts().forEach(count -> data.add(count[0], count[1], kind.name()));
            renderer.setSeriesPaint(i, colour);
            kind.counts().stream().max(java.util.Comparator.comparingDouble(count -> count[1]))
                    .ifPresent(most -> names.add(kind.name(), colour, Math.min(most[0], end), most[1]));
        }
        NumberAxis time = CourseFigure.time(end, last);
        NumberAxis values = FigureTheme.axis(title, new NumberText(Written::significant));
        values.setAutoRangeMinimumSize(1);
        values.setUpperMargin(0.2);
        var plot = new XYPlot(data, time, values, renderer);
        JFreeChart chart = theme.chart(plot);
        plot.setFixedRangeAxisSpace(TimeFigure.leftOfPlot());
        names.write(theme, plot, values.getRange(), y -> y, y -> y);
        if (warmUp > 0) {
            plot.addDomainMarker(TimeFigure.warmUp(theme, warmUp), Layer.BACKGROUND);
        }
        CourseFigure.shade(theme, plot, chosen);
        return chart;
    }
}
