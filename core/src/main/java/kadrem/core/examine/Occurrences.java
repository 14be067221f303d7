package kadrem.core.examine;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Collectors;

import kadrem.core.measure.FailureKind;
import kadrem.core.measure.LatencySummary;
import kadrem.core.measure.SecondSummary;
import kadrem.core.measure.SeriesRole;
import kadrem.core.stats.MannKendall;
import kadrem.core.stats.RobustZ;
import kadrem.core.study.SoundnessRule;
import kadrem.core.study.Written;

/**
 * Finds what happened in a run, as far as it has come: failures, leaps of the response time, what the candidate ran out of,
 * the generator's lateness, sources that fell silent. The thresholds are common practice, no source.
 */
public final class Occurrences {
    /** A delay of the generator that is less than this is not told as an occurrence. */
    private static final long LATE_NANOS = 1_000_000;
    /** Share of a resource from which it counts as used up. */
    private static final double USED_UP = 0.9;
    /** Below this share of its processors a candidate is not short of them. */
    private static final double AT_EASE = 0.5;
    /** A second's p99 against the median of those before that counts as a leap. */
    private static final double LEAP = 3;
    private static final int MINUTE = 60;
    /** Seconds before a leap that must be there to compare with. */
    private static final int MIN_BEFORE = 4;
    /** A growth over the load by less than this share is no leak. */
    private static final double MIN_GROWTH = 0.25;
    private static final double SIGNIFICANT = 0.001;
    /** Seconds with a collection from which what is left after them is the live heap. */
    private static final int MIN_COLLECTIONS = 3;
    private static final int MIN_FOR_TREND = 8;
    /** Threads more than at rest from which their waiting is told. */
    private static final double MIN_WAITING = 2;
    private static final double MIN_THROTTLED = 2;

    private final List<SecondSummary> seconds;
    private final WatchView watch;
    private final Frame frame;
    private final List<Occurrence> found = new ArrayList<>();

    /**
     * What is known of a run beside its figures.
     *
     * @param warmUpSeconds length of the warm-up
     * @param flat whether the load is the same all the time
     * @param cores processors that the candidate may use
     */
    public record Frame(int warmUpSeconds, boolean flat, double cores) {
    }

    private Occurrences(List<SecondSummary> seconds, WatchView watch, Frame frame) {
        this.seconds = seconds;
        this.watch = watch;
        this.frame = frame;
    }

    /** What happened, in the order of time. */
    public static List<Occurrence> of(List<SecondSummary> seconds, WatchView watch, Frame frame) {
        var occurrences = new Occurrences(seconds, watch, frame);
        occurrences.failures();
        occurrences.processors();
        occurrences.leap();
        occurrences.memory();
        occurrences.waiting();
        occurrences.throttling();
        occurrences.generator();
        occurrences.silence();
        return occurrences.found.stream().sorted(Comparator.comparingInt(Occurrence::second)).toList();
    }

    private void add(double second, Occurrence.Weight weight, String sentence) {
        found.add(new Occurrence((int) Math.max(0, Math.floor(second)), weight, sentence));
    }

    private void candidate(double second, String format, Object... values) {
        add(second, Occurrence.Weight.CANDIDATE, String.format(Locale.ROOT, format, values));
    }

    private void failures() {
        for (FailureKind kind : FailureKind.values()) {
            List<SecondSummary> failing = seconds.stream().filter(one -> one.failed().getOrDefault(kind, 0L) > 0)
                    .toList();
            if (!failing.isEmpty()) {
                long total = failing.stream().mapToLong(one -> one.failed().get(kind)).sum();
                int last = failing.getLast().second();
                boolean over = seconds.getLast().second() > last + 2;
                candidate(failing.getFirst().second(), "errors began at %d s: %s, %,d so far%s",
                        failing.getFirst().second(), kind.id(), total, over ? ", none since " + last + " s" : "");
            }
        }
    }

    /**
     * The first second from which the p99 is a multiple of what it was in the minute before, and stays so for a second. Where it was not
     * reached errors are told.
     */
    private void leap() {
        List<SecondSummary> loaded = seconds.stream().filter(one -> one.sent() > 0).toList();
        for (int i = MIN_BEFORE; frame.flat() && i + 1 < loaded.size(); i++) {
            double before = RobustZ.median(
                    loaded.subList(Math.max(0, i - MINUTE), i).stream().mapToDouble(SecondSummary::p99).toArray());
            if (before > 0 && loaded.get(i).p99() != LatencySummary.NEVER && loaded.get(i).p99() >= LEAP * before
                    && loaded.get(i + 1).p99() >= LEAP * before) {
                int second = loaded.get(i).second();
                Optional<double[]> cpu = cpu().stream().flatMap(course -> course.points().stream())
                        .filter(point -> second(point) == second).findFirst();
                candidate(second, "p99 rose to %s times what it was at %d s: from %s to %s%s",
                        Written.significant(Math.round(loaded.get(i).p99() / before)), second, Written.duration(before),
                        Written.duration(loaded.get(i).p99()),
                        cpu.map(point -> String.format(Locale.ROOT, ", with the candidate's CPU at %.0f %% of a core",
                                point[1])).orElse(""));
                return;
            }
        }
    }

    /** A reading tells of the second before it. */
    private static int second(double[] point) {
        return (int) Math.ceil(point[0]) - 1;
    }

    private List<WatchView.Course> candidates(SeriesRole role) {
        return watch.courses().stream()
                .filter(one -> one.series().role() == role && !one.series().source().equals("this host")).toList();
    }

    private Optional<WatchView.Course> cpu() {
        return candidates(SeriesRole.CPU).stream().filter(one -> one.series().unit().equals("% of a core")).findFirst();
    }

    private void processors() {
        cpu().ifPresent(course -> course.points().stream()
                .filter(point -> point[0] > 0 && point[1] >= USED_UP * 100 * frame.cores()).findFirst()
                .ifPresent(point -> candidate(second(point),
                        "the candidate's CPU reached %.0f %% of the %s it may use at %d s",
                        point[1] / frame.cores(), frame.cores() == 1
                                ? "core"
                                : Written.significant(frame.cores())
                                        + " cores",
                        second(point))));
        for (WatchView.Course course : watch.courses()) {
            if (course.series().unit().equals("% of all processors")) {
                course.points().stream().filter(point -> point[0] > 0 && point[1] >= USED_UP * 100).findFirst()
                        .ifPresent(point -> candidate(second(point), "the processors of %s were %.0f %% busy at %d s",
                                course.series().source(), point[1], second(point)));
            }
        }
    }

    /**
     * A level of memory that rises all the time under a load that does not. A virtual machine lets its heap grow until it
     * collects: before it has done so several times nothing is known.
     */
    private void memory() {
        Optional<WatchView.Course> collections = candidates(SeriesRole.MEMORY).stream()
                .filter(one -> one.series().name().equals("garbage collection")).findFirst();
        if (collections.filter(one -> Arrays.stream(measured(one)).filter(share -> share > 0)
                .count() < MIN_COLLECTIONS).isPresent()) {
            return;
        }
        List<WatchView.Course> rising = candidates(SeriesRole.MEMORY).stream()
                .filter(one -> one.series().unit().equals("bytes")).filter(this::grows).toList();
        rising.stream().findFirst().ifPresent(course -> {
            double[] levels = measured(course);
            // a step of the thinned row is several seconds
            double slope = MannKendall.of(thinned(levels)).slope() * thinned(levels).length / levels.length;
            candidate(frame.warmUpSeconds(), "%s grows all the time: by %s a second, %s to %s: it may be a leak",
                    course.series().words(), Written.bytes(slope), Written.bytes(levels[0]),
                    Written.bytes(levels[levels.length - 1]));
        });
    }

    private double[] measured(WatchView.Course course) {
        return course.between(Math.max(1, frame.warmUpSeconds()), Double.POSITIVE_INFINITY);
    }

    private static double[] thinned(double[] values) {
        int step = Math.max(1, Math.ceilDiv(values.length, MannKendall.MAX));
        return java.util.stream.IntStream.range(0, values.length / step).mapToDouble(i -> values[i * step]).toArray();
    }

    private boolean grows(WatchView.Course course) {
        double[] levels = measured(course);
        if (!frame.flat() || levels.length < MIN_FOR_TREND) {
            return false;
        }
        MannKendall.Result trend = MannKendall.of(thinned(levels));
        double growth = (levels[levels.length - 1] - levels[0]) / Math.max(1, levels[0]);
        // a heap that is collected now and then falls again; its second half then begins below where the first ended
        double lowestLater = Arrays.stream(levels, levels.length / 2, levels.length).min().orElse(0);
        double highestEarly = Arrays.stream(levels, 0, Math.max(1, levels.length / 4)).max().orElse(0);
        return trend.p() < SIGNIFICANT && trend.slope() > 0 && growth >= MIN_GROWTH && lowestLater > highestEarly;
    }

    /** Threads that wait although there is processor time left. */
    private void waiting() {
        double used = cpu().map(course -> RobustZ.of(orZero(measured(course))).median() / (100 * frame.cores()))
                .orElse(0.0);
        for (WatchView.Course course : candidates(SeriesRole.THREADS)) {
            double[] idle = orZero(course.between(Double.NEGATIVE_INFINITY, 0));
            double[] loaded = measured(course);
            if (loaded.length == 0 || used > AT_EASE) {
                continue;
            }
            double more = RobustZ.median(loaded) - RobustZ.median(idle);
            double most = Arrays.stream(loaded).max().orElse(0);
            if (more >= MIN_WAITING && course.series().name().equals("threads that wait for a lock")) {
                candidate(frame.warmUpSeconds(),
                        "up to %.0f threads of the candidate wait for a lock, while its CPU is at"
                                + " %.0f %%: calls stand in line inside it",
                        most, used * 100);
            } else if (more >= MIN_WAITING && course.series().name().equals("threads that read from a connection")) {
                candidate(frame.warmUpSeconds(),
                        "up to %.0f threads of the candidate wait for an answer from elsewhere,"
                                + " while its CPU is at %.0f %%: it waits for another service",
                        most, used * 100);
            }
        }
    }

    private static double[] orZero(double[] values) {
        return values.length == 0 ? new double[]{0} : values;
    }

    private void throttling() {
        for (WatchView.Course course : watch.courses()) {
            if (course.series().name().equals("throttled")) {
                course.points().stream().filter(point -> point[0] > 0 && point[1] >= MIN_THROTTLED).findFirst()
                        .ifPresent(point -> candidate(second(point), "%s met its processor quota at %d s and was held"
                                + " back for %.0f %% of that second", course.series().source(), second(point),
                                point[1]));
            }
        }
    }

    private void generator() {
        List<SecondSummary> late = seconds.stream().filter(
                one -> one.lateP99() > LATE_NANOS && one.lateP99() > SoundnessRule.LATE.usualLimit() * one.p99())
                .toList();
        late.stream().max(Comparator.comparingLong(SecondSummary::lateP99)).ifPresent(worst -> add(
                late.getFirst().second(), Occurrence.Weight.DOUBT,
                "the generator was late in " + late.size() + (late.size() == 1 ? " second" : " seconds") + ", most at "
                        + worst.second() + " s: " + Written.duration(worst.lateP99())));
    }

    private void silence() {
        watch.troubles().forEach((source, troubles) -> add(troubles.getFirst().at(), Occurrence.Weight.DOUBT,
                source + " told nothing at " + Math.round(troubles.getFirst().at()) + " s: "
                        + troubles.stream().map(one -> one.reason()).distinct().collect(Collectors.joining("; "))));
    }
}
