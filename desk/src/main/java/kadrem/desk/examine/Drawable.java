package kadrem.desk.examine;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.stream.Stream;

import kadrem.core.examine.WatchView;
import kadrem.core.measure.HostSeries;

/**
 * A figure that can be drawn over time.
 *
 * @param points seconds after the start of the warm-up with values
 */
record Drawable(String title, Function<Examined, List<double[]>> points) {
    private static final double MIB = 1 << 20;

    @Override
    public String toString() {
        return title;
    }

    /** All that the runs recorded: figures of their calls, then of the hosts. */
    static List<Drawable> of(List<Examined> runs) {
        var all = new ArrayList<Drawable>();
        for (CourseFigures figure : CourseFigures.values()) {
            all.add(new Drawable(figure.toString(), one -> figure.points(one.view())));
        }
        all.addAll(ofHosts(runs));
        return List.copyOf(all);
    }

    /** What the runs recorded of hosts: series of the sources, and Kadrem's own samples for what no source tells. */
    static List<Drawable> ofHosts(List<Examined> runs) {
        Set<HostSeries> series = new LinkedHashSet<>();
        runs.forEach(one -> one.watch().courses().forEach(course -> series.add(course.series())));
        Stream<Drawable> own = Stream.of(HostFigures.values())
                .filter(figure -> series.isEmpty() || figure.isOfKadrem())
                .map(figure -> new Drawable(figure.toString(), one -> figure.points(one.host())));
        return Stream.concat(series.stream().map(Drawable::of), own).toList();
    }

    /** A host series; the idle stretch before the load is not part of its course. */
    static Drawable of(HostSeries series) {
        boolean bytes = series.unit().startsWith("bytes");
        String unit = bytes ? series.unit().replace("bytes", "MiB") : series.unit();
        return new Drawable(series.words() + (unit.isEmpty() ? "" : ", " + unit), one -> one.watch().courses().stream()
                .filter(course -> course.series().equals(series)).findFirst().map(WatchView.Course::points)
                .orElse(List.of()).stream().filter(point -> point[0] >= 0)
                .map(point -> new double[]{point[0], bytes ? point[1] / MIB : point[1]}).toList());
    }

    /** Both figures of each second that has both, in the order of time. */
    static List<double[]> pairs(Examined run, Drawable across, Drawable up, double from, double to) {
        var first = new TreeMap<Integer, Double>();
        // the middle of a second and a reading at its end belong to the same second
        across.points().apply(run).forEach(point -> first.put((int) Math.ceil(point[0]) - 1, point[1]));
        return up.points().apply(run).stream().filter(point -> point[0] >= from && point[0] <= to)
                .filter(point -> first.containsKey((int) Math.ceil(point[0]) - 1))
                .map(point -> new double[]{first.get((int) Math.ceil(point[0]) - 1), point[1]}).toList();
    }
}
