package kadrem.core.verdict;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;

import kadrem.core.stats.ChangePoints;
import kadrem.core.stats.Interval;
import kadrem.core.stats.RankSum;
import kadrem.core.stats.SignedRank;
import kadrem.core.study.Metric;

/**
 * The values of a candidate over its versions, and where they changed. The unit is a version: its figure is the Hodges–Lehmann centre
 * of its runs, and a change is looked for between versions ({@link ChangePoints}, on logarithms where ratios are compared). The size of
 * a step compares what was measured before it with what was measured after it, sitting by sitting and unpaired: runs of one sitting
 * share its day and host, and together say no more of the next day than one of them. Source: Kalibera, Jones: Rigorous benchmarking in
 * reasonable time, ISMM 2013.
 *
 * @param entries those that have a centre, oldest version first
 * @param unreached those of which half of the runs or more did not reach the metric; they have no place among levels
 */
public record History(Metric metric, List<Entry> entries, List<Entry> unreached, List<Step> steps) {
    /** Sittings that enter the size of a step at each side: the nearest ones. */
    private static final int MAX_SITTINGS = 60;
    private static final double CONFIDENCE = 0.95;

    /**
     * One version that was measured in one sitting.
     *
     * @param version commit, tag or other name
     * @param sitting in which; empty where it is not known, and then taken for one of its own
     * @param values of the runs that count, by metric; without bound where a run did not reach it
     */
    public record Entry(String version, Instant at, String candidate, Optional<String> sitting,
            Map<Metric, List<Double>> values) {
        public Entry {
            values = Map.copyOf(values);
        }

        /** The centre of the runs; empty where none has the metric, or so many did not reach it that there is none. */
        public Optional<Double> centre(Metric metric) {
            List<Double> own = values.getOrDefault(metric, List.of());
            if (own.isEmpty()) {
                return Optional.empty();
            }
            // a value that was not reached lies beyond all others
            double middle = SignedRank.of(own.stream().mapToDouble(metric.scale()::of)
                    .map(value -> Math.clamp(value, -PairTest.UNBOUNDED, PairTest.UNBOUNDED)).toArray()).estimate();
            return Math.abs(middle) > PairTest.UNBOUNDED / 4
                    ? Optional.empty()
                    : Optional.of(metric.scale().shown(middle));
        }
    }

    /**
     * A change of the level.
     *
     * @param at place of the first entry of the new level
     * @param estimate new divided by old, or new less old
     * @param before sittings that were compared with those after it, which are {@code after}
     * @param interval at 95 %; empty where the sittings are too few
     */
    public record Step(int at, double estimate, int before, int after, Optional<Interval> interval) {
    }

    /** The history of a metric, oldest version first; versions without the metric are left out. */
    public static History of(Metric metric, List<Entry> all) {
        List<Entry> entries = all.stream().filter(entry -> entry.centre(metric).isPresent())
                .sorted(Comparator.comparing(Entry::at)).toList();
        List<Entry> unreached = all.stream().filter(entry -> entry.values().containsKey(metric))
                .filter(entry -> entry.centre(metric).isEmpty()).sorted(Comparator.comparing(Entry::at)).toList();
        List<Integer> changes = ChangePoints
                .of(entries.stream().mapToDouble(entry -> entry.centre(metric).orElseThrow())
                        .map(metric.scale()::of).toArray());
        var steps = new ArrayList<Step>();
        for (int i = 0; i < changes.size(); i++) {
            int from = i == 0 ? 0 : changes.get(i - 1);
            int to = i + 1 < changes.size() ? changes.get(i + 1) : entries.size();
            double[] before = sittings(metric, entries.subList(from, changes.get(i)).reversed());
            double[] after = sittings(metric, entries.subList(changes.get(i), to));
            RankSum test = RankSum.of(before, after);
            steps.add(new Step(changes.get(i), metric.scale().shown(test.estimate()), before.length, after.length,
                    test.interval(CONFIDENCE).map(one -> new Interval(metric.scale().shown(one.low()),
                            metric.scale().shown(one.high()), one.achievedConfidence()))));
        }
        return new History(metric, entries, unreached, List.copyOf(steps));
    }

    /** The centre of each sitting: the mean of those of its versions. */
    private static double[] sittings(Metric metric, List<Entry> nearestFirst) {
        var bySitting = new LinkedHashMap<String, List<Double>>();
        for (int i = 0; i < nearestFirst.size(); i++) {
            Entry entry = nearestFirst.get(i);
            double centre = entry.centre(metric).orElseThrow();
            bySitting.computeIfAbsent(entry.sitting().orElse("of its own, " + i), _ -> new ArrayList<>())
                    .add(metric.scale().of(centre));
        }
        return bySitting.values().stream().limit(MAX_SITTINGS)
                .mapToDouble(own -> own.stream().mapToDouble(Double::doubleValue).average().orElseThrow()).toArray();
    }

    /** "c7, c9 did not reach p99 response time in half of their runs or more"; empty where each has a centre. */
    public Optional<String> unreachedSentence() {
        return unreached.isEmpty()
                ? Optional.empty()
                : Optional.of(unreached.stream().map(Entry::version).distinct().collect(Collectors.joining(", "))
                        + " did not reach " + metric.label() + " in half of "
                        + (unreached.size() == 1 ? "its" : "their")
                        + " runs or more");
    }

    /** "p95 response time is 19 % higher from 3f2a91c on (12 % to 25 % higher; 6 sittings before it, 5 after)". */
    public String sentence(Step step) {
        return metric.label() + " is " + Wording.change(metric, step.estimate()) + " from "
                + entries.get(step.at()).version() + " on"
                + " (" + step.interval().map(i -> Wording.interval(metric, i) + "; ").orElse("no interval from ")
                + step.before() + (step.before() == 1 ? " sitting" : " sittings") + " before it, " + step.after()
                + " after)";
    }
}
