package kadrem.core.verdict;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;

import kadrem.core.stats.ChangePoints;
import kadrem.core.stats.Interval;
import kadrem.core.stats.RankSum;
import kadrem.core.stats.SignedRank;
import kadrem.core.study.Metric;

/**
 * The values of a candidate over its versions, and where they changed. The unit is a version: its figure is the Hodges–Lehmann centre
 * of its runs, and a change is looked for between versions ({@link ChangePoints}, on logarithms where ratios are compared). The size of
 * a step is a comparison of the runs before and after it, unpaired since they were measured on different days.
 */
public record History(Metric metric, List<Entry> entries, List<Step> steps) {
    /** Runs that enter the size of a step at each side: the nearest ones. */
    private static final int MOST_RUNS = 60;
    private static final double CONFIDENCE = 0.95;

    /**
     * One version that was measured.
     *
     * @param version commit, tag or other name
     * @param values of the runs that count, by metric
     */
    public record Entry(String version, Instant at, String candidate, Map<Metric, List<Double>> values) {
        public Entry {
            values = Map.copyOf(values);
        }

        /** The centre of the runs; empty where none has the metric. */
        public Optional<Double> centre(Metric metric) {
            List<Double> own = values.getOrDefault(metric, List.of());
            if (own.isEmpty()) {
                return Optional.empty();
            }
            boolean ratios = own.stream().allMatch(value -> value > 0);
            double middle = SignedRank.of(own.stream().mapToDouble(value -> ratios ? Math.log(value) : value).toArray())
                    .estimate();
            return Optional.of(ratios ? Math.exp(middle) : middle);
        }
    }

    /**
     * A change of the level.
     *
     * @param at place of the first entry of the new level
     * @param estimate new divided by old, or new less old
     * @param interval at 95 %; empty where the runs are too few
     */
    public record Step(int at, double estimate, Optional<Interval> interval) {
    }

    /** The history of a metric, oldest version first; versions without the metric are left out. */
    public static History of(Metric metric, List<Entry> all) {
        List<Entry> entries = all.stream().filter(entry -> entry.centre(metric).isPresent())
                .sorted(Comparator.comparing(Entry::at)).toList();
        boolean ratios = metric.scale() == Metric.Scale.RATIO;
        List<Integer> changes = ChangePoints
                .of(entries.stream().mapToDouble(entry -> entry.centre(metric).orElseThrow())
                        .map(value -> ratios ? Math.log(value) : value).toArray());
        var steps = new ArrayList<Step>();
        for (int i = 0; i < changes.size(); i++) {
            int from = i == 0 ? 0 : changes.get(i - 1);
            int to = i + 1 < changes.size() ? changes.get(i + 1) : entries.size();
            double[] before = runs(metric, entries.subList(from, changes.get(i)).reversed(), ratios);
            double[] after = runs(metric, entries.subList(changes.get(i), to), ratios);
            RankSum test = RankSum.of(before, after);
            steps.add(new Step(changes.get(i), shown(test.estimate(), ratios), test.interval(CONFIDENCE)
                    .map(one -> new Interval(shown(one.low(), ratios), shown(one.high(), ratios),
                            one.achievedConfidence()))));
        }
        return new History(metric, entries, List.copyOf(steps));
    }

    private static double[] runs(Metric metric, List<Entry> nearestFirst, boolean ratios) {
        return nearestFirst.stream().flatMap(entry -> entry.values().getOrDefault(metric, List.of()).stream())
                .limit(MOST_RUNS).mapToDouble(value -> ratios ? Math.log(value) : value).toArray();
    }

    private static double shown(double value, boolean ratios) {
        return ratios ? Math.exp(value) : value;
    }

    /** "p95 response time is 19 % higher from 3f2a91c on (12 % to 25 % higher)". */
    public String sentence(Step step) {
        return metric.label() + " is " + Wording.change(metric, step.estimate()) + " from "
                + entries.get(step.at()).version() + " on"
                + step.interval().map(i -> " (" + Wording.interval(metric, i) + ")").orElse("");
    }
}
