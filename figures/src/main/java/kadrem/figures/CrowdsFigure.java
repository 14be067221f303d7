package kadrem.figures;

import java.awt.Color;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

import kadrem.core.plan.Curve;
import kadrem.core.study.Crowd;
import kadrem.core.study.Crowds;
import kadrem.core.study.Written;
import org.jfree.chart.JFreeChart;
import org.jfree.chart.axis.NumberAxis;
import org.jfree.chart.plot.CombinedDomainXYPlot;
import org.jfree.chart.plot.IntervalMarker;
import org.jfree.chart.plot.XYPlot;
import org.jfree.chart.renderer.xy.XYDifferenceRenderer;
import org.jfree.chart.ui.Layer;
import org.jfree.chart.ui.TextAnchor;
import org.jfree.data.xy.XYSeries;
import org.jfree.data.xy.XYSeriesCollection;

/**
 * Crowds over the time of a run, one on top of the other, users and arrivals in a plot each. Each is named where it is highest. A chosen one
 * stands alone, the others lie faintly behind it.
 */
public final class CrowdsFigure {
    /** Between an instant just before a jump and the jump itself, in seconds. */
    private static final double BEFORE = 1e-6;
    private static final double ROOM_ABOVE = 1.3;
    /** Of crowds beside the first; none of them near that of a candidate. */
    private static final List<Color> OTHERS = List.of(new Color(0x8A, 0x80, 0x20), new Color(0x7A, 0x5C, 0x3A),
            new Color(0x6E, 0x74, 0x78), new Color(0x5A, 0x3A, 0x7A));
    private static final int FILL = 70;
    private static final int FAINT = 22;

    private CrowdsFigure() {
    }

    /** One crowd in a plot: what lies below it, and it on top of that. */
    private record Band(Crowd crowd, XYSeries below, XYSeries upTo, double nameAt, double height) {
    }

    /** @param chosen name of the crowd that stands alone; empty for all on top of each other */
    public static JFreeChart chart(FigureTheme theme, Crowds load, Optional<String> chosen) {
        Map<String, List<Crowd>> byUnit = new LinkedHashMap<>();
        load.crowds().forEach(crowd -> byUnit.computeIfAbsent(crowd.load().unit(), _ -> new ArrayList<>()).add(crowd));
        double length = Math.max(1, load.total().toSeconds());
        var time = new NumberAxis("seconds since the start of a run");
        time.setRange(0, length * 1.02);
        time.setStandardTickUnits(NumberAxis.createIntegerTickUnits());
        var all = new CombinedDomainXYPlot(time);
        all.setGap(8);
        byUnit.forEach((unit, crowds) -> all.add(plot(theme, load, unit, crowds, chosen)));
        JFreeChart chart = theme.chart(all);
        all.setBackgroundPaint(theme.paper());
        return chart;
    }

    private static XYPlot plot(FigureTheme theme, Crowds load, String unit, List<Crowd> crowds,
            Optional<String> chosen) {
        List<Band> bands = bands(crowds, chosen.isPresent());
        double highest = bands.stream().mapToDouble(band -> band.upTo().getMaxY()).max().orElse(1);
        NumberAxis values = FigureTheme.axis(unit.equals("users") ? "users" : "arrivals a second",
                new NumberText(Written::significant));
        values.setRange(0, Math.max(1, highest) * ROOM_ABOVE);
        var plot = new XYPlot(new XYSeriesCollection(), null, values, null);
        theme.chart(plot);
        plot.setDomainGridlinesVisible(false);
        for (int i = 0; i < bands.size(); i++) {
            String name = bands.get(i).crowd().name();
            draw(theme, plot, i, bands.get(i), chosen.filter(one -> !one.equals(name)).isPresent());
        }
        double warmUp = load.warmUp().toSeconds();
        double end = warmUp + load.measured().toSeconds();
        if (warmUp > 0) {
            plot.addDomainMarker(new IntervalMarker(0, warmUp, theme.zone()), Layer.BACKGROUND);
            if (warmUp > load.total().toSeconds() * 0.09) {
                theme.write(plot, "warm-up", warmUp / 2, Math.max(1, highest) * ROOM_ABOVE * 0.8, 11,
                        TextAnchor.BOTTOM_CENTER, theme.muted());
            }
        }
        if (load.total().toSeconds() > end) {
            plot.addDomainMarker(new IntervalMarker(end, load.total().toSeconds(), theme.zone()), Layer.BACKGROUND);
        }
        return plot;
    }

    private static void draw(FigureTheme theme, XYPlot plot, int number, Band band, boolean faint) {
        Color colour = colour(theme, number);
        var data = new XYSeriesCollection(band.upTo());
        data.addSeries(band.below());
        var fill = new Color(colour.getRed(), colour.getGreen(), colour.getBlue(), faint ? FAINT : FILL);
        var renderer = new XYDifferenceRenderer(fill, fill, false);
        renderer.setSeriesPaint(0, faint ? fill : colour);
        renderer.setSeriesStroke(0, theme.line());
        renderer.setSeriesPaint(1, new Color(0, 0, 0, 0));
        plot.setDataset(number, data);
        plot.setRenderer(number, renderer);
        if (!faint) {
            theme.write(plot, words(band), band.nameAt(), band.height(), 12, TextAnchor.BOTTOM_CENTER, theme.ink());
        }
    }

    /** "readers, 60 s at 20 users". */
    private static String words(Band band) {
        Crowd crowd = band.crowd();
        String level = crowd.load().timeline().isPresent()
                ? ", " + crowd.load().timeline().get().all() + " arrivals as they came"
                : (crowd.own().isFlat() ? " at " : ", up to ") + Written.significant(crowd.own().peak()) + " "
                        + crowd.load().unit();
        return crowd.name() + ", " + ProfileFigure.seconds(crowd.length().toSeconds()) + level;
    }

    private static Color colour(FigureTheme theme, int number) {
        Color plain = number == 0 ? theme.accent() : OTHERS.get((number - 1) % OTHERS.size());
        return number > 0 && theme.dark() ? plain.brighter() : plain;
    }

    private static List<Band> bands(List<Crowd> crowds, boolean alone) {
        List<Curve> curves = crowds.stream().map(crowd -> Curve.of(crowd.load())).toList();
        double[] instants = curves.stream().flatMap(curve -> curve.corners().stream())
                .flatMap(corner -> java.util.stream.Stream.of(Math.max(0, corner[0] - BEFORE), corner[0]))
                .mapToDouble(Double::doubleValue).sorted().distinct().toArray();
        var bands = new ArrayList<Band>();
        var floor = new double[instants.length];
        for (int i = 0; i < crowds.size(); i++) {
            var below = new XYSeries("below", false, false);
            var upTo = new XYSeries(crowds.get(i).name(), false, false);
            double widest = 0;
            double from = 0;
            double nameAt = instants.length == 0 ? 0 : instants[instants.length - 1] / 2;
            double height = 0;
            for (int t = 0; t < instants.length; t++) {
                double level = curves.get(i).at(instants[t]);
                double base = alone ? 0 : floor[t];
                below.add(instants[t], base);
                upTo.add(instants[t], base + level);
                // the middle of the longest stretch in which it is there
                if (level <= 0) {
                    from = instants[t];
                } else if (instants[t] - from >= widest) {
                    widest = instants[t] - from;
                    nameAt = (instants[t] + from) / 2;
                }
                floor[t] += level;
            }
            for (int t = 0; t < instants.length; t++) {
                height = instants[t] <= nameAt ? upTo.getY(t).doubleValue() : height;
            }
            bands.add(new Band(crowds.get(i), below, upTo, nameAt, height));
        }
        return bands;
    }
}
