package kadrem.core.examine;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;

import kadrem.core.measure.HostSeries;
import kadrem.core.measure.WatchedSource;

/**
 * What the sources of the host watch told of one run.
 *
 * @param courses the series in the order in which they first appeared
 * @param troubles by source, when it could not be read and why
 */
public record WatchView(List<Course> courses, Map<String, List<WatchedSource.Trouble>> troubles) {
    /** A run without a host watch. */
    public static final WatchView NOTHING = new WatchView(List.of(), Map.of());

    /** @param points pairs of seconds after the start of the warm-up and a value; the idle stretch is before 0 */
    public record Course(HostSeries series, List<double[]> points) {
        public Course {
            points = List.copyOf(points);
        }

        /** The values from {@code from} to before {@code to}. */
        public double[] between(double from, double to) {
            return points.stream().filter(point -> point[0] >= from && point[0] < to).mapToDouble(point -> point[1])
                    .toArray();
        }
    }

    /** The sources that told something or could not be read, in the order of their first word. */
    public List<String> sources() {
        return Stream.concat(courses.stream().map(course -> course.series().source()), troubles.keySet().stream())
                .distinct().toList();
    }

    /** Why a source tells nothing at the end of what is seen; empty where it told something after its last trouble. */
    public Optional<WatchedSource.Trouble> silence(String source) {
        double told = courses.stream().filter(course -> course.series().source().equals(source))
                .map(Course::points).filter(points -> !points.isEmpty()).mapToDouble(points -> points.getLast()[0])
                .max().orElse(Double.NEGATIVE_INFINITY);
        List<WatchedSource.Trouble> all = troubles.getOrDefault(source, List.of());
        return all.isEmpty() || all.getLast().at() < told ? Optional.empty() : Optional.of(all.getLast());
    }

    /** Puts a view together reading by reading. */
    public static final class Builder {
        private final Map<HostSeries, List<double[]>> courses = new LinkedHashMap<>();
        private final Map<String, List<WatchedSource.Trouble>> troubles = new LinkedHashMap<>();

        public void value(HostSeries series, double at, double value) {
            courses.computeIfAbsent(series, _ -> new ArrayList<>()).add(new double[]{at, value});
        }

        public void trouble(String source, double at, String reason) {
            troubles.computeIfAbsent(source, _ -> new ArrayList<>()).add(new WatchedSource.Trouble(at, reason));
        }

        public WatchView build() {
            return new WatchView(courses.entrySet().stream().map(entry -> new Course(entry.getKey(), entry.getValue()))
                    .toList(), Map.copyOf(troubles));
        }
    }
}
