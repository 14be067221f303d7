package kadrem.core.examine;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.TreeMap;

import kadrem.core.measure.HostSeries;
import kadrem.core.measure.SecondSummary;
import kadrem.core.stats.LaggedAssociation;
import kadrem.core.stats.RobustZ;

/**
 * A host series and how far the load moved it: its median under load against the idle stretch before, as a robust z, and
 * whether it moves together with the response time. With many series some move with it by chance: of those that are told, at most one in
 * twenty does (Benjamini and Hochberg: Controlling the False Discovery Rate, Journal of the Royal Statistical Society B 57, 1995).
 *
 * @param idle median of the idle stretch
 * @param loaded median under load
 * @param score robust z of the median under load; not a number where too few readings tell of the rest
 * @param withLatency Spearman's rho with p99 of the response time second by second; empty where there is none
 * @param goesWithLatency whether that is strong, and more than the wandering of as many series shows by chance
 */
public record Moved(WatchView.Course course, double idle, double loaded, double score,
        Optional<LaggedAssociation.Result> withLatency, boolean goesWithLatency) {
    /** Fewest readings of the idle stretch for a robust z, and for a median of it. */
    public static final int MIN_IDLE = 10;
    private static final int MIN_LEVEL = 3;
    /** Seconds by which the response time may follow a series. */
    public static final int MAX_DELAY = 5;
    /** A change by a smaller share is none that anybody need look at, however steady the rest was. */
    private static final double MIN_CHANGE = 0.01;
    /** What moved before what did not, and the furthest of each first. */
    public static final Comparator<Moved> FURTHEST_FIRST = Comparator.comparing((Moved one) -> !one.departs())
            .thenComparingDouble(one -> -Math.abs(one.score()));
    /** |rho| from which two courses are said to move together. */
    private static final double TOGETHER = 0.6;
    /** Share of those told to go with the response time that may do so by chance. */
    private static final double FALSE_DISCOVERIES = 0.05;
    /** Readings within this time before the load are of the opening of connections, and of neither part. */
    private static final double OPENING_SECONDS = 0.5;

    public HostSeries series() {
        return course.series();
    }

    /** Whether there are enough readings at rest to say whether the load moved it. */
    public boolean isScored() {
        return !Double.isNaN(score);
    }

    /** Whether the load moved it, by the bound of Iglewicz and Hoaglin, and by enough to matter. */
    public boolean departs() {
        return Math.abs(score) > RobustZ.OUTLIER
                && Math.abs(loaded - idle) >= MIN_CHANGE * Math.max(Math.abs(loaded), Math.abs(idle));
    }

    /** The association in words, and only as one; empty where there is none. */
    public String associationWords() {
        if (!goesWithLatency) {
            return "";
        }
        LaggedAssociation.Result found = withLatency.orElseThrow();
        return String.format(java.util.Locale.ROOT, "%s with p99%s (rank correlation %.2f, n = %d, p = %.2g by chance)",
                found.rho() > 0 ? "rises and falls" : "runs against it: falls and rises",
                found.delay() == 0 ? "" : ", " + found.delay() + " s before it", found.rho(), found.pairs(), found.p());
    }

    /** The association in a few signs, as for a table; empty where there is none. */
    public String associationFigure() {
        return goesWithLatency
                ? String.format(java.util.Locale.ROOT, "%+.2f%s", withLatency.orElseThrow().rho(),
                        withLatency.orElseThrow().delay() == 0
                                ? ""
                                : ", " + withLatency.orElseThrow().delay() + " s ahead")
                : "";
    }

    /**
     * All series by how far they were moved, the furthest first; one without an idle stretch cannot be told of.
     *
     * @param seconds the run second by second
     * @param from second of the run from which it counts as under load
     * @param to second before which
     */
    public static List<Moved> rank(WatchView watch, List<SecondSummary> seconds, double from, double to) {
        var moved = new ArrayList<Moved>();
        var p99 = new TreeMap<Integer, Double>();
        seconds.stream().filter(second -> second.sent() > 0)
                .forEach(second -> p99.put(second.second(), (double) second.p99()));
        for (WatchView.Course course : watch.courses()) {
            double[] idle = course.between(Double.NEGATIVE_INFINITY, -OPENING_SECONDS);
            double[] loaded = course.between(from, to);
            if (idle.length >= MIN_LEVEL && loaded.length > 0) {
                RobustZ reference = RobustZ.of(idle);
                double median = RobustZ.median(loaded);
                moved.add(new Moved(course, reference.median(), median,
                        idle.length >= MIN_IDLE ? reference.score(median) : Double.NaN,
                        association(course, p99, from, to), false));
            }
        }
        double most = mostLikely(moved);
        moved.replaceAll(one -> new Moved(one.course(), one.idle(), one.loaded(), one.score(), one.withLatency(),
                one.withLatency().filter(found -> found.p() <= most).isPresent()));
        moved.sort(FURTHEST_FIRST);
        return List.copyOf(moved);
    }

    /** The largest p that is told of; below every p where none is. */
    private static double mostLikely(List<Moved> moved) {
        double[] chances = moved.stream().flatMap(one -> one.withLatency().stream())
                .mapToDouble(LaggedAssociation.Result::p).sorted().toArray();
        for (int i = chances.length; i > 0; i--) {
            if (chances[i - 1] <= FALSE_DISCOVERIES * i / chances.length) {
                return chances[i - 1];
            }
        }
        return -1;
    }

    private static Optional<LaggedAssociation.Result> association(WatchView.Course course, TreeMap<Integer, Double> p99,
            double from, double to) {
        var values = new TreeMap<Integer, Double>();
        // a reading tells of the second before it
        course.points().forEach(point -> values.put((int) Math.ceil(point[0]) - 1, point[1]));
        List<Integer> both = values.keySet().stream()
                .filter(second -> second >= from && second < to && p99.containsKey(second)).toList();
        return LaggedAssociation.of(both.stream().mapToDouble(values::get).toArray(),
                both.stream().mapToDouble(p99::get).toArray(), MAX_DELAY, TOGETHER);
    }
}
