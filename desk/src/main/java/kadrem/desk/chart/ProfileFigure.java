package kadrem.desk.chart;

import java.awt.BasicStroke;

import kadrem.core.study.LoadProfile;
import kadrem.core.verdict.Wording;
import org.jfree.chart.JFreeChart;
import org.jfree.chart.annotations.XYTextAnnotation;
import org.jfree.chart.axis.NumberAxis;
import org.jfree.chart.plot.IntervalMarker;
import org.jfree.chart.plot.XYPlot;
import org.jfree.chart.renderer.xy.XYAreaRenderer;
import org.jfree.chart.ui.Layer;
import org.jfree.chart.ui.TextAnchor;
import org.jfree.data.xy.XYSeries;
import org.jfree.data.xy.XYSeriesCollection;

/** The load profile as a curve over time, the warm-up shaded. */
public final class ProfileFigure {
    private ProfileFigure() {
    }

    public static JFreeChart chart(FigureTheme theme, LoadProfile load) {
        boolean open = load instanceof LoadProfile.Open;
        double level = switch (load) {
            case LoadProfile.Open arrivals -> arrivals.arrivalsPerSecond();
            case LoadProfile.Closed closed -> closed.users();
        };
        long warmUp = load.warmUp().toSeconds();
        long end = warmUp + load.measured().toSeconds();
        var series = new XYSeries("load");
        series.add(0, level);
        series.add(end, level);
        var renderer = new XYAreaRenderer(XYAreaRenderer.AREA);
        java.awt.Color accent = theme.accent();
        renderer.setSeriesPaint(0, new java.awt.Color(accent.getRed(), accent.getGreen(), accent.getBlue(), 60));
        var time = new NumberAxis("seconds since the start of a run");
        time.setRange(0, end * 1.04);
        time.setStandardTickUnits(NumberAxis.createIntegerTickUnits());
        NumberAxis values = FigureTheme.axis(open ? "arrivals a second" : "users",
                new NumberText(Wording::significant));
        values.setRange(0, level * 1.35);
        var plot = new XYPlot(new XYSeriesCollection(series), time, values, renderer);
        JFreeChart chart = theme.chart(plot);
        var line = new org.jfree.chart.annotations.XYLineAnnotation(0, level, end, level, new BasicStroke(2f), accent);
        plot.addAnnotation(line);
        if (warmUp > 0) {
            plot.addDomainMarker(new IntervalMarker(0, warmUp, theme.zone()), Layer.BACKGROUND);
            note(theme, plot, warmUp / 2.0, level, "warm-up, " + warmUp + " s");
        }
        note(theme, plot, (warmUp + end) / 2.0, level,
                "measured part, " + load.measured().toSeconds() + " s at " + Wording.significant(level)
                        + (open ? " arrivals/s" : level == 1 ? " user" : " users"));
        return chart;
    }

    private static void note(FigureTheme theme, XYPlot plot, double x, double y, String text) {
        var note = new XYTextAnnotation(text, x, y * 1.06);
        note.setFont(theme.font(12));
        note.setPaint(theme.ink());
        note.setTextAnchor(TextAnchor.BOTTOM_CENTER);
        plot.addAnnotation(note);
    }
}
