package kadrem.figures;

import java.awt.Color;
import java.util.ArrayList;
import java.util.List;

import kadrem.core.plan.Curve;
import kadrem.core.study.LevelSearch;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Written;
import org.jfree.chart.JFreeChart;
import org.jfree.chart.axis.NumberAxis;
import org.jfree.chart.plot.IntervalMarker;
import org.jfree.chart.plot.XYPlot;
import org.jfree.chart.renderer.xy.XYAreaRenderer;
import org.jfree.chart.renderer.xy.XYLineAndShapeRenderer;
import org.jfree.chart.ui.Layer;
import org.jfree.chart.ui.TextAnchor;
import org.jfree.data.xy.XYSeries;
import org.jfree.data.xy.XYSeriesCollection;

/** The load profile as a curve over time, warm-up and wind-down shaded; of a search its levels one after the other. */
public final class ProfileFigure {
    private static final double ROOM_ABOVE = 1.35;
    private static final double ROOM_BEHIND = 1.05;

    private ProfileFigure() {
    }

    /** Ends of the two axes: seconds, and users or arrivals a second. */
    public record Axes(double seconds, double level) {
        /** Axes with some room around a load. */
        public static Axes of(LoadProfile.Single load) {
            return new Axes(Math.max(1, Curve.of(load).length()) * ROOM_BEHIND,
                    Math.max(1, Math.max(load.shape().peak(), load.course().warmUpLevel().orElse(0))) * ROOM_ABOVE);
        }
    }

    public static JFreeChart chart(FigureTheme theme, LoadProfile.Single load) {
        return chart(theme, load, Axes.of(load));
    }

    /** @param axes where the axes end; they stay while a curve is dragged */
    public static JFreeChart chart(FigureTheme theme, LoadProfile.Single load, Axes axes) {
        return load.course().search().isPresent()
                ? levels(theme, load, load.course().search().get())
                : profile(theme, load, axes);
    }

    private static JFreeChart profile(FigureTheme theme, LoadProfile.Single load, Axes axes) {
        var series = new XYSeries("load", false, true);
        Curve curve = Curve.of(load);
        curve.corners().forEach(corner -> series.add(corner[0], corner[1]));
        XYPlot plot = plot(theme, series, load, axes);
        JFreeChart chart = theme.chart(plot);
        double warmUp = load.warmUp().toSeconds();
        double end = warmUp + load.measured().toSeconds();
        double labelled = axes.level() * 0.93;
        if (warmUp > 0) {
            plot.addDomainMarker(new IntervalMarker(0, warmUp, theme.zone()), Layer.BACKGROUND);
            note(theme, plot, warmUp / 2, labelled, "warm-up, " + seconds(warmUp), axes.seconds() * 0.09 < warmUp);
        }
        double windDown = load.course().windDown().toSeconds();
        if (windDown > 0) {
            plot.addDomainMarker(new IntervalMarker(end, end + windDown, theme.zone()), Layer.BACKGROUND);
            note(theme, plot, end + windDown / 2, labelled, "wind-down, " + seconds(windDown),
                    axes.seconds() * 0.12 < windDown);
        }
        String held = load.timeline().isPresent()
                ? ", " + load.timeline().get().all() + " arrivals as they came"
                : load.shape().isFlat()
                        ? " at " + Written.significant(load.shape().peak()) + " " + load.unit()
                        : ", " + Written.significant(Curve.of(load.shape()).area())
                                + (load instanceof LoadProfile.Open ? " arrivals" : " user-seconds");
        note(theme, plot, (warmUp + end) / 2, labelled, "measured part, " + seconds(end - warmUp) + held, true);
        return chart;
    }

    static String seconds(double seconds) {
        return seconds < 600 ? Written.significant(seconds) + " s" : Written.significant(seconds / 60) + " min";
    }

    private static XYPlot plot(FigureTheme theme, XYSeries series, LoadProfile.Single load, Axes axes) {
        Color accent = theme.accent();
        var area = new XYAreaRenderer(XYAreaRenderer.AREA);
        area.setSeriesPaint(0, new Color(accent.getRed(), accent.getGreen(), accent.getBlue(), 55));
        var line = new XYLineAndShapeRenderer(true, false);
        line.setSeriesPaint(0, accent);
        line.setSeriesStroke(0, theme.line());
        var data = new XYSeriesCollection(series);
        var time = new NumberAxis("seconds since the start of a run");
        time.setRange(0, axes.seconds());
        time.setStandardTickUnits(NumberAxis.createIntegerTickUnits());
        NumberAxis values = FigureTheme.axis(load instanceof LoadProfile.Open ? "arrivals a second" : "users",
                new NumberText(Written::significant));
        values.setRange(0, axes.level());
        var plot = new XYPlot(data, time, values, area);
        plot.setDataset(1, data);
        plot.setRenderer(1, line);
        return plot;
    }

    /** Levels rise by equal stairs where each is a multiple of the one before, so that the low ones can be seen too. */
    private static JFreeChart levels(FigureTheme theme, LoadProfile.Single load, LevelSearch search) {
        List<Double> levels = planned(search);
        boolean byFactor = !(search instanceof LevelSearch.Ladder ladder && ladder.step() > 0);
        double length = load.total().toSeconds();
        var series = new XYSeries("levels", false, true);
        double highest = byFactor ? levels.size() : levels.getLast();
        for (int i = 0; i < levels.size(); i++) {
            double height = byFactor ? i + 1 : levels.get(i);
            series.add(i * length, height);
            series.add((i + 1) * length, height);
        }
        XYPlot plot = plot(theme, series, load, new Axes(levels.size() * length * ROOM_BEHIND, highest * ROOM_ABOVE));
        if (byFactor) {
            ((NumberAxis) plot.getRangeAxis()).setNumberFormatOverride(new NumberText(_ -> ""));
            plot.setRangeGridlinesVisible(false);
        }
        JFreeChart chart = theme.chart(plot);
        for (int i = 0; i < levels.size(); i++) {
            note(theme, plot, (i + 0.5) * length, (byFactor ? i + 1 : levels.get(i)) + highest * 0.02,
                    Written.significant(levels.get(i)), true);
            if (!load.warmUp().isZero()) {
                plot.addDomainMarker(new IntervalMarker(i * length, i * length + load.warmUp().toSeconds(),
                        theme.zone()), Layer.BACKGROUND);
            }
        }
        String words = switch (search) {
            case LevelSearch.Ladder _ ->
                "levels of " + seconds(load.measured().toSeconds()) + ", each after a warm-up, in "
                        + load.unit() + "; it ends where throughput stops growing or a requirement breaks";
            case LevelSearch.Ceiling ceiling -> "upwards until a requirement breaks, at most "
                    + Written.significant(ceiling.to()) + " arrivals/s; then between the last two, each a whole run";
        };
        note(theme, plot, levels.size() * length / 2, highest * 1.24, words, true);
        return chart;
    }

    /** Levels as far as they are known before anything is measured. */
    private static List<Double> planned(LevelSearch search) {
        var levels = new ArrayList<Double>();
        double level = search.from();
        for (int i = 0; i < search.most(); i++) {
            switch (search) {
                case LevelSearch.Ladder ladder -> {
                    levels.add(level);
                    level = ladder.after(level);
                }
                case LevelSearch.Ceiling ceiling -> {
                    if (levels.isEmpty() || levels.getLast() < ceiling.to()) {
                        levels.add(level);
                    }
                    level = Math.min(ceiling.to(), level * 2);
                }
            }
        }
        return List.copyOf(levels);
    }

    private static void note(FigureTheme theme, XYPlot plot, double x, double y, String text, boolean fits) {
        if (fits) {
            theme.write(plot, text, x, y, 12, TextAnchor.BOTTOM_CENTER, theme.ink());
        }
    }
}
